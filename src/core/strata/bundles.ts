// Lines between blocks as one bundle for each two of them, led through the channels between blocks: out on the right, in on the left.
import { compareText } from '../catalog/index.ts'
import type { PlaceInRows, Stacked } from './packing.ts'
import { rounded } from './rounded.ts'
import { size } from './size.ts'
import type { Bundle } from './types.ts'

/** A connection between two blocks: from where it is referred to, to where it refers. */
export interface Crossing {
  readonly from: string
  readonly to: string
}

export const bundleKey = (a: string, b: string): string => (compareText(a, b) < 0 ? `${a}\n${b}` : `${b}\n${a}`)

interface Counted {
  readonly key: string
  readonly from: string
  readonly to: string
  readonly count: number
  readonly back: number
}

/** One for each two blocks, leading the way that most of its lines do. */
function counted(crossings: readonly Crossing[]): readonly Counted[] {
  const counts = new Map<string, { there: number; back: number }>()
  for (const c of crossings) {
    const key = bundleKey(c.from, c.to)
    const n = counts.get(key) ?? { there: 0, back: 0 }
    if (key.startsWith(`${c.from}\n`)) n.there += 1
    else n.back += 1
    counts.set(key, n)
  }
  return [...counts]
    .sort((a, b) => compareText(a[0], b[0]))
    .map(([key, n]) => {
      const [a, b] = key.split('\n') as [string, string]
      const turned = n.back > n.there
      return { key, from: turned ? b : a, to: turned ? a : b, count: n.there + n.back, back: Math.min(n.there, n.back) }
    })
}

/** A stretch of a bundle in one channel: at a fixed x from y to y, or at a fixed y from x to x. */
interface Stretch {
  readonly channel: string
  readonly at: number
  readonly upright: boolean
}

interface Routed extends Counted {
  readonly start: { readonly x: number; readonly y: number }
  readonly end: { readonly x: number; readonly y: number }
  readonly stretches: readonly Stretch[]
}

/** Bundles in order of key, with their paths. */
export function bundlesOf(crossings: readonly Crossing[], s: Stacked): readonly Bundle[] {
  const all = counted(crossings).filter((b) => s.places.has(b.from) && s.places.has(b.to))
  const place = (key: string) => s.places.get(key) as PlaceInRows
  const arrivals = slotsAlong(
    all,
    (b) => b.to,
    (b) => place(b.from),
    place,
  )
  const departures = slotsAlong(
    all,
    (b) => b.from,
    (b) => place(b.to),
    place,
  )
  const routed = all.map((b): Routed => {
    const [a, z] = [place(b.from), place(b.to)]
    const sameCell = a.row === z.row && a.cell === z.cell
    const arrival = arrivals.get(b.key) as Along
    return {
      ...b,
      start: { x: sameCell ? a.x : a.x + a.width, y: (departures.get(b.key) as Along).y },
      end: { x: z.x, y: arrival.y },
      stretches: sameCell ? [upright(s, a.row, a.cell)] : between(a, z, s),
    }
  })
  const lanes = lanesOf(routed)
  return routed.map((b) => {
    const [a, z] = [place(b.from), place(b.to)]
    return {
      key: b.key,
      from: b.from,
      to: b.to,
      count: b.count,
      back: b.back,
      path: rounded(pointsOf(b, (st) => st.at + (lanes.get(`${b.key}\n${st.channel}`) ?? 0))),
      tip: b.end,
      room: { width: size.blockLeft - 10, height: (arrivals.get(b.key) as Along).room },
      forward: z.row > a.row || (z.row === a.row && (z.x > a.x || (z.x === a.x && z.y > a.y))),
    }
  })
}

interface Along {
  readonly y: number
  readonly room: number
}

