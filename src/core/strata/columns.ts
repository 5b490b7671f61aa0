// Plates of one block in columns no higher than a limit: creation order from left to right, as many columns as it takes.
import { compareText } from '../catalog/index.ts'
import { size } from './size.ts'

/** The references within a block without the cut ones of its knots, as a graph. */
export interface Order {
  readonly ids: readonly string[]
  readonly children: ReadonlyMap<string, readonly string[]>
  readonly parents: ReadonlyMap<string, readonly string[]>
  /** What beads join to each. */
  readonly joined: ReadonlyMap<string, readonly string[]>
  /** Plates that a line or a bead links to another of the block. */
  readonly linked: ReadonlySet<string>
}

const none: readonly string[] = []

/** Plates on the longest way from each to one that nothing refers to; those first, so that a single pass suffices. */
function depths(o: Order): ReadonlyMap<string, number> {
  const depth = new Map<string, number>()
  const waiting = new Map(o.ids.map((id) => [id, (o.children.get(id) ?? none).length]))
  const ready = o.ids.filter((id) => waiting.get(id) === 0)
  for (const id of ready) {
    depth.set(
      id,
      (o.children.get(id) ?? none).reduce((d, c) => Math.max(d, (depth.get(c) as number) + 1), 0),
    )
    for (const p of o.parents.get(id) ?? none) {
      waiting.set(p, (waiting.get(p) as number) - 1)
      if (waiting.get(p) === 0) ready.push(p)
    }
  }
  return depth
}

/**
 * Columns of plates, each to the right of all it refers to, none higher than `limit` unless one plate alone is: list scheduling with the longest
 * way first (Coffman, Graham 1972), children of one parent together; then what few refer to moves next to what uses it, and what is linked to
 * nothing fills up what is left. Room is kept for the lines that pass. O((V + E) log V).
 */
export function columnsOf(o: Order, heightOf: (id: string) => number, limit: number): readonly (readonly string[])[] {
  const depth = depths(o)
  let kept: readonly number[] = []
  let columns: readonly (readonly string[])[] = []
  for (let round = 0; round < 3; round += 1) {
    columns = scheduled(o, depth, heightOf, (c) => limit - (kept[c] ?? 0))
    const passing = passingOf(o, columns)
    const over = columns.some((list, c) => heights(list, heightOf) + (passing[c] as number) > limit && list.length > 1)
    if (!over) break
    kept = passing.map((p, c) => Math.max(p, kept[c] ?? 0))
  }
  return columns
}

const heights = (list: readonly string[], heightOf: (id: string) => number) => list.reduce((h, id) => h + heightOf(id) + size.gap, -size.gap)

/** Room for the trunks that pass each column. */
function passingOf(o: Order, columns: readonly (readonly string[])[]): readonly number[] {
  const at = new Map(columns.flatMap((list, c) => list.map((id) => [id, c] as const)))
  const room = columns.map(() => 0)
  for (const [id, children] of o.children) {
    const last = children.reduce((c, child) => Math.max(c, at.get(child) ?? 0), 0)
    for (let c = (at.get(id) ?? 0) + 1; c < last; c += 1) room[c] = (room[c] as number) + size.passing + size.passingGap
  }
  return room
}

