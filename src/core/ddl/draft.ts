// The schema while a script is being read: what the statements so far have made, changed and dropped.
import type { Catalog, Relation, RelationAddress } from '../catalog/index.ts'
import type { Name, NamedText } from './statement.ts'
import type { Draft, DraftColumn, DraftKey, DraftRelation, Semantics } from './types.ts'

export type * from './types.ts'

export const at = (schema: string, name: string): string => `${schema}\u0000${name}`

export function newDraft(semantics: Semantics, base: Catalog): Draft {
  return {
    semantics,
    searchPath: semantics.fixedSchema ? [''] : [semantics.defaultSchema],
    schemas: new Map(base.schemas.map((s) => [s.name, { ...s }])),
    extensions: new Map(),
    enums: new Map(),
    domains: new Map(),
    composites: new Map(),
    ranges: new Map(),
    objects: new Map(),
    sequences: new Map(),
    relations: new Map(),
    routines: new Map(),
    unmodelled: new Map(),
    virtual: new Map(),
    temporary: new Set(),
    classNames: new Set(),
    constraintNames: new Set(),
    tableOfIndex: new Map(),
    children: null,
    impliedIndexes: new Set(),
    complain: () => {},
    complainOf: () => {},
    made: () => {},
  }
}

/** The key of names whose letter case tells them apart. */
export const asWritten = (name: string): string => name

/** Key of a relation in the maps. */
export const relationKey = (d: Draft, schema: string, name: string): string => at(schema, d.semantics.relationKey(name))
export const keyOf = (d: Draft, r: RelationAddress): string => relationKey(d, r.schema, r.name)

/** Where a new object goes: its own schema, or the first of the search path. */
export function placeFor(d: Draft, n: Name): RelationAddress {
  if (d.semantics.fixedSchema) return { schema: '', name: n.name }
  return { schema: n.schema ?? d.searchPath[0] ?? d.semantics.defaultSchema, name: n.name }
}

/** An object of this kind by a name as a statement writes it; undefined where there is none. */
export function lookup<T>(d: Draft, map: ReadonlyMap<string, T>, n: Name): T | undefined {
  if (d.semantics.fixedSchema) return map.get(relationKey(d, '', n.name))
  if (n.schema !== null) return map.get(relationKey(d, n.schema, n.name))
  for (const schema of [...d.searchPath, d.semantics.defaultSchema]) {
    const found = map.get(relationKey(d, schema, n.name))
    if (found) return found
  }
  return undefined
}

/** Temporary, or virtual: named by later statements, and no part of what is modelled. */
export function isTemporary(d: Draft, n: Name): boolean {
  const key = d.semantics.relationKey(n.name)
  return d.virtual.has(key) || ((n.schema === null || n.schema === 'pg_temp') && d.temporary.has(key))
}

/** The relation a statement is about; complains and gives null where there is none. */
export function getRelation(d: Draft, n: Name, what = 'relation'): DraftRelation | null {
  const found = lookup(d, d.relations, n)
  if (!found && !isTemporary(d, n)) d.complain({ code: 'unknown-object', what, name: n.schema === null ? n.name : `${n.schema}.${n.name}` })
  return found ?? null
}

export function findColumn(d: Draft, r: DraftRelation, name: string): DraftColumn | undefined {
  for (const c of r.columns) if (c.name === name) return c
  const { columnKey } = d.semantics
  if (columnKey === asWritten) return undefined
  const key = columnKey(name)
  return r.columns.find((c) => columnKey(c.name) === key)
}

/** The column's name as the table has it; as it is written where the table has none of it. */
export const columnName = (d: Draft, r: DraftRelation, name: string): string => findColumn(d, r, name)?.name ?? name

