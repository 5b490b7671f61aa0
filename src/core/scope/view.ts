// What the scope page shows: one line per relation and routine, with what is left out of it and why one might leave it out.
import { type Catalog, type Column, type Relation, relationText } from '../catalog/index.ts'
import { isNeededByInserts, mayLeaveOut } from './apply.ts'
import { describeLeaveOut, proposeLeavingOut } from './propose.ts'
import { columnSubject, columnTakesPart, relationTakesPart, routineSubject, routineTakesPart, type Scope } from './scope.ts'

export interface ScopeRow {
  /** The subject of its scope edits. */
  readonly id: string
  readonly schema: string
  readonly name: string
  readonly kind: 'table' | 'view' | 'routine'
  /** For people: `partitioned table`, `materialized view`, `function`. */
  readonly what: string
  /** Names of columns that are left out; empty for routines. */
  readonly out: readonly string[]
  readonly columns: number
  readonly takesPart: boolean
  /** Why it is proposed to leave it out; null where it is not. */
  readonly proposal: string | null
}

export interface ScopeView {
  readonly rows: readonly ScopeRow[]
  /** Partitions take part with their parents and have no row of their own. */
  readonly partitions: number
  /** Extensions, whose own objects are in no snapshot. */
  readonly extensions: readonly string[]
}

export const scopeView = (catalog: Catalog, scope: Scope): ScopeView => ({
  rows: scopeRows(catalog, scope),
  partitions: catalog.relations.filter((r) => r.kind === 'partition').length,
  extensions: catalog.extensions.map((e) => e.name),
})

/** One column of a relation on the scope page. */
export interface ScopeColumn {
  readonly id: string
  readonly name: string
  readonly type: string
  readonly takesPart: boolean
  /** Part of the primary key: it cannot be left out. */
  readonly fixed: boolean
  /** Left out, it would make inserts through the model fail. */
  readonly needed: boolean
}

const isView = (r: Relation) => r.kind === 'view' || r.kind === 'materialized view'

/** Partitions are parts of their parents and have no line of their own. In the order of addresses, routines last within a schema. O(columns). */
export function scopeRows(catalog: Catalog, scope: Scope): readonly ScopeRow[] {
  const proposals = new Map(proposeLeavingOut(catalog).map((p) => [p.subject, describeLeaveOut(p.reason)]))
  const relations = catalog.relations
    .filter((r) => r.kind !== 'partition')
    .map((r): ScopeRow => {
      const id = relationText(r)
      const out = r.columns.filter((c) => mayLeaveOut(r, c.name) && !columnTakesPart(scope, r, c.name)).map((c) => c.name)
      return {
        id,
        schema: r.schema,
        name: r.name,
        kind: isView(r) ? 'view' : 'table',
        what: r.kind,
        out,
        columns: r.columns.length,
        takesPart: relationTakesPart(scope, r),
        proposal: proposals.get(id) ?? null,
      }
    })
  const routines = catalog.routines.map(
    (r): ScopeRow => ({
      id: routineSubject(r),
      schema: r.schema,
      name: `${r.name}(${r.argumentTypes})`,
      kind: 'routine',
      what: r.kind,
      out: [],
      columns: 0,
      takesPart: routineTakesPart(scope, r),
      proposal: null,
    }),
  )
  const schemas = [...new Set([...relations, ...routines].map((r) => r.schema))].sort()
  return schemas.flatMap((s) => [...relations.filter((r) => r.schema === s), ...routines.filter((r) => r.schema === s)])
}

/** The columns of one relation; empty where there is none of this address. */
export function scopeColumns(catalog: Catalog, scope: Scope, subject: string): readonly ScopeColumn[] {
  const r = catalog.relations.find((x) => relationText(x) === subject)
  return (r?.columns ?? []).map((c: Column) => ({
    id: columnSubject(r as Relation, c.name),
    name: c.name,
    type: c.type,
    takesPart: !mayLeaveOut(r as Relation, c.name) || columnTakesPart(scope, r as Relation, c.name),
    fixed: !mayLeaveOut(r as Relation, c.name),
    needed: !isView(r as Relation) && isNeededByInserts(c),
  }))
}

/** Why a scope cannot be so; null where it can. A relation or routine that is not there is refused by name, and a column of a primary key stays. */
export function scopeProblem(catalog: Catalog, edits: readonly { readonly subject: string; readonly value: 'in' | 'out' }[]): string | null {
  const known = new Set<string>([...catalog.schemas.map((s) => `schema:${s.name}`), 'schema:', ...catalog.routines.map(routineSubject)])
  const columns = new Map<string, boolean>()
  for (const r of catalog.relations) {
    known.add(relationText(r))
    for (const c of r.columns) columns.set(columnSubject(r, c.name), mayLeaveOut(r, c.name))
  }
  for (const e of edits) {
    if (columns.get(e.subject) === false && e.value === 'out') return `${e.subject} is part of the primary key, and a row without it has no name`
    if (!known.has(e.subject) && !columns.has(e.subject)) return `there is no ${e.subject} in this snapshot`
  }
  return null
}
