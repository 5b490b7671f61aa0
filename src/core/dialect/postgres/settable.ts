// The options that a person can set, by kind of object and version of the server (PostgreSQL manual, CREATE TABLE, CREATE INDEX,
// CREATE VIEW and ALTER TABLE, "Storage Parameters"; held against servers 13 to 18 by tests/differential/settable.test.ts). What a
// server keeps beside them in the same columns of its catalogs is its own: pg_dump does not print it, and it is no structure.

import type { Catalog, Column, Exclusion, Index, KeyConstraint, Relation } from '../../catalog/types.ts'

/** What options hang on. An index by its access method; an operator class by the schema of one that was named, where the server's own stand in pg_catalog. */
export type OptionOwner =
  | { readonly kind: 'column' | 'table' | 'partitioned table' | 'view' }
  | { readonly kind: 'index'; readonly method: string }
  | { readonly kind: 'operator class'; readonly schema: string | null }

/** By name, the first version (as in `server_version_num`, its first two digits) that knows it. */
type Known = Readonly<Record<string, number>>

const everywhere = 9

const vacuuming: Known = {
  autovacuum_enabled: everywhere,
  autovacuum_vacuum_threshold: everywhere,
  autovacuum_vacuum_max_threshold: 18,
  autovacuum_vacuum_scale_factor: everywhere,
  autovacuum_vacuum_insert_threshold: 13,
  autovacuum_vacuum_insert_scale_factor: 13,
  autovacuum_vacuum_cost_delay: everywhere,
  autovacuum_vacuum_cost_limit: everywhere,
  autovacuum_freeze_min_age: everywhere,
  autovacuum_freeze_max_age: everywhere,
  autovacuum_freeze_table_age: everywhere,
  autovacuum_multixact_freeze_min_age: everywhere,
  autovacuum_multixact_freeze_max_age: everywhere,
  autovacuum_multixact_freeze_table_age: everywhere,
  log_autovacuum_min_duration: everywhere,
  vacuum_index_cleanup: 12,
  vacuum_truncate: 12,
  vacuum_max_eager_freeze_failure_rate: 18,
}

const table: Known = {
  ...vacuuming,
  ...Object.fromEntries(Object.entries(vacuuming).map(([name, since]) => [`toast.${name}`, since])),
  fillfactor: everywhere,
  parallel_workers: everywhere,
  toast_tuple_target: 11,
  user_catalog_table: everywhere,
  autovacuum_analyze_threshold: everywhere,
  autovacuum_analyze_scale_factor: everywhere,
}

const byKind: Readonly<Record<Exclude<OptionOwner['kind'], 'index'>, Known>> = {
  column: { n_distinct: everywhere, n_distinct_inherited: everywhere },
  table,
  'partitioned table': {},
  view: { security_barrier: everywhere, check_option: everywhere, security_invoker: 15 },
  'operator class': { siglen: 13, numranges: 13, n_distinct_per_range: 14, false_positive_rate: 14, values_per_range: 14 },
}

const byMethod: Readonly<Record<string, Known>> = {
  btree: { fillfactor: everywhere, vacuum_cleanup_index_scale_factor: 11, deduplicate_items: 13 },
  hash: { fillfactor: everywhere },
  gist: { fillfactor: everywhere, buffering: everywhere },
  spgist: { fillfactor: everywhere },
  gin: { fastupdate: everywhere, gin_pending_list_limit: everywhere },
  brin: { pages_per_range: everywhere, autosummarize: 10 },
}

/** `name=value` → name, as the catalogs keep an option. */
export const optionName = (option: string): string => option.slice(0, option.includes('=') ? option.indexOf('=') : option.length)

function namesFor(owner: OptionOwner): Known | null {
  switch (owner.kind) {
    case 'index':
      return byMethod[owner.method] ?? null
    case 'operator class':
      return owner.schema === null || owner.schema === 'pg_catalog' ? byKind['operator class'] : null
    case 'column':
    case 'table':
    case 'partitioned table':
    case 'view':
      return byKind[owner.kind]
  }
}

