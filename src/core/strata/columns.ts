// Plates of one block in columns no higher than a limit: creation order from left to right, as many columns as it takes.
import { size } from './size.ts'

/** The references within a block without the cut ones of its knots, as a graph. */
export interface Graph {
  readonly ids: readonly string[]
  readonly children: ReadonlyMap<string, readonly string[]>
  readonly parents: ReadonlyMap<string, readonly string[]>
  /** What beads join to each. */
  readonly joined: ReadonlyMap<string, readonly string[]>
  /** Plates that a line or a bead links to another of the block. */
  readonly linked: ReadonlySet<string>
  readonly heights: ReadonlyMap<string, number>
}

/** The same with plates by number, in the order of `ids`; it is gone through many times. */
export interface Order {
  readonly ids: readonly string[]
  readonly children: readonly (readonly number[])[]
  readonly parents: readonly (readonly number[])[]
  readonly joined: readonly (readonly number[])[]
  readonly linked: readonly boolean[]
  /** With the gap below. */
  readonly need: readonly number[]
  /** Plates on the longest way to one that nothing refers to. */
  readonly depth: readonly number[]
}

export function makeOrder(g: Graph): Order {
  const number = new Map(g.ids.map((id, i) => [id, i]))
  const lists = (of: ReadonlyMap<string, readonly string[]>) => g.ids.map((id) => (of.get(id) ?? []).map((other) => number.get(other) as number))
  const [children, parents] = [lists(g.children), lists(g.parents)]
  return {
    ids: g.ids,
    children,
    parents,
    joined: lists(g.joined),
    linked: g.ids.map((id) => g.linked.has(id)),
    need: g.ids.map((id) => (g.heights.get(id) as number) + size.gap),
    depth: depths(children, parents),
  }
}

/** Children before parents, so that a single pass suffices. */
function depths(children: Order['children'], parents: Order['parents']): readonly number[] {
  const depth = children.map(() => 0)
  const waiting = children.map((list) => list.length)
  const ready = waiting.flatMap((n, i) => (n === 0 ? [i] : []))
  for (const i of ready) {
    for (const p of parents[i] as readonly number[]) {
      depth[p] = Math.max(depth[p] as number, (depth[i] as number) + 1)
      waiting[p] = (waiting[p] as number) - 1
      if (waiting[p] === 0) ready.push(p)
    }
  }
  return depth
}

/**
 * Columns of plates, each to the right of all it refers to, none higher than `limit` unless one plate alone is: list scheduling with what the longest
 * ways need first (Coffman, Graham 1972), children of one parent together; then plates move where that makes lines shorter, and what is linked to
 * nothing fills up what is left. Room is kept for the lines that pass.
 */
export function columnsOf(o: Order, limit: number): readonly (readonly string[])[] {
  let kept: readonly number[] = []
  let columns: readonly (readonly number[])[] = []
  for (let round = 0; round < 3; round += 1) {
    columns = scheduled(o, (c) => limit - (kept[c] ?? 0))
    const passing = passingOf(o, columns)
    const over = columns.some((list, c) => list.reduce((h, i) => h + (o.need[i] as number), -size.gap) + (passing[c] as number) > limit && list.length > 1)
    if (!over) break
    kept = passing.map((p, c) => Math.max(p, kept[c] ?? 0))
  }
  return columns.map((list) => list.map((i) => o.ids[i] as string))
}

/** Room for the trunks that pass each column. */
function passingOf(o: Order, columns: readonly (readonly number[])[]): readonly number[] {
  const at = columnNumbers(o, columns)
  const room = columns.map(() => 0)
  for (const [i, children] of o.children.entries()) {
    const last = children.reduce((c, child) => Math.max(c, at[child] as number), 0)
    for (let c = (at[i] as number) + 1; c < last; c += 1) room[c] = (room[c] as number) + size.passing + size.passingGap
  }
  return room
}

function columnNumbers(o: Order, columns: readonly (readonly number[])[]): number[] {
  const at = o.ids.map(() => 0)
  for (const [c, list] of columns.entries()) for (const i of list) at[i] = c
  return at
}

