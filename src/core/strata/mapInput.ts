// What of a review goes on the map: all of it, or what somebody wants to see of it.
import { type Catalog, compareText, relationText, type Statistics } from '../catalog/index.ts'
import { type AreaRulings, type EntityModel, type Finding, noAreaRulings } from '../model/index.ts'
import { type AreaWeight, orderAreas } from './areaOrder.ts'
import { type Drawing, drawingOf } from './drawing.ts'
import { layoutFocus } from './focus.ts'
import { type Frame, frameOf } from './frame.ts'
import { type Ground, groundOf } from './ground.ts'
import { layoutMap } from './layout.ts'
import { usualShape } from './shape.ts'
import type { LineInput, MapInput, Scene } from './types.ts'

/** What somebody wants to see. */
export interface MapWish {
  /** Entities, and what is within so many steps of them. */
  readonly focus: { readonly ids: readonly string[]; readonly depth: number } | null
  /** The shortest ways between two entities. */
  readonly path: { readonly from: string; readonly to: string } | null
  /** One area, with what its plates are linked to directly. */
  readonly area: string | null
  /** Only relationships that the database does not enforce, and what they link. */
  readonly undeclared: boolean
  /** Hubs among the others, with all their lines. */
  readonly hubLines: boolean
  /** Areas whose views are drawn one by one, null for views that read nothing drawn; those of all others are one shape an area. */
  readonly views: 'all' | readonly (string | null)[]
  readonly alone: boolean
}

export const wholeMap: MapWish = { focus: null, path: null, area: null, undeclared: false, hubLines: false, views: [], alone: true }

export const isWholeMap = (w: MapWish): boolean => JSON.stringify(w) === JSON.stringify(wholeMap)

/**
 * Hubs and areas come from what the catalog declares and the findings propose, `rulings` on areas from the ledger: one ruling moves nothing to another
 * block. A part of the map draws the lines of its hubs.
 */
export function mapInput(
  catalog: Catalog,
  findings: readonly Finding[],
  model: EntityModel,
  statistics: Statistics | null,
  rulings: AreaRulings = noAreaRulings,
  wish: MapWish = wholeMap,
): MapInput {
  const ground = groundOf(catalog, findings)
  const among = wish.hubLines || wish.focus !== null || wish.path !== null
  const there = new Set<string>(model.entities.map((e) => e.id))
  const hubs = among ? [] : ground.hubs.filter((id) => there.has(id))
  const { areas: effective, keys } = areasNow(ground, rulings)
  const { hidden, folded } = foldedViews(
    model.entities.map((e) => e.id),
    ground,
    effective,
    wish,
  )
  const drawing = drawingOf(model, findings, new Set(hubs), (id) => effective.get(id) ?? null, hidden)
  const told = wish.alone ? folded : new Map([...folded].filter(([area]) => area !== null))
  return inputOf(wished(drawing, ground, effective, wish), rowCounts(catalog, statistics), effective, hubs, told, keys)
}

function inputOf(
  drawing: Drawing,
  rows: ReadonlyMap<string, number | null>,
  areas: ReadonlyMap<string, string>,
  hubs: readonly string[],
  folded: MapInput['folded'],
  keys: ReadonlyMap<string, string> = new Map(),
): MapInput {
  const drawn = new Set(drawing.plates.map((p) => p.id))
  return {
    ...drawing,
    plates: drawing.plates.map((p) => ({ ...p, rows: rows.get(p.id) ?? null })),
    areas,
    order: areaOrder(drawing, areas, folded),
    hubs: hubs.filter((id) => drawn.has(id)),
    folded,
    keys,
  }
}

/** The area of every relation as it is called now, and the name that the block of each area goes by: the one first proposed for it. */
export function areasNow(ground: Ground, rulings: AreaRulings): { readonly areas: ReadonlyMap<string, string>; readonly keys: ReadonlyMap<string, string> } {
  if (rulings.tables.size === 0 && rulings.names.size === 0) return { areas: ground.areas, keys: new Map() }
  const areas = new Map([...ground.areas].map(([id, proposed]) => [id, rulings.tables.get(id) ?? rulings.names.get(proposed) ?? proposed]))
  for (const [id, area] of rulings.tables) areas.set(id, area)
  const keys = new Map<string, string>()
  const proposed = [...new Set(ground.areas.values())].sort(compareText)
  // An area that keeps its name keeps its block when others join it.
  for (const p of proposed.toSorted((a, b) => Number(rulings.names.has(a)) - Number(rulings.names.has(b)))) {
    const name = rulings.names.get(p) ?? p
    if (!keys.has(name)) keys.set(name, p)
  }
  const taken = new Set(keys.values())
  for (const name of new Set(areas.values())) if (!keys.has(name)) keys.set(name, taken.has(name) ? `${name} anew` : name)
  return { areas, keys }
}

