// Lines from port to port, and beads on them.
import { compareText } from '../catalog/index.ts'
import { remembered } from '../memo/memo.ts'
import type { PlacedBlock } from './block.ts'
import { bundleKey } from './bundles.ts'
import { beadColumn, type Connection, passingColumns, passingKey, trunkOf } from './connections.ts'
import { breakName, size } from './size.ts'
import type { Bead, Box, EndName, Line, LineInput, Mark } from './types.ts'

const curve = (x1: number, y1: number, x2: number, y2: number) => {
  const pull = (x2 - x1) / 2
  return `C${round(x1 + pull)} ${round(y1)} ${round(x2 - pull)} ${round(y2)} ${round(x2)} ${round(y2)}`
}
const round = (n: number) => Math.round(n * 10) / 10

/** A block with its place on the map, or what lies between blocks. */
interface Ground {
  readonly placed: PlacedBlock
  readonly x: number
  readonly y: number
}

/** Everything that lines are drawn between. */
export interface Placed {
  readonly blocks: readonly Ground[]
  /** Connections between blocks, their left end where they are referred to. */
  readonly across: readonly Connection[]
  readonly boxOf: (id: string) => Box
  /** Top of the first port on the left of a plate, from the top of the map. */
  readonly portsTop: (id: string) => number
  /** What stands in a block that holds more than it has room for is drawn smaller. */
  readonly scaleOf: (id: string) => number
  readonly blockOf: (id: string) => string
}

const middle = (b: Box) => b.y + b.height / 2
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length
const sameColumn = (c: Connection, rankOf: ReadonlyMap<string, number>) => rankOf.get(c.left) === rankOf.get(c.right)

/** Where lines with another multiplicity begin at the left of a plate, both can be written. */
export const markStep = 5

interface Ports {
  readonly leaving: (id: string, mark: string) => number
  readonly arriving: (id: string, connection: string) => number
  /** Does this line write the multiplicity for all beside it? */
  readonly writes: (connection: string) => boolean
}

interface Arrival {
  readonly id: string
  readonly mark: string
  readonly y: number
}

/** Heights at which lines leave and arrive: in the order of where they come from, so that they do not cross at the plate; alike ones together. */
function placePorts(p: Placed): Ports {
  const arrivals = new Map<string, Arrival[]>()
  const departures = new Map<string, Map<string, number[]>>()
  const depart = (id: string, mark: string, y: number) => {
    const marks = departures.get(id) ?? new Map<string, number[]>()
    marks.set(mark, [...(marks.get(mark) ?? []), y])
    departures.set(id, marks)
  }
  const arrive = (id: string, a: Arrival) => arrivals.set(id, [...(arrivals.get(id) ?? []), a])
  for (const { placed, y } of p.blocks) {
    for (const c of placed.connections) {
      const stops = passingColumns(c, placed.rankOf).map((column) => y + (placed.passing.get(passingKey(trunkOf(c), column)) as number))
      depart(c.left, c.leftMark, stops[0] ?? middle(p.boxOf(c.right)))
      if (sameColumn(c, placed.rankOf)) depart(c.right, c.rightMark, middle(p.boxOf(c.left)))
      else arrive(c.right, { id: c.id, mark: c.rightMark, y: stops.at(-1) ?? middle(p.boxOf(c.left)) })
    }
  }
  for (const c of p.across) {
    depart(c.left, c.leftMark, middle(p.boxOf(c.right)))
    arrive(c.right, { id: c.id, mark: c.rightMark, y: middle(p.boxOf(c.left)) })
  }
  const at = new Map<string, number>()
  const writers = new Set<string>()
  for (const [id, list] of arrivals) {
    const scale = p.scaleOf(id)
    let y = p.portsTop(id) + (size.port / 2) * scale
    for (const [, group] of grouped(list)) {
      for (const [i, a] of group.toSorted((q, r) => q.y - r.y || compareText(q.id, r.id)).entries()) {
        at.set(`arriving ${id}\n${a.id}`, y)
        if (i === 0) writers.add(a.id)
        y += size.port * scale
      }
      y += markStep * scale
    }
  }
  for (const [id, marks] of departures) {
    const groups = [...marks].map(([mark, ys]) => ({ mark, y: mean(ys) })).sort((a, b) => a.y - b.y || compareText(a.mark, b.mark))
    const { y, height } = p.boxOf(id)
    for (const [i, g] of groups.entries()) at.set(`leaving ${id}\n${g.mark}`, y + (height * (i + 0.5)) / groups.length)
  }
  return {
    leaving: (id, mark) => at.get(`leaving ${id}\n${mark}`) as number,
    arriving: (id, connection) => at.get(`arriving ${id}\n${connection}`) as number,
    writes: (connection) => writers.has(connection),
  }
}

