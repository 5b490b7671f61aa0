// What the map is laid out on, before anybody rules: hubs, areas, where every block and every plate stands. It depends on the catalog and its
// findings only, so that one ruling moves nothing but what follows from it.
import { type Catalog, compareText, parseAddress, type Relation, relationText } from '../catalog/index.ts'
import { derive, type EntityModel, type Finding } from '../model/index.ts'
import { plural, splitWords } from '../names/index.ts'
import { isView, viewLineages } from '../views/index.ts'
import { type AreaNode, proposeAreas } from './areas.ts'
import { type Drawing, drawingOf } from './drawing.ts'
import type { BeadInput, LineInput } from './types.ts'

export interface Ground {
  /** By relation; a view's is that of the tables it reads. */
  readonly areas: ReadonlyMap<string, string>
  /** The busiest first. */
  readonly hubs: readonly string[]
  readonly views: ReadonlySet<string>
  /** What is drawn where nobody has ruled. */
  readonly drawing: Drawing
}

/** So many plates must refer to one for it to be a hub: a sixth of them in a small schema, two dozen in a large one. */
export const hubDegree = (plates: number): number => Math.max(10, Math.min(24, Math.ceil(plates / 6)))

/** Plates at the other side of the references that arrive at each plate; join tables count for both. */
function fansOf(lines: readonly LineInput[], beads: readonly BeadInput[]): ReadonlyMap<string, ReadonlySet<string>> {
  const fans = new Map<string, Set<string>>()
  const add = (to: string, from: string) => {
    if (to !== from) fans.set(to, (fans.get(to) ?? new Set()).add(from))
  }
  for (const l of lines) add(l.parent, l.child)
  for (const b of beads) {
    add(b.first, b.second)
    add(b.second, b.first)
  }
  return fans
}

const known = new WeakMap<readonly Finding[], Ground>()

export function groundOf(catalog: Catalog, findings: readonly Finding[]): Ground {
  const before = known.get(findings)
  if (before) return before
  const model = derive(catalog, findings, [])
  const views = new Set(catalog.relations.filter(isView).map(relationText))
  const plain = drawingOf(model, findings, new Set(), () => null)
  const fans = fansOf(
    plain.lines.filter((l) => !views.has(l.child)),
    plain.beads,
  )
  const least = hubDegree(plain.plates.filter((p) => !views.has(p.id)).length)
  const degree = (id: string) => fans.get(id)?.size ?? 0
  const hubs = [...fans.keys()].filter((id) => degree(id) >= least).sort((a, b) => degree(b) - degree(a) || compareText(a, b))
  const areas = areasOf(catalog, findings, model, views)
  const drawing = drawingOf(model, findings, new Set(hubs), (id) => areas.get(id) ?? null)
  const ground: Ground = { areas, hubs, views, drawing }
  known.set(findings, ground)
  return ground
}

/** The references a join-table finding would join by: between their targets it is a link, not a member of an area. */
function joined(f: Finding): readonly string[] {
  const reading = f.alternatives.flatMap((a) => a.edits).find((e) => e.facet === 'join.reading' && e.value.as === 'many-to-many')
  return reading?.facet === 'join.reading' && reading.value.as === 'many-to-many' ? [reading.value.first, reading.value.second] : []
}

function areasOf(catalog: Catalog, findings: readonly Finding[], model: EntityModel, views: ReadonlySet<string>): ReadonlyMap<string, string> {
  const targetOf = new Map<string, string>()
  const links: { from: string; to: string }[] = []
  const joins = new Map(findings.filter((f) => f.kind === 'join-table' && joined(f).length > 0).map((f) => [f.subject, joined(f)]))
  for (const f of findings) {
    const edit = f.kind === 'reference' ? f.alternatives[0].edits.find((e) => e.facet === 'reference.target') : undefined
    const child = parseAddress(f.subject.split('>')[0] as string)
    if (edit?.facet !== 'reference.target' || !edit.value || !child) continue
    const to = relationText({ schema: edit.value.schema, name: edit.value.table })
    targetOf.set(f.subject, to)
    const from = relationText(child)
    if (!joins.has(from) && !views.has(from) && !views.has(to)) links.push({ from, to })
  }
  for (const [, [first, second]] of joins) {
    const from = first === undefined ? undefined : targetOf.get(first)
    const to = second === undefined ? undefined : targetOf.get(second)
    if (from !== undefined && to !== undefined) links.push({ from, to })
  }
  const areas = new Map(proposeAreas(nodesOf(catalog, model, views), links))
  // A join table that is drawn as a plate after all stands with what it joins first.
  for (const [table, [first]] of joins) {
    const area = first === undefined ? undefined : areas.get(targetOf.get(first) ?? '')
    if (area !== undefined && !areas.has(table)) areas.set(table, area)
  }
  const relations = new Map(catalog.relations.map((r) => [relationText(r), r]))
  const read = [...views].map((view) => [view, areaRead(view, { catalog, relations, areas, under: new Set() })] as const)
  for (const [view, area] of read) if (area !== null) areas.set(view, area)
  return areas
}

/** Relations that areas are proposed for, all but views and partitions. */
export function nodesOf(catalog: Catalog, model: EntityModel, views: ReadonlySet<string>): readonly AreaNode[] {
  const nameOf = new Map<string, string>(model.entities.map((e) => [e.id, e.name]))
  return catalog.relations
    .filter((r) => r.kind !== 'partition' && !views.has(relationText(r)))
    .map((r) => {
      const words = splitWords(nameOf.get(relationText(r)) ?? r.name)
      const vocabulary = [...r.columns.flatMap((c) => splitWords(c.name)), ...splitWords(r.comment ?? '')]
      return { id: relationText(r), schema: r.schema, words, plural: plural(words).join(' '), vocabulary }
    })
}

interface Reading {
  readonly catalog: Catalog
  readonly relations: ReadonlyMap<string, Relation>
  readonly areas: ReadonlyMap<string, string>
  /** Views on the way here. */
  readonly under: Set<string>
}

/** The area that most columns of a view come from, else most of what it is made of; null where that is in none. */
function areaRead(view: string, r: Reading): string | null {
  const votes = new Map<string, number>()
  const vote = (area: string | null | undefined) => {
    if (area) votes.set(area, (votes.get(area) ?? 0) + 1)
  }
  for (const origin of viewLineages(r.catalog).get(view)?.columns.values() ?? []) vote(r.areas.get(relationText(origin.relation)))
  if (votes.size === 0 && r.under.size < mostViewsDeep) {
    r.under.add(view)
    for (const d of r.relations.get(view)?.dependsOn ?? []) {
      const on = relationText(d)
      if (d.kind === 'relation' && !r.under.has(on)) vote(r.areas.get(on) ?? areaRead(on, r))
    }
  }
  return [...votes].sort((a, b) => b[1] - a[1] || compareText(a[0], b[0]))[0]?.[0] ?? null
}

/** Views made of views are followed so far. */
const mostViewsDeep = 50
