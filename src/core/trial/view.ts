// What the page of a trial needs to know of the model, for the path it stands on.
import type { EntityModel, TrialPath, TrialStep } from '../model/index.ts'
import { resolve, stepsFrom } from './path.ts'

export interface TrialPlace {
  readonly id: string
  readonly name: string
  readonly properties: readonly { readonly name: string; readonly column: string; readonly type: string }[]
  readonly steps: readonly (TrialStep & { readonly property: string; readonly other: string; readonly one: boolean })[]
}

export interface TrialView {
  readonly entities: readonly { readonly id: string; readonly name: string }[]
  readonly path: TrialPath
  /** The entity, and what each step leads to. */
  readonly places: readonly TrialPlace[]
  /** What the entity's own steps lead to, for conditions on it. */
  readonly beside: readonly { readonly step: TrialStep; readonly property: string; readonly place: TrialPlace }[]
  /** Why the path that was asked for is not this one. */
  readonly problem: string | null
}

function placeOf(model: EntityModel, id: string): TrialPlace {
  const e = model.entities.find((x) => x.id === id)
  return {
    id,
    name: e?.name ?? id,
    properties: e?.properties.map((p) => ({ name: p.name, column: p.column, type: p.type })) ?? [],
    steps: stepsFrom(model, id),
  }
}

/** `wanted` null: the first entity in order of names, with nothing followed. A path that the model does not have falls back to its entity. */
export function trialView(model: EntityModel, wanted: TrialPath | null): TrialView {
  const entities = model.entities.map((e) => ({ id: e.id as string, name: e.name })).sort((a, b) => (a.name < b.name ? -1 : 1))
  const plain = (entity: string): TrialPath => ({ entity, conditions: [], steps: [] })
  const first = plain(entities[0]?.id ?? '')
  const found = wanted === null ? null : resolve(model, wanted)
  const path = wanted === null ? first : found?.ok ? wanted : entities.some((e) => e.id === wanted.entity) ? plain(wanted.entity) : first
  const now = resolve(model, path)
  const ids = now.ok ? [now.trial.entity.id as string, ...now.trial.legs.map((l) => l.other.id as string)] : []
  const own = stepsFrom(model, path.entity)
  const beside = own.flatMap((s) => {
    const r = model.relationships.find((x) => x.id === s.relationship)
    const step: TrialStep = { relationship: s.relationship, end: s.end }
    return r ? [{ step, property: s.property, place: placeOf(model, r[s.end === 'from' ? 'to' : 'from'].entity) }] : []
  })
  return { entities, path, places: ids.map((id) => placeOf(model, id)), beside, problem: found && !found.ok ? found.problem : null }
}
