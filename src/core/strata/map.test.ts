import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import { infer } from '../infer/index.ts'
import { decodeEntry, derive, foldAreas, noAreaRulings } from '../model/index.ts'
import { groundOf, hubDegree } from './ground.ts'
import { type MapWish, mapOf, wholeMap } from './mapInput.ts'
import { proposeSplit } from './split.ts'
import { stepOnMap } from './walk.ts'

const fk = (column: string, target: string) => reference(`${column}_fk`, [column], target, ['id'])
/** A chain bay ← crate ← label, a lane apart, and a hub that twelve tables refer to. */
const catalog = catalogOf(
  table('staff', ['id'], ['id']),
  table('bay', ['id', 'made_by'], ['id'], { foreignKeys: [fk('made_by', 'staff')] }),
  table('crate', ['id', 'bay_id', 'made_by'], ['id'], { foreignKeys: [fk('bay_id', 'bay'), fk('made_by', 'staff')] }),
  table('label', ['id', 'crate_id', 'made_by'], ['id'], { foreignKeys: [fk('crate_id', 'crate'), fk('made_by', 'staff')] }),
  table('lane', ['id', 'made_by'], ['id'], { foreignKeys: [fk('made_by', 'staff')] }),
  ...Array.from({ length: 8 }, (_, i) =>
    table(`part${i}`, ['id', 'lane_id', 'made_by'], ['id'], { foreignKeys: [fk('lane_id', 'lane'), fk('made_by', 'staff')] }),
  ),
  table('alone', ['id', 'remark'], ['id']),
)
const { findings } = infer(catalog)
const model = derive(catalog, findings, [])
const sceneOf = (wish: Partial<MapWish> = {}, areas = noAreaRulings) => mapOf(catalog, findings, model, null, areas, { ...wholeMap, ...wish })
const plates = (wish: Partial<MapWish>) =>
  sceneOf(wish)
    .plates.map((p) => p.id)
    .sort()

describe('hubs', () => {
  it('are what so many refer to: they stand at the edge, and what refers to them has marks and no lines', () => {
    expect(hubDegree(13)).toBe(10)
    expect(hubDegree(300)).toBe(24)
    expect(groundOf(catalog, findings).hubs).toEqual(['s.staff'])
    const scene = sceneOf()
    expect(scene.plates.filter((p) => p.block === 'hubs').map((p) => [p.id, p.fans])).toEqual([['s.staff', 12]])
    expect(scene.lines.filter((l) => l.parent === 's.staff')).toEqual([])
    expect(scene.plates.find((p) => p.id === 's.crate')?.marks.map((m) => [m.hub, m.text, m.ids])).toEqual([
      ['s.staff', '▸ Staff', ['reference:s.crate(made_by)']],
    ])
  })
  it('stand among the others with their lines where that is wanted', () => {
    const scene = sceneOf({ hubLines: true })
    expect(scene.blocks.some((b) => b.kind === 'hubs')).toBe(false)
    expect(scene.lines.filter((l) => l.parent === 's.staff')).toHaveLength(12)
  })
})

