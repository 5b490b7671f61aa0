// A catalog without what is left out of the scope.
import type { Catalog, Column, Relation } from '../catalog/index.ts'
import { columnTakesPart, relationTakesPart, routineTakesPart, type Scope } from './scope.ts'

/** A column of the primary key always takes part: without it no row has a name. */
export const mayLeaveOut = (r: Relation, column: string): boolean => !(r.primaryKey?.columns.includes(column) ?? false)

/** Would an INSERT that does not name this column fail? */
export const isNeededByInserts = (c: Column): boolean => !c.nullable && c.default === null && c.generated === null && c.identity === null

function withoutColumns(r: Relation, scope: Scope): Relation {
  const out = new Set(r.columns.filter((c) => mayLeaveOut(r, c.name) && !columnTakesPart(scope, r, c.name)).map((c) => c.name))
  if (out.size === 0) return r
  const whole = (columns: readonly string[]) => columns.every((c) => !out.has(c))
  return {
    ...r,
    columns: r.columns.filter((c) => !out.has(c.name)),
    uniques: r.uniques.filter((k) => whole(k.columns)),
    foreignKeys: r.foreignKeys.filter((k) => whole(k.columns)),
    indexes: r.indexes.filter((x) => whole(x.columns.flatMap((c) => c.column ?? []))),
    exclusions: r.exclusions.filter((x) => whole(x.elements.flatMap((e) => e.column ?? []))),
  }
}

/**
 * The catalog as it takes part, for inference, the model and code; a plan is always made of the whole. The same object where
 * nothing is left out. Keys to a table that is left out stay, and are told as leading outside. O(columns).
 */
export function scopedCatalog(catalog: Catalog, scope: Scope): Catalog {
  if (scope.key === '') return catalog
  return {
    ...catalog,
    relations: catalog.relations.filter((r) => relationTakesPart(scope, r)).map((r) => withoutColumns(r, scope)),
    routines: catalog.routines.filter((r) => routineTakesPart(scope, r)),
  }
}