/** Arrivals with one multiplicity, those that come from above first. */
function grouped(list: readonly Arrival[]): readonly (readonly [string, readonly Arrival[]])[] {
  const groups = new Map<string, Arrival[]>()
  for (const a of list) groups.set(a.mark, [...(groups.get(a.mark) ?? []), a])
  return [...groups].sort((a, b) => mean(a[1].map((x) => x.y)) - mean(b[1].map((x) => x.y)) || compareText(a[0], b[0]))
}

export interface Drawn {
  readonly lines: readonly Line[]
  readonly beads: readonly Bead[]
  /** Key columns at the ports where references arrive, by plate. */
  readonly keys: ReadonlyMap<string, readonly { readonly y: number; readonly text: string }[]>
}

/** Lines and beads: those within blocks, block by block, then those between. */
export function drawConnections(p: Placed): Drawn {
  const ports = placePorts(p)
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
  const add = (c: Connection, r: Route, arrives: boolean, bundle: string | null) => {
    const { of } = c
    const marks = bundle === null ? r.marks.map(once) : r.marks
    const box = boxOfPath(r.path)
    if (of.kind === 'line') {
      const { child, parent, state } = of.line
      if (arrives && c.right === child) keys.set(child, [...(keys.get(child) ?? []), { y: ports.arriving(child, c.id), text: of.line.columns }])
      lines.push({ id: c.id, child, parent, path: r.path, marks, state, shape: 'line', bundle, ends: ends(of.line, c, marks), box })
      return
    }
    const { x, y, letters } = r.middle
    const { first, second, filled, state, label } = of.bead
    beads.push({
      id: c.id,
      first,
      second,
      filled,
      state,
      bundle,
      path: r.path,
      marks,
      box,
      x,
      y,
      labelLines: breakName(label, letters),
      tight: letters === size.beadName,
    })
  }
  for (const g of p.blocks) {
    for (const c of g.placed.connections) {
      const same = sameColumn(c, g.placed.rankOf)
      add(c, same ? bracket(c, p, ports) : route(c, p, g, ports), !same, null)
    }
  }
  for (const c of p.across) add(c, direct(c, p, ports), true, bundleKey(p.blockOf(c.left), p.blockOf(c.right)))
  return { lines, beads, keys }
}

const ends = (l: LineInput, c: Connection, [left, right]: readonly Mark[]): Line['ends'] =>
  c.left === l.parent ? endNames(l, left as Mark, right as Mark) : endNames(l, right as Mark, left as Mark)

/** What each end is called stands under its multiplicity: at the child what leads to it, and at the parent. */
export function endNames(l: LineInput, atParent: Mark, atChild: Mark): Line['ends'] {
  const under = (m: Mark, text: string): EndName => ({ text, x: m.x, y: m.y + 12, anchor: m.anchor })
  return [under(atChild, l.parentEnd), under(atParent, l.childEnd)]
}

/** Around all points of a path in absolute coordinates; curves stay within their control points. */
export const boxOfPath = remembered((path: string): Box => {
  const numbers = path.match(/-?\d+(?:\.\d+)?/g)?.map(Number) ?? []
  const xs = numbers.filter((_, i) => i % 2 === 0)
  const ys = numbers.filter((_, i) => i % 2 === 1)
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
})

/** A drawn connection: its path, its multiplicities, and where on it a bead sits with room for how many letters of its name. */
interface Route {
  readonly path: string
  readonly marks: readonly Mark[]
  readonly middle: { readonly x: number; readonly y: number; readonly letters: number }
}

const endMarks = (c: Connection, a: Box, y1: number, b: Box, y2: number, writes: boolean): readonly Mark[] => [
  { x: a.x + a.width + 3, y: y1 - 3, text: c.leftMark, anchor: 'start', shared: false },
  { x: b.x - 3, y: y2 - 3, text: c.rightMark, anchor: 'end', shared: !writes },
]

