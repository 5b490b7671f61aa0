// MapInput → Scene: blocks packed in rows, plates in columns inside them, lines from port to port, bundles between blocks. Deterministic; meant for
// a worker.
import { compareText } from '../catalog/index.ts'
import { type placeBlock, placeBlockAgain, scaled } from './block.ts'
import { bundlesOf } from './bundles.ts'
import { type Connection, connect } from './connections.ts'
import { withRoom } from './crowding.ts'
import { drawConnections, drawLoop } from './draw.ts'
import { type BlockInput, blockOf, blocksOf, extended, type Frame, foldedId, frameOf, inner, measure, outer } from './frame.ts'
import { type PlaceInRows, stackPacking } from './packing.ts'
import { plateMaker } from './plate.ts'
import { size } from './size.ts'
import type { Block, Box, Knot, MapInput, Plate, Scene } from './types.ts'

const noViews: ReadonlySet<string> = new Set()

/** What rulings brought into a block is drawn smaller, down to this, before the block grows. */
const leastScale = 0.45

/**
 * `shape`: width over height of the pane. `frame`: where blocks and plates stand already; without one it is made. No block moves: what a ruling adds to
 * one is made room for by drawing all in it smaller; only one that would have to be too small grows, and then what is right of it and below makes way.
 */
export function layoutMap(input: MapInput, shape = 1, views: ReadonlySet<string> = noViews, given: Frame | null = null): Scene {
  const base = given ?? frameOf(input, views, shape)
  const m = measure(input, base.heights)
  const blocks = blocksOf(input, views, m)
  const frame = extended(base, blocks, shape)
  const roomOf = new Map(frame.packing.rows.flatMap((r) => r.cells.flatMap((c) => c.blocks.map((b) => [b.key, b] as const))))
  const placed = new Map(
    blocks.map((b) => {
      const arrangement = frame.arrangements.get(b.key)
      if (!arrangement) throw new Error(`the block ${b.key} has no arrangement`)
      const room = inner(roomOf.get(b.key) ?? { width: 0, height: 0 })
      const natural = placeBlockAgain(b.content, arrangement, room)
      return [b.key, scaled(natural, Math.max(leastScale, Math.min(1, room.width / natural.width, room.height / natural.height)))] as const
    }),
  )
  const stacked = stackPacking(frame.packing, (key) => {
    const p = placed.get(key)
    return p ? outer(p.width, p.height) : { width: 0, height: 0 }
  })
  const placeOf = (key: string) => stacked.places.get(key) as PlaceInRows
  const origin = (key: string) => ({ x: placeOf(key).x + size.blockLeft, y: placeOf(key).y + size.blockHead })
  const boxes = new Map<string, Box>()
  for (const b of blocks) {
    const { x, y } = origin(b.key)
    for (const [id, box] of placed.get(b.key)?.boxes ?? []) boxes.set(id, { ...box, x: box.x + x, y: box.y + y })
  }
  const of = blockOf(input, views)
  const across = acrossBlocks(input, of)
  const boxFor = (id: string) => boxes.get(id) as Box
  const scaleOf = (id: string) => placed.get(of.get(id) ?? '')?.scale ?? 1
  const drawn = drawConnections({
    blocks: blocks.map((b) => ({ placed: placed.get(b.key) as ReturnType<typeof placeBlock>, ...origin(b.key) })),
    across,
    boxOf: boxFor,
    portsTop: (id) => boxFor(id).y + m.portsAt(id) * scaleOf(id),
    scaleOf,
    blockOf: (id) => of.get(id) as string,
  })
  const makePlate = plateMaker(input, m)
  const rankOf = new Map(blocks.flatMap((b) => [...(placed.get(b.key)?.rankOf ?? [])]))
  const plates = input.plates
    .toSorted((a, b) => compareText(a.id, b.id))
    .map((p) =>
      makePlate(p, { box: boxFor(p.id), block: of.get(p.id) as string, scale: scaleOf(p.id), rank: rankOf.get(p.id) ?? 0, keys: drawn.keys.get(p.id) ?? [] }),
    )
  const loops = input.lines
    .filter((l) => l.child === l.parent && boxes.has(l.child))
    .map((l, i, list) => drawLoop(l, boxFor(l.child), list.slice(0, i).filter((o) => o.child === l.child).length))
  const inBlock = countIn(input, of)
  return {
    width: stacked.width,
    height: stacked.height,
    blocks: blocks.map((b): Block => {
      const at = placeOf(b.key)
      return {
        key: b.key,
        kind: b.kind,
        name: b.name,
        count: inBlock.get(b.key) ?? 0,
        folded: foldedOf(b, boxes),
        x: at.x,
        y: at.y,
        width: at.width,
        height: at.height,
      }
    }),
    bundles: bundlesOf(
      across.map((c) => ({ from: of.get(c.left) as string, to: of.get(c.right) as string })),
      stacked,
    ),
    plates,
    lines: withRoom([...drawn.lines, ...loops], plates),
    beads: drawn.beads,
    knots: blocks.flatMap((b) => (placed.get(b.key)?.knots ?? []).map((members) => knotOf(members, plates))),
  }
}

/** References and beads between blocks, from what is referred to. */
function acrossBlocks(input: MapInput, of: ReadonlyMap<string, string>): readonly Connection[] {
  const apart = (a: string, b: string) => of.has(a) && of.has(b) && of.get(a) !== of.get(b)
  const side = new Map<string, number>()
  const lines = input.lines.filter((l) => apart(l.child, l.parent))
  const beads = input.beads.filter((b) => apart(b.first, b.second))
  for (const id of [...lines.flatMap((l) => [l.child, l.parent]), ...beads.flatMap((b) => [b.first, b.second])]) side.set(id, 0)
  return connect(lines, beads, side)
}

/** Plates and filled beads in each block. */
function countIn(input: MapInput, of: ReadonlyMap<string, string>): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  for (const key of [...input.plates.map((p) => of.get(p.id)), ...input.beads.filter((b) => b.filled).map((b) => of.get(b.first))])
    if (key !== undefined) counts.set(key, (counts.get(key) ?? 0) + 1)
  return counts
}

function foldedOf(b: BlockInput, boxes: ReadonlyMap<string, Box>): Block['folded'] {
  const box = b.folded > 0 ? boxes.get(foldedId(b.area)) : undefined
  return box ? { ...box, area: b.area, count: b.folded } : null
}

function knotOf(members: readonly string[], plates: readonly Plate[]): Knot {
  const inside = new Set(members)
  const own = plates.filter((p) => inside.has(p.id))
  const around = boxAround(own)
  const names = own.map((p) => p.nameLines.join(''))
  const alone = !plates.some((p) => !inside.has(p.id) && overlaps(p, around))
  const boxes = alone ? [around] : own.map((p) => boxAround([p]))
  return {
    members,
    boxes,
    label: `knot: ${names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(' ↔ ')}`,
  }
}

const overlaps = (a: Box, b: Box) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

function boxAround(plates: readonly Box[]): Box {
  const pad = 4
  const [left, top] = [Math.min(...plates.map((p) => p.x)) - pad, Math.min(...plates.map((p) => p.y)) - pad]
  return {
    x: left,
    y: top,
    width: Math.max(...plates.map((p) => p.x + p.width)) + pad - left,
    height: Math.max(...plates.map((p) => p.y + p.height)) + pad - top,
  }
}