/**
 * Can a person set this option? `version` as in server_version_num (150020), or null for a script or a kept snapshot, which say none:
 * then what any version knows. Access methods and operator classes of extensions have options that only they know: theirs all count.
 */
export function isSettable(owner: OptionOwner, name: string, version: number | null): boolean {
  const known = namesFor(owner)
  if (known === null) return true
  const since = Object.hasOwn(known, name.toLowerCase()) ? known[name.toLowerCase()] : undefined
  return since !== undefined && (version === null || Math.floor(version / 10_000) >= since)
}

/** Told of each option that is left out. */
type Told = (owner: OptionOwner['kind'], name: string) => void

/** The list itself where all of it can be set, as nearly always. */
function settableOf(owner: OptionOwner, options: readonly string[], version: number | null, told: Told): readonly string[] {
  if (options.length === 0) return options
  const left = options.filter((o) => !isSettable(owner, optionName(o), version))
  for (const o of left) told(owner.kind, optionName(o))
  return left.length === 0 ? options : options.filter((o) => !left.includes(o))
}

const ownerOf: Readonly<Record<Relation['kind'], 'table' | 'partitioned table' | 'view'>> = {
  table: 'table',
  'partitioned table': 'partitioned table',
  partition: 'table',
  view: 'view',
  'materialized view': 'table',
  'foreign table': 'table',
}

/**
 * The catalog without options that nobody can have set. The same value where there are none; parts without any stay the same values.
 * O(relations + columns + indexes).
 */
export function withSettableOptions(c: Catalog, version: number | null, told: Told = () => {}): Catalog {
  // Nearly nothing has any, and a schema has tens of thousands of columns: nothing is made where there is nothing to look at.
  const only = <T extends { readonly options: readonly string[] }>(owner: OptionOwner, x: T): T => {
    const options = settableOf(owner, x.options, version, told)
    return options === x.options ? x : { ...x, options }
  }
  const key = (k: KeyConstraint) => (k.options.length === 0 ? k : only({ kind: 'index', method: 'btree' }, k))
  const column = (x: Column) => (x.options.length === 0 ? x : only({ kind: 'column' }, x))
  const index = <T extends Index | Exclusion>(x: T): T => {
    const own = x.options.length === 0 ? x : only({ kind: 'index', method: x.method }, x)
    if ('elements' in own) return own
    const columns = same(own.columns, (e) => {
      if (e.operatorClassOptions.length === 0) return e
      const operatorClassOptions = settableOf({ kind: 'operator class', schema: e.operatorClass?.schema ?? null }, e.operatorClassOptions, version, told)
      return operatorClassOptions === e.operatorClassOptions ? e : { ...e, operatorClassOptions }
    })
    return columns === own.columns ? own : { ...own, columns }
  }
  const relations = same(c.relations, (r) => {
    const own = only({ kind: r.partitionKey !== null ? 'partitioned table' : ownerOf[r.kind] }, r)
    const parts = {
      columns: same(r.columns, column),
      primaryKey: r.primaryKey && key(r.primaryKey),
      uniques: same(r.uniques, key),
      indexes: same(r.indexes, index),
      exclusions: same(r.exclusions, index),
    }
    const changed = (Object.keys(parts) as (keyof typeof parts)[]).some((k) => parts[k] !== r[k])
    return changed ? { ...own, ...parts } : own
  })
  return relations === c.relations ? c : { ...c, relations }
}

/** The list itself where nothing in it became another value. */
function same<T>(list: readonly T[], change: (x: T) => T): readonly T[] {
  for (let i = 0; i < list.length; i += 1) {
    const first = change(list[i] as T)
    if (first !== list[i]) return [...list.slice(0, i), first, ...list.slice(i + 1).map(change)]
  }
  return list
}

/** Every name of the lists by what it hangs on, with the first version that knows it: what the tests try on each server. */
export const settableNames: Readonly<Record<string, Known>> = { ...byKind, ...byMethod }

/** Names that columns of tables and views can have, for the query of a survey. */
export const columnOptionNames: readonly string[] = Object.keys(byKind.column)
