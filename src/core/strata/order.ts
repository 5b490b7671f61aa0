// Who stands above whom in the columns of a block.

/** Something that takes room in one column of a block: a plate, or the place where lines pass. */
export interface Slot {
  readonly key: string
  /** A plate, and no place where lines pass. */
  readonly plate: boolean
  readonly column: number
  readonly height: number
  /** Keys of slots in the columns before and after that a line leads to. */
  readonly before: readonly string[]
  readonly after: readonly string[]
}

const sweeps = 16
/** Of more slots than this one beginning and a few sweeps must do. */
const manySlots = 400
const fewSweeps = 4

/**
 * Order within each column by the barycentre of the neighbours, sweeping right and left (Sugiyama, Tagawa, Toda 1981), then neighbours in a
 * column change places where that saves crossings (Gansner, Koutsofios, North, Vo 1993, 3.2); the best order seen stays. From four beginnings: as given,
 * along the lines, and both upside down. Ties keep the order before. Gives the slots of each column from top to bottom.
 */
export function orderSlots(slots: readonly Slot[], count: number): readonly (readonly Slot[])[] {
  const begin: readonly (readonly Slot[])[] = Array.from({ length: count }, (_, c) => slots.filter((s) => s.column === c))
  const along = new Map(alongLines(slots).map((s, i) => [s.key, i]))
  const byLines = begin.map((column) => column.toSorted((a, b) => (along.get(a.key) as number) - (along.get(b.key) as number)))
  const starts =
    slots.length > manySlots ? [byLines] : [begin, byLines, begin.map((column) => column.toReversed()), byLines.map((column) => column.toReversed())]
  let best: Swept | null = null
  for (const start of starts) {
    const found = swept(slots, start)
    if (best === null || found.crossings < best.crossings) best = found
    if (best.crossings === 0) break
  }
  return best?.columns ?? begin
}

/** Slots in the order in which one meets them along the lines, from each that nothing leads to. */
function alongLines(slots: readonly Slot[]): readonly Slot[] {
  const byKey = new Map(slots.map((s) => [s.key, s]))
  const seen = new Set<string>()
  const list: Slot[] = []
  for (const root of slots) {
    if (root.before.length > 0) continue
    const path = [root.key]
    for (let key = path.pop(); key !== undefined; key = path.pop()) {
      if (seen.has(key)) continue
      seen.add(key)
      const s = byKey.get(key) as Slot
      list.push(s)
      path.push(...s.after.toReversed())
    }
  }
  return list
}

interface Swept {
  readonly crossings: number
  readonly columns: readonly (readonly Slot[])[]
}

function swept(slots: readonly Slot[], begin: readonly (readonly Slot[])[]): Swept {
  let columns = begin
  const position = new Map<string, number>()
  const settle = (column: readonly Slot[]) => {
    for (const [i, s] of column.entries()) position.set(s.key, (i + 0.5) / column.length)
  }
  for (const column of columns) settle(column)
  const at = (key: string) => position.get(key) ?? 0
  const mean = (keys: readonly string[], s: Slot) => (keys.length === 0 ? at(s.key) : keys.reduce((n, k) => n + at(k), 0) / keys.length)
  let best = { crossings: crossingsOf(slots, at), columns }
  const most = slots.length > manySlots ? fewSweeps : sweeps
  for (let sweep = 0; sweep < most && best.crossings > 0; sweep += 1) {
    const forward = sweep % 2 === 0
    const next = [...columns]
    for (let step = 0; step < columns.length; step += 1) {
      const c = forward ? step : columns.length - 1 - step
      const ordered = (next[c] as readonly Slot[])
        .map((s, i) => ({ s, i, m: mean(forward ? s.before : s.after, s) }))
        .sort((a, b) => a.m - b.m || a.i - b.i)
        .map((o) => o.s)
      const swapped = exchange(ordered, at)
      next[c] = swapped
      settle(swapped)
    }
    columns = next
    const crossings = crossingsOf(slots, at)
    if (crossings < best.crossings) best = { crossings, columns }
  }
  return best
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

/** Crossings between neighbouring columns, by counting inversions with a tree of sums (Barth, Mutzel, Jünger 2004). O(E log V). */
function crossingsOf(slots: readonly Slot[], at: (key: string) => number): number {
  const byColumn = new Map<number, { readonly a: number; readonly b: number }[]>()
  for (const s of slots) {
    const list = byColumn.get(s.column) ?? []
    byColumn.set(s.column, list)
    for (const k of s.after) list.push({ a: at(s.key), b: at(k) })
  }
  let n = 0
  for (const edges of byColumn.values()) {
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
 * pool-adjacent-violators algorithm for isotonic regression (Barlow et al. 1972). Nothing comes out below 0, nor ends beyond `limit` unless
 * the boxes do not fit. O(n).
 */
export function placeColumn(
  boxes: readonly { readonly height: number; readonly wish: number }[],
  gap: number,
  limit = Number.POSITIVE_INFINITY,
): readonly number[] {
  const offsets: number[] = []
  let sum = 0
  for (const b of boxes) {
    offsets.push(sum)
    sum += b.height + gap
  }
  const most = Math.max(0, limit - sum + gap)
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
  for (const block of blocks)
    for (let n = 0; n < block.count; n += 1) tops.push(Math.min(most, Math.max(0, block.total / block.count)) + (offsets[tops.length] as number))
  return tops
}
