// What a change of the database can be asked about, and what its form has to choose from.
import { type Catalog, keyText, type Relation, type RelationAddress, relationText } from '../catalog/index.ts'
import { typeWords } from '../dialect/postgres/typeNames.ts'
import type { SchemaEdit } from './schemaEdit.ts'

/** A table, some of its columns, or one of its keys, rules and indexes by name. Without a table: a new one is asked for. */
export interface Thing {
  readonly table: string | null
  readonly columns: readonly string[]
  readonly part: string | null
}

/** A key, rule or index that can be dropped. */
export interface DroppablePart {
  readonly name: string
  readonly says: string
}

export interface ChangeableTable {
  readonly table: string
  readonly comment: string | null
  readonly key: readonly string[] | null
  readonly columns: readonly {
    readonly name: string
    readonly type: string
    readonly nullable: boolean
    readonly default: string | null
    readonly comment: string | null
  }[]
  readonly references: readonly DroppablePart[]
  readonly indexes: readonly DroppablePart[]
  readonly uniques: readonly DroppablePart[]
}

/** What there is to choose from where a change is asked for. */
export interface ChangeChoices {
  /** Ledger position that it holds at. */
  readonly head: number
  readonly schemas: readonly string[]
  readonly tables: readonly { readonly name: string; readonly key: readonly string[] }[]
  readonly types: readonly string[]
  /** The table in question; null where none is, or where it is not there any more. */
  readonly of: ChangeableTable | null
}

/** Are plans written for its engine? */
export const hasPlans = (c: Pick<Catalog, 'dialect'>): boolean => c.dialect === 'postgresql'

/** Can a plan change it? */
export const isChangeable = (c: Pick<Catalog, 'dialect'>, r: Relation | undefined): r is Relation =>
  hasPlans(c) && r !== undefined && (r.kind === 'table' || r.kind === 'partitioned table')

/** The thing that an address is about; null where no plan can change it. */
export function thingAt(c: Catalog, address: RelationAddress & { readonly columns: readonly string[] }): Thing | null {
  const r = c.relations.find((x) => x.schema === address.schema && x.name === address.name)
  if (!isChangeable(c, r)) return null
  return { table: relationText(r), columns: address.columns.filter((n) => r.columns.some((x) => x.name === n)), part: null }
}

/** The table that an edit is about, as it is after it. */
export function thingOf(c: Catalog, e: SchemaEdit): Thing | null {
  if (e.do === 'clean rows') return null
  return thingAt(c, { ...(e.do === 'rename table' ? e.to : e.table), columns: [] })
}

/** O(relations). `table`: as an address; null for none. */
export function changeChoices(c: Catalog, table: string | null, head: number): ChangeChoices {
  const changeable = c.relations.filter((r) => isChangeable(c, r))
  const made = [...c.enums, ...c.domains, ...c.composites].map(relationText)
  const of = table === null ? undefined : changeable.find((r) => relationText(r) === table)
  return {
    head,
    schemas: c.schemas.map((s) => s.name),
    tables: changeable.map((r) => ({ name: relationText(r), key: r.primaryKey?.columns ?? r.uniques[0]?.columns ?? [] })),
    types: [...made, ...typeWords],
    of: of ? changeableTable(of) : null,
  }
}

function changeableTable(r: Relation): ChangeableTable {
  const listed = (columns: readonly (string | null)[]) => columns.map((c) => c ?? 'an expression').join(', ')
  return {
    table: relationText(r),
    comment: r.comment,
    key: r.primaryKey?.columns ?? null,
    columns: r.columns.map((c) => ({ name: c.name, type: c.type, nullable: c.nullable, default: c.default?.written ?? null, comment: c.comment })),
    references: r.foreignKeys.map((k) => ({
      name: k.name,
      says: `${listed(k.columns)} → ${relationText({ schema: k.target.schema, name: k.target.table })}`,
    })),
    indexes: r.indexes.map((x) => ({ name: x.name, says: listed(x.columns.map((c) => c.column)) })),
    uniques: r.uniques.map((u) => ({ name: keyText(u), says: listed(u.columns) })),
  }
}
