// What of a model is drawn: entities as plates, join tables as beads, references as lines, and what goes to a hub as marks.

import { compareText } from '../catalog/index.ts'
import { keptWith } from '../memo/memo.ts'
import { type End, type Entity, type EntityModel, entityNames, type Finding, type Relationship } from '../model/index.ts'
import type { BeadInput, HubMarkInput, LineInput } from './types.ts'

const multiplicity: Readonly<Record<End['leadsTo'], string>> = { 'exactly one': '1', 'at most one': '0–1', 'any number': 'n' }

export interface Drawing {
  readonly plates: readonly { readonly id: string; readonly name: string; readonly table: string; readonly readOnly: boolean }[]
  readonly lines: readonly LineInput[]
  readonly beads: readonly BeadInput[]
  readonly marks: readonly HubMarkInput[]
}

const lineOf = keptWith(
  (r: Relationship): LineInput => ({
    id: r.id,
    child: r.from.entity,
    parent: r.to.entity,
    childMark: multiplicity[r.to.leadsTo],
    parentMark: multiplicity[r.from.leadsTo],
    optional: r.from.leadsTo === 'at most one',
    state: r.state,
    columns: r.from.columns.join(', '),
    childEnd: r.from.property,
    parentEnd: r.to.property,
  }),
)

/**
 * A join table that is an entity with columns of its own, and that nothing else is linked to, is a filled bead, unless a hub is at one of its
 * ends or they are in different areas: a bead between areas would be seen only where it is looked for. A hub keeps its references to itself as loops.
 * `leftOut`: entities that are not drawn, with all their lines.
 */
export function drawingOf(
  model: EntityModel,
  findings: readonly Finding[],
  hubs: ReadonlySet<string>,
  areaOf: (id: string) => string | null,
  leftOut: ReadonlySet<string> = new Set(),
): Drawing {
  const nameOf = entityNames(model)
  const linksOf = linksOfJoins(model.relationships, joinEntitiesOf(findings))
  const isLeftOut = (r: Relationship) => leftOut.size > 0 && (leftOut.has(r.from.entity) || leftOut.has(r.to.entity))
  const filled = new Map<string, BeadInput>()
  for (const e of linksOf.size === 0 ? [] : model.entities) {
    const [first, second, ...more] = linksOf.get(e.id) ?? []
    if (leftOut.has(e.id) || !first || !second || more.length > 0 || first.from.entity !== e.id || second.from.entity !== e.id) continue
    if (hubs.has(first.to.entity) || hubs.has(second.to.entity) || areaOf(first.to.entity) !== areaOf(second.to.entity)) continue
    filled.set(e.id, {
      id: e.id,
      first: first.to.entity,
      second: second.to.entity,
      label: e.name,
      filled: true,
      state: first.state === 'enforced' ? second.state : first.state,
    })
  }
  const toHub = (r: Relationship) => r.from.entity !== r.to.entity && (hubs.has(r.from.entity) || hubs.has(r.to.entity))
  const lines: LineInput[] = []
  const beads: BeadInput[] = []
  const [marked, joined]: [Relationship[], Relationship[]] = [[], []]
  for (const r of model.relationships) {
    if (isLeftOut(r)) continue
    if (r.kind !== 'many-to-many') {
      if (filled.has(r.from.entity)) continue
      if (toHub(r)) marked.push(r)
      else lines.push(lineOf(r))
    } else if (!r.through?.shortcut) {
      if (toHub(r)) joined.push(r)
      else beads.push(beadOf(r))
    }
  }
  return {
    plates: model.entities.flatMap((e) => (filled.has(e.id) || leftOut.has(e.id) ? [] : [plateOf(e)])),
    lines,
    beads: [...beads, ...filled.values()],
    marks: marksOf(marked, joined, hubs, nameOf),
  }
}

/** Relationships of entities that may be beads. */
function linksOfJoins(relationships: readonly Relationship[], joinEntities: ReadonlySet<string>): ReadonlyMap<string, readonly Relationship[]> {
  const linksOf = new Map<string, Relationship[]>()
  if (joinEntities.size === 0) return linksOf
  for (const r of relationships)
    for (const id of r.from.entity === r.to.entity ? [r.from.entity] : [r.from.entity, r.to.entity]) {
      if (!joinEntities.has(id)) continue
      const own = linksOf.get(id)
      if (own) own.push(r)
      else linksOf.set(id, [r])
    }
  return linksOf
}

const plateOf = keptWith((e: Entity): Drawing['plates'][number] => ({ id: e.id, name: e.name, table: e.relation.name, readOnly: e.readOnly }))

const beadOf = keptWith(
  (r: Relationship): BeadInput => ({ id: r.id, first: r.from.entity, second: r.to.entity, label: r.through?.table.name ?? '', filled: false, state: r.state }),
)

const joinEntitiesOf = keptWith(
  (findings: readonly Finding[]): ReadonlySet<string> =>
    new Set(
      findings
        .filter((f) => f.kind === 'join-table' && f.alternatives.some((a) => a.key === 'many-to-many' && a.evidence.every((e) => e.kind !== 'referred to')))
        .map((f) => f.subject),
    ),
)

/** One mark for all references of a plate to one hub, another for the join tables between them. */
function marksOf(
  references: readonly Relationship[],
  joins: readonly Relationship[],
  hubs: ReadonlySet<string>,
  nameOf: ReadonlyMap<string, string>,
): readonly HubMarkInput[] {
  const marks = new Map<string, { plate: string; hub: string; glyph: string; ids: string[] }>()
  const add = (plate: string, hub: string, glyph: string, id: string) => {
    const key = `${plate}\n${hub}\n${glyph}`
    const mark = marks.get(key) ?? { plate, hub, glyph, ids: [] }
    mark.ids.push(id)
    marks.set(key, mark)
  }
  for (const r of references) add(r.from.entity, r.to.entity, '▸', r.id)
  for (const r of joins) {
    const [plate, hub] = hubs.has(r.to.entity) ? [r.from.entity, r.to.entity] : [r.to.entity, r.from.entity]
    add(plate, hub, '○', r.id)
  }
  return [...marks.values()]
    .map((m) => ({
      plate: m.plate,
      hub: m.hub,
      text: `${m.glyph} ${nameOf.get(m.hub) ?? m.hub}${m.ids.length > 1 ? ` ×${m.ids.length}` : ''}`,
      ids: m.ids.sort(compareText),
    }))
    .sort((a, b) => compareText(a.plate, b.plate) || compareText(a.text, b.text))
}
