// Pelvok's own data on a real server: what is kept, in what order, and what two who come at once get.
import { existsSync, statSync } from 'node:fs'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { canonicalText, emptyCatalog, hashText, type SnapshotHash } from '../../src/core/catalog/index.ts'
import type { EntryBody, LedgerEntry } from '../../src/core/model/index.ts'
import * as store from '../../src/store/index.ts'
import { type OwnStore, ownStore } from '../support/ownStore.ts'
import { rowsOf } from '../support/server.ts'

let own: OwnStore
let project = ''
beforeAll(async () => {
  own = await ownStore()
})
afterAll(() => own.end())

const make = (name = 'Depots', secret: string | null = null) =>
  store.insertProject({ name, by: 'Mara', kind: 'postgresql', label: 'mara@db/depots', location: { host: 'db', port: 5432 }, secret })
beforeEach(async () => {
  project = await make()
})

const edit = (value: string): EntryBody => ({ kind: 'edit', edit: { facet: 'entity.name', subject: 'depot.bay', value }, note: null }) as unknown as EntryBody
const append = (value: string, by = 'Mara') => store.appendToLedger(project, by, () => ({ append: [edit(value)] }))
const text = (schema: string) => canonicalText({ ...emptyCatalog('postgresql'), schemas: [{ name: schema, comment: null }] })
const survey = async (schema: string, of = project): Promise<SnapshotHash> => {
  const source = await store.findSource(of)
  const hash = hashText(text(schema))
  const about = { projectId: of, sourceId: source?.id ?? 0, relations: 3, unmodelled: 1, statistics: '{}', reading: '{}' }
  await store.insertSurvey({ ...about, hash, canonicalText: text(schema) })
  return hash
}

describe('projects', () => {
  it('are called after their name, with a number where it is taken, also when several are made at once', async () => {
    const ids = await Promise.all(Array.from({ length: 5 }, () => make('Käufer & Söhne!')))
    expect(ids.sort()).toEqual(['kaufer-sohne', 'kaufer-sohne-2', 'kaufer-sohne-3', 'kaufer-sohne-4', 'kaufer-sohne-5'])
    expect(await make('###')).toBe('project')
  })

  it('keep a password sealed, under a key that only its owner reads', async () => {
    const id = await make('Sealed', 'hunter-two-three')
    const source = await store.findSource(id)
    expect(await store.readSecret(source?.id ?? 0)).toBe('hunter-two-three')
    const [row] = await rowsOf<{ row: string }>(own.name, 'select s::text as row from pelvok.source s where project_id = $1', [id])
    expect(row?.row).not.toContain('hunter')
    expect(row?.row).not.toContain(Buffer.from('hunter').toString('hex'))
    const key = process.env['PELVOK_KEY_FILE'] ?? ''
    expect([existsSync(key), statSync(key).mode & 0o777]).toEqual([true, 0o600])
    await store.updateSource(source?.id ?? 0, 'elsewhere', { host: 'other' }, null)
    expect([await store.readSecret(source?.id ?? 0), (await store.findSource(id))?.label]).toEqual([null, 'elsewhere'])
  })

  it('go with all they kept, and with snapshots that nobody else has', async () => {
    const other = await make('Other')
    const [both, mine] = [await survey('shared'), await survey('mine')]
    await survey('shared', other)
    await append('Bay')
    await store.insertJob(project, 'survey', 'Mara', '{}')
    expect(await store.deleteProject(project)).toBe(true)
    expect(await store.findProject(project)).toBeNull()
    expect(await store.readLedger(project)).toEqual([])
    expect([await store.findSnapshotBytes(both), await store.findSnapshotBytes(mine)]).toEqual([expect.anything(), null])
    for (const table of ['source', 'survey', 'ledger', 'job'])
      expect(await rowsOf(own.name, `select 1 from pelvok.${table} where project_id = $1`, [project]), table).toEqual([])
  })

  it('stay while something of theirs runs', async () => {
    await store.claimJob(await store.insertJob(project, 'survey', 'Mara', '{}'))
    expect(await store.deleteProject(project)).toBe(false)
    expect(await store.findProject(project)).toMatchObject({ id: project, createdBy: 'Mara' })
  })
})

