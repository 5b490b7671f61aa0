// One entity on one screen: in the middle, what it refers to on the left, what refers to it on the right, in as many columns as they need, by area.
import { compareText } from '../catalog/index.ts'
import { boxOfPath, drawLoop, endNames, markStep } from './draw.ts'
import { measure } from './frame.ts'
import { plateMaker } from './plate.ts'
import { rounded } from './rounded.ts'
import { breakName, size } from './size.ts'
import type { Bead, BeadInput, Block, Box, Line, LineInput, MapInput, Mark, Scene } from './types.ts'

/** Measures of a focus, in map units. */
const measures = {
  pad: 9,
  /** Between the entity and the first column, and between columns: lines turn there, and beads stand there. */
  gutter: 44,
  beadGutter: 96,
  blockGap: 12,
  /** Between two ports of the entity in the middle. */
  port: 15,
  /** A way above the columns for lines to the outer ones. */
  bus: 12,
} as const

/** What links the entity to another, from the entity's side. */
interface Link {
  readonly id: string
  readonly other: string
  /** At the entity, and at the other. */
  readonly ownMark: string
  readonly otherMark: string
  readonly of: { readonly kind: 'line'; readonly line: LineInput } | { readonly kind: 'bead'; readonly bead: BeadInput }
}

function linksOf(input: MapInput, centre: string): readonly Link[] {
  const lines = input.lines.flatMap((line): Link[] => {
    if (line.child === line.parent) return []
    if (line.child === centre) return [{ id: line.id, other: line.parent, ownMark: line.childMark, otherMark: line.parentMark, of: { kind: 'line', line } }]
    if (line.parent === centre) return [{ id: line.id, other: line.child, ownMark: line.parentMark, otherMark: line.childMark, of: { kind: 'line', line } }]
    return []
  })
  const beads = input.beads.flatMap((bead): Link[] => {
    const other = bead.first === centre ? bead.second : bead.second === centre ? bead.first : null
    return other === null || other === centre ? [] : [{ id: bead.id, other, ownMark: 'n', otherMark: 'n', of: { kind: 'bead', bead } }]
  })
  return [...lines, ...beads].sort((a, b) => compareText(a.id, b.id))
}

interface Group {
  readonly area: string | null
  readonly ids: readonly string[]
}

/** Plates of one side by area, in columns no higher than this; an area that does not fit goes on in the next column. */
function columnsOf(groups: readonly Group[], heightOf: (id: string) => number, limit: number): readonly (readonly Group[])[] {
  const columns: { area: string | null; ids: string[] }[][] = []
  let left = 0
  for (const g of groups) {
    let open: string[] | null = null
    for (const id of g.ids) {
      const more = heightOf(id) + size.gap
      const head = size.blockHead + size.blockFoot + measures.blockGap
      if (open === null || more > left) {
        if (columns.length === 0 || more + (open === null ? head : 0) > left) {
          columns.push([])
          left = limit
        }
        open = []
        columns.at(-1)?.push({ area: g.area, ids: open })
        left -= head
      }
      open.push(id)
      left -= more
    }
  }
  return columns
}

/** `centre` is a plate of the input. Everything fits a pane of this shape (width over height) as large as it can. Deterministic. */
export function layoutFocus(all: MapInput, centre: string, shape: number): Scene {
  const input = around(all, centre)
  const m = measure(input)
  const links = linksOf(input, centre)
  const refersTo = new Set(links.filter((l) => l.of.kind === 'line' && l.of.line.child === centre).map((l) => l.other))
  const groupsOf = (onLeft: boolean): readonly Group[] => {
    const ids = [...new Set(links.map((l) => l.other))].filter((id) => refersTo.has(id) === onLeft)
    const rank = (area: string | null) => (area === null ? input.order.length : input.order.indexOf(area))
    const areas = [...new Set(ids.map((id) => input.areas.get(id) ?? null))].sort((a, b) => rank(a) - rank(b))
    return areas.map((area) => ({ area, ids: ids.filter((id) => (input.areas.get(id) ?? null) === area).sort(compareText) }))
  }
  const own = ownHeight(links, refersTo, m.portsAt(centre), m.marksOf(centre).length)
  const sides = [groupsOf(true), groupsOf(false)] as const
  const beads = links.some((l) => l.of.kind === 'bead')
  const gutter = beads ? measures.beadGutter : measures.gutter
  let best: Sides | null = null
  for (let limit = Math.max(own, 130); ; limit *= 1.12) {
    const [left, right] = [columnsOf(sides[0], m.heightOf, limit), columnsOf(sides[1], m.heightOf, limit)]
    const made = { left, right, limit }
    const width = sideWidth(left, m.widthOf, gutter) + sideWidth(right, m.widthOf, gutter) + m.widthOf(centre) * 1.3 + 2 * size.margin
    const scale = Math.min(shape / width, 1 / (limit + 2 * size.margin))
    if (best === null || scale > best.scale) best = { ...made, scale }
    if (left.length <= 1 && right.length <= 1) break
  }
  return placed(input, centre, links, best as Sides, own, gutter, refersTo)
}

