// One block: its plates in columns from left to right, the lines between them from port to port. Coordinates begin at the block's own corner.
import { compareText } from '../catalog/index.ts'
import { keptWith } from '../memo/memo.ts'
import { columnsOf, makeOrder, type Order } from './columns.ts'
import { beadColumn, type Connection, connect, passingColumns, passingKey, trunkOf } from './connections.ts'
import { orderSlots, placeColumn, type Slot } from './order.ts'
import { rankPlates } from './ranks.ts'
import { emWidth, size } from './size.ts'
import type { BeadInput, Box, LineInput } from './types.ts'

/** What goes into a block, and how large each plate is. */
export interface Content {
  readonly ids: readonly string[]
  /** Both ends are in the block; loops are not among them. */
  readonly lines: readonly LineInput[]
  readonly beads: readonly BeadInput[]
  /** With `above`. */
  readonly heightOf: (id: string) => number
  readonly widthOf: (id: string) => number
  /** Room kept above a plate, for its loops. */
  readonly above: (id: string) => number
}

/** Who stands where, without coordinates: keys of plates and of where lines pass, by column from top to bottom, and how wide all is. */
export interface Arrangement {
  readonly keys: readonly (readonly string[])[]
  readonly widths: readonly number[]
  /** To the right of each column. */
  readonly gutters: readonly number[]
}

/** Where everything stands in a block. */
export interface PlacedBlock {
  readonly width: number
  readonly height: number
  readonly boxes: ReadonlyMap<string, Box>
  /** Middle of the slot where a trunk passes a column. */
  readonly passing: ReadonlyMap<string, number>
  readonly columnX: readonly number[]
  readonly arrangement: Arrangement
  readonly connections: readonly Connection[]
  readonly rankOf: ReadonlyMap<string, number>
  readonly knots: readonly (readonly string[])[]
  /** Of everything in it; below 1 where rulings brought more than there is room for. */
  readonly scale: number
}

/** All lengths by this factor. */
export function scaled(b: PlacedBlock, scale: number): PlacedBlock {
  if (scale === 1) return b
  const { arrangement } = b
  return {
    ...b,
    width: b.width * scale,
    height: b.height * scale,
    boxes: new Map([...b.boxes].map(([id, box]) => [id, { x: box.x * scale, y: box.y * scale, width: box.width * scale, height: box.height * scale }])),
    passing: new Map([...b.passing].map(([key, y]) => [key, y * scale])),
    columnX: b.columnX.map((x) => x * scale),
    arrangement: { keys: arrangement.keys, widths: arrangement.widths.map((w) => w * scale), gutters: arrangement.gutters.map((g) => g * scale) },
    scale,
  }
}

/** What columns are made of, whatever their height: the same for all forms of a block. */
const orderOf = keptWith((content: Content): Order => {
  const ids = content.ids.toSorted(compareText)
  const { children } = rankPlates(ids, content.lines)
  const lists = () => new Map<string, string[]>(ids.map((id) => [id, []]))
  const [parents, joined] = [lists(), lists()]
  for (const [parent, list] of children) for (const child of list) parents.get(child)?.push(parent)
  for (const { first, second } of content.beads) {
    joined.get(first)?.push(second)
    joined.get(second)?.push(first)
  }
  const linked = new Set([...content.lines.flatMap((l) => [l.child, l.parent]), ...content.beads.flatMap((b) => [b.first, b.second])])
  return makeOrder({ ids, children, parents, joined, linked, heights: new Map(ids.map((id) => [id, content.heightOf(id)])) })
})

/** Columns no higher than `limit`; plates only. */
function schedule(content: Content, limit: number): { readonly columns: readonly (readonly string[])[]; readonly rankOf: ReadonlyMap<string, number> } {
  const columns = columnsOf(orderOf(content), limit)
  return { columns, rankOf: new Map(columns.flatMap((list, c) => list.map((id) => [id, c] as const))) }
}

/** Width of what stands to the right of each column: more where beads sit, less where no line runs. */
function guttersOf(connections: readonly Connection[], rankOf: ReadonlyMap<string, number>, count: number): readonly number[] {
  const gutters = Array.from({ length: count }, (_, c) => (c === count - 1 ? 0 : (size.bareGutter as number)))
  /** The widest multiplicities on both sides, which must not meet. */
  const [leaving, arriving]: [number[], number[]] = [[], []]
  const need = (c: number, room: number) => {
    if (c < count) gutters[c] = Math.max(gutters[c] as number, room)
  }
  for (const c of connections) {
    const [from, to] = [rankOf.get(c.left) as number, rankOf.get(c.right) as number]
    for (let g = from; g < Math.max(to, from + 1); g += 1) need(g, size.gutter)
    leaving[from] = Math.max(leaving[from] ?? 0, markWidth(c.leftMark))
    if (to > from) arriving[to - 1] = Math.max(arriving[to - 1] ?? 0, markWidth(c.rightMark))
    if (c.of.kind === 'bead' && beadColumn(c, rankOf) === null) need(from, size.beadGutter)
  }
  for (const [g, left] of leaving.entries()) if (left !== undefined && arriving[g] !== undefined) need(g, left + (arriving[g] as number) + 8)
  return gutters
}

