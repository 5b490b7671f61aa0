// What questions about undeclared references look up in a catalog, made once.
import { type Catalog, type Column, type Relation, relationText } from '../../catalog/index.ts'
import { joinedPairs } from './joins.ts'
import { type Lexicon, lexiconOf } from './lexicon.ts'
import { type NameIndex, nameIndex } from './nameIndex.ts'
import { type TargetKey, targetKeys, type ValueKind, valueKinds } from './targets.ts'

/** A reference that is declared: nothing to ask, and the best witness of what is usual here. */
export interface Settled {
  readonly child: Relation
  readonly columns: readonly Column[]
  /** Address text of the table referred to. */
  readonly target: string
}

export interface Ground {
  readonly catalog: Catalog
  /** Tables whose columns may refer; views have no keys of their own. */
  readonly tables: readonly Relation[]
  readonly lexicon: Lexicon
  readonly keys: readonly TargetKey[]
  readonly index: NameIndex
  readonly kindOf: (c: Column) => ValueKind
  readonly settled: readonly Settled[]
  /** Pairs of columns that views and routines join by: address text of a table and column → keys, by table. */
  readonly joined: ReadonlyMap<string, ReadonlySet<TargetKey>>
  /** Are columns whose names say nothing compared by their types as well? Worth it only where rows are read. */
  readonly wide: boolean
}

export function groundOf(catalog: Catalog, relations: readonly Relation[], wide = false): Ground {
  const tables = relations.filter((r) => r.kind !== 'view' && r.kind !== 'materialized view')
  const lexicon = lexiconOf(tables)
  const keys = targetKeys(tables)
  const settled = tables.flatMap((child) =>
    child.foreignKeys.map((k): Settled => {
      const columns = k.columns.flatMap((n) => child.columns.find((c) => c.name === n) ?? [])
      return { child, columns, target: relationText({ schema: k.target.schema, name: k.target.table }) }
    }),
  )
  return {
    catalog,
    tables,
    lexicon,
    keys,
    index: nameIndex(keys, lexicon),
    kindOf: valueKinds(catalog),
    settled,
    joined: joinedKeys(catalog, tables, keys),
    wide,
  }
}

export const columnAt = (table: string, column: string): string => `${table}\n${column}`

/** For each column that is joined to a key of one column, those keys. */
function joinedKeys(catalog: Catalog, tables: readonly Relation[], keys: readonly TargetKey[]): ReadonlyMap<string, ReadonlySet<TargetKey>> {
  const byColumn = new Map(keys.filter((k) => k.columns.length === 1).map((k) => [columnAt(k.table, k.columns[0]?.name ?? ''), k]))
  const found = new Map<string, Set<TargetKey>>()
  for (const { left, right } of joinedPairs(catalog, tables)) {
    for (const [child, parent] of [
      [left, right],
      [right, left],
    ] as const) {
      const key = byColumn.get(columnAt(parent.table, parent.column))
      const at = columnAt(child.table, child.column)
      if (key) found.set(at, (found.get(at) ?? new Set()).add(key))
    }
  }
  return found
}
