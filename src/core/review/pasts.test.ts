import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import type { SnapshotHash } from '../catalog/index.ts'
import { decodeEntry, type EntryBody, type LedgerEntry } from '../model/index.ts'
import { alikeTo, bulkOf } from './alike.ts'
import { waysPastOf } from './pasts.ts'
import { reviewBase, reviewWith } from './review.ts'

const hash = '0'.repeat(64) as SnapshotHash
const linking = (name: string, a: string, b: string, ...own: readonly string[]) =>
  table(name, [`${a}_id`, `${b}_id`, ...own.map((o) => column(o, { type: 'text' }))], [`${a}_id`, `${b}_id`], {
    foreignKeys: [reference('a', [`${a}_id`], a, ['id']), reference('b', [`${b}_id`], b, ['id'])],
  })
const catalog = catalogOf(
  ...['bay', 'crate', 'lane'].map((n) => table(n, ['id', column('label', { type: 'text' })], ['id'])),
  linking('bay_crate', 'bay', 'crate', 'dose'),
  linking('bay_lane', 'bay', 'lane', 'remark'),
  linking('crate_lane', 'crate', 'lane'),
)
const base = reviewBase(catalog, [])
const entriesOf = (bodies: readonly EntryBody[]): readonly LedgerEntry[] => bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: 'x', by: 'mara' }))
const at = (entries: readonly LedgerEntry[] = []) => reviewWith(reviewBase(catalog, entries, base), hash, entries)
const ways = (entity: string, entries: readonly LedgerEntry[] = []) => waysPastOf(entity, catalog, at(entries)).map((w) => `${w.other} past ${w.past}`)

describe('ways past link tables with columns of their own', () => {
  it('are there for both partners, and not for tables that only link', () => {
    expect(ways('s.bay')).toEqual(['Crate past BayCrate', 'Lane past BayLane'])
    expect(ways('s.crate')).toEqual(['Bay past BayCrate'])
    expect(ways('s.bay_crate')).toEqual([])
  })

  it('keep the entity, lead straight to the other, and are offered no more once taken', () => {
    const [way] = waysPastOf('s.bay', catalog, at())
    const taken = entriesOf(way ? [way.entry] : [])
    const { model } = at(taken)
    expect(model.entities.map((e) => e.name)).toContain('BayCrate')
    expect(model.relationships.find((x) => x.id === 'join-table:s.bay_crate')).toMatchObject({
      through: { shortcut: true },
      from: { property: 'cratesByBayCrate' },
      to: { property: 'bays' },
    })
    expect(ways('s.bay', taken)).toEqual(['Lane past BayLane'])
  })

  it('are one question for all that nobody ruled on', () => {
    const r = at()
    const finding = r.findings.find((f) => f.id === 'join-table:s.bay_crate')
    expect(finding && alikeTo(finding, r)?.members.map((f) => f.subject)).toEqual(['s.bay_crate', 's.bay_lane'])
    const bulk = bulkOf('join-table:s.bay_crate', base, r, [], new Set(), 'b')
    expect(bulk?.because).toBe('tables that link two others and have columns of their own, read as entities')
    const action = bulk?.actions.find((a) => a.key === 'shortcut')
    expect(action?.changes[0]).toBe('In the model: 2 relationships more.')
    const after = at(entriesOf(action?.entries ?? []))
    const names = after.model.relationships.filter((x) => x.through?.shortcut).map((x) => [x.from.property, x.to.property])
    expect(names).toEqual([
      ['cratesByBayCrate', 'bays'],
      ['lanesByBayLane', 'bays'],
    ])
    expect(alikeTo(finding as never, after)).toBeNull()
  })
})
