// The migration between two Catalogs: what differs, in an order that works, with the way back (manual 5.14, Dependency Tracking).
import { type Catalog, canonicalText, compareCatalogs, hashText, isWritten, sortCatalog } from '../catalog/index.ts'
import { order } from './arrange.ts'
import { type PlanResult, searchPathOf } from './baseline.ts'
import type { Conversions } from './conversion.ts'
import { canCopy } from './copies.ts'
import { groundOf } from './needs.ts'
import { changes } from './nodesBetween.ts'
import { typesTogether } from './oneStatement.ts'
import { assemble, type Part, type Parts, partsOf, relationKey } from './parts.ts'
import { type Plan, type Step, searchPathSetting } from './plan.ts'
import type { Rename } from './renames.ts'
import { namesBefore, renaming } from './renaming.ts'
import { afterRefresh, partText } from './statements.ts'
import { statuses } from './statuses.ts'
import type { Change, Making } from './step.ts'
import { valueChange } from './valueChange.ts'

export interface ChangeOptions {
  readonly title: string
  /** In the order in which they are carried out. */
  readonly renames?: readonly Rename[]
  readonly conversions?: Conversions
  /** Statements that were agreed to, each before the first step with the pre-check of that id. */
  readonly cleanings?: readonly { readonly check: string; readonly sql: string; readonly says: string }[]
}

export interface Changed {
  readonly plan: Plan
  /** The catalog that the plan leads to: the wished one, but for what `plan.leaves` tells. */
  readonly reaches: Catalog
}

export type ChangeResult = { readonly ok: true; readonly changed: Changed } | Extract<PlanResult, { ok: false }>

/** What is only true of a catalog as a whole, and is not part of a change. */
const comparable = (c: Catalog): Catalog => ({
  ...c,
  relations: c.relations.map((r) => ({ ...r, dependsOn: [] })),
  domains: c.domains.map((r) => ({ ...r, dependsOn: [] })),
  composites: c.composites.map((r) => ({ ...r, dependsOn: [] })),
  ranges: c.ranges.map((r) => ({ ...r, dependsOn: [] })),
  routines: c.routines.map((r) => ({ ...r, dependsOn: [] })),
  objects: c.objects.map((r) => ({ ...r, dependsOn: [] })),
  unmodelled: [],
})

/**
 * The plan from one PostgreSQL catalog to another. Equal catalogs give a plan without steps. Renames are those that are given and no
 * others. A cycle of needs is refused with its members. O(parts × needs + steps log steps).
 */
export function changePlan(from: Catalog, to: Catalog, o: ChangeOptions): ChangeResult {
  if (from.dialect !== 'postgresql' || to.dialect !== 'postgresql')
    return { ok: false, problem: { code: 'dialect', dialect: from.dialect === 'postgresql' ? to.dialect : from.dialect } }
  const start = sortCatalog(from)
  const end = sortCatalog(to)
  const first = renaming(start, end, o.renames ?? [])
  if ('problem' in first) return { ok: false, problem: { code: 'rename', because: first.problem } }
  const ga = groundOf(first.catalog, partsOf(first.catalog), o.conversions)
  const gb = groundOf(end, partsOf(end))
  const found = statuses(ga, gb)
  const stuck = [...found.of].flatMap(([key, s]) => {
    const part = gb.parts.get(key)
    const was = part?.kind === 'table' ? ga.relation(part.value) : undefined
    return s.what === 'anew' && was && part && !was.partitionOf && !canCopy(was, gb.relation(was), ga, gb)
      ? [{ object: partText(part), because: s.because }]
      : []
  })
  const entwined = [...found.of].flatMap(([key, s]) => {
    const part = gb.parts.get(key) ?? ga.parts.get(key)
    const ofFunctions =
      (part?.kind === 'object' && part.value.kind === 'type' && part.value.definition.length > 1) || (part?.kind === 'range' && part.value.canonical !== null)
    return ofFunctions && part && s.what !== 'same' && s.what !== 'alter' ? [partText(part)] : []
  })
  if (entwined.length > 0) return { ok: false, problem: { code: 'two steps', objects: entwined } }
  const unsaid = [...found.of].flatMap(([key, s]) => {
    const [a, b] = [ga.parts.get(key), gb.parts.get(key)]
    const changes = s.what === 'alter' || (a?.kind === 'column' && found.of.get(relationKey(a.on))?.what === 'anew')
    const asked = changes && a?.kind === 'column' && b?.kind === 'column' && a.value.type !== b.value.type
    return asked && valueChange(a, b, ga, gb) === null ? [{ object: partText(a), from: a.value.type, to: b.value.type }] : []
  })
  if (unsaid.length > 0) return { ok: false, problem: { code: 'values', columns: unsaid } }
  if (stuck.length > 0) return { ok: false, problem: { code: 'rebuild', tables: stuck } }
  const making = (deferred: ReadonlySet<string>): Making => ({ ga, gb, statuses: found, deferred, added: places(gb.parts) })
  let m = making(new Set())
  let list = changes(m)
  let ordered = order(typesTogether(list, m), m)
  // One statement for all of a table has the needs of all its columns: where those go round in a circle, each has its own.
  if (!ordered.ok) ordered = order(list, m)
  if (!ordered.ok) {
    m = making(new Set(ordered.stuck.filter((c) => c.phase === 'make' && gb.parts.get(c.key)?.kind === 'table').map((c) => c.key)))
    list = changes(m)
    ordered = order(list, m)
  }
  if (!ordered.ok) return { ok: false, problem: { code: 'cycle', members: ordered.stuck.map((c) => `${c.object} ${c.says}`) } }
  const searchPath = isWritten(end) ? searchPathOf(end) : []
  const asked = namesBefore(first.renames)
  const steps = numbered(cleaned([...first.changes, ...ordered.order.map(asked)], o.cleanings ?? []), searchPathSetting({ searchPath }, true))
  const parts = new Map<string, Part>(partsOf(start))
  for (const s of steps)
    for (const [key, p] of s.sets)
      if (p === null) parts.delete(key)
      else parts.set(key, p)
  const reaches = closed(assemble('postgresql', parts), end)
  return {
    ok: true,
    changed: {
      reaches,
      plan: {
        format: 'pelvok.plan/1',
        dialect: 'postgresql',
        title: o.title,
        from: hashText(canonicalText(start)),
        to: hashText(canonicalText(reaches)),
        searchPath,
        steps,
        notSupported: end.unmodelled.filter((u) => !start.unmodelled.some((w) => w.kind === u.kind && w.identity === u.identity)),
        leaves: compareCatalogs(comparable(end), comparable(reaches)).map((d) =>
          d.field.endsWith('columns order')
            ? `${d.object}: its columns stand in the order ${d.is}, not ${d.was}; no statement moves a column`
            : `${d.object} ${d.field}: stays ${d.is ?? 'absent'}, where ${d.was ?? 'nothing'} was wished`,
        ),
      },
    },
  }
}