describe('the list of projects', () => {
  const one = async () => (await store.listProjects()).find((p) => p.id === project)

  it('says how far each is: sealed at which entry, what was worked out of which state', async () => {
    expect(await one()).toMatchObject({ survey: null, sealed: null, plan: null, drift: null, head: null })
    const hash = await survey('listed')
    await append('Bay')
    await store.insertRevision(project, { snapshot: hash, ledger: 1, inference: 1, evidence: null }, 'Mara')
    await append('Slip')
    await store.keep(project, 'head', 'of then', Buffer.from('x'))
    expect(await one()).toMatchObject({ hash, entries: 2, sealed: 1, head: { key: 'of then' } })
    expect([await store.findKept(project, 'head', 'of then'), await store.findKept(project, 'head', 'of now')]).toEqual([Buffer.from('x'), null])
    // Other programs may have worked it out otherwise.
    await store.forgetOfOthers('this one')
    await store.keep(project, 'head', 'of now', Buffer.from('y'))
    await store.keep(project, 'frame 0.97', 'of now', Buffer.from('z'))
    await store.forgetOfOthers('this one')
    expect((await one())?.head?.key).toBe('of now')
    await store.forgetOfOthers('another')
    expect((await one())?.head).toBeNull()
    // Where things stand on the map outlives a program.
    expect(await store.findKeptLast(project, 'frame 0.97')).toEqual({ key: 'of now', bytes: Buffer.from('z') })
    expect(await store.findKeptLast(project, 'frame 1.2')).toBeNull()
  })

  it('counts what differs in environments, without what somebody left as it is', async () => {
    const added = await store.insertEnvironment(project, { name: 'preview', kind: 'preview', protected: false, label: 'there', location: {} }, null, 'Mara')
    expect(added).toBe(true)
    const [environment] = await store.listEnvironments(project)
    const id = environment?.id ?? 0
    expect((await one())?.drift).toBeNull()
    await store.noteWatch(id, {
      drift: JSON.stringify([
        { object: 'bay', field: 'label', is: 'x' },
        { object: 'crate', field: 'lid', is: null },
      ]),
    })
    expect((await one())?.drift).toBe(2)
    await store.insertOverlooked({ environmentId: id, object: 'crate', field: 'lid', found: null, reason: 'known', by: 'Mara' })
    expect((await one())?.drift).toBe(1)
    await store.noteWatch(id, { drift: '[]' })
    expect((await one())?.drift).toBe(0)
  })
})

