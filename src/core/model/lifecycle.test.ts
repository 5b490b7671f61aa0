import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import type { ForeignKey, Relation } from '../catalog/index.ts'
import { infer } from '../infer/index.ts'
import { derive } from './derive.ts'
import type { EntityId } from './entityModel.ts'
import { cycleSentence, deletionOf, fillOrder, lifecycleSentences, rowLinks } from './lifecycle.ts'

const to = (column: string, target: string, more: Partial<ForeignKey> = {}) => reference(`${column}_fk`, [column], target, ['id'], more)
const bay = table('bay', ['id'], ['id'])
const crate = table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: [to('bay_id', 'bay', { onDelete: 'cascade' })] })
const label = table('label', ['id', 'crate_id'], ['id'], { foreignKeys: [to('crate_id', 'crate', { onDelete: 'cascade' })] })
const seal = table('seal', ['id', 'crate_id?'], ['id'], { foreignKeys: [to('crate_id', 'crate', { onDelete: 'set null' })] })
const bill = table('bill', ['id', 'bay_id'], ['id'], { foreignKeys: [to('bay_id', 'bay')] })

function links(...relations: readonly Relation[]) {
  const c = catalogOf(...relations)
  return rowLinks(c, derive(c, infer(c).findings, []))
}
const ids = (...names: string[]) => names.map((n) => `s.${n}` as EntityId)

describe('filling', () => {
  it('puts a relation after all it refers to', () => {
    const all = ids('label', 'crate', 'seal', 'bay', 'bill')
    const { portions, cycles } = fillOrder(all, links(bay, crate, label, seal, bill))
    const order = portions.flat()
    expect(portions).toEqual([ids('bay'), ids('bill', 'crate'), ids('label', 'seal')])
    expect(cycles).toEqual([])
    for (const l of links(bay, crate, label, seal, bill)) expect(order.indexOf(l.parent)).toBeLessThan(order.indexOf(l.child))
    expect(order).toHaveLength(5)
  })
  it('a cycle says what may come later', () => {
    const head = table('porter', ['id', 'bay_id'], ['id'], { foreignKeys: [to('bay_id', 'bay')] })
    const kept = table('bay', ['id', 'porter_id?'], ['id'], { foreignKeys: [to('porter_id', 'porter')] })
    const { cycles } = fillOrder(ids('porter', 'bay'), links(head, kept))
    expect(cycles).toMatchObject([{ members: ids('porter', 'bay'), breaks: [{ link: { child: 's.bay', columns: ['porter_id'] }, how: 'null at first' }] }])
    expect(cycles.map(cycleSentence)).toEqual(['s.porter, s.bay: s.bay(porter_id) may be null at first'])
    expect(fillOrder(ids('porter', 'bay'), links(head, kept)).portions).toEqual([ids('bay', 'porter')])
    expect(lifecycleSentences('s.porter' as EntityId, links(head, kept), cycles)).toContain(
      'It is in a cycle with s.bay; s.bay(porter_id) may be null at first.',
    )
  })
  it('or that nothing may', () => {
    const head = table('porter', ['id', 'bay_id'], ['id'], { foreignKeys: [to('bay_id', 'bay')] })
    const strict = table('bay', ['id', 'porter_id'], ['id'], { foreignKeys: [to('porter_id', 'porter')] })
    expect(fillOrder(ids('porter', 'bay'), links(head, strict)).cycles[0]?.breaks).toEqual([])
    const late = table('bay', ['id', 'porter_id'], ['id'], { foreignKeys: [to('porter_id', 'porter', { deferrable: 'initially immediate' })] })
    expect(fillOrder(ids('porter', 'bay'), links(head, late)).cycles[0]?.breaks).toMatchObject([{ how: 'deferred' }])
  })
  it('a relation that refers to itself is no cycle', () => {
    const tree = table('bay', ['id', 'parent_id?'], ['id'], { foreignKeys: [to('parent_id', 'bay')] })
    expect(fillOrder(ids('bay'), links(tree)).cycles).toEqual([])
  })
})

describe('deleting one row', () => {
  it('goes on where it removes, level by level', () => {
    expect(deletionOf('s.bay' as EntityId, links(bay, crate, label, seal, bill)).map((s) => [s.level, s.effect, s.link.child])).toEqual([
      [1, 'blocks', 's.bill'],
      [1, 'removes', 's.crate'],
      [2, 'removes', 's.label'],
      [2, 'sets null', 's.seal'],
    ])
  })
  it('leaves behind what no rule knows of', () => {
    const loose = table('tag', ['id', 'bay_id'], ['id'])
    expect(deletionOf('s.bay' as EntityId, links(bay, loose)).map((s) => s.effect)).toEqual(['leaves behind'])
  })
  it('ends in a ring of cascades', () => {
    const a = table('bay', ['id', 'crate_id?'], ['id'], { foreignKeys: [to('crate_id', 'crate', { onDelete: 'cascade' })] })
    expect(deletionOf('s.bay' as EntityId, links(a, crate)).map((s) => s.link.child)).toEqual(['s.crate', 's.bay'])
  })
  it('is said in sentences', () => {
    expect(lifecycleSentences('s.crate' as EntityId, links(bay, crate, label, seal), [])).toEqual([
      'A row needs one of s.bay first.',
      'Deleting one removes rows of s.label (by crate_id).',
      'Deleting one empties the reference of rows of s.seal (by crate_id).',
    ])
  })
})

describe('shared columns', () => {
  it('are written by one relationship and read by the others', () => {
    const tenant = table('tenant', ['id'], ['id'])
    const lot = table('lot', ['tenant_id', 'no'], ['tenant_id', 'no'], { foreignKeys: [to('tenant_id', 'tenant')] })
    const line = table('line', ['id', 'tenant_id', 'lot_no'], ['id'], {
      foreignKeys: [to('tenant_id', 'tenant'), reference('l', ['tenant_id', 'lot_no'], 'lot', ['tenant_id', 'no'])],
    })
    const c = catalogOf(tenant, lot, line)
    const found = derive(c, infer(c).findings, []).relationships.filter((r) => r.from.entity === 's.line')
    expect(found.map((r) => [r.id, r.shared])).toEqual([
      ['reference:s.line(lot_no,tenant_id)', [{ column: 'tenant_id', writtenBy: 'reference:s.line(tenant_id)' }]],
      ['reference:s.line(tenant_id)', []],
    ])
  })
})
