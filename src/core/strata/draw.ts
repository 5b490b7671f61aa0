// Lines from port to port, and beads on them.
import { compareText } from '../catalog/index.ts'
import { beadRank, type Connection, passingKey, passingRanks } from './connections.ts'
import { breakName, size } from './size.ts'
import type { Bead, Box, EndName, Line, LineInput, Mark } from './types.ts'

const curve = (x1: number, y1: number, x2: number, y2: number) => {
  const pull = (x2 - x1) / 2
  return `C${round(x1 + pull)} ${round(y1)} ${round(x2 - pull)} ${round(y2)} ${round(x2)} ${round(y2)}`
}
const round = (n: number) => Math.round(n * 10) / 10

/** Where everything stands: what lines are drawn between. */
export interface Placed {
  readonly boxOf: (id: string) => Box
  /** Height of a plate's nth port, from the top of the map. */
  readonly portY: (id: string, nth: number) => number
  /** Middle of the slot where a long line passes. */
  readonly passingY: (key: string) => number
  readonly rankX: (rank: number) => number
  readonly width: number
  readonly rankOf: ReadonlyMap<string, number>
  readonly bandOf: (id: string) => number
}

const sameRank = (c: Connection, p: Placed) => p.rankOf.get(c.left) === p.rankOf.get(c.right)
const middle = (b: Box) => b.y + b.height / 2
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length

interface Ports {
  readonly leaving: (id: string, mark: string) => number
  readonly arriving: (id: string, connection: string) => number
}

/** Heights at which lines leave and arrive: in the order of where they come from, so that they do not cross at the plate. */
function placePorts(connections: readonly Connection[], p: Placed): Ports {
  const arrivals = new Map<string, { id: string; y: number }[]>()
  const departures = new Map<string, Map<string, number[]>>()
  const depart = (id: string, mark: string, y: number) => {
    const marks = departures.get(id) ?? new Map<string, number[]>()
    marks.set(mark, [...(marks.get(mark) ?? []), y])
    departures.set(id, marks)
  }
  for (const c of connections) {
    const stops = passingRanks(c, p.rankOf).map((rank) => p.passingY(passingKey(c.id, rank)))
    depart(c.left, c.leftMark, stops[0] ?? middle(p.boxOf(c.right)))
    if (sameRank(c, p)) depart(c.right, c.rightMark, middle(p.boxOf(c.left)))
    else arrivals.set(c.right, [...(arrivals.get(c.right) ?? []), { id: c.id, y: stops.at(-1) ?? middle(p.boxOf(c.left)) }])
  }
  const at = new Map<string, number>()
  for (const [id, list] of arrivals) {
    const sorted = list.toSorted((a, b) => a.y - b.y || compareText(a.id, b.id))
    for (const [i, a] of sorted.entries()) at.set(`arriving ${id}\n${a.id}`, p.portY(id, i))
  }
  for (const [id, marks] of departures) {
    const groups = [...marks].map(([mark, ys]) => ({ mark, y: mean(ys) })).sort((a, b) => a.y - b.y || compareText(a.mark, b.mark))
    for (const [i, g] of groups.entries()) at.set(`leaving ${id}\n${g.mark}`, p.portY(id, i))
  }
  return { leaving: (id, mark) => at.get(`leaving ${id}\n${mark}`) as number, arriving: (id, connection) => at.get(`arriving ${id}\n${connection}`) as number }
}

export interface Drawn {
  readonly lines: readonly Line[]
  readonly beads: readonly Bead[]
  /** Key columns at the ports where references arrive, by plate. */
  readonly keys: ReadonlyMap<string, readonly { readonly y: number; readonly text: string }[]>
}

/** Lines and beads, in the order of the connections. */
export function drawConnections(connections: readonly Connection[], p: Placed): Drawn {
  const ports = placePorts(connections, p)
  const lines: Line[] = []
  const beads: Bead[] = []
  const keys = new Map<string, { y: number; text: string }[]>()
  const marked = new Set<string>()
  /** One multiplicity for all lines that leave together. */
  const once = (m: Mark): Mark => {
    const at = `${m.x} ${m.y}`
    if (marked.has(at)) return { ...m, shared: true }
    marked.add(at)
    return m
  }
  for (const c of connections) {
    const { of } = c
    const drawn = sameRank(c, p) ? bracket(c, p, ports) : route(c, p, ports)
    const { path, middle: bead } = drawn
    const marks = drawn.marks.map(once)
    const box = boxOfPath(path)
    if (of.kind === 'line') {
      const { child, parent, state } = of.line
      if (!sameRank(c, p) && c.right === child) keys.set(child, [...(keys.get(child) ?? []), { y: ports.arriving(child, c.id), text: of.line.columns }])
      lines.push({ id: c.id, child, parent, path, marks, state, shape: 'line', crossesBands: crosses(c, p), ends: endNames(of.line, c, marks), box })
    } else
      beads.push({
        id: c.id,
        first: of.bead.first,
        second: of.bead.second,
        filled: of.bead.filled,
        state: of.bead.state,
        crossesBands: crosses(c, p),
        path,
        marks,
        box,
        x: bead.x,
        y: bead.y,
        labelLines: breakName(of.bead.label, bead.letters),
        tight: bead.letters === size.beadName,
      })
  }
  return { lines, beads, keys }
}