function scheduled(
  o: Order,
  depth: ReadonlyMap<string, number>,
  heightOf: (id: string) => number,
  limitOf: (column: number) => number,
): readonly (readonly string[])[] {
  const waiting = new Map(o.ids.map((id) => [id, (o.parents.get(id) ?? none).length]))
  const placed = new Map<string, number>()
  const columns: string[][] = []
  const room: number[] = []
  const linkedHeight = o.ids.reduce((h, id) => h + (o.linked.has(id) ? heightOf(id) + size.gap : 0), 0)
  /** Columns that it takes at least: those of the longest way, or of all plates together. */
  const least = Math.max(Math.ceil(linkedHeight / limitOf(0)), ...[...depth.values()].map((d) => d + 1))
  const put = (id: string, c: number) => {
    const column = columns[c] ?? []
    columns[c] = column
    column.push(id)
    room[c] = (room[c] ?? limitOf(c) + size.gap) - heightOf(id) - size.gap
  }
  const sequence = (id: string) => (o.parents.get(id) ?? none).reduce((n, p) => Math.min(n, placed.get(p) ?? n), Number.MAX_SAFE_INTEGER)
  /** What a column's delay costs: lines that enter grow longer, lines that leave may grow shorter. */
  const haste = (id: string) => (o.parents.get(id) ?? none).length - (o.children.get(id) ?? none).length
  let ready = o.ids.filter((id) => waiting.get(id) === 0 && o.linked.has(id))
  while (ready.length > 0) {
    const c = columns.length
    // What must stand here for all to fit into so many columns comes first, then what refers to the column before.
    const keys = new Map(
      ready.map((id) => [
        id,
        { urgent: (depth.get(id) as number) >= least - 1 - c ? 0 : 1, haste: haste(id), depth: depth.get(id) as number, parent: sequence(id) },
      ]),
    )
    const key = (id: string) => keys.get(id) as { readonly urgent: number; readonly haste: number; readonly depth: number; readonly parent: number }
    const queue = ready.sort(
      (a, b) =>
        key(a).urgent - key(b).urgent || key(b).haste - key(a).haste || key(b).depth - key(a).depth || key(a).parent - key(b).parent || compareText(a, b),
    )
    const later: string[] = []
    for (const [i, id] of queue.entries()) {
      if (i > 0 && (room[c] as number) < heightOf(id) + size.gap) later.push(id)
      else {
        put(id, c)
        placed.set(id, placed.size)
      }
    }
    for (const id of columns[c] as string[]) {
      for (const child of o.children.get(id) ?? none) {
        waiting.set(child, (waiting.get(child) as number) - 1)
        if (waiting.get(child) === 0) later.push(child)
      }
    }
    ready = later
  }
  shorten(o, columns, room, heightOf)
  const loose = o.ids.filter((id) => !o.linked.has(id)).sort(compareText)
  for (const id of loose) {
    const free = columns.findLastIndex((_, c) => (room[c] as number) >= heightOf(id) + size.gap)
    put(id, free < 0 ? columns.length : free)
  }
  return columns
}

const rounds = 12
/** Two plates of one column that a join table links are as far apart as this. */
const besideEachOther = 1.5

/**
 * Moves plates where that makes lines shorter, between what they refer to and what refers to them: into a column with room, or in exchange for a
 * plate that loses less.
 */
function shorten(o: Order, columns: string[][], room: number[], heightOf: (id: string) => number): void {
  const at = new Map(columns.flatMap((list, c) => list.map((id) => [id, c] as const)))
  const column = (id: string) => at.get(id) as number
  const parents = (id: string) => o.parents.get(id) ?? none
  const children = (id: string) => o.children.get(id) ?? none
  const from = (id: string) => parents(id).reduce((c, p) => Math.max(c, column(p) + 1), 0)
  const to = (id: string) => children(id).reduce((c, child) => Math.min(c, column(child) - 1), columns.length - 1)
  const cost = (id: string, c: number) =>
    [...parents(id), ...children(id)].reduce((n, other) => n + Math.abs(column(other) - c), 0) +
    (o.joined.get(id) ?? none).reduce((n, other) => n + (column(other) === c ? besideEachOther : Math.abs(column(other) - c)), 0)
  const need = (id: string) => heightOf(id) + size.gap
  const move = (id: string, c: number) => {
    const own = columns[column(id)] as string[]
    own.splice(own.indexOf(id), 1)
    room[column(id)] = (room[column(id)] as number) + need(id)
    columns[c]?.push(id)
    room[c] = (room[c] as number) - need(id)
    at.set(id, c)
  }
  /** Moves the plate there if that wins something. */
  const tries = (id: string, c: number): boolean => {
    const own = column(id)
    const gain = cost(id, own) - cost(id, c)
    if (gain <= 0) return false
    if ((room[c] as number) >= need(id)) {
      move(id, c)
      return true
    }
    const given = (columns[c] as string[])
      .filter(
        (other) => from(other) <= own && own <= to(other) && (room[c] as number) + need(other) >= need(id) && (room[own] as number) + need(id) >= need(other),
      )
      .map((other) => ({ other, loss: cost(other, own) - cost(other, c) }))
      .filter(({ loss }) => loss < gain)
      .sort((a, b) => a.loss - b.loss || compareText(a.other, b.other))[0]
    if (!given) return false
    move(given.other, own)
    move(id, c)
    return true
  }
  const weight = (id: string) => parents(id).length + children(id).length
  const all = columns.flat().sort((a, b) => weight(b) - weight(a) || compareText(a, b))
  for (let round = 0, moved = true; round < rounds && moved; round += 1) {
    moved = false
    for (const id of all) {
      if (columns[column(id)]?.length === 1) continue
      const there = Array.from({ length: Math.max(0, to(id) - from(id) + 1) }, (_, i) => from(id) + i).sort((a, b) => cost(id, a) - cost(id, b) || a - b)
      if (there.some((c) => c !== column(id) && tries(id, c))) moved = true
    }
  }
}
