import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import { infer } from '../infer/index.ts'
import {
  accepting,
  activeEntries,
  checkRevert,
  decodeEntry,
  derive,
  type EntryBody,
  encodeEntry,
  findConflict,
  findingStatuses,
  type LedgerEntry,
  openQuestions,
  parseLedger,
  printedRelationships,
  printLedger,
  rejecting,
  revisionText,
  ruling,
  sentencesOf,
  sentenceText,
  settling,
  thresholdOf,
  wholeProject,
} from './index.ts'

const catalog = catalogOf(
  table('bay', ['id'], ['id']),
  table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] }),
  table('site', ['id'], ['id']),
  table('bay_site', ['bay_id', 'site_id'], ['bay_id', 'site_id'], {
    foreignKeys: [reference('a', ['bay_id'], 'bay', ['id']), reference('b', ['site_id'], 'site', ['id'])],
  }),
)
const { findings } = infer(catalog)
const finding = (id: string) => findings.find((f) => f.id === id) as (typeof findings)[number]
const crateReference = finding('reference:s.crate(bay_id)')
const join = finding('join-table:s.bay_site')
const ledger = (...bodies: readonly EntryBody[]): readonly LedgerEntry[] =>
  bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: '2026-01-01T00:00:00.000Z', by: i % 2 === 0 ? 'Ada' : 'Bo' }))
const rename = (value: string, facet = 'reference.ownName', subject = crateReference.subject): EntryBody => ({
  kind: 'edit',
  edit: { facet, subject, value } as never,
  note: null,
})
const model = (...bodies: readonly EntryBody[]) => derive(catalog, findings, ledger(...bodies))
const undo = (seq: number): EntryBody => ({ kind: 'revert', reverts: seq })

describe('derive', () => {
  it('takes the last value per facet', () => {
    expect(model(rename('site'), rename('place')).relationships.find((r) => r.id === crateReference.id)?.from.property).toBe('place')
  })
  it('a rejected reference is gone at both ends', () => {
    const m = model(ruling(crateReference, 'reject', rejecting(crateReference) ?? [], null))
    expect(m.relationships.map((r) => r.id)).toEqual([join.id])
  })
  it('a many-to-many switches to an entity with two references, and back', () => {
    const toEntity = ruling(join, 'amend', accepting(join, 'entity'), null)
    const entity = model(toEntity)
    expect(entity.entities.map((e) => e.name)).toContain('BaySite')
    expect(entity.relationships.map((r) => r.kind)).toEqual(['many-to-one', 'many-to-one', 'many-to-one'])
    const back = model(toEntity, ruling(join, 'accept', accepting(join), null))
    expect(back.entities).toEqual(model().entities)
    expect(back.relationships).toEqual(model().relationships)
  })
  it('a join table whose reference was rejected is an entity, and says so', () => {
    const half = finding('reference:s.bay_site(site_id)')
    const m = model(ruling(half, 'reject', rejecting(half) ?? [], null))
    expect(m.entities.map((e) => e.name)).toContain('BaySite')
    expect(m.diagnostics).toEqual([{ code: 'join-broken', table: 's.bay_site', missing: 's.bay_site(site_id)' }])
  })
  it('a reference that only a ruling knows is in the model only', () => {
    const edit: EntryBody = {
      kind: 'edit',
      edit: {
        facet: 'reference.target',
        subject: 's.site(id)',
        value: { schema: 's', table: 'bay', columns: ['id'], targetColumns: ['id'], constraint: null },
      },
      note: null,
    }
    expect(model(edit).relationships.find((r) => r.id === 'reference:s.site(id)')).toMatchObject({ state: 'model', kind: 'one-to-one' })
  })
  it('rulings on what is gone are kept and told', () => {
    const edit: EntryBody = {
      kind: 'edit',
      edit: {
        facet: 'reference.target',
        subject: 's.gone(x)',
        value: { schema: 's', table: 'bay', columns: ['x'], targetColumns: ['id'], constraint: null },
      },
      note: null,
    }
    expect(model(edit).diagnostics).toEqual([{ code: 'subject-gone', subject: 's.gone(x)', facet: 'reference.target' }])
    const lost: EntryBody = {
      kind: 'edit',
      edit: {
        facet: 'reference.target',
        subject: crateReference.subject,
        value: { schema: 's', table: 'gone', columns: ['bay_id'], targetColumns: ['id'], constraint: null },
      },
      note: null,
    }
    expect(model(lost).diagnostics).toEqual([{ code: 'target-gone', subject: crateReference.subject, target: 's.gone' }])
  })
  it('names that rulings made clash are numbered, and told', () => {
    const m = model(rename('id'))
    expect(m.relationships.find((r) => r.id === crateReference.id)?.from.property).toBe('id2')
    expect(m.diagnostics).toEqual([{ code: 'name-taken', entity: 's.crate', wanted: 'id', got: 'id2' }])
  })
})

