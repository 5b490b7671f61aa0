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

const sweeps = 10

/**
 * Order within each column by the barycentre of the neighbours, sweeping right and left (Sugiyama, Tagawa, Toda 1981).
 * Ties keep the order before, which starts as given. Gives the slots of each `band rank` column from top to bottom.
 */
export function orderSlots(slots: readonly Slot[], rankCount: number): ReadonlyMap<string, readonly Slot[]> {
  const columns = new Map<string, Slot[]>()
  for (const s of slots) columns.set(`${s.band} ${s.rank}`, [...(columns.get(`${s.band} ${s.rank}`) ?? []), s])
  const position = new Map<string, number>()
  const settle = (column: readonly Slot[]) => {
    for (const [i, s] of column.entries()) position.set(s.key, s.band * 1000 + ((i + 0.5) / column.length) * 100)
  }
  for (const column of columns.values()) settle(column)
  const mean = (keys: readonly string[], s: Slot) =>
    keys.length === 0 ? (position.get(s.key) as number) : keys.reduce((n, k) => n + (position.get(k) ?? 0), 0) / keys.length
  for (let sweep = 0; sweep < sweeps; sweep += 1) {
    const forward = sweep % 2 === 0
    for (let step = 0; step < rankCount; step += 1) {
      const rank = forward ? step : rankCount - 1 - step
      for (const [key, column] of columns) {
        if (column[0]?.rank !== rank) continue
        const ordered = column.map((s, i) => ({ s, i, m: mean(forward ? s.before : s.after, s) })).sort((a, b) => a.m - b.m || a.i - b.i)
        const next = ordered.map((o) => o.s)
        columns.set(key, next)
        settle(next)
      }
    }
  }
  return columns
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
