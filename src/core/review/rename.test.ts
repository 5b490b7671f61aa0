import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import type { SnapshotHash } from '../catalog/index.ts'
import { detailOf, editOfName } from './detail.ts'
import { loadsOf, looksOf } from './looks.ts'
import { checkRename, namingProblem } from './rename.ts'
import { reviewBase, reviewWith } from './review.ts'
import { cascadeOf } from './sides.ts'

const hash = '0'.repeat(64) as SnapshotHash
const catalog = catalogOf(
  table('bay', ['id', 'label'], ['id']),
  table('crate', ['id', 'bay_id', column('old_bay_id', { nullable: true })], ['id'], {
    foreignKeys: [
      { ...reference('f', ['bay_id'], 'bay', ['id']), onDelete: 'cascade' },
      { ...reference('g', ['old_bay_id'], 'bay', ['id']), onDelete: 'set null' },
    ],
  }),
  table('line', ['crate_id', 'number'], ['crate_id', 'number'], { foreignKeys: [reference('h', ['crate_id'], 'crate', ['id'])] }),
)
const base = reviewBase(catalog, [])
const r = reviewWith(base, hash, [])
const detail = (id: string) => {
  const found = detailOf(id, catalog, r, [])
  if (!found) throw new Error(id)
  return found
}
const many = detail('reference:s.crate(bay_id)').relationship?.to.name
const one = detail('reference:s.crate(bay_id)').relationship?.from.name
const check = (name: typeof many, wanted: string) => checkRename(base, hash, [], name as never, wanted)

describe('a name while it is typed', () => {
  it('tells what it touches', () => {
    expect(check(many, 'boxes')).toEqual({ problem: null, remark: null, proposal: null, touches: ['base/Bay.ts', 'base/BayStore.ts', 'base/Crate.ts'] })
    expect(check(many, many?.value ?? '').touches).toEqual([])
  })
  it('that is no identifier, or reserved, comes with the nearest that can be used', () => {
    expect(check(many, 'old boxes')).toMatchObject({ problem: expect.stringMatching(/letters, digits/), proposal: 'oldBoxes' })
    expect(check(many, 'constructor')).toMatchObject({ problem: expect.stringMatching(/keeps this name/), proposal: 'constructorValue' })
    expect(check(detail('entity:s.bay').names[0], 'bay')).toMatchObject({ problem: expect.stringMatching(/capital letter/), proposal: 'Bay' })
    expect(check(many, '')).toMatchObject({ problem: expect.stringMatching(/a name is needed/), proposal: null })
  })
  it('that is taken by another end or a column says by whom, and what is free', () => {
    expect(check(many, 'label')).toMatchObject({ problem: expect.stringMatching(/^Bay already has a property called label; (\w+) is free$/) })
    expect(check(detail('entity:s.bay').names[0], 'Crate').problem).toBe('there is already a class called Crate')
  })
  it('in the wrong number is remarked on, with the right one', () => {
    expect(check(many, 'box')).toMatchObject({ problem: null, remark: 'box reads like one, and there can be any number', proposal: 'boxes' })
    expect(check(one, 'berths')).toMatchObject({ remark: 'berths reads like many, and there is at most one', proposal: 'berth' })
    expect(check(one, 'berth').remark).toBeNull()
  })
  it('is refused for the same reasons when it is kept', () => {
    expect(namingProblem(base, hash, [], [editOfName(many as never, 'label')])).toMatch(/already has a property called label/)
    expect(namingProblem(base, hash, [], [editOfName(many as never, 'boxes')])).toBeNull()
  })
})

describe('what deleting does', () => {
  const said = (id: string) => cascadeOf(r.model.relationships.find((x) => x.id === id) as never, catalog, r.model)
  it('in the database, as proposed, and where a cascade is stopped', () => {
    expect(said('reference:s.crate(bay_id)')).toEqual([
      'Deleting a bay deletes its crates in the database. Proposed for the classes: the same, left to the database.',
      'It stops where rows of s.line refer to what would go: then the database refuses it all.',
    ])
    expect(said('reference:s.crate(old_bay_id)')[0]).toMatch(/leaves its .* without one: the database empties old_bay_id/)
  })
  it('a part whose whole cannot be deleted is a contradiction, and said', () => {
    expect(said('reference:s.line(crate_id)')).toEqual([
      expect.stringMatching(/is refused by the database while there are any of its lines. Proposed for the classes: they are deleted first\.$/),
      expect.stringMatching(/^These contradict each other: the key of line holds that of crate/),
    ])
  })
})

describe('queries of a relationship', () => {
  it('are there for both kinds, in the dialect of the catalog', () => {
    expect(looksOf('reference:s.crate(bay_id)', catalog, r.model).map((l) => l.key)).toEqual(['spread', 'most', 'none', 'orphans', 'rows'])
    expect(loadsOf('reference:s.crate(bay_id)', catalog, r.model).map((l) => l.sql)).toEqual([
      'select t.* from s.bay t\nwhere t.id = any($1)',
      'select t.* from s.crate t\nwhere t.bay_id = any($1)',
    ])
    expect(looksOf('entity:s.line', catalog, r.model)[0]?.sql).toBe('select crate_id, number from s.line order by crate_id, number limit 20')
    expect(loadsOf('reference:s.crate(bay_id)', { ...catalog, dialect: 'mysql' }, r.model)[0]?.sql).toBe('select t.* from `s`.`bay` t\nwhere t.`id` in (?)')
    expect(looksOf('reference:s.gone(x)', catalog, r.model)).toEqual([])
  })
})
