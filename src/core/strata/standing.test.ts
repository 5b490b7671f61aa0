import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import type { Catalog } from '../catalog/index.ts'
import { infer } from '../infer/index.ts'
import { derive, noAreaRulings } from '../model/index.ts'
import { mapOf, wholeMap } from './mapInput.ts'
import { decodeFrame, encodeFrame, standingFrame, standsOn } from './standing.ts'
import type { Scene } from './types.ts'

const shape = 0.97
const areas = ['bay', 'lane', 'crate', 'shelf', 'order']
/** Five areas: a table that eight others refer to, each with another behind it. */
const tables = areas.flatMap((area) => [
  table(area, ['id'], ['id']),
  ...Array.from({ length: 8 }, (_, i) =>
    table(`${area}_part${i}`, ['id', `${area}_id`], ['id'], { foreignKeys: [reference('up', [`${area}_id`], area, ['id'])] }),
  ),
  ...Array.from({ length: 4 }, (_, i) =>
    table(`${area}_part${i}_item`, ['id', 'part_id'], ['id'], { foreignKeys: [reference('up', ['part_id'], `${area}_part${i}`, ['id'])] }),
  ),
])
const before = catalogOf(...tables)
const after = catalogOf(
  ...tables.filter((t) => t.name !== 'shelf_part7'),
  table('lane_mark', ['id', 'lane_id'], ['id'], { foreignKeys: [reference('up', ['lane_id'], 'lane', ['id'])] }),
)

function survey(c: Catalog, of: ReturnType<typeof standingFrame> | null): { readonly frame: ReturnType<typeof standingFrame>; readonly scene: Scene } {
  const { findings } = infer(c)
  const frame = standingFrame(c, findings, shape, of)
  return { frame, scene: mapOf(c, findings, derive(c, findings, []), null, noAreaRulings, wholeMap, shape) }
}
interface Move {
  readonly block: string
  readonly across: number
  readonly down: number
}
/** How far each plate that was there moved, across and down, in units of the map. */
function moves(was: Scene, is: Scene): readonly Move[] {
  const at = new Map(was.plates.map((p) => [p.id, p]))
  return is.plates.flatMap((p) => {
    const w = at.get(p.id)
    return w ? [{ block: p.block, across: Math.abs(p.x - w.x), down: Math.abs(p.y - w.y) }] : []
  })
}
const mean = (list: readonly Move[]) => list.reduce((n, m) => n + m.across + m.down, 0) / list.length

describe('the map after another survey', () => {
  const first = survey(before, null)

  it('shows what is there now, and moves hardly anything', () => {
    const second = survey(after, first.frame)
    const ids = second.scene.plates.map((p) => p.id)
    expect(ids).toContain('s.lane_mark')
    expect(ids).not.toContain('s.shelf_part7')
    // One plate came to the lanes and one left the shelves: whoever stands elsewhere does not move at all, and nobody jumps.
    const own = moves(first.scene, second.scene)
    expect(own.filter((m) => !['area Lanes', 'area Shelves'].includes(m.block) && (m.across > 0.01 || m.down > 0.01))).toEqual([])
    expect(own.filter((m) => m.across > 1 || m.down > 100)).toEqual([])
    expect(own.filter((m) => m.down < 1).length).toBeGreaterThan(own.length * 0.8)
    expect(mean(own)).toBeLessThan(mean(moves(first.scene, survey(catalogOf(...after.relations), null).scene)) / 4)
  })

  it('is the same again where nothing changed, also for who reads the frame as it is kept', () => {
    const kept = decodeFrame(JSON.parse(JSON.stringify(encodeFrame(first.frame))))
    expect(kept).toEqual(first.frame)
    const again = catalogOf(...tables)
    const { findings } = infer(again)
    if (kept) standsOn(again, findings, shape, kept)
    expect(mapOf(again, findings, derive(again, findings, []), null, noAreaRulings, wholeMap, shape)).toEqual(first.scene)
    expect(survey(catalogOf(...tables), first.frame).scene).toEqual(first.scene)
  })

  it('is packed anew where much is other, or it would lose its shape', () => {
    const other = catalogOf(...tables.slice(0, 20))
    expect(survey(other, first.frame).scene).toEqual(survey(catalogOf(...tables.slice(0, 20)), null).scene)
    const long = { ...first.frame, packing: { rows: first.frame.packing.rows.flatMap((r) => r.cells.map((c) => ({ cells: [c] }))) } }
    expect(survey(after, long).scene).toEqual(survey(catalogOf(...after.relations), null).scene)
  })

  it('takes nothing for a frame that is none', () => {
    for (const value of [null, {}, { packing: { rows: [] }, arrangements: [['a', {}]], heights: [] }]) expect(decodeFrame(value)).toBeNull()
  })
})
