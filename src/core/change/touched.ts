// Which relations the steps of a plan are about, and which they lock: what a map marks.
import { type Catalog, columnsText, type ForeignKey, type Relation, type RelationAddress, relationText } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { hangs, type Part, partsOf } from './parts.ts'
import type { Plan, Step } from './plan.ts'
import { partText } from './statements.ts'

/** What becomes of a relation; `locked`: it stays as it is, and waits while others change. */
export type Becomes = 'made' | 'dropped' | 'changed' | 'locked'

/** Relations by their text, `field.crate`. */
export interface StepTouch {
  readonly about: readonly string[]
  /** Those that it locks besides. */
  readonly locks: readonly string[]
}

export interface Touched {
  /** What the plan leads to, and what it drops beside it. */
  readonly catalog: Catalog
  readonly becomes: Readonly<Record<string, Becomes>>
  /** Columns of references that are declared on a relation that there is already, as `field.crate(bay_id)`. */
  readonly declared: readonly string[]
  /** In the order of the steps. */
  readonly steps: readonly StepTouch[]
}

function relationOf(p: Part): RelationAddress | null {
  if (hangs(p)) return p.on
  if (p.kind === 'table' || p.kind === 'view') return p.value
  if (p.kind === 'owner' && p.value.ownedBy) return { schema: p.value.ownedBy.schema, name: p.value.ownedBy.table }
  return null
}

/** Relations that the plan names otherwise: from the text before to the text after. */
function renamesOf(plan: Plan, relationAt: ReadonlyMap<string, string>): ReadonlyMap<string, string> {
  const found = new Map<string, string>()
  for (const s of plan.steps) {
    if (s.kind !== 'rename') continue
    const made = s.sets.flatMap(([, p]) => (p?.kind === 'table' || p?.kind === 'view' ? [relationText(p.value)] : []))
    const was = relationAt.get(s.object)
    if (was !== undefined && made.length === 1) found.set(was, made[0] as string)
  }
  return found
}

/** `base`: what the plan begins with; null for an empty database. */
export function touchedBy(plan: Plan, base: Catalog | null, expected: Catalog): Touched {
  const relationAt = new Map<string, string>()
  for (const p of [...(base ? partsOf(base).values() : []), ...partsOf(expected).values()]) {
    const address = relationOf(p)
    if (!address) continue
    relationAt.set(partText(p), relationText(address))
    if (p.kind === 'table' || p.kind === 'view') relationAt.set(pg.quoteAddress(p.value), relationText(address))
  }
  const renames = renamesOf(plan, relationAt)
  const now = (relation: string | undefined): readonly string[] => (relation === undefined ? [] : [renames.get(relation) ?? relation])
  const steps = plan.steps.map((s) => stepTouch(s, (text) => now(relationAt.get(text))))

  const there = new Set(expected.relations.map(relationText))
  const before = new Map(base?.relations.map((r) => [now(relationText(r))[0] as string, r]))
  const gone = base?.relations.filter((r) => !there.has(now(relationText(r))[0] as string)) ?? []
  const becomes: Record<string, Becomes> = {}
  // Everything is new in an empty database: nothing stands out.
  if (base) {
    for (const r of expected.relations) if (!before.has(relationText(r))) becomes[relationText(r)] = 'made'
    for (const r of gone) becomes[relationText(r)] = 'dropped'
    for (const t of steps) for (const r of t.about) becomes[r] ??= 'changed'
    for (const t of steps) for (const r of t.locks) becomes[r] ??= 'locked'
  }
  const kept = new Set([...there, ...gone.map(relationText)])
  return {
    catalog: {
      ...expected,
      relations: [
        ...expected.relations,
        ...gone.map((r) => ({ ...r, foreignKeys: r.foreignKeys.filter((k) => kept.has(relationText({ schema: k.target.schema, name: k.target.table }))) })),
      ],
    },
    becomes,
    declared: expected.relations.flatMap((r) => declaredOn(r, before.get(relationText(r)))),
    steps,
  }
}

/** By its columns, or where one of those was renamed by its name. */
const same = (a: ForeignKey, b: ForeignKey) => a.columns.join('\n') === b.columns.join('\n') || (a.name !== '' && a.name === b.name)

const declaredOn = (r: Relation, was: Relation | undefined): readonly string[] =>
  was ? r.foreignKeys.filter((k) => !was.foreignKeys.some((o) => same(k, o))).map((k) => columnsText(r, k.columns)) : []

function stepTouch(s: Step, at: (text: string) => readonly string[]): StepTouch {
  const about = at(s.object.replace(/^rows (before|of) /, ''))
  const locks = [...new Set(s.locks.flatMap((l) => at(l.relation)))].filter((r) => !about.includes(r))
  return { about, locks }
}
