// What of a model is drawn: entities as plates, join tables as beads, references as lines, and what goes to a hub as marks.

import { compareText } from '../catalog/index.ts'
import { keptWith } from '../memo/memo.ts'
import type { End, EntityModel, Finding, Relationship } from '../model/index.ts'
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
  const joinEntities = joinEntitiesOf(findings)
  const nameOf = new Map<string, string>(model.entities.map((e) => [e.id, e.name]))
  const linksOf = new Map<string, Relationship[]>()
  for (const r of model.relationships) {
    const [from, to] = [r.from.entity, r.to.entity]
    if (joinEntities.has(from)) linksOf.set(from, [...(linksOf.get(from) ?? []), r])
    if (to !== from && joinEntities.has(to)) linksOf.set(to, [...(linksOf.get(to) ?? []), r])
  }
  const isLeftOut = (r: Relationship) => leftOut.size > 0 && (leftOut.has(r.from.entity) || leftOut.has(r.to.entity))
  const filled = new Map<string, BeadInput>()
  for (const e of model.entities) {
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
  const drawn = model.relationships.filter((r) => !isLeftOut(r))
  const references = drawn.filter((r) => r.kind !== 'many-to-many' && !filled.has(r.from.entity))
  const hollow = drawn.filter((r) => r.kind === 'many-to-many' && !r.through?.shortcut)
  const toHub = (r: Relationship) => r.from.entity !== r.to.entity && (hubs.has(r.from.entity) || hubs.has(r.to.entity))
  return {
    plates: model.entities
      .filter((e) => !filled.has(e.id) && !leftOut.has(e.id))
      .map((e) => ({ id: e.id, name: e.name, table: e.relation.name, readOnly: e.readOnly })),
    lines: references.filter((r) => !toHub(r)).map(lineOf),
    beads: [
      ...hollow
        .filter((r) => !toHub(r))
        .map((r): BeadInput => ({ id: r.id, first: r.from.entity, second: r.to.entity, label: r.through?.table.name ?? '', filled: false, state: r.state })),
      ...filled.values(),
    ],
    marks: marksOf(references.filter(toHub), hollow.filter(toHub), hubs, nameOf),
  }
}

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