const markWidth = (mark: string) => emWidth(mark) * size.markFont

const widthsOf = (columns: readonly (readonly string[])[], widthOf: (id: string) => number) =>
  columns.map((list) => list.reduce((w, id) => Math.max(w, widthOf(id)), 0))
const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0)

/** Lines run up or down about so much of the height of their block. */
const climb = 0.2

/** About how much room the content takes at a limit, without its order, and how long its lines are together. */
export function extentOf(
  content: Content,
  limit: number,
): { readonly width: number; readonly height: number; readonly columns: number; readonly length: number } {
  const { columns, rankOf } = schedule(content, limit)
  const connections = connect(content.lines, content.beads, rankOf)
  const passing = columns.map(() => new Map<string, number>())
  for (const c of connections)
    for (const column of passingColumns(c, rankOf)) passing[column]?.set(trunkOf(c), beadColumn(c, rankOf) === column ? size.beadPassing : size.passing)
  const heights = columns.map(
    (list, c) =>
      sum(list.map((id) => content.heightOf(id) + size.gap)) -
      size.gap +
      sum([...(passing[c] as Map<string, number>).values()].map((h) => h + size.passingGap)),
  )
  const gutters = guttersOf(connections, rankOf, columns.length)
  const pitch = widthsOf(columns, content.widthOf).map((w, c) => w + (gutters[c] as number))
  const at = [0]
  for (const w of pitch) at.push((at.at(-1) as number) + w)
  const height = Math.max(0, ...heights)
  const length = connections.reduce(
    (n, c) => n + (at[rankOf.get(c.right) as number] as number) - (at[rankOf.get(c.left) as number] as number) + climb * height,
    0,
  )
  return { width: sum(pitch), height, columns: columns.length, length }
}

/** An order of the content in columns no higher than `limit`, with as few crossings as a few sweeps find. Independent of the order of input. */
export function arrange(content: Content, limit: number): Arrangement {
  const { columns, rankOf } = schedule(content, limit)
  const connections = connect(content.lines, content.beads, rankOf)
  const ordered = orderSlots(slotsOf(columns, connections, rankOf, content.heightOf), columns.length)
  return {
    keys: ordered.map((list) => list.map((s) => s.key)),
    widths: widthsOf(columns, content.widthOf),
    gutters: guttersOf(connections, rankOf, columns.length),
  }
}

/** Slots of plates, column by column, then those of the trunks that pass. */
function slotsOf(
  columns: readonly (readonly string[])[],
  connections: readonly Connection[],
  rankOf: ReadonlyMap<string, number>,
  heightOf: (id: string) => number,
): readonly Slot[] {
  const before = new Map<string, Set<string>>()
  const after = new Map<string, Set<string>>()
  const passing = new Map<string, { column: number; height: number }>()
  for (const c of connections) {
    if (rankOf.get(c.left) === rankOf.get(c.right)) continue
    const beadAt = beadColumn(c, rankOf)
    const stops = passingColumns(c, rankOf).map((column) => {
      const key = passingKey(trunkOf(c), column)
      passing.set(key, { column, height: column === beadAt ? size.beadPassing : size.passing })
      return key
    })
    const chain = [c.left, ...stops, c.right]
    for (let i = 1; i < chain.length; i += 1) {
      const [a, b] = [chain[i - 1] as string, chain[i] as string]
      after.set(a, (after.get(a) ?? new Set()).add(b))
      before.set(b, (before.get(b) ?? new Set()).add(a))
    }
  }
  const slot = (key: string, plate: boolean, column: number, height: number): Slot => ({
    key,
    plate,
    column,
    height,
    before: [...(before.get(key) ?? [])],
    after: [...(after.get(key) ?? [])],
  })
  return [
    ...columns.flatMap((list, c) => list.map((id) => slot(id, true, c, heightOf(id)))),
    ...[...passing].sort((a, b) => compareText(a[0], b[0])).map(([key, p]) => slot(key, false, p.column, p.height)),
  ]
}

const rounds = 8

/** Where a plate goes that the arrangement does not know, if no column it may stand in has room: into one of those, or into a new one. */
export type Growth = 'taller' | 'wider'

/** Room for the content of a block. */
export interface Room {
  readonly width: number
  readonly height: number
}

/** Gutters give way so far before a block grows, and gaps between plates to this share. */
const leastGutter = 15
const leastGap = 0.6

