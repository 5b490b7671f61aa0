// In what order rows come and go: what must be there before a row, and what deleting one does to the rows that refer to it.
import { type Catalog, compareText, nullableAmong, type ReferentialAction, relationText } from '../catalog/index.ts'
import { strongComponents } from '../graph/components.ts'
import { acceptsNullIn, isView } from '../views/index.ts'
import type { EntityId, EntityModel } from './entityModel.ts'

/** One reference between two relations, join tables included. */
export interface RowLink {
  readonly child: EntityId
  readonly parent: EntityId
  readonly columns: readonly string[]
  /** Null where nothing in the database knows of it. */
  readonly onDelete: ReferentialAction | null
  /** May the columns be empty at first? */
  readonly optional: boolean
  /** May the database be told to look only at the end of a transaction? */
  readonly deferrable: boolean
}

/** References that are declared, and those the model has without a declaration; in order of child and columns. */
export function rowLinks(catalog: Catalog, model: EntityModel): readonly RowLink[] {
  const acceptsNull = acceptsNullIn(catalog)
  const relations = new Map(catalog.relations.filter((r) => r.kind !== 'partition').map((r) => [relationText(r), r]))
  const declared = [...relations.values()].flatMap((r) =>
    r.foreignKeys.flatMap((k): RowLink[] => {
      const parent = relationText({ schema: k.target.schema, name: k.target.table })
      if (!relations.has(parent)) return []
      const optional = nullableAmong(r, k.columns, acceptsNull).length > 0
      return [
        {
          child: relationText(r) as EntityId,
          parent: parent as EntityId,
          columns: k.columns,
          onDelete: k.onDelete,
          optional,
          deferrable: k.deferrable !== 'no',
        },
      ]
    }),
  )
  // Rows of a view come and go with those of its tables.
  const views = new Set<string>(catalog.relations.filter(isView).map(relationText))
  const keyOf = (l: Pick<RowLink, 'child' | 'parent' | 'columns'>) => JSON.stringify([l.child, l.parent, l.columns.toSorted()])
  const known = new Set(declared.map(keyOf))
  const others = [
    ...model.relationships.flatMap((r) =>
      r.through || views.has(r.from.entity)
        ? []
        : [{ child: r.from.entity, parent: r.to.entity, columns: r.from.columns, optional: r.from.leadsTo !== 'exactly one' }],
    ),
    ...model.joinHalves.map((h) => ({ child: relationText(h.table) as EntityId, parent: h.target, columns: h.columns, optional: false })),
  ].filter((l) => !known.has(keyOf(l)))
  return [...declared, ...others.map((l): RowLink => ({ ...l, onDelete: null, deferrable: false }))].toSorted(
    (a, b) => compareText(a.child, b.child) || compareText(a.columns.join(), b.columns.join()),
  )
}

/** Relations that can only be filled together, and how: by a link whose columns may wait, or whose rule may. */
export interface Cycle {
  readonly members: readonly EntityId[]
  /** Links within the cycle that can be written later; empty where rows can only be written with the rules off. */
  readonly breaks: readonly { readonly link: RowLink; readonly how: 'null at first' | 'deferred' }[]
}

export interface FillOrder {
  /** Relations in portions: each refers to earlier ones only, so those of one can be filled together. The reverse is the order for deleting. Members of a cycle stand in one. */
  readonly portions: readonly (readonly EntityId[])[]
  readonly cycles: readonly Cycle[]
}

/** O(relations + links). A relation that refers to itself is in no cycle: its first row refers to none, or to itself. */
export function fillOrder(relations: readonly EntityId[], links: readonly RowLink[]): FillOrder {
  const parents = new Map<string, string[]>()
  for (const l of links) if (l.child !== l.parent) parents.set(l.child, [...(parents.get(l.child) ?? []), l.parent])
  const groups = strongComponents(relations, (id) => parents.get(id) ?? [])
  const portionOf = new Map<string, number>()
  const portions: EntityId[][] = []
  // Children lead to parents, so the parents come last.
  for (const group of groups.toReversed()) {
    const needed = group.flatMap((id) => (parents.get(id) ?? []).filter((p) => !group.includes(p)))
    const at = needed.reduce((n, p) => Math.max(n, (portionOf.get(p) ?? -1) + 1), 0)
    for (const id of group) portionOf.set(id, at)
    const portion = portions[at] ?? []
    portions[at] = portion
    portion.push(...(group as readonly EntityId[]))
  }
  const cycles = groups
    .filter((g) => g.length > 1)
    .map((members): Cycle => {
      const within = links.filter((l) => l.child !== l.parent && members.includes(l.child) && members.includes(l.parent))
      return {
        members: members as readonly EntityId[],
        breaks: within.flatMap((link): Cycle['breaks'] =>
          link.optional ? [{ link, how: 'null at first' }] : link.deferrable ? [{ link, how: 'deferred' }] : [],
        ),
      }
    })
  return { portions: portions.map((p) => p.toSorted(compareText)), cycles }
}

