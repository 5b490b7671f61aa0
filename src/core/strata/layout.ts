// MapInput → Scene: ranks, bands, slots, then lines from port to port. Deterministic; meant for a worker.
import { compareText } from '../catalog/index.ts'
import { beadRank, type Connection, connect, passingKey, passingRanks } from './connections.ts'
import { drawConnections, drawLoop } from './draw.ts'
import { orderSlots, placeColumn, type Slot } from './order.ts'
import { rankPlates } from './ranks.ts'
import { breakName, nameWords, size } from './size.ts'
import type { Band, Box, HubMarkInput, Knot, MapInput, Plate, PlateInput, Scene } from './types.ts'

/** Wide enough for the longest word that names break at, within bounds; `character` is the width of one at the size drawn when the whole map is in view. */
const plateWidth = (plates: readonly PlateInput[]) => {
  const longest = plates.reduce((n, p) => Math.max(n, ...nameWords(p.name).map((w) => w.length)), 0)
  return Math.round(Math.min(156, Math.max(112, longest * size.character + 14)))
}

/** What a plate holds, from top to bottom: its name, its table, its ports, and the hubs it refers to. */
function plateHeights(input: MapInput, names: ReadonlyMap<string, readonly string[]>, ports: ReadonlyMap<string, number>) {
  const marks = new Map<string, HubMarkInput[]>()
  for (const m of input.marks) marks.set(m.plate, [...(marks.get(m.plate) ?? []), m])
  const head = (id: string) => size.head + ((names.get(id)?.length ?? 1) - 1) * size.nameLine
  const port = (n: number) => (n === 0 ? 0 : n * size.port + 2)
  const markLines = (n: number) => (n === 0 ? 0 : n * size.markLine + 3)
  return {
    marksOf: (id: string) => marks.get(id) ?? [],
    head,
    /** Tops of the lines that name hubs, from the top of the plate. */
    markTop: (id: string) => head(id) + port(ports.get(id) ?? 0),
    heightOf: (id: string) => head(id) + port(ports.get(id) ?? 0) + markLines(marks.get(id)?.length ?? 0) + size.foot,
  }
}

