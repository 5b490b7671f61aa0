// A scope by patterns, as the command line has it: tables and columns by what they are called.
import { type Catalog, columnsText, type Relation, relationText } from '../catalog/index.ts'
import { matchesPattern } from './neighbours.ts'
import type { Scope, TakesPart } from './scope.ts'

export interface Patterns {
  readonly only: readonly string[]
  readonly without: readonly string[]
}

/** Does a pattern mean this column: `table.column`, or with the schema in front? */
const matchesColumn = (pattern: string, r: Relation, column: string) => matchesPattern(pattern, { schema: r.schema, name: `${r.name}.${column}` })

interface Matched {
  readonly tables: ReadonlySet<Relation>
  readonly columns: ReadonlyMap<Relation, ReadonlySet<string>>
  /** Patterns that are the name of nothing. */
  readonly idle: readonly string[]
}

function matched(catalog: Catalog, patterns: readonly string[]): Matched {
  const tables = new Set<Relation>()
  const columns = new Map<Relation, Set<string>>()
  const idle: string[] = []
  for (const pattern of patterns) {
    let found = false
    for (const r of catalog.relations) {
      if (matchesPattern(pattern, r)) {
        tables.add(r)
        found = true
        continue
      }
      if (!pattern.includes('.')) continue
      const own = r.columns.filter((c) => matchesColumn(pattern, r, c.name)).map((c) => c.name)
      if (own.length === 0) continue
      columns.set(r, new Set([...(columns.get(r) ?? []), ...own]))
      found = true
    }
    if (!found) idle.push(pattern)
  }
  return { tables, columns, idle }
}

/**
 * `table`, `schema.table`, `table.column` and `schema.table.column`, with `*` and `?`. `only`: nothing else takes part, of a table that just columns are named of
 * just these (and its primary key); `without` is left out of the rest. Partitions go with their parent. `idle`: patterns that match nothing. O(patterns · columns).
 */
export function scopeByPatterns(catalog: Catalog, p: Patterns): { readonly scope: Scope; readonly idle: readonly string[] } {
  const [only, without] = [matched(catalog, p.only), matched(catalog, p.without)]
  const subjects = new Map<string, TakesPart>()
  const isIn = (r: Relation): boolean => {
    const own = r.partitionOf ? catalog.relations.find((o) => relationText(o) === relationText(r.partitionOf?.parent ?? o)) : undefined
    if (own && own !== r && !isIn(own)) return false
    if (without.tables.has(r)) return false
    return p.only.length === 0 || only.tables.has(r) || only.columns.has(r) || (own !== undefined && own !== r)
  }
  for (const r of catalog.relations) {
    if (!isIn(r)) {
      subjects.set(relationText(r), 'out')
      continue
    }
    const chosen = only.tables.has(r) ? undefined : only.columns.get(r)
    for (const c of r.columns) {
      const out = without.columns.get(r)?.has(c.name) || (chosen !== undefined && !chosen.has(c.name))
      if (out) subjects.set(columnsText(r, [c.name]), 'out')
    }
  }
  const key = [...subjects]
    .map(([s, v]) => `${s} ${v}`)
    .sort()
    .join('\n')
  return { scope: { schemas: new Map(), subjects, key }, idle: [...only.idle, ...without.idle] }
}