/** What was placed last by an arrangement, and of what. */
interface LastPlaced {
  readonly content: Content
  readonly sizes: readonly number[]
  readonly room: Room
  readonly placed: PlacedBlock
}
const lastPlaced = new WeakMap<Arrangement, LastPlaced>()

const sizesOf = (c: Content) => c.ids.flatMap((id) => [c.heightOf(id), c.widthOf(id), c.above(id)])
const sameItems = <T>(a: readonly T[], b: readonly T[], same: (x: T, y: T) => boolean) => a.length === b.length && a.every((x, i) => same(x, b[i] as T))
const isOne = <T>(a: T, b: T) => a === b
const sameBead = (a: BeadInput, b: BeadInput) =>
  a.id === b.id && a.first === b.first && a.second === b.second && a.label === b.label && a.filled === b.filled && a.state === b.state

/** As `placeBlock`: a block in which a ruling changed nothing stays the value it was. */
export function placeBlockAgain(content: Content, base: Arrangement, room: Room): PlacedBlock {
  const last = lastPlaced.get(base)
  const sizes = sizesOf(content)
  if (
    last &&
    last.room.width === room.width &&
    last.room.height === room.height &&
    sameItems(last.content.ids, content.ids, isOne) &&
    sameItems(last.content.lines, content.lines, isOne) &&
    sameItems(last.content.beads, content.beads, sameBead) &&
    sameItems(last.sizes, sizes, isOne)
  )
    return last.placed
  const placed = placeBlock(content, base, room)
  lastPlaced.set(base, { content, sizes, room, placed })
  return placed
}

/**
 * Coordinates for what is in the block now. Plates stand in the columns of the arrangement, further right only where something they refer to
 * asks for it, in its order; what it does not know is put where its neighbours are. Where the room is too small gutters give way, and no more than that.
 */
export function placeBlock(content: Content, base: Arrangement, room: Room, growth: Growth = 'taller'): PlacedBlock {
  const ids = content.ids.toSorted(compareText)
  const { starts, order } = known(content, base, room.height, growth)
  const { rankOf, knots } = rankPlates(ids, content.lines, starts)
  const count = ids.length === 0 ? 0 : Math.max(...rankOf.values()) + 1
  const connections = connect(content.lines, content.beads, rankOf)
  const plates = Array.from({ length: count }, (_, c) => ids.filter((id) => rankOf.get(id) === c))
  const slots = slotsOf(plates, connections, rankOf, content.heightOf)
  const columns = inOrder(slots, count, order)
  const tops = topsOf(columns, slots, room.height)
  const widths = widthsOf(plates, content.widthOf).map((w, c) => Math.max(w, base.widths[c] ?? 0))
  const wished = guttersOf(connections, rankOf, count).map((g, c) => (c === count - 1 ? g : Math.max(g, base.gutters[c] ?? 0)))
  const gutters = narrowed(wished, sum(widths) + sum(wished) - room.width)
  const columnX: number[] = []
  let x = 0
  for (let c = 0; c < count; c += 1) {
    columnX.push(x)
    x += (widths[c] as number) + (gutters[c] as number)
  }
  const boxes = new Map(
    ids.map((id) => {
      const c = rankOf.get(id) as number
      const above = content.above(id)
      return [id, { x: columnX[c] as number, y: (tops.get(id) as number) + above, width: widths[c] as number, height: content.heightOf(id) - above }] as const
    }),
  )
  const passing = new Map(slots.filter((s) => !s.plate).map((s) => [s.key, (tops.get(s.key) as number) + s.height / 2]))
  const bottom = Math.max(0, ...slots.map((s) => (tops.get(s.key) as number) + s.height))
  return {
    width: x,
    height: bottom,
    boxes,
    passing,
    columnX,
    arrangement: { keys: columns.map((list) => list.map((s) => s.key)), widths, gutters },
    connections,
    rankOf,
    knots,
    scale: 1,
  }
}

/** Gutters that together are so much narrower, as far as they can be. */
function narrowed(gutters: readonly number[], by: number): readonly number[] {
  if (by <= 0) return gutters
  const free = gutters.map((g) => Math.max(0, g - leastGutter))
  const share = Math.min(1, by / Math.max(1, sum(free)))
  return gutters.map((g, c) => g - (free[c] as number) * share)
}

