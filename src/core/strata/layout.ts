// MapInput → Scene: ranks, bands, slots, then lines from port to port. Deterministic; meant for a worker.
import { compareText } from '../catalog/index.ts'
import { orderBands, orderSlots, placeColumn, type Slot } from './order.ts'
import { rankPlates } from './ranks.ts'
import type { Band, Bead, BeadInput, Box, Knot, Line, LineInput, MapInput, Mark, Plate, PlateInput, Scene } from './types.ts'

/** All in map units. The gutter holds two multiplicities and a curve one can still follow; a bead needs its label's line as well. */
const size = {
  gutter: 92,
  margin: 24,
  bandHead: 26,
  bandFoot: 14,
  gap: 16,
  passing: 8,
  plate: 42,
  nameLine: 16,
  port: 15,
  stripGap: 18,
  character: 7.1,
} as const

/** One drawn connection between ranks, before coordinates: a reference, or a join table between two entities. */
interface Connection {
  readonly id: string
  readonly left: string
  readonly right: string
  readonly leftMark: string
  readonly rightMark: string
  readonly of: { readonly kind: 'line'; readonly line: LineInput } | { readonly kind: 'bead'; readonly bead: BeadInput }
}

/** Names break between words so that no line is longer than the plate. */
function breakName(name: string, limit: number): readonly string[] {
  if (name.length <= limit) return [name]
  const words = name.match(/[\p{Lu}_$]?[^\p{Lu}_$]+|[\p{Lu}_$]+/gu) ?? [name]
  const lines: string[] = ['']
  for (const word of words) {
    const last = lines[lines.length - 1] as string
    if (last.length > 0 && last.length + word.length > limit) lines.push(word)
    else lines[lines.length - 1] = last + word
  }
  return lines.flatMap((l) => l.match(new RegExp(`.{1,${limit}}`, 'gu')) ?? [l])
}

const plateWidth = (plates: readonly PlateInput[]) => {
  const lengths = plates.map((p) => p.name.length).sort((a, b) => a - b)
  const typical = lengths[Math.floor(lengths.length * 0.9)] ?? 12
  return Math.round(Math.min(190, Math.max(128, typical * size.character + 24)))
}