describe('the ledger', () => {
  it('is numbered without gaps, whoever appends at once', async () => {
    const seen: number[] = []
    const all = await Promise.all(
      Array.from({ length: 12 }, (_, i) =>
        store.appendToLedger(project, `person ${i}`, ({ entries }) => {
          seen.push(entries.length)
          return { append: [edit(`A${i}`), edit(`B${i}`)] }
        }),
      ),
    )
    expect(seen.sort((a, b) => a - b)).toEqual(Array.from({ length: 12 }, (_, i) => 2 * i))
    const entries = await store.readLedger(project)
    expect(entries.map((e) => e.seq)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1))
    expect(all.every((a) => 'added' in a && a.added.length === 2 && a.added[1]?.seq === (a.added[0]?.seq ?? 0) + 1)).toBe(true)
    expect((await store.readLedger(project, 20)).map((e) => e.seq)).toEqual([21, 22, 23, 24])
  })

  it('is decided on anew where somebody else was faster', async () => {
    const heads: number[] = []
    const answer = await store.appendToLedger(project, 'Jon', async ({ entries }) => {
      heads.push(entries.length)
      // As another process does it.
      if (heads.length === 1)
        await rowsOf(own.name, 'insert into pelvok.ledger (project_id, seq, by, kind, body) values ($1, 1, $2, $3, $4)', [
          project,
          'Mara',
          'edit',
          JSON.stringify(edit('Bay')),
        ])
      return { append: [edit('Slip')] }
    })
    expect([heads, answer]).toEqual([[0, 1], { added: [expect.objectContaining({ seq: 2, by: 'Jon' })] }])
  })

  it('of a project that was made anew under the same name begins anew, in this process too', async () => {
    await append('Bay')
    await rowsOf(own.name, 'delete from pelvok.project where id = $1', [project])
    expect(await store.readProjectNow(project)).toBeNull()
    await rowsOf(own.name, "insert into pelvok.project (id, name, created_by) values ($1, 'Depots', 'Jon')", [project])
    expect((await store.readProjectNow(project))?.entries).toEqual([])
    expect(await append('Slip')).toMatchObject({ added: [{ seq: 1 }] })
  })

  it('is read with what else there is of the project, and again only what came since', async () => {
    const hash = await survey('one')
    await append('Bay')
    const first = await store.readProjectNow(project)
    expect(first).toMatchObject({ name: 'Depots', source: 'postgresql', survey: { hash, statistics: '{}' }, evidence: null, entries: [{ seq: 1 }] })
    const again = await store.readProjectNow(project)
    expect([again?.entries === first?.entries, again?.survey === first?.survey]).toEqual([true, true])
    await store.insertRowEvidence(project, hash, 'ee', '{}')
    expect(await store.readProjectNow(project)).toMatchObject({ evidence: 'ee' })
    expect((await store.readProjectNow(project))?.entries[0]).toEqual((await store.readLedger(project))[0])
  })

  it('keeps nothing where it is refused, or where deciding fails', async () => {
    await append('Bay')
    expect(await store.appendToLedger(project, 'Jon', () => ({ refuse: 'no' }))).toEqual({ refuse: 'no' })
    await expect(
      store.appendToLedger(project, 'Jon', () => {
        throw new Error('broken')
      }),
    ).rejects.toThrow('broken')
    expect(await store.readLedger(project)).toHaveLength(1)
    expect(await append('Again')).toMatchObject({ added: [{ seq: 2 }] })
  })

  it('keeps texts as they are', async () => {
    const odd = 'a\u202eb “c” \\u0000 𝄞 \n\t'
    await append(odd)
    expect((await store.readLedger(project))[0]).toMatchObject({ edit: { value: odd } })
  })

  it('takes over an exchanged one that it is the beginning of, and no other', async () => {
    await append('Bay')
    await append('Crate')
    const [first, second] = (await store.readLedger(project)) as [LedgerEntry, LedgerEntry]
    const copy = await make('Copy')
    expect(await store.importEntries(copy, [first])).toEqual({ added: 1 })
    expect(await store.importEntries(copy, [first, second])).toEqual({ added: 1 })
    expect(await store.readLedger(copy)).toEqual([first, second])
    expect(await store.importEntries(copy, [first, { ...second, by: 'Eve' }])).toEqual({ differsAt: 2 })
    expect(await store.importEntries(copy, [first])).toEqual({ added: 0 })
  })

  it('is sealed once for each revision', async () => {
    const snapshot = await survey('sealed')
    const revision = { snapshot, ledger: 1, inference: 3, evidence: null }
    await store.insertRevision(project, revision, 'Mara')
    await store.insertRevision(project, revision, 'Jon')
    expect(await store.findLastRevision(project)).toMatchObject({ ledger: 1, by: 'Mara', evidence: '' })
    await store.insertRevision(project, { ...revision, ledger: 2 }, 'Jon')
    expect(await store.findLastRevision(project)).toMatchObject({ ledger: 2, by: 'Jon' })
  })
})

describe('surveys and what rows said', () => {
  it('keep a structure once, however often it is found', async () => {
    const first = await survey('one')
    const second = await survey('two')
    await survey('one')
    expect((await store.listSurveys(project)).map((s) => s.hash)).toEqual([first, second, first])
    expect((await store.findSurvey(project))?.hash).toBe(first)
    expect(await store.readSnapshotText(first)).toBe(text('one'))
    await expect(store.readSnapshotText('00' as SnapshotHash)).rejects.toThrow('snapshot 00 is not in the store')
    await rowsOf(own.name, `insert into pelvok.snapshot (hash, bytes) values ('cut', '\\x1f8b0800')`)
    await expect(store.readSnapshotText('cut' as SnapshotHash)).rejects.toThrow('the snapshot is not whole in the store')
    expect((await store.listProjects()).find((p) => p.id === project)).toMatchObject({ relations: 3, entries: 0, source: 'mara@db/depots' })
  })

  it('are found by the snapshot they are about, the newest first', async () => {
    const hash = await survey('rows')
    expect(await store.findRowEvidence(project, hash)).toBeNull()
    await store.insertRowEvidence(project, hash, 'aa', '{"a":1}')
    await store.insertRowEvidence(project, hash, 'bb', '{"b":1}')
    expect((await store.findRowEvidence(project, hash))?.hash).toBe('bb')
    expect(await store.readRowEvidenceText('aa')).toBe('{"a":1}')
    expect(await store.findRowEvidenceBytes('cc')).toBeNull()
  })
})