/** Where the arrangement has each plate; one it does not know goes right of all it refers to: to the first column with room if it refers to something, else to the emptiest. */
function known(
  content: Content,
  base: Arrangement,
  height: number,
  growth: Growth,
): { readonly starts: ReadonlyMap<string, number>; readonly order: ReadonlyMap<string, number> } {
  const order = new Map<string, number>()
  const starts = new Map<string, number>()
  for (const [c, keys] of base.keys.entries())
    for (const [i, key] of keys.entries()) {
      order.set(key, (i + 0.5) / keys.length)
      starts.set(key, c)
    }
  const parents = new Map<string, string[]>()
  for (const l of content.lines) if (l.child !== l.parent) parents.set(l.child, [...(parents.get(l.child) ?? []), l.parent])
  const ids = new Set(content.ids)
  const fill = base.keys.map((keys) => sum(keys.map((k) => (ids.has(k) ? content.heightOf(k) + size.gap : size.passing + size.passingGap))))
  for (const id of content.ids.toSorted(compareText)) {
    if (starts.has(id) || fill.length === 0) continue
    const above = parents.get(id) ?? []
    // What refers to another one that is new goes where ranks put it.
    if (above.some((p) => !starts.has(p))) continue
    const more = content.heightOf(id) + size.gap
    const hasRoom = (f: number) => f + more <= height + size.gap
    const first = above.length === 0 ? 0 : Math.max(...above.map((p) => starts.get(p) as number)) + 1
    const free = above.length === 0 ? fill.indexOf(Math.min(...fill)) : fill.findIndex((f, c) => c >= first && hasRoom(f))
    const full = above.length === 0 || growth === 'wider' ? Math.max(first, fill.length) : first
    const column = free >= 0 && hasRoom(fill[free] as number) ? free : full
    starts.set(id, column)
    fill[column] = (fill[column] ?? 0) + more
  }
  return { starts, order }
}

/** Known slots in their order; the others where their neighbours to the left, or to the right, are. */
function inOrder(slots: readonly Slot[], count: number, order: ReadonlyMap<string, number>): readonly (readonly Slot[])[] {
  const at = new Map(order)
  const near = (keys: readonly string[]) => {
    const known = keys.flatMap((k) => at.get(k) ?? [])
    return known.length === 0 ? null : sum(known) / known.length
  }
  return Array.from({ length: count }, (_, c) => {
    const own = slots.filter((s) => s.column === c)
    for (const s of own) if (!at.has(s.key)) at.set(s.key, near(s.before) ?? near(s.after) ?? 1)
    return own.sort((a, b) => (at.get(a.key) as number) - (at.get(b.key) as number) || compareText(a.key, b.key))
  })
}

/** Tops of slots: neighbours pull towards each other, column by column, from left to right and back. */
function topsOf(columns: readonly (readonly Slot[])[], slots: readonly Slot[], limit: number): ReadonlyMap<string, number> {
  const bySlot = new Map(slots.map((s) => [s.key, s]))
  // Lines that pass stand closer to each other than plates; in a column that is too high all do.
  const gapOf = (s: Slot) => (s.plate ? size.gap : size.passingGap)
  const shareOf = (column: readonly Slot[]) => {
    const free = limit - sum(column.map((s) => s.height))
    // Half a gap above the first and below the last are outside.
    const needed = sum(column.map(gapOf)) - (column.length === 0 ? 0 : (gapOf(column[0] as Slot) + gapOf(column.at(-1) as Slot)) / 2)
    return Math.min(1, Math.max(leastGap, free / Math.max(1, needed)))
  }
  const shares = columns.map(shareOf)
  /** Half of the room around a slot, above it and below. */
  const half = (s: Slot) => (gapOf(s) * (shares[s.column] ?? 1)) / 2
  const room = (s: Slot) => s.height + 2 * half(s)
  const top = new Map<string, number>()
  const centre = (s: Slot) => (top.get(s.key) as number) + s.height / 2
  const stack = (column: readonly Slot[], wish: (s: Slot) => number) => {
    const [first, last] = [column[0], column.at(-1)]
    if (!first || !last) return
    // All columns begin and end together, whatever stands first and last in them.
    const from = size.gap / 2 - half(first)
    const most = limit + half(first) + half(last)
    const tops = placeColumn(
      column.map((s) => ({ height: room(s), wish: wish(s) - from })),
      0,
      most,
    )
    for (const [i, s] of column.entries()) top.set(s.key, (tops[i] as number) + half(s) + from)
  }
  for (const column of columns) stack(column, () => 0)
  for (let round = 0; round < rounds; round += 1) {
    for (let step = 0; step < columns.length; step += 1) {
      const column = columns[round % 2 === 0 ? step : columns.length - 1 - step] as readonly Slot[]
      const near = (s: Slot) => [...s.before, ...s.after].map((k) => bySlot.get(k) as Slot)
      stack(column, (s) => {
        const list = near(s)
        return list.length === 0 ? centre(s) : list.reduce((n, o) => n + centre(o), 0) / list.length
      })
    }
  }
  const least = slots.length === 0 ? 0 : Math.min(...slots.map((s) => top.get(s.key) as number))
  return new Map([...top].map(([key, y]) => [key, y - least]))
}