/** From the right side of one plate past the columns between to the left side of the other. A bead sits in the last column passed, or in the gutter where there is none. */
function route(c: Connection, p: Placed, g: Ground, ports: Ports): Route {
  const { placed } = g
  const [a, b] = [p.boxOf(c.left), p.boxOf(c.right)]
  const y1 = ports.leaving(c.left, c.leftMark)
  const y2 = ports.arriving(c.right, c.id)
  let path = `M${round(a.x + a.width)} ${round(y1)}`
  let last = { x: a.x + a.width, y: y1 }
  for (const column of passingColumns(c, placed.rankOf)) {
    const y = g.y + (placed.passing.get(passingKey(trunkOf(c), column)) as number)
    const x = g.x + (placed.columnX[column] as number)
    const end = x + (placed.arrangement.widths[column] as number)
    path += `${curve(last.x, last.y, x, y)}L${round(end)} ${round(y)}`
    last = { x: end, y }
  }
  path += curve(last.x, last.y, b.x, y2)
  const at = beadColumn(c, placed.rankOf)
  const width = at === null ? 0 : (placed.arrangement.widths[at] as number)
  const middle =
    at === null
      ? { x: round((last.x + b.x) / 2), y: round((last.y + y2) / 2), letters: size.beadName }
      : { x: round(last.x - width / 2), y: round(last.y), letters: Math.floor(width / size.character) }
  return { path, marks: endMarks(c, a, y1, b, y2, ports.writes(c.id)), middle }
}

/** Two plates of one column, joined in the gutter to their right: two ends of a join table, or the cut reference of a knot. */
function bracket(c: Connection, p: Placed, ports: Ports): Route {
  const [a, b] = [p.boxOf(c.left), p.boxOf(c.right)]
  const y1 = ports.leaving(c.left, c.leftMark)
  const y2 = ports.leaving(c.right, c.rightMark)
  const out = round(Math.max(a.x + a.width, b.x + b.width) + size.gutter * 0.6 * p.scaleOf(c.left))
  const y = round((y1 + y2) / 2)
  const path = `M${round(a.x + a.width)} ${round(y1)}C${out} ${round(y1)} ${out} ${round(y1)} ${out} ${y}C${out} ${round(y2)} ${out} ${round(y2)} ${round(b.x + b.width)} ${round(y2)}`
  const mark = (box: Box, at: number, text: string): Mark => ({ x: box.x + box.width + 3, y: at - 3, text, anchor: 'start', shared: false })
  return { path, marks: [mark(a, y1, c.leftMark), mark(b, y2, c.rightMark)], middle: { x: out, y, letters: size.beadName } }
}

/** Between two blocks: out on the right and in on the left, whichever way that is; drawn below the plates. */
function direct(c: Connection, p: Placed, ports: Ports): Route {
  const [a, b] = [p.boxOf(c.left), p.boxOf(c.right)]
  const y1 = ports.leaving(c.left, c.leftMark)
  const y2 = ports.arriving(c.right, c.id)
  const [x1, x2] = [a.x + a.width, b.x]
  const pull = Math.max(60, Math.abs(x2 - x1) / 2)
  const path = `M${round(x1)} ${round(y1)}C${round(x1 + pull)} ${round(y1)} ${round(x2 - pull)} ${round(y2)} ${round(x2)} ${round(y2)}`
  return { path, marks: endMarks(c, a, y1, b, y2, true), middle: { x: round((x1 + x2) / 2), y: round((y1 + y2) / 2), letters: size.beadName * 2 } }
}

/** A self-reference stands on the plate's upper edge; further ones beside it. */
export function drawLoop(l: LineInput, box: Box, nth: number): Line {
  const right = box.x + box.width - 20 - nth * size.loop
  const left = right - 18
  const path = `M${round(right)} ${round(box.y)}C${round(right + 4)} ${round(box.y - 16)} ${round(left - 4)} ${round(box.y - 16)} ${round(left)} ${round(box.y)}`
  return {
    id: l.id,
    child: l.child,
    parent: l.parent,
    path,
    marks: [
      { x: right + 3, y: box.y - 3, text: l.parentMark, anchor: 'start', shared: false },
      { x: left - 3, y: box.y - 3, text: l.childMark, anchor: 'end', shared: false },
    ],
    state: l.state,
    shape: 'loop',
    bundle: null,
    ends: [
      { text: l.parentEnd, x: left - 3, y: box.y - 14, anchor: 'end' },
      { text: l.childEnd, x: right + 3, y: box.y - 14, anchor: 'start' },
    ],
    box: boxOfPath(path),
  }
}
