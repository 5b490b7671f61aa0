// What questions about undeclared references look up in a catalog, made once.
import { type Catalog, type Column, type Relation, relationText } from '../../catalog/index.ts'
import { singularWord } from '../../names/index.ts'
import { type JoinedPair, joinedPairs, raisedPairs } from './joins.ts'
import { type Lexicon, lexiconOf } from './lexicon.ts'
import { mirrorsOf } from './mirrors.ts'
import { type NameIndex, nameIndex } from './nameIndex.ts'
import { type TargetKey, targetKeys, type ValueKind, valueKinds } from './targets.ts'

/** A reference that is declared: nothing to ask, and the best witness of what is usual here. */
export interface Settled {
  readonly child: Relation
  readonly columns: readonly Column[]
  /** Address text of the table referred to. */
  readonly target: string
}

/** Where columns are set equal: views and routines, triggers that raise, statements of the application. */
export type EqualFact = 'joined by' | 'looked up by a trigger' | 'joined in statements'
export const equalFacts: readonly EqualFact[] = ['joined by', 'looked up by a trigger', 'joined in statements']

export interface EqualColumns {
  /** Address text of a table and column → keys of one column that it is equal to. */
  readonly keys: ReadonlyMap<string, ReadonlySet<TargetKey>>
  readonly pairs: ReadonlySet<string>
  /** Columns of one table that one text sets equal to columns of another one: by column of the parent. */
  readonly together: readonly { readonly child: string; readonly parent: string; readonly columns: ReadonlyMap<string, string> }[]
}

export interface Ground {
  readonly catalog: Catalog
  /** Tables whose columns may refer; views have no keys of their own. */
  readonly tables: readonly Relation[]
  /** The same by address text. */
  readonly byText: ReadonlyMap<string, Relation>
  readonly lexicon: Lexicon
  readonly keys: readonly TargetKey[]
  /** Primary keys of one column by what their table is called, in lower case and the singular. */
  readonly byCalled: ReadonlyMap<string, readonly TargetKey[]>
  readonly index: NameIndex
  readonly kindOf: (c: Column) => ValueKind
  readonly settled: readonly Settled[]
  /** Tables that keep what rows of another one were, with that. */
  readonly mirrors: ReadonlyMap<Relation, Relation>
  /** Pairs of columns that are set equal somewhere, by where. */
  readonly equal: Readonly<Record<EqualFact, EqualColumns>>
  /** Are columns whose names say nothing compared by their types as well? Worth it only where rows are read. */
  readonly wide: boolean
}

/** `statements`: pairs that statements of the application join by. */
export function groundOf(catalog: Catalog, relations: readonly Relation[], wide = false, statements: readonly JoinedPair[] = []): Ground {
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
    byText: new Map(tables.map((r) => [relationText(r), r])),
    lexicon,
    keys,
    byCalled: calledOf(keys),
    index: nameIndex(keys, lexicon),
    kindOf: valueKinds(catalog),
    settled,
    mirrors: mirrorsOf(tables, lexicon),
    equal: {
      'joined by': equalColumns(joinedPairs(catalog, tables), keys),
      'looked up by a trigger': equalColumns(raisedPairs(catalog, tables), keys),
      'joined in statements': equalColumns(statements, keys),
    },
    wide,
  }
}

/** A table's name as comments say it. */
export const calledText = (name: string): string => singularWord(name.toLowerCase())

function calledOf(keys: readonly TargetKey[]): ReadonlyMap<string, readonly TargetKey[]> {
  const found = new Map<string, TargetKey[]>()
  for (const k of keys) {
    if (!k.primary || k.columns.length !== 1) continue
    const name = calledText(k.relation.name)
    const others = found.get(name)
    if (others) others.push(k)
    else found.set(name, [k])
  }
  return found
}

export const columnAt = (table: string, column: string): string => `${table}\n${column}`

export const pairText = (a: string, b: string): string => `${a}\n${b}`

/** For each column that is equal to a key of one column, those keys. */
function equalColumns(pairs: readonly JoinedPair[], keys: readonly TargetKey[]): EqualColumns {
  if (pairs.length === 0) return { keys: new Map(), pairs: new Set(), together: [] }
  const together = new Map<string, { child: string; parent: string; columns: Map<string, string> }>()
  const byColumn = new Map(keys.filter((k) => k.columns.length === 1).map((k) => [columnAt(k.table, k.columns[0]?.name ?? ''), k]))
  const found = new Map<string, Set<TargetKey>>()
  const texts = new Set<string>()
  for (const { left, right, run } of pairs) {
    for (const [child, parent] of [
      [left, right],
      [right, left],
    ] as const) {
      const key = byColumn.get(columnAt(parent.table, parent.column))
      const at = columnAt(child.table, child.column)
      texts.add(pairText(at, columnAt(parent.table, parent.column)))
      const both = `${run ?? ''}\n${child.table}\n${parent.table}`
      const group = together.get(both) ?? { child: child.table, parent: parent.table, columns: new Map<string, string>() }
      together.set(both, group)
      if (!group.columns.has(parent.column)) group.columns.set(parent.column, child.column)
      if (key) found.set(at, (found.get(at) ?? new Set()).add(key))
    }
  }
  return { keys: found, pairs: texts, together: [...together.values()].filter((t) => t.columns.size > 1) }
}
