// MapInput → Scene: ranks, bands, slots, then lines from port to port. Deterministic; meant for a worker.
import { compareText } from '../catalog/index.ts'
import { beadRank, type Connection, connect, passingKey, passingRanks } from './connections.ts'
import { drawConnections, drawLoop } from './draw.ts'
import { orderBands, orderSlots, placeColumn, type Slot } from './order.ts'
import { rankPlates } from './ranks.ts'
import { breakName, nameWords, size } from './size.ts'
import type { Band, Box, Knot, MapInput, Plate, PlateInput, Scene } from './types.ts'

/** Wide enough for the longest word that names break at, within bounds; `character` is the width of one at the size drawn when the whole map is in view. */
const plateWidth = (plates: readonly PlateInput[]) => {
  const longest = plates.reduce((n, p) => Math.max(n, ...nameWords(p.name).map((w) => w.length)), 0)
  return Math.round(Math.min(156, Math.max(112, longest * size.character + 14)))
}

export function layoutMap(input: MapInput): Scene {
  const plates = input.plates.toSorted((a, b) => compareText(a.id, b.id))
  const width = plateWidth(plates)
  const nameLimit = Math.floor((width - 12) / size.character)
  const onMap = plates.filter((p) => input.areas.has(p.id))
  const { rankOf, cut, knots } = rankPlates(
    onMap.map((p) => p.id),
    input.lines,
  )
  const rankCount = onMap.length === 0 ? 0 : Math.max(...rankOf.values()) + 1
  const connections = connect(input, rankOf, cut)
  const bandNames = orderBands([...new Set(onMap.map((p) => input.areas.get(p.id) as string))].sort(compareText), bandWeights(connections, input.areas))
  const bandOf = (id: string) => bandNames.indexOf(input.areas.get(id) as string)
  const ports = portCounts(connections, rankOf)
  const names = new Map(plates.map((p) => [p.id, breakName(p.name, nameLimit)]))
  const heightOf = (id: string) => Math.max(size.plate + ((names.get(id)?.length ?? 1) - 1) * size.nameLine, 10 + size.port * (ports.get(id) ?? 0))
  const slots = makeSlots(onMap, connections, rankOf, bandOf, heightOf)
  const columns = orderSlots([...slots.values()], rankCount)
  const { top, bands } = placeBands(columns, slots, bandNames, rankCount, onMap.length === 0 ? 0 : width)
  const x = (rank: number) => size.margin + rank * (width + size.gutter)
  const boxOf = (id: string): Box => ({ x: x(rankOf.get(id) as number), y: top.get(id) as number, width, height: heightOf(id) })
  const placed = onMap.map(
    (p): Plate => ({
      ...boxOf(p.id),
      id: p.id,
      nameLines: names.get(p.id) as readonly string[],
      table: p.table,
      rows: p.rows,
      readOnly: p.readOnly,
      area: input.areas.get(p.id) as string,
      rank: rankOf.get(p.id) as number,
    }),
  )
  const passingY = (key: string) => (top.get(key) as number) + (slots.get(key) as Slot).height / 2
  const drawn = drawConnections(connections, { boxOf, passingY, rankX: x, width, rankOf, bandOf })
  const loops = input.lines
    .filter((l) => l.child === l.parent && input.areas.has(l.child))
    .map((l, i, all) => drawLoop(l, boxOf(l.child), all.slice(0, i).filter((o) => o.child === l.child).length))
  const mapWidth = rankCount === 0 ? 0 : x(rankCount - 1) + width + size.margin + size.gutter / 2
  const mapHeight = bands.length === 0 ? 0 : (bands[bands.length - 1] as Band).y + (bands[bands.length - 1] as Band).height
  const strip = placeStrip(
    plates.filter((p) => !input.areas.has(p.id)),
    mapHeight,
    Math.max(mapWidth, (width + size.stripGap) * 4 + size.margin),
    width,
    names,
  )
  const total = Math.max(mapWidth, strip.band?.width ?? 0)
  return {
    width: total,
    height: strip.band ? strip.band.y + strip.band.height : mapHeight,
    ranks: Array.from({ length: rankCount }, (_, r) => ({ x: x(r), width })),
    bands: bands.map((b) => ({ ...b, width: total })),
    strip: strip.band,
    plates: [...placed, ...strip.plates],
    lines: [...drawn.lines, ...loops],
    beads: drawn.beads,
    knots: knots.map((members) => knotBox(members, placed)),
  }
}

