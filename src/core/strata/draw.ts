// Lines from port to port, and beads on them.
import { compareText } from '../catalog/index.ts'
import { beadRank, type Connection, passingKey, passingRanks } from './connections.ts'
import { breakName, size } from './size.ts'
import type { Bead, Box, Line, LineInput, Mark } from './types.ts'

const curve = (x1: number, y1: number, x2: number, y2: number) => {
  const pull = (x2 - x1) / 2
  return `C${round(x1 + pull)} ${round(y1)} ${round(x2 - pull)} ${round(y2)} ${round(x2)} ${round(y2)}`
}
const round = (n: number) => Math.round(n * 10) / 10

/** Where everything stands: what lines are drawn between. */
export interface Placed {
  readonly boxOf: (id: string) => Box
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
  const spread = (box: Box, n: number, i: number) => middle(box) + (i - (n - 1) / 2) * size.port
  const at = new Map<string, number>()
  for (const [id, list] of arrivals) {
    const sorted = list.toSorted((a, b) => a.y - b.y || compareText(a.id, b.id))
    for (const [i, a] of sorted.entries()) at.set(`arriving ${id}\n${a.id}`, spread(p.boxOf(id), list.length, i))
  }
  for (const [id, marks] of departures) {
    const groups = [...marks].map(([mark, ys]) => ({ mark, y: mean(ys) })).sort((a, b) => a.y - b.y || compareText(a.mark, b.mark))
    for (const [i, g] of groups.entries()) at.set(`leaving ${id}\n${g.mark}`, spread(p.boxOf(id), groups.length, i))
  }
  return { leaving: (id, mark) => at.get(`leaving ${id}\n${mark}`) as number, arriving: (id, connection) => at.get(`arriving ${id}\n${connection}`) as number }
}

/** Lines and beads, in the order of the connections. */
export function drawConnections(connections: readonly Connection[], p: Placed): { readonly lines: readonly Line[]; readonly beads: readonly Bead[] } {
  const ports = placePorts(connections, p)
  const lines: Line[] = []
  const beads: Bead[] = []
  for (const c of connections) {
    const { of } = c
    const { path, marks, middle: bead } = sameRank(c, p) ? bracket(c, p, ports) : route(c, p, ports)
    if (of.kind === 'line')
      lines.push({ id: c.id, child: of.line.child, parent: of.line.parent, path, marks, state: of.line.state, shape: 'line', crossesBands: crosses(c, p) })
    else
      beads.push({
        id: c.id,
        first: of.bead.first,
        second: of.bead.second,
        filled: of.bead.filled,
        state: of.bead.state,
        crossesBands: crosses(c, p),
        path,
        marks,
        x: bead.x,
        y: bead.y,
        labelLines: breakName(of.bead.label, bead.letters),
        tight: bead.letters === size.beadName,
      })
  }
  return { lines, beads }
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
    { x: a.x + a.width + 4, y: y1 - 4, text: c.leftMark, anchor: 'start' },
    { x: b.x - 4, y: y2 - 4, text: c.rightMark, anchor: 'end' },
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
  const mark = (box: Box, at: number, text: string): Mark => ({ x: box.x + box.width + 4, y: at - 4, text, anchor: 'start' })
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
      { x: right + 5, y: box.y - 4, text: l.parentMark, anchor: 'start' },
      { x: left - 5, y: box.y - 4, text: l.childMark, anchor: 'end' },
    ],
    state: l.state,
    shape: 'loop',
    crossesBands: false,
  }
}
