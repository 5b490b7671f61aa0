// The frame of a map: which blocks there are, how they are packed, and who stands where in each. Made once from what is proposed; rulings fill it.
import { compareText } from '../catalog/index.ts'
import { remembered } from '../memo/memo.ts'
import { type Arrangement, arrange, type Content, extentOf, placeBlock } from './block.ts'
import { markStep } from './draw.ts'
import { extentOfPacking, type Form, type Given, type Packable, type Packing, packBlocks } from './packing.ts'
import { breakName, emWidth, size } from './size.ts'
import type { BlockKind, HubMarkInput, MapInput } from './types.ts'

export interface Frame {
  readonly packing: Packing
  readonly arrangements: ReadonlyMap<string, Arrangement>
  /** Heights of plates: one that holds less by now stays as high. */
  readonly heights: ReadonlyMap<string, number>
}

/** A block before it is laid out. */
export interface BlockInput {
  readonly key: string
  readonly kind: BlockKind
  readonly name: string
  readonly area: string | null
  /** Views of the area that are drawn as one shape. */
  readonly folded: number
  readonly content: Content
}

/** What stands on the shape of views that are not drawn one by one. */
export const foldedText = (count: number): string => (count === 1 ? '1 view' : `${count.toLocaleString('en')} views`)

/** The shape that stands for folded views is laid out as a plate with this id. */
export const foldedId = (area: string | null): string => `views\n${area ?? ''}`

export const areaKey = (area: string): string => `area ${area}`
const viewsKey = (area: string | null): string => `views ${area ?? ''}`

/** Key of the block that each plate stands in. */
export function blockOf(input: MapInput, views: ReadonlySet<string>): ReadonlyMap<string, string> {
  const hubs = new Set(input.hubs)
  return new Map(
    input.plates.map((p) => {
      const area = input.areas.get(p.id)
      const own = area === undefined ? undefined : (input.keys.get(area) ?? area)
      const key = hubs.has(p.id) ? 'hubs' : views.has(p.id) ? viewsKey(own ?? null) : own === undefined ? 'alone' : areaKey(own)
      return [p.id, key]
    }),
  )
}

/** What a plate holds, from top to bottom: its name, its table, its ports, and the hubs it refers to. */
export interface Measure {
  readonly names: ReadonlyMap<string, readonly string[]>
  readonly marksOf: (id: string) => readonly HubMarkInput[]
  /** Top of the ports, and of the lines that name hubs, from the top of the plate. */
  readonly portsAt: (id: string) => number
  readonly marksAt: (id: string) => number
  /** Of the plate itself. */
  readonly heightOf: (id: string) => number
  readonly widthOf: (id: string) => number
  /** Room above it for its loops. */
  readonly above: (id: string) => number
}

const nameLinesOf = remembered((name) => breakName(name, size.nameLimit))

export function measure(input: MapInput, base: ReadonlyMap<string, number> = new Map()): Measure {
  const names = new Map(input.plates.map((p) => [p.id, nameLinesOf(p.name)]))
  const marks = new Map<string, HubMarkInput[]>()
  for (const m of input.marks) marks.set(m.plate, [...(marks.get(m.plate) ?? []), m])
  const arriving = new Map<string, { n: number; marks: Set<string> }>()
  const arrive = (id: string, mark: string) => {
    const a = arriving.get(id) ?? { n: 0, marks: new Set<string>() }
    arriving.set(id, a)
    a.n += 1
    a.marks.add(mark)
  }
  const loops = new Map<string, number>()
  for (const l of input.lines) {
    if (l.child === l.parent) loops.set(l.child, (loops.get(l.child) ?? 0) + 1)
    else arrive(l.child, l.childMark)
  }
  for (const b of input.beads) for (const id of [b.first, b.second]) arrive(id, 'n')
  const portsAt = (id: string) => size.plateHead + ((names.get(id)?.length ?? 1) - 1) * size.nameLine
  const ports = (id: string) => {
    const a = arriving.get(id)
    return a ? a.n * size.port + (a.marks.size - 1) * markStep : size.port
  }
  const marksAt = (id: string) => portsAt(id) + ports(id)
  const own = (id: string) => marksAt(id) + (marks.get(id)?.length ?? 0) * size.markLine + size.plateFoot
  const isFolded = (id: string) => id.startsWith('views\n')
  return {
    names,
    marksOf: (id) => marks.get(id) ?? [],
    portsAt,
    marksAt,
    heightOf: (id) => (isFolded(id) ? size.folded : Math.max(own(id), base.get(id) ?? 0)),
    above: (id) => (loops.has(id) ? size.loops : 0),
    widthOf: (id) => {
      if (isFolded(id)) return Math.ceil(emWidth(foldedText(input.folded.get(id.slice('views\n'.length) || null) ?? 0)) * size.foldedFont + 20)
      const lines = [...(names.get(id) ?? []).map((l) => emWidth(l) * size.nameFont), ...(marks.get(id) ?? []).map((m) => emWidth(m.text) * size.markFont)]
      return Math.ceil(Math.max(size.leastPlate, ...lines.map((w) => w + 2 * size.inset), (loops.get(id) ?? 0) * size.loop + 16))
    },
  }
}