describe('jobs', () => {
  const state = async (id: number) => (await store.findJob(id))?.state

  it('are taken by one worker', async () => {
    const id = await store.insertJob(project, 'survey', 'Mara', '{"a":1}')
    const claims = await Promise.all(Array.from({ length: 6 }, () => store.claimJob(id)))
    expect(claims.filter((c) => c !== null)).toMatchObject([{ id, state: 'running', input: '{"a":1}' }])
    expect((await store.findActiveJob(project, 'survey'))?.id).toBe(id)
    await store.endJob(id, 'done', '{}', null)
    expect(await store.findActiveJob(project, 'survey')).toBeNull()
    // An end that comes late changes nothing.
    await store.endJob(id, 'failed', null, '{}')
    expect(await state(id)).toBe('done')
  })

  it('that wait are cancelled at once, those that run are asked', async () => {
    const [waits, runs] = [await store.insertJob(project, 'rows', 'Mara', '{}'), await store.insertJob(project, 'apply', 'Mara', '{}')]
    await store.claimJob(runs)
    for (const id of [waits, runs]) await store.requestCancel(id)
    expect([await state(waits), await state(runs)]).toEqual(['cancelled', 'running'])
    expect(await store.claimJob(waits)).toBeNull()
    expect(await store.reportProgress(runs, 'counting', 3, 10)).toBe(true)
    expect(await store.findJob(runs)).toMatchObject({ doing: 'counting', done: 3, total: 10, cancelRequested: true })
  })

  it('whose worker is gone are told as lost, but those in good hands', async () => {
    const [lost, own1] = [await store.insertJob(project, 'survey', 'Mara', '{}'), await store.insertJob(project, 'rows', 'Mara', '{}')]
    for (const id of [lost, own1]) await store.claimJob(id)
    await rowsOf(own.name, `update pelvok.job set lease_until = now() - interval '1 second' where id = any ($1)`, [[lost, own1]])
    expect(await store.failLostJobs('{"message":"gone"}', [own1])).toEqual([lost])
    expect([await state(lost), await state(own1)]).toEqual(['failed', 'running'])
  })
})

describe('plans and environments', () => {
  const plan = { name: 'one', title: 'One', base: null, expected: hashText(text('p')), revision: 'r', by: 'Mara' }
  const files = (number: number) => ({ body: `{"n":${number}}`, up: `-- up ${number}`, down: '-- down' })
  const keep = () => store.insertPlan(project, plan, { [plan.expected]: text('p') }, files)

  it('are numbered in a row, also at once; only the last is forgotten', async () => {
    expect((await Promise.all([keep(), keep(), keep()])).sort()).toEqual([1, 2, 3])
    await store.deletePlan(project, 1)
    await store.deletePlan(project, 3)
    expect((await store.listPlans(project)).map((p) => [p.number, p.up])).toEqual([
      [1, '-- up 1'],
      [2, '-- up 2'],
    ])
    await store.updatePlan(project, 2, { body: '{}', up: '-- mine', down: '' })
    expect((await store.listPlans(project))[1]).toMatchObject({ up: '-- mine', title: 'One' })
  })

  it('have one proof for each mark, the newest', async () => {
    const proof = { ok: false, server: 'PostgreSQL', says: '3 differ', at: '2026-01-01T00:00:00.000Z' }
    await store.noteProof(project, 'm', proof)
    await store.noteProof(project, 'm', { ...proof, ok: true, says: 'equal' })
    expect(await store.readProofs(project)).toEqual(new Map([['m', { ...proof, ok: true, says: 'equal' }]]))
  })

  it('have names of their own; what is known of one stays where nothing new is said', async () => {
    const e = { name: 'preview', kind: 'preview', protected: true, label: 'l', location: { host: 'h' } } as const
    expect([await store.insertEnvironment(project, e, 'word', 'Mara'), await store.insertEnvironment(project, e, null, 'Jon')]).toEqual([true, false])
    const [row] = await store.listEnvironments(project)
    const id = row?.id ?? 0
    expect(await store.readEnvironmentSecret(id)).toBe('word')
    await store.moveEnvironment(project, 'preview', 'Jon', { label: 'moved', location: {} }, null)
    expect((await store.findEnvironment(project, id))?.label).toBe('l')
    await store.noteWatch(id, { status: '[]', drift: '[1]' })
    await store.noteWatch(id, { status: '[2]' })
    expect(await store.findEnvironment(project, id)).toMatchObject({ status: '[2]', drift: '[1]' })
    await store.noteWatch(id, { drift: null })
    expect(await store.findEnvironment(project, id)).toMatchObject({ status: '[2]', drift: null })
    await store.insertOverlooked({ environmentId: id, object: 'depot.bay', field: 'comment', found: null, reason: 'known', by: 'Mara' })
    const [o] = await store.listOverlooked(project)
    await store.deleteOverlooked(id, o?.id ?? 0)
    expect(await store.listOverlooked(project)).toEqual([])
    const other = await make('Other environments')
    await store.deleteEnvironment(other, id)
    expect(await store.listEnvironments(project)).toHaveLength(1)
    await store.deleteEnvironment(project, id)
    expect(await store.listEnvironments(project)).toEqual([])
  })

  it('the last code folder is the one that counts', async () => {
    for (const into of ['a', 'b']) await store.keepCodeFolder(project, { into, overridden: '{}' }, 'Mara')
    expect(await store.findCodeFolder(project)).toEqual({ into: 'b', overridden: '{}' })
  })
})