function scheduled(o: Order, limitOf: (column: number) => number): readonly (readonly number[])[] {
  const waiting = o.parents.map((list) => list.length)
  const placed: (number | undefined)[] = []
  let count = 0
  const columns: number[][] = []
  const room: number[] = []
  const put = (i: number, c: number) => {
    const column = columns[c] ?? []
    columns[c] = column
    column.push(i)
    room[c] = (room[c] ?? limitOf(c) + size.gap) - (o.need[i] as number)
  }
  const linkedHeight = o.need.reduce((h, need, i) => h + (o.linked[i] ? need : 0), 0)
  /** Columns that it takes at least: those of the longest way, or of all plates together. */
  const least = Math.max(Math.ceil(linkedHeight / Math.max(1, limitOf(0))), ...o.depth.map((d) => d + 1))
  const sequence = (i: number) => (o.parents[i] as readonly number[]).reduce((n, p) => Math.min(n, placed[p] ?? n), Number.MAX_SAFE_INTEGER)
  /** What a column's delay costs: lines that enter grow longer, lines that leave may grow shorter. */
  const haste = (i: number) => (o.parents[i] as readonly number[]).length - (o.children[i] as readonly number[]).length
  let ready = o.ids.flatMap((_, i) => (waiting[i] === 0 && o.linked[i] ? [i] : []))
  while (ready.length > 0) {
    const c = columns.length
    // What must stand here for all to fit into so many columns comes first.
    const queue = ready
      .map((i) => ({ i, urgent: (o.depth[i] as number) >= least - 1 - c ? 0 : 1, haste: haste(i), depth: o.depth[i] as number, parent: sequence(i) }))
      .sort((a, b) => a.urgent - b.urgent || b.haste - a.haste || b.depth - a.depth || a.parent - b.parent || a.i - b.i)
    const later: number[] = []
    for (const [n, { i }] of queue.entries()) {
      if (n > 0 && (room[c] as number) < (o.need[i] as number)) later.push(i)
      else {
        put(i, c)
        placed[i] = count
        count += 1
      }
    }
    for (const i of columns[c] as number[]) {
      for (const child of o.children[i] as readonly number[]) {
        waiting[child] = (waiting[child] as number) - 1
        if (waiting[child] === 0) later.push(child)
      }
    }
    ready = later
  }
  shorten(o, columns, room)
  for (const [i, linked] of o.linked.entries()) {
    if (linked) continue
    const free = columns.findLastIndex((_, c) => (room[c] as number) >= (o.need[i] as number))
    put(i, free < 0 ? columns.length : free)
  }
  return columns
}

/** Rounds of moving: of large blocks, where it takes longest, fewer. */
const roundsOf = (plates: number) => (plates <= 60 ? 12 : plates <= 100 ? 3 : 1)
/** Two plates of one column that a join table links are as far apart as this. */
const besideEachOther = 1.5

/**
 * Moves plates where that makes lines shorter, between what they refer to and what refers to them: into a column with room, or in exchange for a
 * plate that loses less.
 */
function shorten(o: Order, columns: number[][], room: number[]): void {
  const at = columnNumbers(o, columns)
  const need = (i: number) => o.need[i] as number
  const column = (i: number) => at[i] as number
  const from = (i: number) => {
    let c = 0
    for (const p of o.parents[i] as readonly number[]) c = Math.max(c, column(p) + 1)
    return c
  }
  const to = (i: number) => {
    let c = columns.length - 1
    for (const child of o.children[i] as readonly number[]) c = Math.min(c, column(child) - 1)
    return c
  }
  const cost = (i: number, c: number) => {
    let n = 0
    for (const other of o.parents[i] as readonly number[]) n += Math.abs(column(other) - c)
    for (const other of o.children[i] as readonly number[]) n += Math.abs(column(other) - c)
    for (const other of o.joined[i] as readonly number[]) n += column(other) === c ? besideEachOther : Math.abs(column(other) - c)
    return n
  }
  const move = (i: number, c: number) => {
    const own = columns[column(i)] as number[]
    own.splice(own.indexOf(i), 1)
    room[column(i)] = (room[column(i)] as number) + need(i)
    columns[c]?.push(i)
    room[c] = (room[c] as number) - need(i)
    at[i] = c
  }
  /** Moves the plate there if that wins something. */
  const tries = (i: number, c: number): boolean => {
    const own = column(i)
    const gain = cost(i, own) - cost(i, c)
    if (gain <= 0) return false
    if ((room[c] as number) >= need(i)) {
      move(i, c)
      return true
    }
    let given: { readonly other: number; readonly loss: number } | null = null
    for (const other of columns[c] as number[]) {
      if ((room[c] as number) + need(other) < need(i) || (room[own] as number) + need(i) < need(other)) continue
      if (from(other) > own || to(other) < own) continue
      const loss = cost(other, own) - cost(other, c)
      if (loss < gain && (given === null || loss < given.loss || (loss === given.loss && other < given.other))) given = { other, loss }
    }
    if (given === null) return false
    move(given.other, own)
    move(i, c)
    return true
  }
  const weight = (i: number) => (o.parents[i] as readonly number[]).length + (o.children[i] as readonly number[]).length
  const all = columns.flat().sort((a, b) => weight(b) - weight(a) || a - b)
  const rounds = roundsOf(all.length)
  for (let round = 0, moved = true; round < rounds && moved; round += 1) {
    moved = false
    for (const i of all) {
      if (columns[column(i)]?.length === 1) continue
      const [first, last] = [from(i), to(i)]
      if (last <= first && first === column(i)) continue
      const there = Array.from({ length: Math.max(0, last - first + 1) }, (_, n) => first + n)
        .filter((c) => c !== column(i))
        .map((c) => ({ c, cost: cost(i, c) }))
        .sort((a, b) => a.cost - b.cost || a.c - b.c)
      const own = cost(i, column(i))
      if (there.some(({ c, cost: n }) => n < own && tries(i, c))) moved = true
    }
  }
}