/** Remembers what a plate measures: it is asked for many times. */
function remembering(of: (id: string) => number): (id: string) => number {
  const known = new Map<string, number>()
  return (id) => {
    const before = known.get(id)
    if (before !== undefined) return before
    const now = of(id)
    known.set(id, now)
    return now
  }
}

/** Blocks in the order they are read: hubs, areas each with its views, what stands alone. */
export function blocksOf(input: MapInput, views: ReadonlySet<string>, m: Measure): readonly BlockInput[] {
  const of = blockOf(input, views)
  const plates = new Map<string, string[]>()
  for (const id of input.plates.map((p) => p.id).sort(compareText)) {
    const key = of.get(id) as string
    const list = plates.get(key) ?? []
    plates.set(key, list)
    list.push(id)
  }
  const within = <T>(list: readonly T[], ends: (x: T) => readonly [string, string]) => {
    const byBlock = new Map<string, T[]>()
    for (const x of list) {
      const [a, b] = ends(x)
      const key = of.get(a)
      if (a === b || key === undefined || key !== of.get(b)) continue
      const own = byBlock.get(key) ?? []
      byBlock.set(key, own)
      own.push(x)
    }
    return byBlock
  }
  const [heightOf, widthOf] = [remembering((id) => m.heightOf(id) + m.above(id)), remembering(m.widthOf)]
  const lines = within(input.lines, (l) => [l.child, l.parent])
  const beads = within(input.beads, (b) => [b.first, b.second])
  const block = (key: string, kind: BlockKind, name: string, area: string | null, folded: number): BlockInput | null => {
    const ids = [...(key === 'hubs' ? input.hubs : (plates.get(key) ?? [])), ...(folded > 0 ? [foldedId(area)] : [])]
    if (ids.length === 0) return null
    return {
      key,
      kind,
      name,
      area,
      folded,
      content: {
        ids,
        lines: lines.get(key) ?? [],
        beads: beads.get(key) ?? [],
        heightOf,
        widthOf,
        above: m.above,
      },
    }
  }
  return [
    block('hubs', 'hubs', 'Referred to from everywhere', null, 0),
    ...input.order.flatMap((area) => [
      block(areaKey(input.keys.get(area) ?? area), 'area', area, area, input.folded.get(area) ?? 0),
      block(viewsKey(input.keys.get(area) ?? area), 'views', `Views of ${area}`, area, 0),
    ]),
    block(viewsKey(null), 'views', 'Other views', null, 0),
    block('alone', 'alone', 'Standing alone', null, input.folded.get(null) ?? 0),
  ].filter((b) => b !== null)
}

/** Forms of a block from low to high: as many columns as a height asks for; heights grow by so much, of large blocks by more. */
const formGrowth = (plates: number) => (plates <= 40 ? 1.1 : plates <= 80 ? 1.25 : 1.8)
/** A form whose lines are longer than this times those of the best one is taken only where the whole map gains so much by such forms. */
const mostLonger = 1.2
const worthLonger = 1.05