/** Heights at one side of each block, in the order of where bundles come from or go to, below the block's name. */
function slotsAlong(
  all: readonly Counted[],
  own: (b: Counted) => string,
  other: (b: Counted) => PlaceInRows,
  place: (key: string) => PlaceInRows,
): ReadonlyMap<string, Along> {
  const lists = new Map<string, Counted[]>()
  for (const b of all) lists.set(own(b), [...(lists.get(own(b)) ?? []), b])
  const slots = new Map<string, Along>()
  for (const [block, list] of lists) {
    const at = place(block)
    const room = Math.min(26, (at.height - size.blockHead - 4) / list.length)
    const sorted = list.toSorted((a, b) => other(a).y - other(b).y || other(a).x - other(b).x || compareText(a.key, b.key))
    for (const [i, b] of sorted.entries()) slots.set(b.key, { y: at.y + size.blockHead + room * (i + 0.5), room })
  }
  return slots
}

const upright = (s: Stacked, row: number, channel: number): Stretch => ({
  channel: `| ${row} ${channel}`,
  at: s.cellChannels[row]?.[channel] as number,
  upright: true,
})
const level = (s: Stacked, row: number): Stretch => ({ channel: `- ${row}`, at: s.rowChannels[row] as number, upright: false })

/** Through the channels: right of where it leaves, between rows, past the rows between, left of where it arrives. */
function between(a: PlaceInRows, z: PlaceInRows, s: Stacked): readonly Stretch[] {
  const out = upright(s, a.row, a.cell + 1)
  const into = upright(s, z.row, z.cell)
  if (a.row === z.row) {
    if (z.cell === a.cell + 1) return [out]
    const below = (a.y + z.y + (a.height + z.height) / 2) / 2 > ((s.rowChannels[a.row] as number) + (s.rowChannels[a.row + 1] as number)) / 2
    return [out, level(s, below ? a.row + 1 : a.row), into]
  }
  const down = z.row > a.row
  const stretches: Stretch[] = [out, level(s, down ? a.row + 1 : a.row)]
  let x = out.at
  for (let row = down ? a.row + 1 : a.row - 1; row !== z.row; row += down ? 1 : -1) {
    const xs = s.cellChannels[row] as readonly number[]
    const way = (c: number) => Math.abs((xs[c] as number) - x) + Math.abs((xs[c] as number) - into.at)
    const best = xs.reduce((b, _, c) => (way(c) < way(b) ? c : b), 0)
    const past = upright(s, row, best)
    stretches.push(past, level(s, down ? row + 1 : row))
    x = past.at
  }
  return [...stretches, into]
}

/** The corners of a bundle's way. */
function pointsOf(b: Routed, at: (s: Stretch) => number): readonly { readonly x: number; readonly y: number }[] {
  const points = [b.start]
  let { x, y } = b.start
  for (const s of b.stretches) {
    if (s.upright) x = at(s)
    else y = at(s)
    points.push({ x, y })
  }
  return [...points, { x, y: b.end.y }, b.end]
}

/** Bundles that share a channel run beside each other where they would lie upon each other; offsets from the middle, by bundle and channel. */
function lanesOf(all: readonly Routed[]): ReadonlyMap<string, number> {
  const channels = new Map<string, { readonly key: string; readonly low: number; readonly high: number }[]>()
  for (const b of all) {
    const points = pointsOf(b, (s) => s.at)
    for (const [i, s] of b.stretches.entries()) {
      const [p, q] = [points[i + 1] as { x: number; y: number }, points[i + 2] as { x: number; y: number }]
      const ends = s.upright ? [p.y, q.y, (points[i] as { y: number }).y] : [p.x, q.x, (points[i] as { x: number }).x]
      const list = channels.get(s.channel) ?? []
      channels.set(s.channel, list)
      list.push({ key: b.key, low: Math.min(...ends) - 6, high: Math.max(...ends) + 6 })
    }
  }
  const offsets = new Map<string, number>()
  for (const [channel, list] of channels) {
    const ends: number[] = []
    const laneOf = new Map<string, number>()
    for (const span of list.sort((a, b) => a.low - b.low || compareText(a.key, b.key))) {
      const free = ends.findIndex((end) => end <= span.low)
      const lane = free < 0 ? ends.length : free
      ends[lane] = span.high
      laneOf.set(span.key, lane)
    }
    const step = Math.min(4, (size.channel - 8) / ends.length)
    for (const [key, lane] of laneOf) offsets.set(`${key}\n${channel}`, (lane - (ends.length - 1) / 2) * step)
  }
  return offsets
}