describe('ledger', () => {
  it('a revert takes an entry back, a revert of the revert brings it again', () => {
    expect(model(rename('place'), undo(1)).relationships).toEqual(model().relationships)
    expect(model(rename('place'), undo(1), undo(2)).relationships).toEqual(model(rename('place')).relationships)
    expect(activeEntries(ledger(rename('place'), undo(1), undo(2))).map((e) => e.seq)).toEqual([1, 3])
  })
  it('an entry that a later one builds on is not taken back', () => {
    const entries = ledger(rename('a'), rename('b'), rename('c', 'reference.inverseName'))
    expect(checkRevert(entries, 1)).toMatchObject({ ok: false, reason: 'built on', by: { seq: 2 } })
    expect(checkRevert(entries, 2)).toEqual({ ok: true })
    expect(checkRevert(entries, 3)).toEqual({ ok: true })
    expect(checkRevert(entries, 9)).toEqual({ ok: false, reason: 'no such entry' })
    expect(checkRevert(ledger(rename('a'), undo(1)), 1)).toEqual({ ok: false, reason: 'already reverted' })
  })
  it('a conflict is the same facet by somebody else since what was seen', () => {
    const entries = ledger(rename('a'), rename('b'))
    expect(findConflict(entries, rename('c'), 1, 'Ada')?.seq).toBe(2)
    expect(findConflict(entries, rename('c'), 2, 'Ada')).toBeNull()
    expect(findConflict(entries, rename('c'), 1, 'Bo')).toBeNull()
    expect(findConflict(entries, rename('c', 'reference.inverseName'), 0, 'Ada')).toBeNull()
  })
  it('entries of later versions are kept as they are, and change nothing here', () => {
    const line = { seq: 1, at: '2026-01-01T00:00:00.000Z', by: 'Ada', kind: 'sentence', sentence: { x: [1] } }
    const entry = decodeEntry(line)
    expect(entry.kind).toBe('other')
    expect(encodeEntry(entry)).toEqual(line)
    expect(derive(catalog, findings, [entry])).toEqual(model())
  })
  it('entries with a wrong body are refused', () => {
    expect(() => decodeEntry({ seq: 1, at: 'x', by: 'Ada', kind: 'revert' })).toThrow(/reverts/)
    expect(() => decodeEntry({ seq: 0, at: 'x', by: 'Ada', kind: 'note', subject: 'a', text: 'b' })).toThrow(/seq/)
  })
})

describe('exchange file', () => {
  const entries = ledger(rename('place'), { kind: 'note', subject: 'entity:s.crate', text: 'line\nbreak and "quotes"' }, undo(1))
  it('comes back as it was', () => expect(parseLedger(printLedger(entries))).toEqual({ ok: true, entries }))
  it.each([
    ['not JSON', 'x', 1, /not JSON/],
    ['another format', '{"format":"pelvok.ledger/9"}', 1, /this version reads/],
    ['a gap', `${printLedger(entries).split('\n')[0]}\n${printLedger(entries).split('\n')[2]}`, 2, /no gaps/],
    ['a wrong entry', '{"format":"pelvok.ledger/1"}\n{"seq":1,"at":"x","by":"","kind":"note"}', 2, /by/],
  ])('%s is refused with its line', (_, text, line, problem) => expect(parseLedger(text)).toEqual({ ok: false, line, problem: expect.stringMatching(problem) }))
  it('takes a byte order mark and Windows line ends', () =>
    expect(parseLedger(`\uFEFF${printLedger(entries).replaceAll('\n', '\r\n')}`)).toEqual({ ok: true, entries }))
})

