import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { infer } from '../infer/index.ts'
import { activeEntries, decodeEntry, derive, type EntryBody, type TrialPath } from '../model/index.ts'
import { compareWays, type Found, resolve, runTrial, type Statement, stepsFrom, trialView, Writer, writesOf } from './index.ts'

const catalog = catalogOf(
  table('bay', ['id', column('label', { type: 'text' })], ['id']),
  table('crate', ['id', 'bay_id', column('code', { type: 'text', nullable: true })], ['id'], {
    foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'], { onDelete: 'cascade' })],
  }),
  table('keeper', ['id'], ['id']),
  table('bay_keeper', ['bay_id', 'keeper_id'], ['bay_id', 'keeper_id'], {
    foreignKeys: [reference('a', ['bay_id'], 'bay', ['id']), reference('b', ['keeper_id'], 'keeper', ['id'])],
  }),
)
const model = derive(catalog, infer(catalog).findings, [])
const to = (entity: string, property: string) => {
  const s = stepsFrom(model, entity).find((x) => x.property === property)
  if (!s) throw new Error(property)
  return { relationship: s.relationship, end: s.end }
}
const trialOf = (p: TrialPath) => {
  const found = resolve(model, p)
  if (!found.ok) throw new Error(found.problem)
  return found.trial
}
const crates = to('s.bay', 'crates')

describe('a path', () => {
  it('is one of the model, or what is wrong with it is said', () => {
    const problem = (p: Partial<TrialPath>) => {
      const found = resolve(model, { entity: 's.bay', conditions: [], steps: [], ...p })
      return found.ok ? null : found.problem
    }
    expect(problem({ steps: [crates, to('s.crate', 'bay')] })).toBeNull()
    expect(problem({ entity: 's.gone' })).toMatch(/no entity of s\.gone/)
    expect(problem({ steps: [crates, crates] })).toMatch(/no such relationship/)
    expect(problem({ conditions: [{ via: [crates], column: 'label', is: 'equal', value: '1' }] })).toBe('Crate has no property for the column label')
  })
  it('that the model does not have falls back to its entity, and the page says so', () => {
    const view = trialView(model, { entity: 's.bay', conditions: [], steps: [crates, crates] })
    expect([view.path.steps, view.problem, view.places.map((p) => p.name)]).toEqual([[], expect.stringMatching(/no such/), ['Bay']])
    expect(trialView(model, null).path.entity).toBe('s.bay')
    expect(trialView(model, { entity: 's.bay', conditions: [], steps: [crates] }).places.map((p) => p.name)).toEqual(['Bay', 'Crate'])
  })
  it('kept in the ledger goes along where a table or a column has another name now, and goes where it is gone', () => {
    const path: TrialPath = { entity: 's.bay', conditions: [{ via: [], column: 'label', is: 'filled', value: '' }], steps: [crates] }
    const after = (...bodies: readonly EntryBody[]) => {
      const pin: EntryBody = { kind: 'pin', name: 'x', path } as EntryBody
      const entries = [pin, ...bodies].map((b, i) => decodeEntry({ ...b, seq: i + 1, at: '2026-01-01T00:00:00.000Z', by: 'Ada' }))
      return activeEntries(entries).flatMap((e) => (e.kind === 'pin' ? [e.path] : []))
    }
    const [moved] = after(
      { kind: 'rebind', from: 's.bay', to: 's.stall', note: null },
      { kind: 'rebind', from: 's.stall(label)', to: 's.stall(title)', note: null },
    )
    expect(moved).toMatchObject({ entity: 's.stall', conditions: [{ column: 'title' }] })
    expect(after({ kind: 'rebind', from: 's.crate(bay_id)', to: 's.crate(stall_id)', note: null })[0]?.steps[0]?.relationship).toBe(
      'reference:s.crate(stall_id)',
    )
    expect(after({ kind: 'rebind', from: 's.crate', to: null, note: null })).toEqual([])
  })
})

