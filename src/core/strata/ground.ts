// What the map is laid out on, before anybody rules: hubs, areas, where lookups stand. It depends on the catalog and its findings only, so
// that one ruling moves nothing but what follows from it.
import { type Catalog, compareText, parseAddress, relationText } from '../catalog/index.ts'
import { derive, type EntityModel, type Finding } from '../model/index.ts'
import { plural, splitWords } from '../names/index.ts'
import { proposeAreas } from './areas.ts'
import { drawingOf } from './drawing.ts'
import { orderBands } from './order.ts'
import { lateRanks } from './ranks.ts'
import type { BeadInput, LineInput } from './types.ts'

export interface Ground {
  readonly areas: ReadonlyMap<string, string>
  /** The busiest first. */
  readonly hubs: readonly string[]
  readonly starts: ReadonlyMap<string, number>
  /** How much links two areas, with every plate in the area proposed for it. */
  readonly links: readonly { readonly a: string; readonly b: string }[]
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
  const plain = drawingOf(model, findings, new Set())
  const fans = fansOf(plain.lines, plain.beads)
  const least = hubDegree(plain.plates.length)
  const degree = (id: string) => fans.get(id)?.size ?? 0
  const hubs = [...fans.keys()].filter((id) => degree(id) >= least).sort((a, b) => degree(b) - degree(a) || compareText(a, b))
  const drawing = drawingOf(model, findings, new Set(hubs))
  const ground: Ground = {
    areas: areasOf(catalog, findings, model),
    hubs,
    starts: lateRanks(
      drawing.plates.map((p) => p.id),
      drawing.lines,
    ),
    links: [...drawing.lines.map((l) => ({ a: l.child, b: l.parent })), ...drawing.beads.map((b) => ({ a: b.first, b: b.second }))],
  }
  known.set(findings, ground)
  return ground
}

/** Areas from top to bottom, linked ones close. */
export function areaOrder(ground: Ground, areas: ReadonlyMap<string, string>): readonly string[] {
  const weights = new Map<string, number>()
  const key = (a: string, b: string) => (compareText(a, b) < 0 ? `${a}\n${b}` : `${b}\n${a}`)
  for (const { a, b } of ground.links) {
    const [x, y] = [areas.get(a), areas.get(b)]
    if (x !== undefined && y !== undefined && x !== y) weights.set(key(x, y), (weights.get(key(x, y)) ?? 0) + 1)
  }
  return orderBands([...new Set(areas.values())].sort(compareText), (a, b) => weights.get(key(a, b)) ?? 0)
}

/** The references a join-table finding would join by: between their targets it is a link, not a member of an area. */
function joined(f: Finding): readonly string[] {
  const reading = f.alternatives.flatMap((a) => a.edits).find((e) => e.facet === 'join.reading' && e.value.as === 'many-to-many')
  return reading?.facet === 'join.reading' && reading.value.as === 'many-to-many' ? [reading.value.first, reading.value.second] : []
}

function areasOf(catalog: Catalog, findings: readonly Finding[], model: EntityModel): ReadonlyMap<string, string> {
  const nameOf = new Map<string, string>(model.entities.map((e) => [e.id, e.name]))
  const targetOf = new Map<string, string>()
  const links: { from: string; to: string }[] = []
  const joins = new Map(findings.filter((f) => f.kind === 'join-table' && joined(f).length > 0).map((f) => [f.subject, joined(f)]))
  for (const f of findings) {
    const edit = f.kind === 'reference' ? f.alternatives[0].edits.find((e) => e.facet === 'reference.target') : undefined
    const child = parseAddress(f.subject.split('>')[0] as string)
    if (edit?.facet !== 'reference.target' || !edit.value || !child) continue
    const to = relationText({ schema: edit.value.schema, name: edit.value.table })
    targetOf.set(f.subject, to)
    if (!joins.has(relationText(child))) links.push({ from: relationText(child), to })
  }
  for (const [, [first, second]] of joins) {
    const from = first === undefined ? undefined : targetOf.get(first)
    const to = second === undefined ? undefined : targetOf.get(second)
    if (from !== undefined && to !== undefined) links.push({ from, to })
  }
  const nodes = catalog.relations
    .filter((r) => r.kind !== 'partition')
    .map((r) => {
      const words = splitWords(nameOf.get(relationText(r)) ?? r.name)
      return { id: relationText(r), schema: r.schema, words, plural: plural(words).join(' ') }
    })
  const areas = new Map(proposeAreas(nodes, links))
  // A join table that is drawn as a plate after all stands with what it joins first.
  for (const [table, [first]] of joins) {
    const area = first === undefined ? undefined : areas.get(targetOf.get(first) ?? '')
    if (area !== undefined && !areas.has(table)) areas.set(table, area)
  }
  return areas
}