/** What links the entity, and nothing that links the others to each other. */
const around = (input: MapInput, centre: string): MapInput => ({
  ...input,
  lines: input.lines.filter((l) => l.child === centre || l.parent === centre),
  beads: input.beads.filter((b) => b.first === centre || b.second === centre),
})

interface Sides {
  readonly left: readonly (readonly Group[])[]
  readonly right: readonly (readonly Group[])[]
  readonly limit: number
  readonly scale: number
}

const columnWidth = (column: readonly Group[], widthOf: (id: string) => number) => Math.max(...column.flatMap((g) => g.ids.map(widthOf))) + 2 * measures.pad
const sideWidth = (columns: readonly (readonly Group[])[], widthOf: (id: string) => number, gutter: number) =>
  columns.reduce((w, c) => w + columnWidth(c, widthOf) + gutter, 0)

/** Ports of the entity stand far enough apart for the columns that hold them. */
const ownHeight = (links: readonly Link[], refersTo: ReadonlySet<string>, head: number, marks: number) => {
  const left = links.filter((l) => refersTo.has(l.other)).length
  const kinds = new Set(links.filter((l) => !refersTo.has(l.other)).map((l) => l.ownMark)).size
  return Math.max(head + left * measures.port + marks * size.markLine + 6, head + kinds * measures.port + 6, 44)
}

function placed(input: MapInput, centre: string, links: readonly Link[], sides: Sides, own: number, gutter: number, refersTo: ReadonlySet<string>): Scene {
  const m = measure(input)
  const outer = sides.left.length > 1 || sides.right.length > 1
  const top = size.margin + (outer ? measures.bus * 2 : 0)
  const boxes = new Map<string, Box>()
  const blockOf = new Map<string, string>()
  const blocks: Block[] = []
  const place = (column: readonly Group[], x: number, key: string) => {
    const width = columnWidth(column, m.widthOf)
    let y = top
    for (const [i, g] of column.entries()) {
      const block = `${key} ${i}`
      let at = y + size.blockHead
      for (const id of g.ids) {
        boxes.set(id, { x: x + measures.pad, y: at, width: width - 2 * measures.pad, height: m.heightOf(id) })
        blockOf.set(id, block)
        at += m.heightOf(id) + size.gap
      }
      const bottom = at - size.gap + size.blockFoot
      blocks.push({
        key: block,
        kind: g.area === null ? 'alone' : 'area',
        name: g.area ?? 'Standing alone',
        count: g.ids.length,
        folded: null,
        x,
        y,
        width,
        height: bottom - y,
      })
      y = bottom + measures.blockGap
    }
    return { right: x + width, bottom: y - measures.blockGap }
  }
  let x: number = size.margin
  let bottom = top + own
  /** Where lines turn: left of each column on the right of the entity, right of each column on its left. */
  const turns = new Map<string, number>()
  // The column that is nearest to the entity is the first.
  for (const [c, column] of sides.left.toReversed().entries()) {
    const end = place(column, x, `left ${sides.left.length - 1 - c}`)
    for (const g of column) for (const id of g.ids) turns.set(id, end.right + 14)
    x = end.right + gutter
    bottom = Math.max(bottom, end.bottom)
  }
  const width = Math.ceil(m.widthOf(centre) * 1.3)
  const middleX = x
  x += width + gutter
  for (const [c, column] of sides.right.entries()) {
    for (const g of column) for (const id of g.ids) turns.set(id, x - 14)
    const end = place(column, x, `right ${c}`)
    x = end.right + gutter
    bottom = Math.max(bottom, end.bottom)
  }
  const middle: Box = { x: middleX, y: Math.max(top, top + (bottom - top - own) / 2), width, height: own }
  boxes.set(centre, middle)
  blockOf.set(centre, 'centre')
  const makePlate = plateMaker(input, m)
  const drawn = draw({ centre, links, boxes, turns, refersTo, portsOf: (id) => (boxes.get(id) as Box).y + m.portsAt(id), inner: innerColumns(sides), top })
  const plates = input.plates
    .filter((p) => boxes.has(p.id))
    .sort((a, b) => compareText(a.id, b.id))
    .map((p) =>
      makePlate(p, {
        box: boxes.get(p.id) as Box,
        block: blockOf.get(p.id) as string,
        rank: p.id === centre ? 1 : refersTo.has(p.id) ? 0 : 2,
        keys: drawn.keys.get(p.id) ?? [],
        central: p.id === centre,
      }),
    )
  const loops = input.lines.filter((l) => l.child === centre && l.parent === centre).map((l, i) => drawLoop(l, middle, i))
  return {
    width: x - gutter + size.margin,
    height: bottom + size.margin,
    blocks,
    bundles: [],
    plates,
    lines: [...drawn.lines, ...loops],
    beads: drawn.beads,
    knots: [],
  }
}

const innerColumns = (s: Sides): ReadonlySet<string> => new Set([...(s.left[0] ?? []), ...(s.right[0] ?? [])].flatMap((g) => g.ids))