export function layoutMap(input: MapInput): Scene {
  const plates = input.plates.toSorted((a, b) => compareText(a.id, b.id))
  const width = plateWidth(plates)
  const nameLimit = Math.floor((width - 12) / size.character)
  const hubs = new Set(input.hubs)
  const onMap = plates.filter((p) => input.areas.has(p.id) && !hubs.has(p.id))
  const { rankOf, cut, knots } = rankPlates(
    onMap.map((p) => p.id),
    input.lines,
    input.starts,
  )
  const rankCount = onMap.length === 0 ? 0 : Math.max(...rankOf.values()) + 1
  const connections = connect(input, rankOf, cut)
  const used = new Set(onMap.map((p) => input.areas.get(p.id) as string))
  const bandNames = input.order.filter((a) => used.has(a))
  const bandOf = (id: string) => bandNames.indexOf(input.areas.get(id) as string)
  const names = new Map(plates.map((p) => [p.id, breakName(p.name, nameLimit)]))
  const heights = plateHeights(input, names, portCounts(connections, rankOf))
  const { heightOf } = heights
  const fans = new Map<string, Set<string>>()
  for (const m of input.marks) fans.set(m.hub, (fans.get(m.hub) ?? new Set()).add(m.plate))
  const plateAt = (p: PlateInput, x: number, y: number, place: Plate['place'], keys: Plate['keys'] = []): Plate => ({
    x,
    y,
    width,
    height: heightOf(p.id),
    id: p.id,
    nameLines: names.get(p.id) as readonly string[],
    table: p.table,
    rows: p.rows,
    readOnly: p.readOnly,
    area: input.areas.get(p.id) ?? null,
    rank: rankOf.get(p.id) ?? null,
    place,
    fans: hubs.has(p.id) ? (fans.get(p.id)?.size ?? 0) : null,
    keys,
    marks: heights.marksOf(p.id).map((m, i) => ({ hub: m.hub, ids: m.ids, text: m.text, y: y + heights.markTop(p.id) + (i + 1) * size.markLine - 3 })),
  })
  const slots = makeSlots(onMap, connections, rankOf, bandOf, heightOf)
  const columns = orderSlots([...slots.values()], rankCount)
  const x = (rank: number) => size.margin + rank * (width + size.gutter)
  const bandsWidth = rankCount === 0 ? 0 : x(rankCount - 1) + width + size.margin + size.gutter / 2
  const total = Math.max(bandsWidth, onMap.length === plates.length ? 0 : (width + size.stripGap) * 4 + size.margin)
  const row = { width: total, plateWidth: width, plateAt, heightOf }
  const edge = placeStrip(
    input.hubs.flatMap((id) => plates.filter((p) => p.id === id)),
    { ...row, y: 0, area: 'Referred to from everywhere', place: 'edge' },
  )
  const { top, bands } = placeBands(columns, slots, bandNames, rankCount, total, edge.bottom)
  const boxOf = (id: string): Box => ({ x: x(rankOf.get(id) as number), y: top.get(id) as number, width, height: heightOf(id) })
  const passingY = (key: string) => (top.get(key) as number) + (slots.get(key) as Slot).height / 2
  const portY = (id: string, nth: number) => (top.get(id) as number) + heights.head(id) + (nth + 0.5) * size.port
  const drawn = drawConnections(connections, { boxOf, portY, passingY, rankX: x, width, rankOf, bandOf })
  const placed = onMap.map((p) => plateAt(p, boxOf(p.id).x, boxOf(p.id).y, 'band', drawn.keys.get(p.id)))
  const strip = placeStrip(
    plates.filter((p) => !input.areas.has(p.id) && !hubs.has(p.id)),
    { ...row, y: bands.at(-1) ? (bands.at(-1) as Band).y + (bands.at(-1) as Band).height : edge.bottom, area: 'Standing alone', place: 'strip' },
  )
  const all = [...edge.plates, ...placed, ...strip.plates]
  const boxes = new Map(all.map((p) => [p.id, p]))
  const loops = input.lines
    .filter((l) => l.child === l.parent && boxes.has(l.child))
    .map((l, i, list) => drawLoop(l, boxes.get(l.child) as Box, list.slice(0, i).filter((o) => o.child === l.child).length))
  return {
    width: total,
    height: strip.bottom,
    ranks: Array.from({ length: rankCount }, (_, r) => ({ x: x(r), width })),
    bands,
    edge: edge.band,
    strip: strip.band,
    plates: all,
    lines: [...drawn.lines, ...loops],
    beads: drawn.beads,
    knots: knots.map((members) => knotBox(members, placed)),
  }
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
  begin: number,
): { readonly top: ReadonlyMap<string, number>; readonly bands: readonly Band[] } {
  const local = new Map<string, number>()
  // Lines that pass stand closer to each other than plates.
  const room = (s: Slot) => s.height + (s.key.includes('\n') ? size.passingGap : size.gap)
  const stack = (column: readonly Slot[], wish: (s: Slot) => number) => {
    const tops = placeColumn(
      column.map((s) => ({ height: room(s), wish: wish(s) })),
      0,
    )
    for (const [i, s] of column.entries()) local.set(s.key, (tops[i] as number) + (room(s) - s.height) / 2)
  }
  for (const column of columns.values()) stack(column, () => 0)
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
        stack(column, wish)
      }
    }
  }
  const top = new Map<string, number>()
  const bands: Band[] = []
  let y = begin
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

interface StripAt {
  readonly y: number
  readonly area: string
  readonly place: Plate['place']
  readonly width: number
  readonly plateWidth: number
  readonly heightOf: (id: string) => number
  readonly plateAt: (p: PlateInput, x: number, y: number, place: Plate['place']) => Plate
}

/** Plates in rows across the map, in the given order. */
function placeStrip(plates: readonly PlateInput[], at: StripAt): { readonly plates: readonly Plate[]; readonly band: Band | null; readonly bottom: number } {
  if (plates.length === 0) return { plates: [], band: null, bottom: at.y }
  const perRow = Math.max(1, Math.floor((at.width - size.margin) / (at.plateWidth + size.stripGap)))
  const placed: Plate[] = []
  // A loop on the upper edge of a plate stands clear of the band's name.
  let y = at.y + size.bandHead + (at.place === 'edge' ? size.loops : 0)
  for (let i = 0; i < plates.length; i += perRow) {
    const row = plates.slice(i, i + perRow)
    for (const [n, p] of row.entries()) placed.push(at.plateAt(p, size.margin + n * (at.plateWidth + size.stripGap), y, at.place))
    y += Math.max(...row.map((p) => at.heightOf(p.id))) + size.gap
  }
  const bottom = y + size.bandFoot
  return { plates: placed, band: { area: at.area, count: plates.length, x: 0, y: at.y, width: at.width, height: bottom - at.y }, bottom }
}
