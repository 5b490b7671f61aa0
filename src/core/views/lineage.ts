// Column lineage of views: which column of which table each column of a view is, what tells the view's rows apart, and which may be null.

import { type Catalog, type Column, nullTest, type Relation, relationText, uniqueRules } from '../catalog/index.ts'
import type { Lexis } from '../ddl/lexis.ts'
import { Scanner } from '../ddl/scanner.ts'
import { lexisOf } from '../dialect/lexis.ts'
import { keptWith } from '../memo/memo.ts'
import type { ColumnName, Query, Source } from './query.ts'
import { readQuery } from './query.ts'

/** A column of a table that a view gives as it is. */
export interface Origin {
  readonly relation: Relation
  readonly column: string
  /** Where in the query the table stands: two columns of one place belong to one row. */
  readonly place: string
  /** Null in the view although the column is not: an outer join found no partner. */
  readonly nullable: boolean
}

export interface ViewLineage {
  /** By the view's own column. */
  readonly columns: ReadonlyMap<string, Origin>
  /** Columns that tell rows apart, and why; null with the reason why there are none. */
  readonly key: { readonly columns: readonly string[]; readonly because: string } | { readonly columns: null; readonly because: string }
}

const noKey = (because: string): ViewLineage => ({ columns: new Map(), key: { columns: null, because } })

/** The lineage of every view, by its address text. O(characters of the views). */
export const viewLineages: (catalog: Catalog) => ReadonlyMap<string, ViewLineage> = keptWith((catalog) => new Lineages(catalog).all())

/** The query alone, where an engine keeps the whole statement: what stands behind the first AS that a query follows. O(length). */
function queryIn(text: string, lexis: Lexis): string {
  try {
    const s = new Scanner(text, lexis)
    if (!s.is('CREATE')) return text
    while (!s.atEnd) {
      const behind = s.is('AS') ? s.to : null
      s.next()
      if (behind === null) continue
      while (s.isMark('(')) s.next()
      if (s.is('SELECT') || s.is('WITH')) return text.slice(behind)
    }
  } catch {
    // A text or comment that is never closed: no query is found in it.
  }
  return text
}

/** What a source gives. */
interface Given {
  /** By name; null for what is computed. */
  readonly columns: ReadonlyMap<string, Origin | null>
  /** Sets of columns that no two rows have alike, where none of them is null. */
  readonly keys: readonly (readonly string[])[]
  /** The one that rows are told apart by: the primary key, or a unique rule over columns that are never null. */
  readonly own: readonly string[] | null
}

/**
 * A test for columns of this catalog whether they accept null: those of tables by what is declared, those of views by the column they come
 * from and the joins on the way. What a view computes may always be null.
 */
export function acceptsNullIn(catalog: Catalog): (c: Column) => boolean {
  const declared = nullTest(catalog)
  const never = new Set<Column>()
  const lineages = viewLineages(catalog)
  for (const r of catalog.relations) {
    const columns = lineages.get(relationText(r))?.columns
    if (!columns) continue
    for (const c of r.columns) {
      const from = columns.get(c.name)
      const base = from?.relation.columns.find((x) => x.name === from.column)
      if (from && base && !from.nullable && !declared(base)) never.add(c)
    }
  }
  return never.size === 0 ? declared : (c) => !never.has(c) && declared(c)
}

/** The key of a view, where all its columns are among these. A view has no rule of its own: what tells its rows apart comes from its tables. */
export function keyOfView(lineage: ViewLineage | undefined, columns: readonly string[]): readonly string[] | null {
  const key = lineage?.key.columns ?? null
  return key?.every((c) => columns.includes(c)) ? key : null
}

export const isView = (r: Relation): boolean => r.kind === 'view' || r.kind === 'materialized view'

class Lineages {
  private readonly byName = new Map<string, Relation[]>()
  private readonly done = new Map<string, ViewLineage>()
  private readonly under = new Set<string>()
  private readonly flows = new WeakMap<object, Flow>()

  constructor(private readonly catalog: Catalog) {
    for (const r of catalog.relations) listAt(this.byName, r.name.toLowerCase()).push(r)
  }

  all(): ReadonlyMap<string, ViewLineage> {
    for (const r of this.catalog.relations) if (isView(r)) this.of(r)
    return this.done
  }

