// Who stands above whom: bands from top to bottom, and the slots within each band and rank.
import { compareText } from '../catalog/index.ts'

/** Something that takes room in one rank of one band: a plate, or the place where a long line passes. */
export interface Slot {
  readonly key: string
  readonly band: number
  readonly rank: number
  readonly height: number
  /** Keys of slots in the ranks before and after that a line leads to. */
  readonly before: readonly string[]
  readonly after: readonly string[]
}

/**
 * Bands in an order that keeps linked bands close: starting from the heaviest, each band goes where it adds the least
 * distance. `weight(a, b)` counts the links between two bands. O(bands³), for tens of bands.
 */
export function orderBands(bands: readonly string[], weight: (a: string, b: string) => number): readonly string[] {
  const total = (b: string) => bands.reduce((n, o) => n + (o === b ? 0 : weight(b, o)), 0)
  const waiting = bands.toSorted((a, b) => total(b) - total(a) || compareText(a, b))
  const order: string[] = []
  const cost = (list: readonly string[]) => {
    let sum = 0
    for (let i = 0; i < list.length; i += 1) for (let j = i + 1; j < list.length; j += 1) sum += weight(list[i] as string, list[j] as string) * (j - i)
    return sum
  }
  for (const band of waiting) {
    let best: readonly string[] = [band, ...order]
    for (let at = 1; at <= order.length; at += 1) {
      const tried = [...order.slice(0, at), band, ...order.slice(at)]
      if (cost(tried) < cost(best)) best = tried
    }
    order.splice(0, order.length, ...best)
  }
  return order
}

const sweeps = 16

/**
 * Order within each column by the barycentre of the neighbours, sweeping right and left (Sugiyama, Tagawa, Toda 1981), then neighbours in a
 * column change places where that saves crossings (Gansner, Koutsofios, North, Vo 1993, 3.2); the best order seen stays. Ties keep the order
 * before, which starts as given. Gives the slots of each `band rank` column from top to bottom.
 */
export function orderSlots(slots: readonly Slot[], rankCount: number): ReadonlyMap<string, readonly Slot[]> {
  let columns = new Map<string, readonly Slot[]>()
  for (const s of slots) columns.set(`${s.band} ${s.rank}`, [...(columns.get(`${s.band} ${s.rank}`) ?? []), s])
  const byRank = Array.from({ length: rankCount }, (_, rank) => [...columns.keys()].filter((key) => key.endsWith(` ${rank}`)))
  const position = new Map<string, number>()
  const settle = (column: readonly Slot[]) => {
    for (const [i, s] of column.entries()) position.set(s.key, s.band * 1000 + ((i + 0.5) / column.length) * 100)
  }
  for (const column of columns.values()) settle(column)
  const at = (key: string) => position.get(key) ?? 0
  const mean = (keys: readonly string[], s: Slot) => (keys.length === 0 ? at(s.key) : keys.reduce((n, k) => n + at(k), 0) / keys.length)
  let best = { crossings: crossingsOf(slots, at), columns }
  for (let sweep = 0; sweep < sweeps && best.crossings > 0; sweep += 1) {
    const forward = sweep % 2 === 0
    const next = new Map(columns)
    for (let step = 0; step < rankCount; step += 1) {
      for (const key of byRank[forward ? step : rankCount - 1 - step] ?? []) {
        const column = next.get(key) as readonly Slot[]
        const ordered = column.map((s, i) => ({ s, i, m: mean(forward ? s.before : s.after, s) })).sort((a, b) => a.m - b.m || a.i - b.i)
        const swapped = exchange(
          ordered.map((o) => o.s),
          at,
        )
        next.set(key, swapped)
        settle(swapped)
      }
    }
    columns = next
    const crossings = crossingsOf(slots, at)
    if (crossings < best.crossings) best = { crossings, columns }
  }
  return best.columns
}

/** Neighbours in a column change places where their lines then cross less; a few rounds. */
function exchange(column: readonly Slot[], at: (key: string) => number): readonly Slot[] {
  const order = [...column]
  const places = new Map(order.map((s) => [s.key, { before: s.before.map(at).sort(up), after: s.after.map(at).sort(up) }]))
  const cost = (a: Slot, b: Slot) => {
    const [x, y] = [places.get(a.key), places.get(b.key)]
    return x && y ? inversions(x.before, y.before) + inversions(x.after, y.after) : 0
  }
  for (let round = 0, moved = true; round < 4 && moved; round += 1) {
    moved = false
    for (let i = 1; i < order.length; i += 1) {
      const [a, b] = [order[i - 1] as Slot, order[i] as Slot]
      if (cost(b, a) >= cost(a, b)) continue
      order[i - 1] = b
      order[i] = a
      moved = true
    }
  }
  return order
}

const up = (a: number, b: number) => a - b

/** Pairs of one of the upper and one of the lower that are the wrong way round; both sorted. */
function inversions(upper: readonly number[], lower: readonly number[]): number {
  let n = 0
  let below = 0
  for (const u of upper) {
    while (below < lower.length && (lower[below] as number) < u) below += 1
    n += below
  }
  return n
}

/** Crossings between neighbouring ranks, by counting inversions with a tree of sums (Barth, Mutzel, Jünger 2004). O(E log V). */
function crossingsOf(slots: readonly Slot[], at: (key: string) => number): number {
  const byRank = new Map<number, { readonly a: number; readonly b: number }[]>()
  for (const s of slots) {
    const list = byRank.get(s.rank) ?? []
    byRank.set(s.rank, list)
    for (const k of s.after) list.push({ a: at(s.key), b: at(k) })
  }
  let n = 0
  for (const edges of byRank.values()) {
    const ends = [...new Set(edges.map((e) => e.b))].sort(up)
    const index = new Map(ends.map((y, i) => [y, i + 1]))
    const sums = new Array<number>(ends.length + 1).fill(0)
    let seen = 0
    for (const e of edges.sort((x, y) => x.a - y.a || x.b - y.b)) {
      const i = index.get(e.b) as number
      let upTo = 0
      for (let k = i; k > 0; k -= k & -k) upTo += sums[k] as number
      n += seen - upTo
      for (let k = i; k <= ends.length; k += k & -k) sums[k] = (sums[k] as number) + 1
      seen += 1
    }
  }
  return n
}

/**
 * Tops of a column of boxes as near as possible to the wished centres, in the given order and with the given gap: the
 * pool-adjacent-violators algorithm for isotonic regression (Barlow et al. 1972). Nothing comes out below 0. O(n).
 */
export function placeColumn(boxes: readonly { readonly height: number; readonly wish: number }[], gap: number): readonly number[] {
  const offsets: number[] = []
  let sum = 0
  for (const b of boxes) {
    offsets.push(sum)
    sum += b.height + gap
  }
  const blocks: { total: number; count: number }[] = []
  for (const [i, b] of boxes.entries()) {
    blocks.push({ total: b.wish - b.height / 2 - (offsets[i] as number), count: 1 })
    for (let last = blocks.length - 1; last > 0; last -= 1) {
      const a = blocks[last - 1] as { total: number; count: number }
      const c = blocks[last] as { total: number; count: number }
      if (a.total / a.count <= c.total / c.count) break
      blocks.splice(last - 1, 2, { total: a.total + c.total, count: a.count + c.count })
    }
  }
  const tops: number[] = []
  for (const block of blocks) for (let n = 0; n < block.count; n += 1) tops.push(Math.max(0, block.total / block.count) + (offsets[tops.length] as number))
  return tops
}
