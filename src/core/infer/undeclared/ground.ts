// What questions about undeclared references look up in a catalog, made once.
import { type Catalog, type Column, type Relation, relationText } from '../../catalog/index.ts'
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
  return { catalog, tables, lexicon, keys, index: nameIndex(keys, lexicon), kindOf: valueKinds(catalog), settled, wide }
}