function bandWeights(connections: readonly Connection[], areas: ReadonlyMap<string, string>): (a: string, b: string) => number {
  const weights = new Map<string, number>()
  for (const c of connections) {
    const key = [areas.get(c.left) as string, areas.get(c.right) as string].sort(compareText).join('\n')
    weights.set(key, (weights.get(key) ?? 0) + 1)
  }
  return (a, b) => weights.get([a, b].sort(compareText).join('\n')) ?? 0
}

/** The busier side of each plate. On the right, lines with the same multiplicity leave together; on the left each line has its own port. */
function portCounts(connections: readonly Connection[], rankOf: ReadonlyMap<string, number>): ReadonlyMap<string, number> {
  const left = new Map<string, number>()
  const right = new Map<string, Set<string>>()
  const leave = (id: string, mark: string) => right.set(id, (right.get(id) ?? new Set()).add(mark))
  for (const c of connections) {
    leave(c.left, c.leftMark)
    if (rankOf.get(c.left) === rankOf.get(c.right)) leave(c.right, c.rightMark)
    else left.set(c.right, (left.get(c.right) ?? 0) + 1)
  }
  return new Map([...new Set([...left.keys(), ...right.keys()])].map((id) => [id, Math.max(left.get(id) ?? 0, right.get(id)?.size ?? 0)]))
}

function makeSlots(
  plates: readonly PlateInput[],
  connections: readonly Connection[],
  rankOf: ReadonlyMap<string, number>,
  bandOf: (id: string) => number,
  heightOf: (id: string) => number,
): ReadonlyMap<string, Slot> {
  const before = new Map<string, string[]>()
  const after = new Map<string, string[]>()
  const link = (a: string, b: string) => {
    after.set(a, [...(after.get(a) ?? []), b])
    before.set(b, [...(before.get(b) ?? []), a])
  }
  const passing: { key: string; band: number; rank: number; height: number }[] = []
  for (const c of connections) {
    if (rankOf.get(c.left) === rankOf.get(c.right)) continue
    const beadAt = beadRank(c, rankOf)
    const stops = passingRanks(c, rankOf).map((rank) => ({
      key: passingKey(c.id, rank),
      band: bandOf(c.right),
      rank,
      height: rank === beadAt ? size.beadPassing : size.passing,
    }))
    passing.push(...stops)
    const chain = [c.left, ...stops.map((s) => s.key), c.right]
    for (let i = 1; i < chain.length; i += 1) link(chain[i - 1] as string, chain[i] as string)
  }
  const slot = (key: string, band: number, rank: number, height: number): Slot => ({
    key,
    band,
    rank,
    height,
    before: before.get(key) ?? [],
    after: after.get(key) ?? [],
  })
  return new Map(
    [
      ...plates.map((p) => slot(p.id, bandOf(p.id), rankOf.get(p.id) as number, heightOf(p.id))),
      ...passing.map((p) => slot(p.key, p.band, p.rank, p.height)),
    ].map((s) => [s.key, s]),
  )
}

const rounds = 8