describe('parts of the map', () => {
  it('one entity and what is within so many steps, not walking on through a hub', () => {
    expect(plates({ focus: { ids: ['s.label'], depth: 1 } })).toEqual(['s.crate', 's.label', 's.staff'])
    expect(plates({ focus: { ids: ['s.label'], depth: 2 } })).toEqual(['s.bay', 's.crate', 's.label', 's.staff'])
    expect(plates({ focus: { ids: ['s.staff'], depth: 1 } })).toHaveLength(13)
  })
  it('the shortest way between two, by a hub only where there is no other', () => {
    expect(plates({ path: { from: 's.label', to: 's.bay' } })).toEqual(['s.bay', 's.crate', 's.label'])
    expect(plates({ path: { from: 's.label', to: 's.part0' } })).toEqual(['s.label', 's.part0', 's.staff'])
    expect(plates({ path: { from: 's.label', to: 's.alone' } })).toEqual([])
  })
  it('an area with what it is linked to; what nothing enforces; without what stands alone', () => {
    const area = groundOf(catalog, findings).areas.get('s.bay') as string
    expect(plates({ area })).toContain('s.crate')
    expect(plates({ area })).not.toContain('s.part0')
    expect(plates({ undeclared: true })).toEqual([])
    expect(plates({ alone: false })).not.toContain('s.alone')
    expect(plates({})).toContain('s.alone')
  })
  const edit = (seq: number, facet: 'table.area' | 'area.name', subject: string, value: string | null) =>
    decodeEntry({ seq, at: 'x', by: 'Ada', kind: 'edit', edit: { facet, subject, value }, note: null })
  const areaOf = (id: string, ...entries: ReturnType<typeof edit>[]) => sceneOf({}, foldAreas(entries)).plates.find((p) => p.id === id)?.area
  it('a table that somebody moved stands in its new area, and moved back in the old one', () => {
    expect(areaOf('s.label', edit(1, 'table.area', 's.label', 'Labels'))).toBe('Labels')
    expect(areaOf('s.label', edit(1, 'table.area', 's.label', 'Labels'), edit(2, 'table.area', 's.label', null))).toBe(areaOf('s.label'))
    expect(sceneOf({}, foldAreas([edit(1, 'table.area', 's.label', 'Labels')])).blocks.map((b) => b.name)).toContain('Labels')
  })
  it('a renamed area stays where it is, and two of one name are one', () => {
    const proposed = areaOf('s.bay') as string
    const other = areaOf('s.lane') as string
    const before = sceneOf().blocks.find((b) => b.name === proposed)
    const after = sceneOf({}, foldAreas([edit(1, 'area.name', proposed, 'Storage')])).blocks.find((b) => b.name === 'Storage')
    expect([after?.x, after?.y, after?.width, after?.height]).toEqual([before?.x, before?.y, before?.width, before?.height])
    const joined = sceneOf({}, foldAreas([edit(1, 'area.name', other, proposed)]))
    expect(joined.blocks.filter((b) => b.kind === 'area').map((b) => b.name)).toEqual([proposed])
    expect(joined.plates.find((p) => p.id === 's.lane')?.block).toBe(joined.plates.find((p) => p.id === 's.bay')?.block)
    expect(areaOf('s.bay', edit(1, 'area.name', proposed, 'Storage'), edit(2, 'area.name', proposed, null))).toBe(proposed)
  })
  it('an area falls apart where its lines do, and does not where they hold together', () => {
    const rulings = foldAreas([edit(1, 'area.name', areaOf('s.lane') as string, areaOf('s.bay') as string)])
    const all = areaOf('s.bay') as string
    const parts = proposeSplit(catalog, findings, rulings, all)
    expect(parts?.[0]?.name).toBe(all)
    expect(parts?.flatMap((p) => p.tables).sort()).toEqual(
      sceneOf({}, rulings)
        .plates.filter((p) => p.area === all && p.block !== 'hubs')
        .map((p) => p.id)
        .sort(),
    )
    expect(parts?.some((p) => p.tables.includes('s.lane') && !p.tables.includes('s.bay'))).toBe(true)
    expect(proposeSplit(catalog, findings, noAreaRulings, areaOf('s.lane') as string)).toBeNull()
  })
})

describe('walking', () => {
  const scene = sceneOf()
  it('goes left to what is referred to and right to what refers, by the line between', () => {
    expect(stepOnMap(scene, 'entity:s.crate', 'right')).toBe('reference:s.label(crate_id)')
    expect(stepOnMap(scene, 'reference:s.label(crate_id)', 'right')).toBe('entity:s.label')
    expect(stepOnMap(scene, 'reference:s.label(crate_id)', 'left')).toBe('entity:s.crate')
    expect(['reference:s.crate(bay_id)', 'reference:s.crate(made_by)']).toContain(stepOnMap(scene, 'entity:s.crate', 'left'))
    expect(stepOnMap(scene, 'entity:s.label', 'right')).toBeNull()
  })
  it('goes up and down among the lines of a plate, and the plates of a column', () => {
    const first = stepOnMap(scene, 'entity:s.lane', 'right') as string
    const second = stepOnMap(scene, first, 'down') as string
    expect(second).toMatch(/^reference:s\.part\d\(lane_id\)$/)
    expect(stepOnMap(scene, second, 'up')).toBe(first)
    const below = stepOnMap(scene, 'entity:s.part0', 'down') ?? stepOnMap(scene, 'entity:s.part0', 'up')
    expect(below).toMatch(/^entity:s\./)
  })
  it('goes to a hub by the mark that names it', () => {
    expect(stepOnMap(scene, 'reference:s.lane(made_by)', 'left')).toBe('entity:s.staff')
    expect(stepOnMap(scene, null, 'left')).toBeNull()
  })
})

describe('one ruling after the other', () => {
  const entry = (seq: number, body: object) => decodeEntry({ ...body, seq, at: 'x', by: 'Ada' })
  const edit = (subject: string, facet: string, value: unknown) => ({ kind: 'edit', edit: { facet, subject, value }, note: null })
  const bodies = [
    edit('s.crate(bay_id)', 'reference.target', null),
    edit('s.bay', 'entity.name', 'BerthAtTheWater'),
    edit('s.part3(lane_id)', 'reference.target', null),
    edit('s.crate(bay_id)', 'reference.target', { schema: 's', table: 'bay', columns: ['bay_id'], targetColumns: ['id'], constraint: null }),
    edit('s.label(crate_id)', 'reference.ownName', 'box'),
    { kind: 'revert', reverts: 3 },
  ]
  const copied = <T>(value: T): T => structuredClone(value)

  it('what is kept of the map before comes to the same as a map that knows of none', () => {
    bodies.forEach((_, i) => {
      const entries = bodies.slice(0, i + 1).map((b, seq) => entry(seq + 1, b))
      const now = derive(catalog, findings, entries)
      const kept = mapOf(catalog, findings, now, null, foldAreas(entries), wholeMap)
      expect(kept).toEqual(mapOf(copied(catalog), copied(findings), copied(now), null, foldAreas(entries), wholeMap))
    })
  })
})