/** What each end is called stands under its multiplicity: at the child what leads to it, and at the parent. */
function endNames(l: LineInput, c: Connection, marks: readonly Mark[]): Line['ends'] {
  const under = (m: Mark, text: string): EndName => ({ text, x: m.x, y: m.y + 14, anchor: m.anchor })
  const [left, right] = marks as readonly [Mark, Mark]
  const [atParent, atChild] = c.left === l.parent ? [left, right] : [right, left]
  return [under(atChild, l.parentEnd), under(atParent, l.childEnd)]
}

/** Around all points of a path in absolute coordinates; curves stay within their control points. */
export function boxOfPath(path: string): Box {
  const numbers = path.match(/-?\d+(?:\.\d+)?/g)?.map(Number) ?? []
  const xs = numbers.filter((_, i) => i % 2 === 0)
  const ys = numbers.filter((_, i) => i % 2 === 1)
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
}

const crosses = (c: Connection, p: Placed) => p.bandOf(c.left) !== p.bandOf(c.right)

/** A drawn connection: its path, its multiplicities, and where on it a bead sits with room for how many letters of its name. */
interface Route {
  readonly path: string
  readonly marks: readonly Mark[]
  readonly middle: { readonly x: number; readonly y: number; readonly letters: number }
}

/** From the right side of one plate through its passing slots to the left side of the other. A bead sits in the last slot, or in the gutter where there is none. */
function route(c: Connection, p: Placed, ports: Ports): Route {
  const a = p.boxOf(c.left)
  const b = p.boxOf(c.right)
  const y1 = ports.leaving(c.left, c.leftMark)
  const y2 = ports.arriving(c.right, c.id)
  let path = `M${round(a.x + a.width)} ${round(y1)}`
  let last = { x: a.x + a.width, y: y1 }
  for (const rank of passingRanks(c, p.rankOf)) {
    const y = p.passingY(passingKey(c.id, rank))
    path += `${curve(last.x, last.y, p.rankX(rank), y)}L${round(p.rankX(rank) + p.width)} ${round(y)}`
    last = { x: p.rankX(rank) + p.width, y }
  }
  path += curve(last.x, last.y, b.x, y2)
  const marks: readonly Mark[] = [
    { x: a.x + a.width + 4, y: y1 - 4, text: c.leftMark, anchor: 'start', shared: false },
    { x: b.x - 4, y: y2 - 4, text: c.rightMark, anchor: 'end', shared: false },
  ]
  const inSlot = beadRank(c, p.rankOf) !== null
  const middle = inSlot
    ? { x: round(last.x - p.width / 2), y: round(last.y), letters: Math.floor(p.width / size.character) }
    : { x: round((last.x + b.x) / 2), y: round((last.y + y2) / 2), letters: size.beadName }
  return { path, marks, middle }
}

/** Two plates of one rank, joined in the gutter to their right: two ends of a join table, or the cut reference of a knot. */
function bracket(c: Connection, p: Placed, ports: Ports): Route {
  const a = p.boxOf(c.left)
  const b = p.boxOf(c.right)
  const y1 = ports.leaving(c.left, c.leftMark)
  const y2 = ports.leaving(c.right, c.rightMark)
  const out = round(a.x + a.width + size.gutter * 0.42)
  const y = round((y1 + y2) / 2)
  const path = `M${round(a.x + a.width)} ${round(y1)}C${out} ${round(y1)} ${out} ${round(y1)} ${out} ${y}C${out} ${round(y2)} ${out} ${round(y2)} ${round(b.x + b.width)} ${round(y2)}`
  const mark = (box: Box, at: number, text: string): Mark => ({ x: box.x + box.width + 4, y: at - 4, text, anchor: 'start', shared: false })
  return { path, marks: [mark(a, y1, c.leftMark), mark(b, y2, c.rightMark)], middle: { x: out, y, letters: size.beadName } }
}

/** A self-reference stands on the plate's upper edge, clear of the ports; further ones nest outwards. */
export function drawLoop(l: LineInput, box: Box, nth: number): Line {
  const r = 9 + nth * 5
  const right = box.x + box.width - 12
  const left = right - 22 - nth * 4
  const path = `M${round(right)} ${round(box.y)}C${round(right + 4)} ${round(box.y - 2 * r)} ${round(left - 4)} ${round(box.y - 2 * r)} ${round(left)} ${round(box.y)}`
  return {
    id: l.id,
    child: l.child,
    parent: l.parent,
    path,
    marks: [
      { x: right + 5, y: box.y - 4, text: l.parentMark, anchor: 'start', shared: false },
      { x: left - 5, y: box.y - 4, text: l.childMark, anchor: 'end', shared: false },
    ],
    state: l.state,
    shape: 'loop',
    crossesBands: false,
    ends: [
      { text: l.parentEnd, x: left - 5, y: box.y - 16, anchor: 'end' },
      { text: l.childEnd, x: right + 5, y: box.y - 16, anchor: 'start' },
    ],
    box: boxOfPath(path),
  }
}
