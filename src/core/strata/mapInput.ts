// What of a model goes on the map: entities as plates, join tables as beads, references as lines.
import type { Catalog, Statistics } from '../catalog/index.ts'
import { parseAddress, relationText } from '../catalog/index.ts'
import type { End, EntityModel, Finding, Relationship } from '../model/index.ts'
import { plural, splitWords } from '../names/index.ts'
import { proposeAreas } from './areas.ts'
import type { BeadInput, LineInput, MapInput } from './types.ts'

const marks: Readonly<Record<End['leadsTo'], string>> = { 'exactly one': '1', 'at most one': '0–1', 'any number': 'n' }

/**
 * Areas come from what the catalog declares and the findings propose, never from the ledger: one ruling moves nothing to
 * another band. A join table that is an entity with columns of its own, and that nothing else is linked to, is a filled bead.
 */
export function mapInput(catalog: Catalog, findings: readonly Finding[], model: EntityModel, statistics: Statistics | null): MapInput {
  const rows = new Map<string, number | null>((statistics?.relations ?? []).map((r) => [relationText(r), r.rows]))
  for (const r of catalog.relations) {
    if (r.kind !== 'partition' || r.partitionOf === null) continue
    const parent = relationText(r.partitionOf.parent)
    const own = rows.get(relationText(r))
    if (own !== undefined && own !== null) rows.set(parent, Math.max(0, rows.get(parent) ?? 0) + own)
  }
  const joinEntities = new Set(
    findings
      .filter((f) => f.kind === 'join-table' && f.alternatives.some((a) => a.key === 'many-to-many' && a.evidence.every((e) => e.kind !== 'referred to')))
      .map((f) => f.subject),
  )
  const nameOf = new Map<string, string>(model.entities.map((e) => [e.id, e.name]))
  const linksOf = new Map<string, Relationship[]>()
  for (const r of model.relationships) for (const id of new Set([r.from.entity, r.to.entity])) linksOf.set(id, [...(linksOf.get(id) ?? []), r])
  const filled = new Map<string, BeadInput>()
  for (const e of model.entities) {
    const links = linksOf.get(e.id) ?? []
    const [first, second, ...more] = links
    if (!joinEntities.has(e.id) || !first || !second || more.length > 0 || first.from.entity !== e.id || second.from.entity !== e.id) continue
    filled.set(e.id, {
      id: e.id,
      first: first.to.entity,
      second: second.to.entity,
      label: e.name,
      filled: true,
      state: first.state === 'enforced' ? second.state : first.state,
    })
  }
  const lines = model.relationships
    .filter((r) => r.kind !== 'many-to-many' && !filled.has(r.from.entity))
    .map(
      (r): LineInput => ({
        id: r.id,
        child: r.from.entity,
        parent: r.to.entity,
        childMark: marks[r.to.leadsTo],
        parentMark: marks[r.from.leadsTo],
        optional: r.from.leadsTo === 'at most one',
        state: r.state,
      }),
    )
  const hollow = model.relationships
    .filter((r) => r.kind === 'many-to-many' && !r.through?.shortcut)
    .map((r): BeadInput => ({ id: r.id, first: r.from.entity, second: r.to.entity, label: r.through?.table.name ?? '', filled: false, state: r.state }))
  const plates = model.entities
    .filter((e) => !filled.has(e.id))
    .map((e) => ({ id: e.id as string, name: e.name, table: e.relation.name, rows: rows.get(e.id) ?? null, readOnly: e.readOnly }))
  return { plates, lines, beads: [...hollow, ...filled.values()], areas: areasOf(catalog, findings, nameOf) }
}

/** The references a join-table finding would join by: between their targets it is a link, not a member of an area. */
function joined(f: Finding): readonly string[] {
  const reading = f.alternatives.flatMap((a) => a.edits).find((e) => e.facet === 'join.reading' && e.value.as === 'many-to-many')
  return reading?.facet === 'join.reading' && reading.value.as === 'many-to-many' ? [reading.value.first, reading.value.second] : []
}

function areasOf(catalog: Catalog, findings: readonly Finding[], nameOf: ReadonlyMap<string, string>): ReadonlyMap<string, string> {
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
