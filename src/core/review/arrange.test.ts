import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { decodeEntry, type EntryBody, type LedgerEntry } from '../model/index.ts'
import { type Arrangement, arrange, choicesOf, dayOf, detailOf, docketItems, everything, review, showCounts, sinceVisit } from './index.ts'

const stamp = column('created_at', { default: { written: 'now()', canonical: 'now()' } })
const catalog = catalogOf(
  table('bay', ['id'], ['id']),
  table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] }),
  table('keeper', ['id'], ['id']),
  table('helper', ['bay_id', 'keeper_id', stamp], ['bay_id', 'keeper_id'], {
    foreignKeys: [reference('a', ['bay_id'], 'bay', ['id']), reference('k', ['keeper_id'], 'keeper', ['id'])],
  }),
  table('lane', ['id', column('bay', { nullable: true })], ['id']),
)
const entry = (seq: number, by: string, at: string, body: EntryBody | { kind: 'revert'; reverts: number }) => decodeEntry({ ...body, seq, at, by })
const reviewed = (entries: readonly LedgerEntry[]) => review(catalog, 'x' as never, entries)
const accept = (id: string): EntryBody => detailOf(id, catalog, reviewed([]), [])?.accept as EntryBody
const places = new Map(['bay', 'crate', 'keeper', 'helper'].map((t, i) => [`s.${t}`, { area: t === 'keeper' ? 'Keepers' : 'Bays', rank: 3 - i, rows: null }]))
const shown = (a: Partial<Arrangement>, entries: readonly LedgerEntry[] = [], fresh: readonly string[] = []) =>
  arrange(docketItems(reviewed(entries), places), { ...everything, show: 'relationships', ...a }, ['Bays', 'Keepers'], new Set(fresh)).map((l) =>
    l.kind === 'item' ? l.item.id : `# ${l.heading.text} ${l.heading.open}/${l.heading.asked}/${l.heading.settled}`,
  )

describe('the docket as it is laid out', () => {
  it('by area, each in order of creation under how far it is; tables on no band last', () => {
    expect(shown({ show: 'classes', order: 'by area' })).toEqual([
      '# Bays 1/0/8',
      'entity:s.helper',
      'entity:s.crate',
      'entity:s.bay',
      '# Keepers 0/0/1',
      'entity:s.keeper',
      '# Standing alone 1/0/1',
      'entity:s.lane',
    ])
  })
  it('by table, kind, state and confidence', () => {
    expect(shown({ order: 'by table' }).filter((l) => l.startsWith('#'))).toEqual(['# s.crate 0/0/3', '# s.helper 1/0/4', '# s.lane 1/0/1'])
    expect(shown({ order: 'by kind' }).filter((l) => l.startsWith('#'))[0]).toMatch(/^# join tables 1/)
    expect(shown({ order: 'by state' }).filter((l) => l.startsWith('#'))[0]).toMatch(/^# enforced/)
    expect(shown({ show: 'classes', order: 'by confidence' }).filter((l) => l.startsWith('#'))).toHaveLength(1)
  })
  it('narrowed by each, together, and by a search', () => {
    expect(shown({ table: 's.crate' })).toEqual(['reference:s.crate(bay_id)'])
    expect(shown({ kind: 'join tables' })).toEqual(['join-table:s.helper'])
    expect(shown({ kind: 'join tables', area: 'Keepers' })).toEqual([])
    expect(shown({ show: 'classes', search: 'KEEPER' })).toEqual(['entity:s.keeper'])
    expect(shown({ fresh: true }, [], ['join-table:s.helper'])).toEqual(['join-table:s.helper'])
  })
  it('every choice of a narrowing gives something, and together they give all', () => {
    const items = docketItems(reviewed([]), places)
    const choices = choicesOf(items, 'relationships', ['Bays', 'Keepers'])
    for (const n of ['kind', 'area', 'table', 'state', 'confidence'] as const) {
      const parts = choices[n].map((v) => shown({ [n]: v }).length)
      expect(Math.min(...parts), n).toBeGreaterThan(0)
      expect(
        parts.reduce((a, b) => a + b, 0),
        n,
      ).toBe(showCounts(items).relationships)
    }
  })
  it('by who ruled, and what was rejected comes back', () => {
    const reject = detailOf('reference:s.crate(bay_id)', catalog, reviewed([]), [])?.reject as EntryBody
    const entries = [entry(1, 'Ada', '2026-01-01T00:00:00.000Z', reject), entry(2, 'Jon', '2026-01-01T00:00:00.000Z', accept('join-table:s.helper'))]
    expect(shown({ show: 'ruled', order: 'by who ruled' }, entries)).toEqual([
      '# accepted, Jon 0/0/1',
      'join-table:s.helper',
      '# rejected, Ada 0/0/1',
      'reference:s.crate(bay_id)',
    ])
    expect(shown({ show: 'ruled' }, [...entries, entry(3, 'Jon', '2026-01-02T00:00:00.000Z', { kind: 'revert', reverts: 1 })])).toEqual(['join-table:s.helper'])
  })
})

describe('visits', () => {
  const entries = [
    entry(1, 'Ada', '2026-01-01T10:00:00.000Z', accept('join-table:s.helper')),
    entry(2, 'Jon', '2026-01-02T10:00:00.000Z', accept('reference:s.crate(bay_id)')),
    entry(3, 'Jon', '2026-01-02T11:00:00.000Z', { kind: 'revert', reverts: 1 }),
  ]
  const { findings } = reviewed(entries)
  const since = (seq: number, snapshot = 'x', who = 'Ada') =>
    sinceVisit(findings, entries, who, { seq, at: '2026-01-01T12:00:00.000Z', snapshot, rows: null }, { snapshot: 'x', rows: null })

  it('what others did since, and what it is about; taking back is about what was taken back', () => {
    expect(since(1)).toMatchObject({ by: [{ who: 'Jon', n: 2 }], findings: ['reference:s.crate(bay_id)', 'join-table:s.helper'], newSurvey: false })
    expect(since(3)).toBeNull()
    expect(since(1, 'x', 'Jon')).toBeNull()
    expect(since(3, 'older')).toMatchObject({ newSurvey: true, findings: [] })
    expect(sinceVisit(findings, entries, 'Ada', null, { snapshot: 'x', rows: null })).toBeNull()
  })
  it('a day counts what each person did, and which of it stands', () => {
    const day = dayOf(reviewed(entries), entries, '2026-01-02T00:00:00.000Z')
    expect(day.people).toEqual([{ who: 'Jon', rulings: 1, edits: 0, asked: 0, takenBack: 1 }])
    expect([...day.ruled]).toEqual(['reference:s.crate(bay_id)'])
    expect(dayOf(reviewed(entries), entries, '2026-01-03T00:00:00.000Z')).toEqual({ people: [], ruled: new Set() })
  })
})