  private of(view: Relation): ViewLineage {
    const text = relationText(view)
    const before = this.done.get(text)
    if (before) return before
    if (this.under.has(text)) return noKey('it is made of itself')
    this.under.add(text)
    const made = this.made(view)
    this.under.delete(text)
    this.done.set(text, made)
    return made
  }

  private made(view: Relation): ViewLineage {
    const query = view.definition === null ? null : readQuery(queryIn(view.definition.written, lexisOf(this.catalog.dialect)), lexisOf(this.catalog.dialect))
    if (!query) return noKey('its query is not one whose columns can be followed')
    const sources = this.sources(query, view, new Map())
    const list = this.items(query, sources)
    if (list?.length !== view.columns.length) return noKey('its query is not one whose columns can be followed')
    const columns = new Map(view.columns.flatMap((c, i) => (list[i]?.origin ? [[c.name, list[i].origin] as const] : [])))
    const found = this.key(query, sources, list)
    const names = typeof found === 'string' ? null : found.at.map((i) => view.columns[i]?.name ?? '')
    const unique = uniqueRules(view).find((u) => u.columns.length > 0)
    if (unique) return { columns, key: { columns: unique.columns, because: `${unique.kind} ${unique.name}` } }
    return { columns, key: names ? { columns: names, because: (found as Found).because } : { columns: null, because: found as string } }
  }

  /** What each source of a query gives, by its alias. */
  private sources(
    query: Query,
    view: Relation,
    outer: ReadonlyMap<string, Query>,
  ): ReadonlyMap<string, { readonly source: Source; readonly given: Given | null }> {
    const named = new Map([...outer, ...query.with])
    return new Map(query.sources.map((source) => [source.alias, { source, given: this.given(source, view, named) }]))
  }

  private given(source: Source, view: Relation, named: ReadonlyMap<string, Query>): Given | null {
    const { of, alias, nullable } = source
    if (of === null) return null
    if (of.kind === 'query') return this.ofQuery(of.query, source, view, named)
    const common = of.schema === null ? named.get(of.name) : undefined
    if (common) return this.ofQuery(common, source, view, named)
    const relation = this.relation(of.schema, of.name, view)
    if (!relation) return null
    if (isView(relation)) {
      const { columns, key } = this.of(relation)
      const moved = (o: Origin): Origin => ({ ...o, place: `${alias}/${o.place}`, nullable: o.nullable || nullable })
      const all = relation.columns.map((c) => [c.name, columns.has(c.name) ? moved(columns.get(c.name) as Origin) : null] as const)
      return { columns: new Map(all), keys: key.columns ? [key.columns] : [], own: key.columns }
    }
    const required = (c: string) => relation.columns.some((x) => x.name === c && !x.nullable)
    const rules = uniqueRules(relation)
    const own = rules.find((u) => u.kind === 'primary key' || u.columns.every(required))?.columns ?? null
    return {
      columns: new Map(relation.columns.map((c) => [c.name, { relation, column: c.name, place: alias, nullable }])),
      keys: rules.map((u) => u.columns),
      own,
    }
  }

  private ofQuery(query: Query, { alias, nullable }: Source, view: Relation, named: ReadonlyMap<string, Query>): Given | null {
    const sources = this.sources(query, view, named)
    const list = this.items(query, sources)
    if (!list) return null
    const found = this.key(query, sources, list)
    const moved = (o: Origin | null) => o && { ...o, place: `${alias}/${o.place}`, nullable: o.nullable || nullable }
    const names = list.map((x, i) => x.name ?? `?${i}`)
    const key = typeof found === 'string' ? null : found.at.map((i) => names[i] as string)
    return { columns: new Map(list.map((x, i) => [names[i] as string, moved(x.origin)])), keys: key ? [key] : [], own: key }
  }

  private relation(schema: string | null, name: string, view: Relation): Relation | null {
    const list = (this.byName.get(name.toLowerCase()) ?? []).filter((r) => r.kind !== 'partition' || schema !== null)
    const exact = list.filter((r) => r.name === name)
    const among = exact.length > 0 ? exact : list
    // The single database of MySQL and SQLite is the schema "", whatever a view calls it.
    const inSchema = among.find((r) => r.schema === (schema ?? view.schema)) ?? among.find((r) => r.schema === '')
    return inSchema ?? (schema === null && among.length === 1 ? (among[0] as Relation) : null)
  }