interface LinedForm extends Form {
  /** Of its lines together. */
  readonly length: number
}

function formsOf(b: BlockInput): readonly LinedForm[] {
  const { content } = b
  const tallest = Math.max(...content.ids.map(content.heightOf))
  const whole = content.ids.reduce((h, id) => h + content.heightOf(id) + size.gap, 0)
  const growth = formGrowth(content.ids.length)
  const forms: LinedForm[] = []
  let narrowest = Number.POSITIVE_INFINITY
  for (let limit = tallest; ; limit = Math.max(limit * growth, limit + 12)) {
    const e = extentOf(content, limit)
    if (e.width < narrowest - 1) {
      narrowest = e.width
      forms.push({ ...outer(e.width, e.height * 1.02 + 4), length: e.length })
    }
    if (limit >= whole || e.columns === 1) break
  }
  return forms
}

/** A block around its content. */
export const outer = (width: number, height: number): Form => ({
  width: size.blockLeft + width + size.blockRight,
  height: size.blockHead + height + size.blockFoot,
})

/** All blocks arranged and packed to a shape (width over height). */
export function frameOf(input: MapInput, views: ReadonlySet<string>, shape: number): Frame {
  const m = measure(input)
  return frameOfBlocks(blocksOf(input, views, m), new Map(input.plates.map((p) => [p.id, m.heightOf(p.id)])), shape)
}

function frameOfBlocks(blocks: readonly BlockInput[], heights: ReadonlyMap<string, number>, shape: number): Frame {
  const packing = packed(
    blocks.map((b) => ({ key: b.key, forms: formsOf(b) })),
    shape,
  )
  const byKey = new Map(blocks.map((b) => [b.key, b]))
  const arrangements = new Map<string, Arrangement>()
  /** Forms are estimates: a block is given the room that its arrangement takes. */
  const roomy = (given: Given): Given => {
    const { content } = byKey.get(given.key) as BlockInput
    const arrangement = arrange(content, inner(given).height)
    arrangements.set(given.key, arrangement)
    const placed = placeBlock(content, arrangement, { ...inner(given), width: Number.POSITIVE_INFINITY })
    const need = outer(placed.width, placed.height)
    return { key: given.key, width: Math.max(given.width, need.width), height: Math.max(given.height, need.height) }
  }
  const rows = packing.rows.map((r) => ({ cells: r.cells.map((c) => ({ blocks: c.blocks.map(roomy) })) }))
  return { packing: { rows }, arrangements, heights }
}

/** Packed in forms with short lines, or in any where that makes the map much larger. */
function packed(blocks: readonly { readonly key: string; readonly forms: readonly LinedForm[] }[], shape: number): Packing {
  const short = blocks.map((b): Packable => {
    const least = Math.min(...b.forms.map((f) => f.length))
    return { key: b.key, forms: b.forms.filter((f) => f.length <= least * mostLonger) }
  })
  const [narrow, wide] = [packBlocks(short, shape), packBlocks(blocks, shape)]
  const scale = (p: Packing) => {
    const { width, height } = extentOfPacking(p)
    return Math.min(shape / width, 1 / height)
  }
  return blocks.length > 0 && scale(wide) > scale(narrow) * worthLonger ? wide : narrow
}

/** Room for the content of a block of this size. */
export const inner = (b: Form): Form => ({ width: b.width - size.blockLeft - size.blockRight, height: b.height - size.blockHead - size.blockFoot })

/** Blocks that the frame does not know yet stand below it; those it knows stay where they are. */
export function extended(frame: Frame, blocks: readonly BlockInput[], shape: number): Frame {
  const fresh = blocks.filter((b) => !frame.arrangements.has(b.key))
  if (fresh.length === 0) return frame
  const more = frameOfBlocks(fresh, new Map(), Math.max(shape * 4, 4))
  return {
    packing: { rows: [...frame.packing.rows, ...more.packing.rows] },
    arrangements: new Map([...frame.arrangements, ...more.arrangements]),
    heights: frame.heights,
  }
}