export function layoutMap(input: MapInput): Scene {
  const plates = input.plates.toSorted((a, b) => compareText(a.id, b.id))
  const width = plateWidth(plates)
  const nameLimit = Math.floor((width - 20) / size.character)
  const onMap = plates.filter((p) => input.areas.has(p.id))
  const { rankOf, cut, knots } = rankPlates(
    onMap.map((p) => p.id),
    input.lines,
  )
  const rankCount = onMap.length === 0 ? 0 : Math.max(...rankOf.values()) + 1
  const connections = connect(input, rankOf, cut)
  const bandNames = orderBands([...new Set(onMap.map((p) => input.areas.get(p.id) as string))].sort(compareText), bandWeights(connections, input.areas))
  const bandOf = (id: string) => bandNames.indexOf(input.areas.get(id) as string)
  const ports = portCounts(connections)
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
  const drawn = drawConnections(connections, boxOf, slots, top, x, width, rankOf, bandOf)
  const loops = input.lines
    .filter((l) => l.child === l.parent && input.areas.has(l.child))
    .map((l, i, all) => loop(l, boxOf(l.child), all.slice(0, i).filter((o) => o.child === l.child).length))
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

/** References and beads as connections from left to right. The cut line of a knot is drawn like the others, its ends swapped. */
function connect(input: MapInput, rankOf: ReadonlyMap<string, number>, cut: ReadonlySet<string>): readonly Connection[] {
  const on = (id: string) => rankOf.has(id)
  const lines = input.lines
    .filter((l) => l.child !== l.parent && on(l.child) && on(l.parent))
    .map((l): Connection => {
      const swapped = cut.has(l.id) && (rankOf.get(l.child) as number) < (rankOf.get(l.parent) as number)
      return {
        id: l.id,
        left: swapped ? l.child : l.parent,
        right: swapped ? l.parent : l.child,
        leftMark: swapped ? l.childMark : l.parentMark,
        rightMark: swapped ? l.parentMark : l.childMark,
        of: { kind: 'line', line: l },
      }
    })
  const beads = input.beads
    .filter((b) => on(b.first) && on(b.second))
    .map((b): Connection => {
      const swapped = (rankOf.get(b.first) as number) > (rankOf.get(b.second) as number)
      return { id: b.id, left: swapped ? b.second : b.first, right: swapped ? b.first : b.second, leftMark: 'n', rightMark: 'n', of: { kind: 'bead', bead: b } }
    })
  return [...lines, ...beads].sort((a, b) => compareText(a.id, b.id))
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
function portCounts(connections: readonly Connection[]): ReadonlyMap<string, number> {
  const left = new Map<string, number>()
  const right = new Map<string, Set<string>>()
  for (const c of connections) {
    left.set(c.right, (left.get(c.right) ?? 0) + 1)
    right.set(c.left, (right.get(c.left) ?? new Set()).add(c.leftMark))
  }
  return new Map([...new Set([...left.keys(), ...right.keys()])].map((id) => [id, Math.max(left.get(id) ?? 0, right.get(id)?.size ?? 0)]))
}

const passingKey = (id: string, rank: number) => `${id}\n${rank}`
/** Ranks strictly between the two ends, where the line needs a slot. Ends in one rank meet in the gutter to its right. */
const passingRanks = (c: Connection, rankOf: ReadonlyMap<string, number>) => {
  const from = rankOf.get(c.left) as number
  return Array.from({ length: Math.max(0, (rankOf.get(c.right) as number) - from - 1) }, (_, i) => from + 1 + i)
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
  const passing: { key: string; band: number; rank: number }[] = []
  for (const c of connections) {
    if (rankOf.get(c.left) === rankOf.get(c.right)) continue
    const stops = passingRanks(c, rankOf).map((rank) => ({ key: passingKey(c.id, rank), band: bandOf(c.right), rank }))
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
      ...passing.map((p) => slot(p.key, p.band, p.rank, size.passing)),
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

const curve = (x1: number, y1: number, x2: number, y2: number) => {
  const pull = (x2 - x1) / 2
  return `C${round(x1 + pull)} ${round(y1)} ${round(x2 - pull)} ${round(y2)} ${round(x2)} ${round(y2)}`
}
const round = (n: number) => Math.round(n * 10) / 10

function drawConnections(
  connections: readonly Connection[],
  boxOf: (id: string) => Box,
  slots: ReadonlyMap<string, Slot>,
  top: ReadonlyMap<string, number>,
  x: (rank: number) => number,
  width: number,
  rankOf: ReadonlyMap<string, number>,
  bandOf: (id: string) => number,
): { readonly lines: readonly Line[]; readonly beads: readonly Bead[] } {
  const passingY = (key: string) => (top.get(key) as number) + (slots.get(key) as Slot).height / 2
  const middle = (id: string) => boxOf(id).y + boxOf(id).height / 2
  const arrivals = new Map<string, { id: string; y: number }[]>()
  const departures = new Map<string, Map<string, number[]>>()
  for (const c of connections) {
    const stops = passingRanks(c, rankOf)
    const lastY = stops.length > 0 ? passingY(passingKey(c.id, stops[stops.length - 1] as number)) : middle(c.left)
    const firstY = stops.length > 0 ? passingY(passingKey(c.id, stops[0] as number)) : middle(c.right)
    if (rankOf.get(c.left) !== rankOf.get(c.right)) arrivals.set(c.right, [...(arrivals.get(c.right) ?? []), { id: c.id, y: lastY }])
    for (const id of rankOf.get(c.left) === rankOf.get(c.right) ? [c.left, c.right] : [c.left]) {
      const marks = departures.get(id) ?? new Map<string, number[]>()
      marks.set(c.leftMark, [...(marks.get(c.leftMark) ?? []), firstY])
      departures.set(id, marks)
    }
  }
  const spread = (box: Box, n: number, i: number) => box.y + box.height / 2 + (i - (n - 1) / 2) * size.port
  const leftPort = new Map<string, number>()
  for (const [id, list] of arrivals)
    for (const [i, a] of list.toSorted((p, q) => p.y - q.y || compareText(p.id, q.id)).entries())
      leftPort.set(`${id}\n${a.id}`, spread(boxOf(id), list.length, i))
  const rightPort = new Map<string, number>()
  for (const [id, marks] of departures) {
    const groups = [...marks]
      .map(([mark, ys]) => ({ mark, y: ys.reduce((a, b) => a + b, 0) / ys.length }))
      .sort((a, b) => a.y - b.y || compareText(a.mark, b.mark))
    for (const [i, g] of groups.entries()) rightPort.set(`${id}\n${g.mark}`, spread(boxOf(id), groups.length, i))
  }
  const lines: Line[] = []
  const beads: Bead[] = []
  for (const c of connections) {
    const a = boxOf(c.left)
    const b = boxOf(c.right)
    const y1 = rightPort.get(`${c.left}\n${c.leftMark}`) as number
    const crossesBands = bandOf(c.left) !== bandOf(c.right)
    const startMark: Mark = { x: a.x + a.width + 4, y: y1 - 4, text: c.leftMark, anchor: 'start' }
    if (rankOf.get(c.left) === rankOf.get(c.right)) {
      beads.push(bracket(c, a, b, y1, rightPort.get(`${c.right}\n${c.leftMark}`) as number, startMark, crossesBands))
      continue
    }
    const y2 = leftPort.get(`${c.right}\n${c.id}`) as number
    let path = `M${round(a.x + a.width)} ${round(y1)}`
    let at = { x: a.x + a.width, y: y1 }
    for (const rank of passingRanks(c, rankOf)) {
      const y = passingY(passingKey(c.id, rank))
      path += `${curve(at.x, at.y, x(rank), y)}L${round(x(rank) + width)} ${round(y)}`
      at = { x: x(rank) + width, y }
    }
    path += curve(at.x, at.y, b.x, y2)
    const marks = [startMark, { x: b.x - 4, y: y2 - 4, text: c.rightMark, anchor: 'end' } as const]
    if (c.of.kind === 'line')
      lines.push({ id: c.id, child: c.of.line.child, parent: c.of.line.parent, path, marks, state: c.of.line.state, shape: 'line', crossesBands })
    else {
      const { bead } = c.of
      beads.push({
        id: c.id,
        first: bead.first,
        second: bead.second,
        x: round((at.x + b.x) / 2),
        y: round((at.y + y2) / 2),
        label: bead.label,
        filled: bead.filled,
        path,
        marks,
        state: bead.state,
        crossesBands,
      })
    }
  }
  return { lines, beads }
}

/** Two plates of one rank, joined in the gutter to their right. */
function bracket(c: Connection, a: Box, b: Box, y1: number, y2: number, startMark: Mark, crossesBands: boolean): Bead {
  const { bead } = c.of as { readonly kind: 'bead'; readonly bead: BeadInput }
  const out = a.x + a.width + size.gutter * 0.42
  const path = `M${round(a.x + a.width)} ${round(y1)}C${round(out)} ${round(y1)} ${round(out)} ${round(y1)} ${round(out)} ${round((y1 + y2) / 2)}C${round(out)} ${round(y2)} ${round(out)} ${round(y2)} ${round(b.x + b.width)} ${round(y2)}`
  return {
    id: c.id,
    first: bead.first,
    second: bead.second,
    x: round(out),
    y: round((y1 + y2) / 2),
    label: bead.label,
    filled: bead.filled,
    path,
    marks: [startMark, { x: b.x + b.width + 4, y: y2 - 4, text: c.rightMark, anchor: 'start' }],
    state: bead.state,
    crossesBands,
  }
}

/** A self-reference leaves and enters at the plate's upper right corner; further ones nest outwards. */
function loop(l: LineInput, box: Box, nth: number): Line {
  const r = 11 + nth * 6
  const right = box.x + box.width
  const path = `M${round(right)} ${round(box.y + 10)}C${round(right + 2 * r)} ${round(box.y + 10)} ${round(right + r)} ${round(box.y - 2 * r)} ${round(right - 14)} ${round(box.y)}`
  return {
    id: l.id,
    child: l.child,
    parent: l.parent,
    path,
    marks: [
      { x: right + 5, y: box.y + 20, text: l.parentMark, anchor: 'start' },
      { x: right - 18, y: box.y - 4, text: l.childMark, anchor: 'end' },
    ],
    state: l.state,
    shape: 'loop',
    crossesBands: false,
  }
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