/** Dependencies, and texts the server has printed, are those of the wished catalog where its parts are. */
function closed(reached: Catalog, end: Catalog): Catalog {
  const needs = new Map(end.relations.map((r) => [relationKey(r), r]))
  const kept = <T extends { readonly dependsOn: unknown }>(list: readonly T[], wished: readonly T[], name: (o: T) => string): readonly T[] => {
    const by = new Map(wished.map((o) => [name(o), o]))
    return list.map((o) => ({ ...o, dependsOn: by.get(name(o))?.dependsOn ?? o.dependsOn }))
  }
  const named = (o: { readonly schema: string; readonly name: string }) => `${o.schema}\u0000${o.name}`
  return sortCatalog({
    ...reached,
    relations: reached.relations.map((r) => ({ ...r, dependsOn: needs.get(relationKey(r))?.dependsOn ?? r.dependsOn })),
    domains: kept(reached.domains, end.domains, named),
    composites: kept(reached.composites, end.composites, named),
    ranges: kept(reached.ranges, end.ranges, named),
    routines: kept(reached.routines, end.routines, (r) => `${named(r)}(${r.argumentTypes})`),
    objects: kept(reached.objects, end.objects, (x) => `${x.kind}\u0000${named(x)}`),
    unmodelled: end.unmodelled,
  })
}

/** Where each column stands in its wished table. */
function places(parts: Parts): ReadonlyMap<string, number> {
  return new Map([...parts].flatMap(([key, p]) => (p.kind === 'column' ? [[key, p.place] as const] : [])))
}

/** Rows are cleaned before the step that they would stop; what the step asked beforehand is answered by that, and is not asked any more. */
function cleaned(list: readonly Change[], cleanings: NonNullable<ChangeOptions['cleanings']>): readonly Change[] {
  if (cleanings.length === 0) return list
  return list.flatMap((c) => {
    const own = cleanings.filter((k) => c.preChecks.some((p) => p.id === k.check))
    if (own.length === 0) return [c]
    const steps = own.map(
      (k): Change => ({
        key: '',
        phase: 'alter',
        rank: 0,
        kind: 'rows',
        object: `rows before ${c.object}`,
        says: k.says,
        up: {
          sql: [k.sql],
          locks: [],
          hazards: [{ code: 'no-way-back', object: `rows before ${c.object}`, because: `${k.says}, and what was there is not kept` }],
        },
        down: [],
        running: 'alone',
        preChecks: [],
        probe: null,
        sets: [],
      }),
    )
    return [...steps, { ...c, preChecks: c.preChecks.filter((p) => !own.some((k) => k.check === p.id)) }]
  })
}

/** Steps with their numbers, and consecutive ones that may in one transaction. */
function numbered(list: readonly Change[], path: string): readonly Step[] {
  // What fills a materialized view ran under the reader's own search path.
  const placed = (sql: readonly string[]) => sql.map((text) => (text === afterRefresh ? path : text))
  let transaction = 0
  let open = false
  return list.map((c, i): Step => {
    if (c.running === 'together' && !open) transaction += 1
    if (c.running === 'alone') transaction += 1
    open = c.running === 'together'
    return {
      number: i + 1,
      kind: c.kind,
      object: c.object,
      says: c.says,
      up: placed(c.up.sql),
      down: placed(c.down),
      transaction: c.running === 'outside' ? null : transaction,
      locks: merged(c.up.locks),
      hazards: c.up.hazards,
      preChecks: c.preChecks,
      probe: c.probe,
      sets: c.sets,
    }
  })
}

/** One lock per relation, the strongest. */
function merged(locks: Step['locks']): Step['locks'] {
  return locks.filter((l, i) => !locks.some((o, j) => o.relation === l.relation && (stronger(o.mode, l.mode) || (o.mode === l.mode && j < i))))
}

const strength = ['access share', 'row share', 'row exclusive', 'share update exclusive', 'share', 'share row exclusive', 'exclusive', 'access exclusive']
const stronger = (a: string, b: string) => strength.indexOf(a) > strength.indexOf(b)