  /** Columns of the query, in order; null where a star stands for something that cannot be followed. */
  private items(query: Query, sources: ReturnType<Lineages['sources']>): readonly Listed[] | null {
    const found: Listed[] = []
    for (const item of query.items) {
      if (item.kind === 'other') found.push({ name: item.name, origin: null, at: null })
      else if (item.kind === 'column') {
        const at = this.resolve(item.column, sources)
        found.push({ name: item.name, origin: at?.origin ?? null, at: at?.key ?? null })
      } else {
        for (const alias of item.source === null ? sources.keys() : [item.source]) {
          const given = sources.get(alias)?.given
          if (!given) return null
          for (const [name, origin] of given.columns) found.push({ name, origin, at: columnKey(alias, name) })
        }
      }
    }
    return found
  }

  private resolve(c: ColumnName, sources: ReturnType<Lineages['sources']>): { readonly key: string; readonly origin: Origin | null } | null {
    let alias = c.source ?? undefined
    if (alias === undefined)
      for (const [a, { given }] of sources) {
        if (!given?.columns.has(c.column)) continue
        // Two have such a column: it is not known which is meant.
        if (alias !== undefined) return null
        alias = a
      }
    const hit = alias === undefined ? undefined : sources.get(alias)
    if (alias === undefined || !hit?.given?.columns.has(c.column)) return null
    return { key: columnKey(alias, c.column), origin: hit.given.columns.get(c.column) ?? null }
  }

  /** Positions of the columns that tell the query's rows apart; else why there are none. */
  private key(query: Query, sources: ReturnType<Lineages['sources']>, list: readonly Listed[]): Found | string {
    if (query.reshaped) return 'its rows are those of several queries, or fewer or more than those it reads'
    const given = (keys: readonly string[]) => {
      const at = keys.map((k) => list.findIndex((x) => x.at === k || this.equal(query, sources, x.at, k)))
      return at.every((i) => i >= 0) ? at : null
    }
    if (query.groupedBy) {
      const grouped = query.groupedBy.map((c) => c && (this.resolve(c, sources)?.key ?? null))
      if (grouped.some((g) => g === null)) return 'it is grouped by an expression'
      const whole = grouped as readonly string[]
      const one = [...sources].find(([alias, { given: g }]) => {
        const key = g?.own
        return key?.every((c) => whole.includes(columnKey(alias, c))) && this.determines(query, sources, alias, whole)
      })
      const wanted = one ? (one[1].given?.own ?? []).map((c) => columnKey(one[0], c)) : whole
      const at = given(wanted)
      return at ? { at, because: `it is grouped by ${wanted.map(keyText).join(', ')}` } : 'it does not give the columns it is grouped by'
    }
    const [first] = query.sources
    if (!first) return 'it reads no table'
    for (const [alias, { source, given: g }] of sources) {
      const key = g?.own
      if (source.nullable || !key || !this.determines(query, sources, alias, null)) continue
      const at = given(key.map((c) => columnKey(alias, c)))
      if (at)
        return {
          at,
          because:
            query.sources.length === 1
              ? `it gives each row of ${this.sourceText(source)} once`
              : `it gives each row of ${this.sourceText(source)} once, with at most one of each other`,
        }
    }
    return query.sources.length === 1 ? 'it does not give the key of what it reads' : 'rows of several tables are combined, or the key is not given'
  }

  private sourceText(s: Source): string {
    return s.of?.kind === 'relation' ? (s.of.schema === null ? s.of.name : `${s.of.schema}.${s.of.name}`) : s.alias
  }

  private equal(query: Query, sources: ReturnType<Lineages['sources']>, a: string | null, b: string): boolean {
    return a !== null && this.flow(query, sources).equal.has(pairText(a, b))
  }