/** Areas of what is drawn, and of folded views, as they are read. */
function areaOrder(d: Drawing, areas: ReadonlyMap<string, string>, folded: MapInput['folded']): readonly string[] {
  const weights = new Map<string, AreaWeight>()
  for (const { from, to } of [...d.lines.map((l) => ({ from: l.parent, to: l.child })), ...d.beads.map((b) => ({ from: b.first, to: b.second }))]) {
    const [a, b] = [areas.get(from), areas.get(to)]
    if (a === undefined || b === undefined || a === b) continue
    const key = `${a}\n${b}`
    weights.set(key, { from: a, to: b, weight: (weights.get(key)?.weight ?? 0) + 1 })
  }
  const used = new Set([...d.plates.flatMap((p) => areas.get(p.id) ?? []), ...[...folded.keys()].filter((a) => a !== null)])
  return orderAreas(
    [...used].sort(compareText),
    [...weights].sort((a, b) => compareText(a[0], b[0])).map(([, w]) => w),
  )
}

/** Views among the entities that nobody asked for: not drawn, and counted by area. */
function foldedViews(
  ids: readonly string[],
  ground: Ground,
  areas: ReadonlyMap<string, string>,
  wish: MapWish,
): { readonly hidden: ReadonlySet<string>; readonly folded: MapInput['folded'] } {
  const asked = new Set([...(wish.focus?.ids ?? []), ...(wish.path ? [wish.path.from, wish.path.to] : [])])
  if (wish.views === 'all' || [...asked].some((id) => ground.views.has(id))) return { hidden: new Set(), folded: new Map() }
  const shown = wish.views
  const folded = new Map<string | null, number>()
  const hidden = new Set<string>()
  for (const id of ids) {
    if (!ground.views.has(id)) continue
    const area = areas.get(id) ?? null
    if (shown.includes(area)) continue
    hidden.add(id)
    folded.set(area, (folded.get(area) ?? 0) + 1)
  }
  const part = wish.focus !== null || wish.path !== null || wish.area !== null || wish.undeclared
  return { hidden, folded: part ? new Map() : folded }
}

const frames = new WeakMap<Ground, Map<number, Frame>>()

/** The frame of a ground and a shape: the one it stands on already, or else the one that is made now. */
export function standOn(ground: Ground, shape: number, make: () => Frame): Frame {
  const before = framesOf(ground).get(shape)
  if (before) return before
  const frame = make()
  framesOf(ground).set(shape, frame)
  return frame
}

/** By shape. */
export function framesOf(ground: Ground): Map<number, Frame> {
  const known = frames.get(ground) ?? new Map<number, Frame>()
  frames.set(ground, known)
  return known
}

/** Blocks and plates of the whole map as they stand where nobody has ruled, packed to this shape. */
const groundFrame = (ground: Ground, shape: number): Frame => standOn(ground, shape, () => frameOf(groundInput(ground), ground.views, shape))

/** The whole map where nobody has ruled. */
export function groundInput(ground: Ground): MapInput {
  const { plates } = ground.drawing
  const { hidden, folded } = foldedViews(
    plates.map((p) => p.id),
    ground,
    ground.areas,
    wholeMap,
  )
  const drawing = only(ground.drawing, new Set(plates.flatMap((p) => (hidden.has(p.id) ? [] : [p.id]))))
  return inputOf(drawing, new Map(), ground.areas, ground.hubs, folded)
}

/** The areas of a map in the order they are read. */
export const areasOn = (scene: Scene): readonly string[] => scene.blocks.filter((b) => b.kind === 'area').map((b) => b.name)

/** The map of a review, whole or the part that is wished for, packed to a shape (see `nearestShape`). */
export function mapOf(
  catalog: Catalog,
  findings: readonly Finding[],
  model: EntityModel,
  statistics: Statistics | null,
  rulings: AreaRulings = noAreaRulings,
  wish: MapWish = wholeMap,
  shape = usualShape,
): Scene {
  const ground = groundOf(catalog, findings)
  const input = mapInput(catalog, findings, model, statistics, rulings, wish)
  const centre = wish.focus?.depth === 1 && wish.focus.ids.length === 1 ? wish.focus.ids[0] : undefined
  if (centre !== undefined && input.plates.some((p) => p.id === centre)) return layoutFocus(input, centre, shape)
  return layoutMap(input, shape, ground.views, isWholeMap(wish) ? groundFrame(ground, shape) : null)
}

/** The counts of a catalog that were worked out last, and by what. */
const lastCounts = new WeakMap<Catalog, { readonly statistics: Statistics | null; readonly rows: ReadonlyMap<string, number | null> }>()

/** Rows of a partitioned table are those of its partitions. */
function rowCounts(catalog: Catalog, statistics: Statistics | null): ReadonlyMap<string, number | null> {
  const last = lastCounts.get(catalog)
  if (last?.statistics === statistics) return last.rows
  const rows = countRows(catalog, statistics)
  lastCounts.set(catalog, { statistics, rows })
  return rows
}

function countRows(catalog: Catalog, statistics: Statistics | null): ReadonlyMap<string, number | null> {
  const rows = new Map<string, number | null>((statistics?.relations ?? []).map((r) => [relationText(r), r.rows]))
  for (const r of catalog.relations) {
    if (r.kind !== 'partition' || r.partitionOf === null) continue
    const parent = relationText(r.partitionOf.parent)
    const own = rows.get(relationText(r))
    if (own !== undefined && own !== null) rows.set(parent, Math.max(0, rows.get(parent) ?? 0) + own)
  }
  return rows
}