describe('standing', () => {
  const status = (id: string, ...bodies: readonly EntryBody[]) => findingStatuses(findings, ledger(...bodies)).get(id)
  it('what is certain needs no ruling; a ruling, an edit and a seal change it', () => {
    expect(status(crateReference.id)).toBe('certain')
    expect(status(crateReference.id, ruling(crateReference, 'accept', [], null))).toBe('accepted')
    expect(status(crateReference.id, ruling(crateReference, 'ask', [], 'whom?'))).toBe('asked')
    expect(status(crateReference.id, rename('place'))).toBe('amended')
    expect(status(crateReference.id, rename('place'), undo(1))).toBe('certain')
    expect(status(crateReference.id, settling(findings, []) as EntryBody)).toBe('settled')
  })
  it('a question stands until somebody rules', () => {
    const ask: EntryBody = { ...ruling(crateReference, 'ask', [], null), asks: { whom: 'Ada', question: 'Which bay?' } } as EntryBody
    expect(openQuestions(ledger(ask)).get(crateReference.id)).toMatchObject({ whom: 'Ada', question: 'Which bay?' })
    expect(openQuestions(ledger(ask, ruling(crateReference, 'accept', [], null))).size).toBe(0)
    expect(openQuestions(ledger(ask, undo(1))).size).toBe(0)
    expect(derive(catalog, findings, ledger(ask))).toEqual(derive(catalog, findings, []))
  })
  it('a project says how sure is sure enough; what was sealed stays', () => {
    const sure = (value: number): EntryBody => ({ kind: 'edit', edit: { facet: 'project.threshold', subject: wholeProject, value }, note: null })
    const guessed = [{ ...crateReference, alternatives: [{ ...crateReference.alternatives[0], confidence: 0.8 }] as const }]
    const at = (...bodies: readonly EntryBody[]) => findingStatuses(guessed, ledger(...bodies)).get(crateReference.id)
    expect([at(), at(sure(0.8)), at(sure(0.8), sure(0.85)), at(sure(0.8), undo(1))]).toEqual(['open', 'certain', 'open', 'open'])
    expect(thresholdOf(ledger(sure(0.8), sure(0.7), undo(2)))).toEqual({ value: 0.8, by: 'Ada' })
    const settle = settling(guessed, ledger(sure(0.8))) as EntryBody
    expect(settle).toMatchObject({ threshold: 0.8, findings: [crateReference.id] })
    expect(at(sure(0.8), settle, sure(0.95))).toBe('settled')
    expect(() => ledger(sure(0.2))).toThrow()
  })
  it('sealing settles what nobody ruled on, once, and freezes its edits', () => {
    const first = settling(findings, ledger(ruling(crateReference, 'accept', [], null)))
    expect(first?.findings).not.toContain(crateReference.id)
    expect(first?.edits.length).toBeGreaterThan(5)
    expect(settling(findings, ledger(first as EntryBody, ruling(crateReference, 'accept', [], null)))).toBeNull()
  })
})

describe('printing', () => {
  it('says a relationship from both ends', () => {
    const m = model()
    const r = m.relationships.find((x) => x.id === crateReference.id)
    expect(r && sentencesOf(r, m).map(sentenceText)).toEqual(['Each crate has exactly one bay.', 'A bay has any number of crates.'])
  })
  it('lists the halves of a many-to-many beside it', () => {
    const list = printedRelationships(model(), findings, findingStatuses(findings, []), 0)
    expect(list.filter((r) => r.partOf === join.id).map((r) => r.to.table)).toEqual(['bay', 'site'])
    expect(list.find((r) => r.id === join.id)?.through).toEqual({
      schema: 's',
      table: 'bay_site',
      fromColumns: ['bay_id'],
      toColumns: ['site_id'],
      payload: [],
    })
    expect(printedRelationships(model(), findings, findingStatuses(findings, []), 1.1)).toEqual([])
  })
  it('names a revision', () => {
    expect(revisionText({ snapshot: '0123456789abcdef' as never, evidence: null, ledger: 4, inference: 1 })).toBe(
      'snapshot 0123456789ab, ledger 4, inference 1',
    )
  })
})