  /** What equalities and keys of a query lead to, made once for all questions about it. */
  private flow(query: Query, sources: ReturnType<Lineages['sources']>): Flow {
    const known = this.flows.get(sources)
    if (known) return known
    const flow: Flow = { single: [], constant: [], leadsTo: new Map(), keys: new Map(), mentioned: new Map(), equal: new Set() }
    const mention = (key: string) => {
      const alias = aliasOf(key)
      flow.mentioned.set(alias, (flow.mentioned.get(alias) ?? new Set()).add(key))
    }
    for (const e of query.equalities) {
      const [l, r] = [this.resolve(e.left, sources)?.key, e.right ? this.resolve(e.right, sources)?.key : null]
      if (e.onlyFor === null && l && r) flow.equal.add(pairText(l, r))
      for (const [a, b] of [
        [l, r],
        [r, l],
      ]) {
        if (a === undefined || a === null || b === undefined || (e.onlyFor && !e.onlyFor.includes(aliasOf(a)))) continue
        if (b === null) flow.constant.push(a)
        else {
          listAt(flow.leadsTo, b).push(a)
          mention(b)
        }
      }
    }
    for (const [alias, { given }] of sources)
      for (const k of given?.keys ?? []) {
        const u = { alias, columns: new Set(k).size }
        if (u.columns === 0) flow.single.push(alias)
        for (const c of new Set(k)) {
          const key = columnKey(alias, c)
          listAt(flow.keys, key).push(u)
          mention(key)
        }
      }
    this.flows.set(sources, flow)
    return flow
  }

  /** Is there, for one row of `start`, at most one row of every other source (or a fixed value of each wanted column)? */
  private determines(query: Query, sources: ReturnType<Lineages['sources']>, start: string, wanted: readonly string[] | null): boolean {
    const flow = this.flow(query, sources)
    const rows = new Set<string>()
    const fixed = new Set<string>()
    const isFixed = (key: string) => rows.has(aliasOf(key)) || fixed.has(key)
    const missing = new Map<UniqueKey, number>()
    // What is found out wakes what waited for it: each equality and each key is looked at once for each of its columns.
    const waiting: string[] = []
    const fix = (key: string) => {
      if (isFixed(key)) return
      fixed.add(key)
      waiting.push(key)
    }
    const take = (alias: string) => {
      if (rows.has(alias)) return
      for (const key of flow.mentioned.get(alias) ?? []) if (!fixed.has(key)) waiting.push(key)
      rows.add(alias)
    }
    for (const alias of [start, ...flow.single]) take(alias)
    for (const key of flow.constant) fix(key)
    for (let key = waiting.pop(); key !== undefined; key = waiting.pop()) {
      for (const other of flow.leadsTo.get(key) ?? []) fix(other)
      for (const u of flow.keys.get(key) ?? []) {
        const left = (missing.get(u) ?? u.columns) - 1
        missing.set(u, left)
        if (left === 0) take(u.alias)
      }
    }
    return wanted ? wanted.every(isFixed) : rows.size === sources.size
  }
}

/** A key of a source: with all its columns fixed there is at most one row of it. */
interface UniqueKey {
  readonly alias: string
  readonly columns: number
}
interface Flow {
  /** Sources that have at most one row. */
  readonly single: string[]
  /** Columns that are equal to one value. */
  readonly constant: string[]
  /** By a column, those that are fixed where it is. */
  readonly leadsTo: Map<string, string[]>
  /** By a column, the keys it is part of. */
  readonly keys: Map<string, UniqueKey[]>
  /** By a source, its columns of any of those. */
  readonly mentioned: Map<string, Set<string>>
  /** Pairs of columns that are equal in every row. */
  readonly equal: Set<string>
}

interface Found {
  /** Positions in the list of columns. */
  readonly at: readonly number[]
  readonly because: string
}
interface Listed {
  readonly name: string | null
  readonly origin: Origin | null
  /** Which column of which source it is. */
  readonly at: string | null
}

function listAt<V>(map: Map<string, V[]>, key: string): V[] {
  const list = map.get(key) ?? []
  if (list.length === 0) map.set(key, list)
  return list
}

/** Of two columns in either order. */
const pairText = (a: string, b: string): string => (a < b ? `${a}\u0001${b}` : `${b}\u0001${a}`)
const columnKey = (alias: string, column: string) => `${alias}\u0000${column}`
const aliasOf = (key: string) => key.split('\u0000')[0] as string
const keyText = (key: string) => key.split('\u0000')[1] as string