function wished(d: Drawing, ground: Ground, areas: ReadonlyMap<string, string>, wish: MapWish): Drawing {
  let drawing = d
  const area = (id: string) => areas.get(id)
  if (isWholeMap(wish)) return d
  const linked = neighboursOf(d)
  if (wish.focus) {
    const { ids, depth } = wish.focus
    drawing = only(
      drawing,
      within(
        ids.flatMap((id) => plateOf(d, id)),
        depth,
        linked,
        ground.hubs,
        ids.length === 1,
      ),
    )
  }
  if (wish.path) drawing = only(drawing, between(plateOf(d, wish.path.from), plateOf(d, wish.path.to), linked, ground.hubs))
  if (wish.area !== null) {
    const own = d.plates.filter((p) => area(p.id) === wish.area).map((p) => p.id)
    drawing = only(drawing, new Set(own.flatMap((id) => [id, ...(linked.get(id) ?? [])])))
  }
  if (wish.undeclared) {
    const open = (x: Pick<LineInput, 'state'>) => x.state !== 'enforced'
    const [lines, beads] = [drawing.lines.filter(open), drawing.beads.filter(open)]
    const ends = new Set([...lines.flatMap((l) => [l.child, l.parent]), ...beads.flatMap((b) => [b.first, b.second])])
    drawing = only({ ...drawing, lines, beads }, ends)
  }
  if (!wish.alone) drawing = only(drawing, new Set(drawing.plates.filter((p) => area(p.id) !== undefined).map((p) => p.id)))
  return drawing
}

function only(d: Drawing, ids: ReadonlySet<string>): Drawing {
  return {
    plates: d.plates.filter((p) => ids.has(p.id)),
    lines: d.lines.filter((l) => ids.has(l.child) && ids.has(l.parent)),
    beads: d.beads.filter((b) => ids.has(b.first) && ids.has(b.second)),
    marks: d.marks.filter((m) => ids.has(m.plate) && ids.has(m.hub)),
  }
}

/** Plates that a line, a bead or a mark joins to each. */
function neighboursOf(d: Drawing): ReadonlyMap<string, ReadonlySet<string>> {
  const near = new Map<string, Set<string>>()
  const add = (a: string, b: string) => {
    near.set(a, (near.get(a) ?? new Set()).add(b))
    near.set(b, (near.get(b) ?? new Set()).add(a))
  }
  for (const l of d.lines) add(l.child, l.parent)
  for (const b of d.beads) add(b.first, b.second)
  for (const m of d.marks) add(m.plate, m.hub)
  return near
}

/** The plates an entity is drawn by: itself, or what it joins where it is a bead. */
const plateOf = (d: Drawing, id: string): readonly string[] => {
  const bead = d.beads.find((b) => b.id === id)
  return bead ? [bead.first, bead.second] : [id]
}

/** What is within so many steps of where one begins, without walking on through a hub: `fromHubs`, unless one begins there. */
function within(
  begin: readonly string[],
  depth: number,
  linked: ReadonlyMap<string, ReadonlySet<string>>,
  hubs: readonly string[],
  fromHubs: boolean,
): ReadonlySet<string> {
  const seen = new Set(begin)
  let edge: readonly string[] = begin
  for (let step = 0; step < depth; step += 1) {
    const next = edge.filter((id) => (fromHubs && step === 0) || !hubs.includes(id)).flatMap((id) => [...(linked.get(id) ?? [])].filter((n) => !seen.has(n)))
    for (const id of next) seen.add(id)
    edge = [...new Set(next)]
  }
  return seen
}

/** Plates on a shortest way between two, by a hub only where there is no other; empty where there is none. */
export function between(
  from: readonly string[],
  to: readonly string[],
  linked: ReadonlyMap<string, ReadonlySet<string>>,
  hubs: readonly string[],
): ReadonlySet<string> {
  const ends = new Set([...from, ...to])
  for (const avoid of [new Set(hubs.filter((h) => !ends.has(h))), new Set<string>()]) {
    const [there, back] = [distances(from, linked, avoid), distances(to, linked, avoid)]
    const least = Math.min(...to.map((id) => there.get(id) ?? Number.POSITIVE_INFINITY))
    if (least === Number.POSITIVE_INFINITY) continue
    return new Set([...there.keys()].filter((id) => (there.get(id) as number) + (back.get(id) ?? Number.POSITIVE_INFINITY) === least).sort(compareText))
  }
  return new Set()
}

function distances(begin: readonly string[], linked: ReadonlyMap<string, ReadonlySet<string>>, avoid: ReadonlySet<string>): ReadonlyMap<string, number> {
  const at = new Map(begin.map((id) => [id, 0]))
  const queue = [...begin]
  for (const id of queue) {
    for (const next of linked.get(id) ?? []) {
      if (at.has(next) || avoid.has(next)) continue
      at.set(next, (at.get(id) as number) + 1)
      queue.push(next)
    }
  }
  return at
}