describe('visits', () => {
  const seen = (seq: number) => ({ seq, snapshot: 's', rows: null })
  it('go on until they are stopped; then the next knows where the last one ended', async () => {
    expect((await store.enterVisit(project, 'Mara', seen(1))).last).toBeNull()
    expect(await store.keepPlace(project, 'Mara', '{"at":"x"}', 4, false)).toBe(true)
    expect(await store.enterVisit(project, 'Mara', seen(5))).toEqual({ place: '{"at":"x"}', last: null })
    await store.keepPlace(project, 'Mara', '{"at":"y"}', 2, true)
    expect((await store.enterVisit(project, 'Mara', seen(9))).last).toMatchObject({ seq: 5, snapshot: 's' })
    expect((await store.enterVisit(project, 'Jon', seen(9))).last).toBeNull()
    expect(await store.keepPlace(project, 'Eve', '{}', 1, false)).toBe(false)
  })
})

describe('accounts', () => {
  const account = (name: string, role: store.Role) => store.insertAccount({ name, role, password: 'hash', by: 'Mara' }, false)
  const idOf = async (name: string) => (await store.findAccount(name))?.id ?? ''

  it('have one first owner, one name in any case, and always an owner', async () => {
    const first = { role: 'owner', password: 'h', by: '' } as const
    expect((await Promise.all(['Mara', 'Jon', 'Rae'].map((name) => store.insertAccount({ name, ...first }, true)))).filter(Boolean)).toHaveLength(1)
    const owner = (await store.listAccounts())[0]
    const names = ['Mara', 'Jon', 'Rae'].filter((n) => n !== owner?.name)
    expect(await account(names[0] as string, 'reviewer')).toBe(true)
    expect(await account((names[0] as string).toUpperCase(), 'reader')).toBe(false)
    expect(await store.changeAccount(owner?.id ?? '', { role: 'reader' })).toBe('last owner')
    expect(await store.changeAccount(owner?.id ?? '', 'remove')).toBe('last owner')
    expect(await store.changeAccount(await idOf(names[0] as string), { role: 'owner' })).toBe('done')
    expect(await store.changeAccount(owner?.id ?? '', { role: 'reader' })).toBe('done')
    expect(await store.changeAccount('999999', 'remove')).toBe('no such account')
  })

  it('lose their sessions with a new password, but the one that asks; and all of them with the account', async () => {
    await account('Sol', 'reader')
    const id = await idOf('Sol')
    const [mine, other] = [Buffer.from('mine'), Buffer.from('other')]
    for (const token of [mine, other]) await store.insertSession(token, id, 1)
    await store.changeAccount(id, { password: 'new' }, mine)
    expect((await store.findSession(mine)).account?.name).toBe('Sol')
    expect((await store.findSession(other)).account).toBeNull()
    expect(await store.findSession(null)).toEqual({ accounts: true, account: null })
    await store.changeAccount(id, 'remove')
    expect((await store.findSession(mine)).account).toBeNull()
    const late = Buffer.from('late')
    await account('Ila', 'reader')
    await store.insertSession(late, await idOf('Ila'), 0)
    expect((await store.findSession(late)).account).toBeNull()
    await store.deleteSession(late)
  })

  it('count attempts, each at once with a number of its own', async () => {
    const numbers = await Promise.all(Array.from({ length: 8 }, () => store.insertAttempt('From A', 15)))
    expect(numbers.sort((a, b) => a - b)).toEqual([1, 2, 3, 4, 5, 6, 7, 8])
    expect(await store.insertAttempt('from b', 15)).toBe(1)
    await store.deleteAttempts('FROM a')
    expect(await store.insertAttempt('from a', 15)).toBe(1)
  })

  it('make marks that only the key makes', () => {
    expect(store.keyed('device mara')).toBe(store.keyed('device mara'))
    expect(store.keyed('device mara')).not.toBe(store.keyed('device jon'))
  })
})