describe('statements', () => {
  /** Bays 1 and 2; crates of bay 1, of a bay that is not there, and of none. */
  const answers = (s: Statement): Found['rows'] => {
    if (s.sql.startsWith('select count')) return [['2']]
    if (s.sql.startsWith('select k.n'))
      return s.sql.includes('s.crate t')
        ? [
            ['1', '10', '1', 'a'],
            ['1', '11', '1', null],
          ]
        : [['1', '1', 'first']]
    return s.sql.includes('from s.crate r')
      ? [
          ['10', '1', 'a'],
          ['12', '9', 'c'],
        ]
      : [
          ['1', 'first'],
          ['2', 'second'],
        ]
  }
  const asked: Statement[] = []
  const ask = async (s: Statement): Promise<Found> => {
    asked.push(s)
    return { rows: answers(s), milliseconds: 1 }
  }

  it('rows of each level hang under their own, and a key is asked for once', async () => {
    const trial = await runTrial(trialOf({ entity: 's.bay', conditions: [], steps: [crates, to('s.crate', 'bay')] }), new Writer(catalog), ask, {
      limit: 20,
      after: null,
    })
    expect(trial.levels.map((l) => l.rows.map((r) => [r.of, r.values[0]]))).toEqual([
      [
        [null, '1'],
        [null, '2'],
      ],
      [
        [0, '10'],
        [0, '11'],
      ],
      [
        [0, '1'],
        [1, '1'],
      ],
    ])
    expect(asked.filter((s) => s.sql.includes('with ordinality')).map((s) => s.values)).toEqual([[['1', '2']], [['1']]])
    expect([trial.next, trial.counts]).toEqual([null, [2]])
  })
  it('columns that are filled and lead nowhere are orphans', async () => {
    const trial = await runTrial(trialOf({ entity: 's.crate', conditions: [], steps: [to('s.crate', 'bay')] }), new Writer(catalog), ask, {
      limit: 20,
      after: null,
    })
    expect(trial.levels[1]?.orphans).toEqual([1])
  })
  it('names are quoted, values are parameters, and other engines are written as they read', () => {
    const t = trialOf({ entity: 's.crate', conditions: [{ via: [], column: 'code', is: 'equal', value: "'; drop table x" }], steps: [] })
    const s = new Writer(catalog).portion(t, 5, ['7'])
    expect(s.sql).toBe('select r.id, r.bay_id, r.code\nfrom s.crate r\nwhere r.code = $1::text\n  and r.id > $2::integer\norder by r.id\nlimit 6')
    expect(s.values).toEqual(["'; drop table x", '7'])
    const lite = { ...catalog, dialect: 'sqlite' as const, relations: catalog.relations.map((r) => ({ ...r, schema: '' })) }
    const leg = trialOf({ entity: 's.bay', conditions: [], steps: [crates] }).legs[0]
    if (!leg) throw new Error('no leg')
    const { sql, values } = new Writer(lite).batch({ ...leg, other: { ...leg.other, relation: { schema: '', name: 'crate' } } }, [['1'], ['2']])
    expect(sql).toContain('with k(n, c0) as (values (1, ?), (2, ?))')
    expect(values).toEqual(['1', '2'])
  })
  it('no statement brings more than it may, what is left out is told, and very long texts are cut', async () => {
    const long = 'x'.repeat(12_000)
    const many: typeof ask = async (s) => ({
      milliseconds: 1,
      rows: s.sql.startsWith('select k.n') ? Array.from({ length: 1001 }, (_, i) => ['1', String(i), '1', long]) : answers(s),
    })
    const t = trialOf({ entity: 's.bay', conditions: [], steps: [crates] })
    const w = new Writer(catalog)
    const portion = { limit: 20, after: null }
    const trial = await runTrial(t, w, many, portion)
    expect([trial.levels[1]?.rows.length, trial.levels[1]?.more]).toEqual([1000, true])
    expect(trial.levels[1]?.rows[0]?.values[2]).toBe(`${long.slice(0, 10_000)}… (12,000 characters)`)
    const { ways, advice } = await compareWays(t, trial, w, many, portion)
    expect(advice).toMatch(/^Batched: .* none of the ways was read to its end\.$/)
    for (const way of ways) expect(way.sql).toMatch(/limit \d+$/)
    expect(w.whole(t, 20, null).sql).toMatch(/\nlimit 5001$/)
  })
  it('which way is advised follows from what would be sent twice', async () => {
    const w = new Writer(catalog)
    const advice = async (p: TrialPath) => {
      const t = trialOf(p)
      const portion = { limit: 20, after: null }
      return (await compareWays(t, await runTrial(t, w, ask, portion), w, ask, portion)).advice
    }
    expect(await advice({ entity: 's.crate', conditions: [], steps: [to('s.crate', 'bay')] })).toMatch(
      /^Joined: each row leads to at most one.*one statement does for 3\.$/,
    )
    expect(await advice({ entity: 's.bay', conditions: [], steps: [] })).toMatch(/nothing to choose/)
  })
})

describe('writes', () => {
  it('are in the order that works, with what the database does by itself', () => {
    const of = (id: string) => {
      const w = writesOf(catalog, model, id)
      return [w.save.map((s) => s.sql ?? s.says), w.remove.map((s) => s.sql ?? s.says)]
    }
    expect(of('s.crate')).toEqual([
      [
        'its row of s.bay must be there already',
        'insert into s.crate (id, bay_id, code)\nvalues ($1, $2, $3)',
        'update s.crate set bay_id = $1, …\nwhere id = $2',
      ],
      ['delete from s.crate where id = $1'],
    ])
    const [save, remove] = of('s.bay')
    expect(save).toContain('insert into s.bay_keeper (bay_id, keeper_id) values ($1, $2)')
    expect(remove).toEqual([
      'it is refused while there are rows of s.bay_keeper (by bay_id)',
      'the database deletes rows of s.crate (by bay_id)',
      'delete from s.bay where id = $1',
    ])
    expect(writesOf(catalog, model, 's.gone')).toEqual({ save: [], remove: [] })
  })
})
