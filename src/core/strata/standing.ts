// The frame of a map from one survey to the next: what stood stays where it was, as far as the map keeps the shape it is packed to.
import { z } from 'zod'
import type { Catalog } from '../catalog/index.ts'
import type { Finding } from '../model/index.ts'
import { type Arrangement, type Growth, placeBlock } from './block.ts'
import { type BlockInput, blocksOf, extended, type Frame, frameOf, inner, measure, outer } from './frame.ts'
import { groundOf } from './ground.ts'
import { framesOf, groundInput, standOn } from './mapInput.ts'
import { extentOfPacking, type Given, type Packing } from './packing.ts'
import type { MapInput } from './types.ts'

/** Of all plates so many may have come or gone: of more the map is packed anew. */
const mostOthers = 0.3
/** What a block holds is drawn smaller by so much before the block grows: smaller is hardly seen, and growing moves all others. */
const hardlySmaller = 0.94
/** The box of the map may be so far from its shape, width over height. */
const [narrowest, widest] = [0.75, 1.35]

/** Frames as they are kept: JSON, read back by `decodeFrame`. */
export const encodeFrame = (f: Frame): unknown => ({ packing: f.packing, arrangements: [...f.arrangements], heights: [...f.heights] })

const number = z.number().finite()
const frameSchema = z.object({
  packing: z.object({
    rows: z.array(z.object({ cells: z.array(z.object({ blocks: z.array(z.object({ key: z.string(), width: number, height: number })) })) })),
  }),
  arrangements: z.array(z.tuple([z.string(), z.object({ keys: z.array(z.array(z.string())), widths: z.array(number), gutters: z.array(number) })])),
  heights: z.array(z.tuple([z.string(), number])),
})

/** Null where it is none, or one of another program. */
export function decodeFrame(value: unknown): Frame | null {
  const parsed = frameSchema.safeParse(value)
  if (!parsed.success) return null
  const { packing, arrangements, heights } = parsed.data
  return { packing, arrangements: new Map(arrangements), heights: new Map(heights) }
}

/**
 * The frame that maps of this catalog and these findings stand on from now on, packed to a shape: that of a survey before as far as it goes,
 * null for none.
 */
export function standingFrame(catalog: Catalog, findings: readonly Finding[], shape: number, before: Frame | null): Frame {
  const ground = groundOf(catalog, findings)
  return standOn(ground, shape, () => {
    const input = groundInput(ground)
    return (before && carried(before, input, ground.views, shape)) ?? frameOf(input, ground.views, shape)
  })
}

/** The frame as it is kept, for maps of this catalog and these findings, whatever they stood on. */
export function standsOn(catalog: Catalog, findings: readonly Finding[], shape: number, frame: Frame): void {
  framesOf(groundOf(catalog, findings)).set(shape, frame)
}

/**
 * What stood, stands; a plate that is new goes where its neighbours are, a block that is new below all others, and what has to be larger makes the others
 * give way. Null where too much is other, or the map would be too far from its shape.
 */
function carried(before: Frame, input: MapInput, views: ReadonlySet<string>, shape: number): Frame | null {
  const ids = input.plates.map((p) => p.id)
  const come = ids.filter((id) => !before.heights.has(id)).length
  const gone = before.heights.size + come - ids.length
  if (come + gone > mostOthers * Math.max(ids.length, before.heights.size)) return null
  const m = measure(input)
  const blocks = blocksOf(input, views, m)
  const byKey = new Map(blocks.map((b) => [b.key, b]))
  const platesIn = (g: Given) => byKey.get(g.key)?.content.ids.length ?? 0
  const arrangements = new Map<string, Arrangement>()
  const given = (g: Given, others: Others): readonly Given[] => {
    const b = byKey.get(g.key)
    const base = before.arrangements.get(g.key)
    if (!b || !base) return []
    const { room, arrangement } = fitted(b, base, g, others)
    arrangements.set(g.key, arrangement)
    return [room]
  }
  const countOf = (cells: Packing['rows'][number]['cells']) => cells.reduce((n, c) => n + c.blocks.reduce((k, x) => k + platesIn(x), 0), 0)
  const rows = before.packing.rows
    .map((r, i) => {
      const lower = before.packing.rows.slice(i + 1).reduce((n, x) => n + countOf(x.cells), 0)
      return {
        cells: r.cells
          .map((c, j) => {
            const right = countOf(r.cells.slice(j + 1))
            return { blocks: c.blocks.flatMap((g, k) => given(g, { right, below: lower + countOf([{ blocks: c.blocks.slice(k + 1) }]) })) }
          })
          .filter((c) => c.blocks.length > 0),
      }
    })
    .filter((r) => r.cells.length > 0)
  const kept = { packing: { rows }, arrangements, heights: new Map(input.plates.map((p) => [p.id, m.heightOf(p.id)])) }
  const frame = extended(kept, blocks, shape)
  return isInShape(frame.packing, shape) ? frame : null
}

/** How many plates give way to a block that grows wider, and to one that grows taller. */
interface Others {
  readonly right: number
  readonly below: number
}

/** A block with what is in it now: where everything stands, and the room it takes, which the fewest others have to give way to. */
function fitted(b: BlockInput, base: Arrangement, room: Given, others: Others): { readonly room: Given; readonly arrangement: Arrangement } {
  const as = (growth: Growth) => {
    // A block that grows wider takes all it needs: gutters that gave way would move what stands in it.
    const within = growth === 'wider' ? { ...inner(room), width: Number.POSITIVE_INFINITY } : inner(room)
    const placed = placeBlock(b.content, base, within, growth)
    const need = outer(placed.width, placed.height)
    const [width, height] = [grown(room.width, need.width), grown(room.height, need.height)]
    // What is drawn smaller moves within its block.
    const isSmaller = need.width > width || need.height > height
    const moved = (width > room.width ? others.right : 0) + (height > room.height ? others.below : 0) + (isSmaller ? b.content.ids.length : 0)
    return { room: { key: room.key, width, height }, arrangement: placed.arrangement, moved }
  }
  const taller = as('taller')
  if (taller.moved === 0) return taller
  const wider = as('wider')
  return wider.moved < taller.moved ? wider : taller
}

const grown = (had: number, needs: number) => (needs * hardlySmaller <= had ? had : needs)

function isInShape(p: Packing, shape: number): boolean {
  const { width, height } = extentOfPacking(p)
  const ratio = width / Math.max(1, height) / shape
  return ratio >= narrowest && ratio <= widest
}
