// The catalog while edits are carried out on it, and what all of them look up and put back.
import { type Catalog, type Column, isAddress, type Relation, type RelationAddress, relationText } from '../catalog/index.ts'
import type { Conversion } from './conversion.ts'
import type { Rename } from './renames.ts'

import type { EditOf } from './schemaEdit.ts'

export class Refusal extends Error {}

export interface State {
  catalog: Catalog
  renames: Rename[]
  conversions: Map<string, Conversion>
  cleanings: EditOf<'clean rows'>[]
}

export const find = (c: Catalog, a: RelationAddress) => c.relations.find((r) => isAddress(r, a))

export function get(c: Catalog, a: RelationAddress): Relation {
  const r = find(c, a)
  if (!r) throw new Refusal(`there is no ${relationText(a)}`)
  if (r.kind === 'view' || r.kind === 'materialized view') throw new Refusal(`${relationText(a)} is a view`)
  return r
}

export function getColumn(r: Relation, n: string): Column {
  const c = r.columns.find((x) => x.name === n)
  if (!c) throw new Refusal(`${relationText(r)} has no column ${n}`)
  return c
}

export function put(s: State, r: Relation): void {
  s.catalog = { ...s.catalog, relations: s.catalog.relations.map((x) => (isAddress(x, r) ? r : x)) }
}

/** A column of a partitioned table, and the same of its partitions and children. */
export function family(c: Catalog, r: Relation): readonly Relation[] {
  const children = c.relations.filter((x) => x.inherits.some((p) => isAddress(p, r)) || (x.partitionOf !== null && isAddress(x.partitionOf.parent, r)))
  return [r, ...children.flatMap((x) => family(c, x))]
}

export function putColumn(s: State, r: Relation, n: string, of: (c: Column) => Column): void {
  getColumn(r, n)
  for (const x of family(s.catalog, r)) put(s, { ...x, columns: x.columns.map((c) => (c.name === n ? of(c) : c)) })
}

export const sameList = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((x, i) => x === b[i])

/** A name of the relation's schema, or of its constraints, that is taken. */
export function checkName(c: Catalog, r: Relation, n: string, inSchema: boolean): void {
  const own = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques, ...r.foreignKeys, ...r.checks, ...r.exclusions, ...r.indexes]
  const others = inSchema
    ? c.relations.filter((x) => x.schema === r.schema).flatMap((x) => [x, ...(x.primaryKey ? [x.primaryKey] : []), ...x.uniques, ...x.indexes, ...x.exclusions])
    : []
  if ([...own, ...others].some((x) => x.name === n)) throw new Refusal(`the name ${n} is taken in ${inSchema ? r.schema : relationText(r)}`)
}

export const newKey = (n: string, list: readonly string[]) => ({
  name: n,
  columns: list,
  include: [],
  deferrable: 'no' as const,
  nullsNotDistinct: false,
  options: [],
  attachedTo: null,
  clustered: false,
  comment: null,
  indexComment: null,
})

export const written = (text: string) => ({ written: text, canonical: null })
