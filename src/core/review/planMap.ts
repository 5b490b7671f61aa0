// The map of a plan: what the schema is once it has run, with what each step touches.
import { relationText, type Statistics } from '../catalog/index.ts'
import type { Becomes, Touched } from '../change/index.ts'
import { foldAreas, type LedgerEntry } from '../model/index.ts'
import { mapOf, type Scene, wholeMap } from '../strata/index.ts'
import { isView } from '../views/index.ts'
import { platesOf } from './docket.ts'
import type { Review, ReviewBase } from './review.ts'

/** What the server gives for the map of a plan. */
export interface PlanMapSource {
  readonly touched: Touched
  /** As the ledger encodes them. */
  readonly entries: readonly unknown[]
  readonly statistics: Statistics
  /** Hash of the rows read as evidence; null where none were. */
  readonly rows: string | null
  /** Key of the findings where they are those of the snapshot; null where they have to be worked out. */
  readonly findings: string | null
}

export interface StepOnMap {
  /** What it is about, as the map selects it; null where that is not drawn. */
  readonly selected: string | null
  /** Plates and beads it is about. */
  readonly about: readonly string[]
  /** Plates to light up: those, what they join, and what it locks. */
  readonly plates: readonly string[]
}

export interface PlanMap {
  readonly scene: Scene
  /** By the id of a plate or a bead, or of the line of a reference that is declared. */
  readonly becomes: Readonly<Record<string, Becomes>>
  /** In the order of the steps. */
  readonly steps: readonly StepOnMap[]
  /** Relations that the plan touches and that are not drawn: they do not take part. */
  readonly absent: readonly string[]
  /** Is this all there is? */
  readonly whole: boolean
}

/** `whole`: everything; else what the plan changes, and what is one step from it. `base`: of what `touched` leads to. */
export function planMap(
  base: ReviewBase,
  review: Review,
  entries: readonly LedgerEntry[],
  statistics: Statistics | null,
  touched: Touched,
  whole: boolean,
): PlanMap {
  const { model } = review
  const entities = new Set<string>(model.entities.map((e) => e.id))
  const joined = new Map(model.relationships.flatMap((r) => (r.through ? [[relationText(r.through.table), r.id as string] as const] : [])))
  const parents = new Map(touched.catalog.relations.flatMap((r) => (r.partitionOf ? [[relationText(r), relationText(r.partitionOf.parent)] as const] : [])))
  /** The entity or join that stands for a relation: its own, or the partitioned table's. */
  const standsFor = (relation: string): string | null => {
    if (entities.has(relation)) return relation
    const parent = parents.get(relation)
    return joined.get(relation) ?? (parent === undefined ? null : standsFor(parent))
  }
  const ends = (id: string) => (entities.has(id) ? [id] : platesOf(id, model, entities))
  const changed = Object.keys(touched.becomes).filter((r) => touched.becomes[r] !== 'locked')
  const focus = { ids: [...new Set(changed.flatMap((r) => ends(standsFor(r) ?? '')))], depth: 1 }
  const all = whole || focus.ids.length === 0
  // Views that the plan touches are seen one by one.
  const views = base.catalog.relations.some((r) => isView(r) && touched.becomes[relationText(r)] !== undefined) ? 'all' : []
  const scene = mapOf(base.catalog, base.findings, model, statistics, foldAreas(entries), { ...wholeMap, views, focus: all ? null : focus })
  const plates = new Set(scene.plates.map((p) => p.id))
  const drawn = new Set([...plates, ...scene.beads.map((b) => b.id)])
  const becomes: Record<string, Becomes> = {}
  const absent: string[] = []
  for (const [relation, what] of Object.entries(touched.becomes)) {
    const id = standsFor(relation)
    if (id === null || !drawn.has(id)) {
      absent.push(relation)
      continue
    }
    // A partition that comes or goes changes the table it is of.
    const here = id === relation || joined.has(relation) ? what : what === 'locked' ? what : 'changed'
    if (becomes[id] === undefined || becomes[id] === 'locked') becomes[id] = here
  }
  const declared = new Set(touched.declared.map((r) => `reference:${r}`))
  for (const l of scene.lines) if (declared.has(l.id)) becomes[l.id] = 'made'
  const lit = (relation: string) => {
    const id = standsFor(relation)
    return id === null ? [] : platesOf(entities.has(id) ? `entity:${id}` : id, model, plates).filter((p) => plates.has(p))
  }
  const steps = touched.steps.map((t): StepOnMap => {
    const about = [...new Set(t.about.flatMap((r) => standsFor(r) ?? []))].filter((id) => drawn.has(id))
    const first = about[0]
    return {
      selected: first === undefined ? null : entities.has(first) ? `entity:${first}` : first,
      about,
      plates: [...new Set([...t.about, ...t.locks].flatMap(lit))],
    }
  })
  return { scene, becomes, steps, absent, whole: all }
}