/** Heights of bands and tops of slots: neighbours pull towards each other within their band, then bands are stacked. */
function placeBands(
  columns: ReadonlyMap<string, readonly Slot[]>,
  slots: ReadonlyMap<string, Slot>,
  names: readonly string[],
  rankCount: number,
  width: number,
): { readonly top: ReadonlyMap<string, number>; readonly bands: readonly Band[] } {
  const local = new Map<string, number>()
  for (const column of columns.values()) {
    const tops = placeColumn(
      column.map((s) => ({ height: s.height, wish: 0 })),
      size.gap,
    )
    for (const [i, s] of column.entries()) local.set(s.key, tops[i] as number)
  }
  const centre = (s: Slot) => (local.get(s.key) as number) + s.height / 2
  for (let round = 0; round < rounds; round += 1) {
    for (let step = 0; step < rankCount; step += 1) {
      const rank = round % 2 === 0 ? step : rankCount - 1 - step
      for (let band = 0; band < names.length; band += 1) {
        const column = columns.get(`${band} ${rank}`)
        if (!column) continue
        const wish = (s: Slot) => {
          const near = [...s.before, ...s.after].map((k) => slots.get(k) as Slot).filter((n) => n.band === s.band)
          return near.length === 0 ? centre(s) : near.reduce((sum, n) => sum + centre(n), 0) / near.length
        }
        const tops = placeColumn(
          column.map((s) => ({ height: s.height, wish: wish(s) })),
          size.gap,
        )
        for (const [i, s] of column.entries()) local.set(s.key, tops[i] as number)
      }
    }
  }
  const top = new Map<string, number>()
  const bands: Band[] = []
  let y = 0
  for (const [band, area] of names.entries()) {
    const own = [...slots.values()].filter((s) => s.band === band)
    const least = Math.min(...own.map((s) => local.get(s.key) as number))
    const most = Math.max(...own.map((s) => (local.get(s.key) as number) + s.height))
    for (const s of own) top.set(s.key, y + size.bandHead + (local.get(s.key) as number) - least)
    const height = size.bandHead + most - least + size.bandFoot
    bands.push({ area, count: own.filter((s) => !s.key.includes('\n')).length, x: 0, y, width, height })
    y += height
  }
  return { top, bands }
}

function knotBox(members: readonly string[], plates: readonly Plate[]): Knot {
  const own = plates.filter((p) => members.includes(p.id))
  const pad = 9
  const left = Math.min(...own.map((p) => p.x)) - pad
  const topEdge = Math.min(...own.map((p) => p.y)) - pad
  const right = Math.max(...own.map((p) => p.x + p.width)) + pad
  const bottom = Math.max(...own.map((p) => p.y + p.height)) + pad
  const names = own.map((p) => p.nameLines.join(''))
  return {
    members,
    label: `knot: ${names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(' ↔ ')}`,
    x: left,
    y: topEdge,
    width: right - left,
    height: bottom - topEdge,
  }
}

function placeStrip(
  plates: readonly PlateInput[],
  y: number,
  available: number,
  width: number,
  names: ReadonlyMap<string, readonly string[]>,
): { readonly plates: readonly Plate[]; readonly band: Band | null } {
  if (plates.length === 0) return { plates: [], band: null }
  const perRow = Math.max(1, Math.floor((available - size.margin) / (width + size.stripGap)))
  const lines = Math.max(...plates.map((p) => names.get(p.id)?.length ?? 1))
  const height = size.plate + (lines - 1) * size.nameLine
  const placed = plates.map(
    (p, i): Plate => ({
      x: size.margin + (i % perRow) * (width + size.stripGap),
      y: y + size.bandHead + Math.floor(i / perRow) * (height + size.gap),
      width,
      height,
      id: p.id,
      nameLines: names.get(p.id) as readonly string[],
      table: p.table,
      rows: p.rows,
      readOnly: p.readOnly,
      area: null,
      rank: null,
    }),
  )
  const rows = Math.ceil(plates.length / perRow)
  return {
    plates: placed,
    band: { area: 'Standing alone', count: plates.length, x: 0, y, width: available, height: size.bandHead + rows * (height + size.gap) + size.bandFoot },
  }
}
