// What keys and indexes say about a set of columns.
import type { Column, Index, KeyConstraint, Relation } from './types.ts'

/** What people call a key: its name, or its columns where the engine gives it none. */
export const keyText = (k: { readonly name: string; readonly columns: readonly string[] }): string => (k.name === '' ? `(${k.columns.join(', ')})` : k.name)

/** A rule that makes a set of columns unique for every row, and what it is called. */
export interface UniqueRule {
  readonly kind: 'primary key' | 'unique constraint' | 'unique index'
  readonly name: string
  readonly columns: readonly string[]
}

const ofKey =
  (kind: UniqueRule['kind']) =>
  (k: KeyConstraint): UniqueRule => ({ kind, name: keyText(k), columns: k.columns })

/** Primary key, unique constraints, and unique indexes over plain columns without a predicate, in this order. */
export function uniqueRules(r: Relation): readonly UniqueRule[] {
  const whole = (x: Index) => x.unique && x.valid && x.predicate === null && x.columns.every((c) => c.column !== null)
  return [
    ...(r.primaryKey ? [ofKey('primary key')(r.primaryKey)] : []),
    ...r.uniques.map(ofKey('unique constraint')),
    ...r.indexes.filter(whole).map((x): UniqueRule => ({ kind: 'unique index', name: x.name, columns: x.columns.map((c) => c.column as string) })),
  ]
}

/** Unique rules none of whose columns is ever null: what could be the primary key of a table that has none. */
export const identityRules = (r: Relation): readonly UniqueRule[] =>
  r.primaryKey ? [] : uniqueRules(r).filter((u) => u.columns.length > 0 && u.columns.every((c) => r.columns.find((x) => x.name === c)?.nullable === false))

/** The rule that makes `columns` unique: its own columns are all among them. Null where none does. */
export function uniqueOver(r: Relation, columns: readonly string[]): UniqueRule | null {
  const set = new Set(columns)
  return uniqueRules(r).find((u) => u.columns.length > 0 && u.columns.every((c) => set.has(c))) ?? null
}

/** The index (a key's own included) whose first columns are these, in any order; null where a search by them reads the whole table. */
export function indexOver(r: Relation, columns: readonly string[]): string | null {
  const set = new Set(columns)
  const leads = (list: readonly (string | null)[]) => list.length >= set.size && list.slice(0, set.size).every((c) => c !== null && set.has(c))
  const key = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques].find((k) => leads(k.columns))
  if (key) return keyText(key)
  return r.indexes.find((x) => x.valid && x.predicate === null && leads(x.columns.map((c) => c.column)))?.name ?? null
}

/** Those of the columns that accept null; `acceptsNull` is the catalog's `nullTest`. */
export function nullableAmong(r: Relation, columns: readonly string[], acceptsNull: (c: Column) => boolean): readonly string[] {
  return r.columns.filter((c) => columns.includes(c.name) && acceptsNull(c)).map((c) => c.name)
}