/** A cycle as a sentence: what is filled together, and what may come later. */
export function cycleSentence({ members, breaks }: Cycle): string {
  const how = breaks.map(({ link, how: way }) => laterText(link, way))
  return `${members.map(nameOf).join(', ')}: ${how.length > 0 ? `${how.join(', and ')}` : 'nothing in it may come later, so its rows go in only while the rules are off'}`
}

const laterText = (link: RowLink, how: Cycle['breaks'][number]['how']) =>
  `${nameOf(link.child)}(${link.columns.join(', ')}) ${how === 'deferred' ? 'is checked at the end of a transaction' : 'may be null at first'}`

export type DeleteEffect = 'removes' | 'blocks' | 'sets null' | 'sets default' | 'leaves behind'

export interface DeleteStep {
  /** 1 for rows that refer to the deleted one, 2 for those that refer to them. */
  readonly level: number
  readonly effect: DeleteEffect
  readonly link: RowLink
}

const effects: Readonly<Record<ReferentialAction, DeleteEffect>> = {
  cascade: 'removes',
  restrict: 'blocks',
  'no action': 'blocks',
  'set null': 'sets null',
  'set default': 'sets default',
}

/** What deleting one row does, level by level; rows that a cascade removes are followed on, each relation once. */
export function deletionOf(from: EntityId, links: readonly RowLink[]): readonly DeleteStep[] {
  const steps: DeleteStep[] = []
  const seen = new Set<EntityId>([from])
  let gone: readonly EntityId[] = [from]
  for (let level = 1; gone.length > 0; level += 1) {
    const here = links
      .filter((l) => gone.includes(l.parent))
      .map((link): DeleteStep => ({ level, effect: link.onDelete ? effects[link.onDelete] : 'leaves behind', link }))
    steps.push(...here)
    gone = [...new Set(here.flatMap((s) => (s.effect === 'removes' && !seen.has(s.link.child) ? [s.link.child] : [])))]
    for (const id of gone) seen.add(id)
  }
  return steps
}

const nameOf = (id: EntityId) => id.replaceAll('%20', ' ')
const verbs: Readonly<Record<DeleteEffect, string>> = {
  removes: 'removes',
  blocks: 'is refused while there are',
  'sets null': 'empties the reference of',
  'sets default': 'sets the default reference of',
  'leaves behind': 'leaves behind, pointing nowhere,',
}

/** What must be there before a row of this relation, what cycle it is in, and what deleting one does: a sentence each, in that order. */
export function lifecycleSentences(id: EntityId, links: readonly RowLink[], cycles: readonly Cycle[]): readonly string[] {
  const needs = [...new Set(links.filter((l) => l.child === id && l.parent !== id && !l.optional).map((l) => nameOf(l.parent)))]
  const cycle = cycles.find((c) => c.members.includes(id))
  const breaks = cycle?.breaks.map(({ link, how }) => laterText(link, how))
  return [
    ...(needs.length > 0 ? [`A row needs one of ${needs.join(', ')} first.`] : []),
    ...(cycle && breaks
      ? [
          `It is in a cycle with ${cycle.members
            .filter((m) => m !== id)
            .map(nameOf)
            .join(', ')}; ${breaks.length > 0 ? `${breaks.join(', and ')}.` : 'nothing in it may come later, so its rows go in only while the rules are off.'}`,
        ]
      : []),
    ...deletionOf(id, links).map(
      (s) =>
        `${s.level === 1 ? 'Deleting one' : `At level ${s.level} it`} ${verbs[s.effect]} rows of ${nameOf(s.link.child)} (by ${s.link.columns.join(', ')}).`,
    ),
  ]
}