export function newRelation(kind: Relation['kind'], a: RelationAddress): DraftRelation {
  return {
    kind,
    schema: a.schema,
    name: a.name,
    comment: null,
    unlogged: false,
    options: [],
    columns: [],
    primaryKey: null,
    uniques: [],
    foreignKeys: [],
    checks: [],
    indexes: [],
    triggers: [],
    rules: [],
    exclusions: [],
    policies: [],
    inherits: [],
    ofType: null,
    accessMethod: null,
    foreign: null,
    partitionKey: null,
    partitionOf: null,
    definition: null,
    replicaIdentity: { kind: 'default' },
    rowSecurity: 'off',
    dependsOn: [],
  }
}

export function newColumn(name: string, type: string): DraftColumn {
  return {
    name,
    type,
    nullable: true,
    default: null,
    generated: null,
    identity: null,
    onUpdate: null,
    collation: null,
    storage: null,
    compression: null,
    statisticsTarget: null,
    options: [],
    inherited: false,
    comment: null,
  }
}

/** Partitions and children by INHERITS of a table. */
export function childrenOf(d: Draft, r: DraftRelation): readonly DraftRelation[] {
  d.children ??= byParent(d)
  return d.children.get(keyOf(d, r)) ?? []
}

function byParent(d: Draft): ReadonlyMap<string, readonly DraftRelation[]> {
  const map = new Map<string, DraftRelation[]>()
  for (const c of d.relations.values())
    for (const p of [...(c.partitionOf ? [c.partitionOf.parent] : []), ...c.inherits]) map.set(keyOf(d, p), [...(map.get(keyOf(d, p)) ?? []), c])
  return map
}

export const partitionsOf = (d: Draft, r: DraftRelation): readonly DraftRelation[] =>
  r.partitionKey === null ? [] : childrenOf(d, r).filter((c) => c.partitionOf !== null)

/** All keys of a table. */
export const keysOf = (r: DraftRelation): readonly DraftKey[] => [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques]

export const written = (text: string): { written: string; canonical: null } => ({ written: text, canonical: null })

export function putRelation(d: Draft, r: DraftRelation): void {
  d.relations.set(keyOf(d, r), r)
  d.classNames.add(at(r.schema, r.name))
  if (r.partitionOf || r.inherits.length > 0) d.children = null
}

/** Make an index or the index of a key known by its name, which no other relation of the schema may have. */
export function putIndexName(d: Draft, r: DraftRelation, name: string): void {
  const key = at(r.schema, name)
  d.classNames.add(key)
  d.tableOfIndex.set(key, keyOf(d, r))
}

export function dropIndexName(d: Draft, r: DraftRelation, name: string): void {
  d.classNames.delete(at(r.schema, name))
  d.tableOfIndex.delete(at(r.schema, name))
}

/** Take a relation out with all names it held. */
export function removeRelation(d: Draft, r: DraftRelation): void {
  for (const k of keysOf(r)) dropIndexName(d, r, k.name)
  for (const x of r.indexes) dropIndexName(d, r, x.name)
  for (const c of [...keysOf(r), ...r.checks, ...r.foreignKeys]) d.constraintNames.delete(at(r.schema, c.name))
  d.classNames.delete(at(r.schema, r.name))
  d.relations.delete(keyOf(d, r))
  d.children = null
}

/** A statement's text with its name in the schema it went to: another session may look elsewhere. */
export function placedText(d: Draft, { text, namesAt }: NamedText, schema: string): { written: string; canonical: null } {
  if (d.semantics.fixedSchema || schema === '') return written(text)
  const of = `${d.semantics.quote(schema)}.`
  const put = (out: string, { from, to }: NamedText['namesAt'][number]) =>
    to === null ? `${out.slice(0, from)}${of}${out.slice(from)}` : `${out.slice(0, from)}OPERATOR(${of}${out.slice(from, to)})${out.slice(to)}`
  return written(namesAt.toSorted((a, b) => b.from - a.from).reduce(put, text))
}

/** A deep copy of plain data. */
export function cloned<T>(value: T): T {
  if (Array.isArray(value)) return value.map(cloned) as T
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, cloned(v)])) as T
}

/** `schema.name` as a statement writes it. */
export const shown = (n: Name): string => (n.schema === null ? n.name : `${n.schema}.${n.name}`)