interface Way {
  readonly centre: string
  readonly links: readonly Link[]
  readonly boxes: ReadonlyMap<string, Box>
  readonly turns: ReadonlyMap<string, number>
  readonly refersTo: ReadonlySet<string>
  /** Top of the first port of a plate. */
  readonly portsOf: (id: string) => number
  /** Plates in the columns beside the entity. */
  readonly inner: ReadonlySet<string>
  readonly top: number
}

interface Drawn {
  readonly lines: readonly Line[]
  readonly beads: readonly Bead[]
  readonly keys: ReadonlyMap<string, readonly { readonly y: number; readonly text: string }[]>
}

/** Where a link leaves the entity and arrives at the other plate, by port. */
interface Ends {
  readonly left: boolean
  readonly from: Point
  readonly to: Point
  /** Where it turns beside the entity: not upon another one with another multiplicity. */
  readonly near: number
}

interface Point {
  readonly x: number
  readonly y: number
}

/** Ports of both ends of every link: on the left of the entity one for each, on its right one for each multiplicity; at the others alike ones together. */
function portsOf(w: Way): readonly (readonly [Link, Ends])[] {
  const middle = w.boxes.get(w.centre) as Box
  const top = w.portsOf(w.centre)
  const height = (l: Link) => (w.boxes.get(l.other) as Box).y
  const onLeft = w.links.filter((l) => w.refersTo.has(l.other)).sort((a, b) => height(a) - height(b) || compareText(a.id, b.id))
  const onRight = w.links.filter((l) => !w.refersTo.has(l.other)).sort((a, b) => compareText(a.otherMark, b.otherMark) || compareText(a.id, b.id))
  const kinds = [...new Set(onRight.map((l) => l.ownMark))].sort(compareText)
  const arrived = new Map<string, string[]>()
  /** How far below the first port of the other plate. */
  const down = (l: Link) => {
    const marks = arrived.get(l.other) ?? []
    marks.push(l.otherMark)
    arrived.set(l.other, marks)
    return (marks.length - 1) * size.port + (new Set(marks).size - 1) * markStep
  }
  const left = onLeft.map((l, i): readonly [Link, Ends] => {
    const box = w.boxes.get(l.other) as Box
    const from = { x: middle.x, y: top + (i + 0.5) * measures.port }
    return [l, { left: true, from, to: { x: box.x + box.width, y: box.y + 12 + down(l) }, near: middle.x - 16 - (i % 4) * 4 }]
  })
  const right = onRight.map((l): readonly [Link, Ends] => {
    const box = w.boxes.get(l.other) as Box
    const kind = kinds.indexOf(l.ownMark)
    const from = { x: middle.x + middle.width, y: top + (kind + 0.5) * measures.port }
    return [l, { left: false, from, to: { x: box.x, y: w.portsOf(l.other) + size.port / 2 + down(l) }, near: from.x + 16 + kind * 5 }]
  })
  return [...left, ...right]
}

/** Straight to the column beside the entity; to the ones behind it by a way above all columns. */
function pathOf(other: string, { from, to, near }: Ends, w: Way): string {
  if (w.inner.has(other)) return rounded([from, { x: near, y: from.y }, { x: near, y: to.y }, to])
  const turn = w.turns.get(other) as number
  const bus = w.top - measures.bus
  return rounded([from, { x: near, y: from.y }, { x: near, y: bus }, { x: turn, y: bus }, { x: turn, y: to.y }, to])
}

function draw(w: Way): Drawn {
  const keys = new Map<string, { y: number; text: string }[]>()
  const lines: Line[] = []
  const beads: Bead[] = []
  const written = new Set<string>()
  /** One multiplicity for all that leave or arrive together. */
  const mark = (at: Point, towardsRight: boolean, text: string, place: string): Mark => {
    const shared = written.has(`${place} ${text}`)
    written.add(`${place} ${text}`)
    return { x: at.x + (towardsRight ? 3 : -3), y: at.y - 3, text, anchor: towardsRight ? 'start' : 'end', shared }
  }
  for (const [l, ends] of portsOf(w)) {
    const { left, from, to } = ends
    const path = pathOf(l.other, ends, w)
    const marks = [mark(from, !left, l.ownMark, left ? l.id : 'leaving'), mark(to, left, l.otherMark, l.other)] as const
    const drawn = { path, marks, bundle: null, box: boxOfPath(path) }
    if (l.of.kind === 'bead') {
      const { bead } = l.of
      beads.push({ ...bead, ...drawn, x: left ? to.x + 24 : to.x - 24, y: to.y, labelLines: breakName(bead.label, size.beadName), tight: true })
      continue
    }
    const { line } = l.of
    const holds = line.child === w.centre ? from : to
    // At a plate on the left lines arrive on its right, where its columns have no room.
    if (line.child === w.centre || !left) keys.set(line.child, [...(keys.get(line.child) ?? []), { y: holds.y, text: line.columns }])
    const names = line.parent === w.centre ? endNames(line, marks[0], marks[1]) : endNames(line, marks[1], marks[0])
    lines.push({ id: l.id, child: line.child, parent: line.parent, state: line.state, shape: 'line', ends: names, ...drawn })
  }
  return { lines, beads, keys }
}
