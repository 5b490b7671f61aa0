// What of a review goes on the map: all of it, or what somebody wants to see of it.
import { type Catalog, compareText, relationText, type Statistics } from '../catalog/index.ts'
import type { EntityModel, Finding } from '../model/index.ts'
import { type Drawing, drawingOf } from './drawing.ts'
import { areaOrder, type Ground, groundOf } from './ground.ts'
import type { LineInput, MapInput } from './types.ts'

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
  readonly readOnly: boolean
  readonly alone: boolean
}

export const wholeMap: MapWish = { focus: null, path: null, area: null, undeclared: false, hubLines: false, readOnly: true, alone: true }

export const isWholeMap = (w: MapWish): boolean => JSON.stringify(w) === JSON.stringify(wholeMap)

/**
 * Hubs and areas come from what the catalog declares and the findings propose, `areas` from the ledger: one ruling moves nothing to another
 * band. A part of the map draws the lines of its hubs.
 */
export function mapInput(
  catalog: Catalog,
  findings: readonly Finding[],
  model: EntityModel,
  statistics: Statistics | null,
  areas: ReadonlyMap<string, string> = new Map(),
  wish: MapWish = wholeMap,
): MapInput {
  const ground = groundOf(catalog, findings)
  const among = wish.hubLines || wish.focus !== null || wish.path !== null
  const there = new Set<string>(model.entities.map((e) => e.id))
  const hubs = among ? [] : ground.hubs.filter((id) => there.has(id))
  const drawing = wished(drawingOf(model, findings, new Set(hubs)), ground, areas, wish)
  const rows = rowCounts(catalog, statistics)
  const effective = areas.size === 0 ? ground.areas : new Map([...ground.areas, ...areas])
  return {
    ...drawing,
    plates: drawing.plates.map((p) => ({ ...p, rows: rows.get(p.id) ?? null })),
    areas: effective,
    order: areaOrder(ground, effective),
    hubs: hubs.filter((id) => drawing.plates.some((p) => p.id === id)),
    starts: isWholeMap(wish) ? ground.starts : new Map(),
  }
}

/** Rows of a partitioned table are those of its partitions. */
function rowCounts(catalog: Catalog, statistics: Statistics | null): ReadonlyMap<string, number | null> {
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
  const area = (id: string) => areas.get(id) ?? ground.areas.get(id)
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
  if (!wish.readOnly) drawing = only(drawing, new Set(drawing.plates.filter((p) => !p.readOnly).map((p) => p.id)))
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
