// A trial's path in terms of the model: checked before anything is asked.
import type { Comparison, Entity, EntityModel, Property, Relationship, TrialPath, TrialStep } from '../model/index.ts'

/** An end with both its entities and the columns that pair them. */
export interface Leg {
  readonly relationship: Relationship
  readonly own: Entity
  readonly other: Entity
  readonly property: string
  /** Does it lead to at most one? */
  readonly one: boolean
  readonly ownColumns: readonly string[]
  readonly otherColumns: readonly string[]
  /** The join table between them, with its columns for either side; null where one of the two holds the columns. */
  readonly through: { readonly schema: string; readonly name: string; readonly own: readonly string[]; readonly other: readonly string[] } | null
}

export interface Resolved {
  readonly entity: Entity
  readonly conditions: readonly {
    readonly via: readonly Leg[]
    readonly of: Entity
    readonly property: Property
    readonly is: Comparison
    readonly value: string
  }[]
  readonly legs: readonly Leg[]
}

export type Resolution = { readonly ok: true; readonly trial: Resolved } | { readonly ok: false; readonly problem: string }

const entityOf = (model: EntityModel, id: string) => model.entities.find((e) => e.id === id)

/** The end of a step that begins at `own`; null where the model has none such. */
export function legOf(model: EntityModel, own: Entity, s: TrialStep): Leg | null {
  const relationship = model.relationships.find((r) => r.id === s.relationship)
  if (!relationship) return null
  const [end, far] = s.end === 'from' ? [relationship.from, relationship.to] : [relationship.to, relationship.from]
  const other = entityOf(model, far.entity)
  if (end.entity !== own.id || !other) return null
  const t = relationship.through
  return {
    relationship,
    own,
    other,
    property: end.property,
    one: end.leadsTo !== 'any number',
    ownColumns: end.columns,
    otherColumns: far.columns,
    through: t && {
      ...t.table,
      own: s.end === 'from' ? t.fromColumns : t.toColumns,
      other: s.end === 'from' ? t.toColumns : t.fromColumns,
    },
  }
}

function legsOf(model: EntityModel, from: Entity, steps: readonly TrialStep[]): readonly Leg[] | null {
  const legs: Leg[] = []
  for (const s of steps) {
    const leg = legOf(model, legs.at(-1)?.other ?? from, s)
    if (!leg) return null
    legs.push(leg)
  }
  return legs
}

/** The path in terms of the model as it is now; what of it there is not, is said. */
export function resolve(model: EntityModel, path: TrialPath): Resolution {
  const entity = entityOf(model, path.entity)
  if (!entity) return { ok: false, problem: `there is no entity of ${path.entity} in this model` }
  const legs = legsOf(model, entity, path.steps)
  if (!legs) return { ok: false, problem: 'the model has no such relationship there any more' }
  const conditions: Resolved['conditions'][number][] = []
  for (const c of path.conditions) {
    const via = legsOf(model, entity, c.via)
    const of = via?.at(-1)?.other ?? entity
    const property = of.properties.find((p) => p.column === c.column)
    if (!via || !property) return { ok: false, problem: `${of.name} has no property for the column ${c.column}` }
    conditions.push({ via, of, property, is: c.is, value: c.value })
  }
  return { ok: true, trial: { entity, conditions, legs } }
}

/** Steps that can be taken from an entity, in the order of their properties. */
export function stepsFrom(
  model: EntityModel,
  entity: string,
): readonly (TrialStep & { readonly property: string; readonly other: string; readonly one: boolean })[] {
  return model.relationships
    .flatMap((r) =>
      (['from', 'to'] as const).flatMap((end) =>
        r[end].entity === entity
          ? [
              {
                relationship: r.id as string,
                end,
                property: r[end].property,
                other: entityOf(model, r[end === 'from' ? 'to' : 'from'].entity)?.name ?? '',
                one: r[end].leadsTo !== 'any number',
              },
            ]
          : [],
      ),
    )
    .sort((a, b) => (a.property < b.property ? -1 : 1))
}
