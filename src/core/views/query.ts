// A SELECT as far as lineage needs it: what it reads, what it gives, by what it joins and groups. What else it holds is left as text.
import type { Lexis } from '../ddl/lexis.ts'
import { Scanner } from '../ddl/scanner.ts'
import { passBrackets } from '../ddl/text.ts'
import { nestsDeeply } from '../text/scan.ts'

/** A column by the name of its source, where that is written. */
export interface ColumnName {
  readonly source: string | null
  readonly column: string
}

/** Two columns that are equal in every row, or a column that equals a constant (`right` is null). */
export interface Equality {
  readonly left: ColumnName
  readonly right: ColumnName | null
  /** Of an outer join: it holds only for rows that have a partner in these sources. */
  readonly onlyFor: readonly string[] | null
}

export interface Source {
  readonly alias: string
  /** A table or view by name, a query, or something that cannot be followed. */
  readonly of: { readonly kind: 'relation'; readonly schema: string | null; readonly name: string } | { readonly kind: 'query'; readonly query: Query } | null
  /** Its columns are null where an outer join found no partner. */
  readonly nullable: boolean
}

export type Item =
  | { readonly kind: 'column'; readonly column: ColumnName; readonly name: string }
  | { readonly kind: 'star'; readonly source: string | null }
  | { readonly kind: 'other'; readonly name: string | null }

export interface Query {
  readonly items: readonly Item[]
  readonly sources: readonly Source[]
  readonly equalities: readonly Equality[]
  /** Null where rows are not grouped; a null among them is an expression that is no column. */
  readonly groupedBy: readonly (ColumnName | null)[] | null
  /** One row may stand for several, or several for one, in a way that is not followed: UNION, DISTINCT, functions that give rows. */
  readonly reshaped: boolean
  readonly with: ReadonlyMap<string, Query>
}

const clauses = new Set(['FROM', 'WHERE', 'GROUP', 'ORDER', 'HAVING', 'UNION', 'INTERSECT', 'EXCEPT', 'LIMIT', 'OFFSET', 'WINDOW', 'FETCH', 'FOR'])
const joinWords = new Set(['JOIN', 'LEFT', 'RIGHT', 'INNER', 'FULL', 'CROSS', 'NATURAL', 'ON', 'USING', 'OUTER', 'STRAIGHT_JOIN'])
/** Functions that make several rows of one (PostgreSQL manual 9.25; SQLite and MySQL have them only as tables). */
const rowsOfOne =
  /\b(unnest|generate_series|generate_subscripts|regexp_split_to_table|string_to_table|regexp_matches|jsonb?_(array_elements(_text)?|each(_text)?|object_keys|populate_recordset|to_recordset))\s*\(/i

const isName = (s: Scanner) => s.kind === 'word' || s.kind === 'name'
const atClause = (s: Scanner) => s.done || s.isMark(')') || clauses.has(s.word)

/** The query, or null where it is none that can be followed, or is nested too deeply to be. Never throws for what the text holds. O(characters × depth). */
export function readQuery(text: string, lexis: Lexis): Query | null {
  if (nestsDeeply(text)) return null
  try {
    return query(new Scanner(text, lexis))
  } catch {
    return null
  }
}

function query(s: Scanner): Query | null {
  const named = new Map<string, Query>()
  if (s.accept('WITH')) {
    if (s.accept('RECURSIVE')) return null
    do {
      const name = s.name()
      if (s.isMark('(')) return null
      s.expect('AS')
      if (s.accept('NOT')) s.expect('MATERIALIZED')
      else s.accept('MATERIALIZED')
      const inner = query(inBrackets(s))
      if (!inner) return null
      named.set(name, inner)
    } while (s.acceptMark(','))
  }
  if (!s.accept('SELECT')) return null
  let reshaped = s.accept('DISTINCT')
  s.accept('ALL')
  const items = [item(s)]
  while (s.acceptMark(',')) items.push(item(s))
  const list = s.text.slice(0, s.from)
  const found: { sources: Source[]; equalities: Equality[] } = { sources: [], equalities: [] }
  if (s.accept('FROM')) {
    do join(s, found)
    while (s.acceptMark(','))
  }
  if (s.accept('WHERE')) found.equalities.push(...equalities(condition(s), s, null))
  const groupedBy = s.accept('GROUP', 'BY') ? groups(s) : null
  // HAVING, ORDER BY and LIMIT leave rows out or in another order; a second query behind UNION adds some.
  for (; !s.done; s.isMark('(') ? passBrackets(s) : s.next()) if (s.is('UNION') || s.is('INTERSECT') || s.is('EXCEPT')) reshaped = true
  return { items, ...found, groupedBy, reshaped: reshaped || rowsOfOne.test(list), with: named }
}

/** A scanner over what stands in the brackets; the outer one goes on behind them. */
function inBrackets(s: Scanner): Scanner {
  const from = s.to
  if (!s.isMark('(')) throw s.unreadable('"(" was expected')
  passBrackets(s)
  return new Scanner(s.text.slice(from, s.before - 1), s.lexis)
}

/** `a.b::text` as a column; null, with the scanner anywhere, where it is more than that. */
function columnName(s: Scanner): ColumnName | null {
  const found = s.isMark('(') ? wholeColumn(inBrackets(s)) : path(s)
  if (!found) return null
  while (s.isMark(':')) {
    s.next()
    s.expectMark(':')
    s.name()
    while (s.is('VARYING') || s.is('PRECISION')) s.next()
    if (s.isMark('(')) passBrackets(s)
  }
  return found
}

function wholeColumn(s: Scanner): ColumnName | null {
  const column = columnName(s)
  return s.atEnd ? column : null
}

function path(s: Scanner): ColumnName | null {
  if (!isName(s)) return null
  const parts = [s.name()]
  while (s.acceptMark('.')) {
    if (!isName(s)) return null
    parts.push(s.name())
  }
  return { source: parts.at(-2) ?? null, column: parts.at(-1) as string }
}

function item(s: Scanner): Item {
  const start = s.place()
  if (s.acceptMark('*')) return { kind: 'star', source: null }
  if (isName(s)) {
    const parts = [s.name()]
    while (s.acceptMark('.')) {
      if (s.acceptMark('*')) return { kind: 'star', source: parts.at(-1) as string }
      parts.push(s.name())
    }
    const plain = () => s.isMark(',') || atClause(s)
    const column = { source: parts.at(-2) ?? null, column: parts.at(-1) as string }
    if (plain()) return { kind: 'column', column, name: column.column }
    const as = s.accept('AS')
    if (isName(s) && (as || !clauses.has(s.word))) {
      const name = s.name()
      if (plain()) return { kind: 'column', column, name }
    }
    s.back(start)
  }
  return { kind: 'other', name: passExpression(s) }
}

/** Over an expression; gives the name after it, where one stands there. */
function passExpression(s: Scanner): string | null {
  let last: string | null = null
  let depth = 0
  while (!s.done && !(depth === 0 && (s.isMark(',') || atClause(s)))) {
    if (s.is('CASE')) depth += 1
    else if (s.is('END') && depth > 0) depth -= 1
    last = null
    if (s.isMark('(')) passBrackets(s)
    else if (isName(s)) last = s.name()
    else s.next()
  }
  return last
}

interface Found {
  readonly sources: Source[]
  readonly equalities: Equality[]
}

/** One entry of FROM with all that is joined to it. */
function join(s: Scanner, found: Found): void {
  const from = found.sources.length
  table(s, found)
  for (;;) {
    const natural = s.accept('NATURAL')
    const kind = s.is('LEFT') || s.is('RIGHT') || s.is('FULL') || s.is('CROSS') || s.is('INNER') ? s.word : 'INNER'
    if (s.word === kind) s.next()
    s.accept('OUTER')
    if (!s.accept('JOIN') && !s.accept('STRAIGHT_JOIN')) return
    const middle = found.sources.length
    table(s, found)
    const right = found.sources.slice(middle).map((x) => x.alias)
    const left = found.sources.slice(from, middle).map((x) => x.alias)
    if (natural) throw s.unreadable('a join by names that are alike is not followed')
    if (kind === 'LEFT' || kind === 'FULL') makeNullable(found, middle, found.sources.length)
    if (kind === 'RIGHT' || kind === 'FULL') makeNullable(found, from, middle)
    const onlyFor = kind === 'LEFT' ? right : kind === 'RIGHT' ? left : kind === 'FULL' ? [] : null
    if (s.accept('ON')) found.equalities.push(...equalities(condition(s), s, onlyFor))
    else if (s.accept('USING')) found.equalities.push(...using(s, left, right, onlyFor))
  }
}

function makeNullable(found: Found, from: number, to: number): void {
  for (let i = from; i < to; i += 1) found.sources[i] = { ...(found.sources[i] as Source), nullable: true }
}

/** USING (a, b): only between two sources is it clear whose columns they are. */
function using(s: Scanner, left: readonly string[], right: readonly string[], onlyFor: readonly string[] | null): readonly Equality[] {
  const names = inBrackets(s)
  const columns: string[] = []
  while (isName(names)) {
    columns.push(names.name())
    names.acceptMark(',')
  }
  const [l, r] = [left[0], right[0]]
  if (left.length !== 1 || right.length !== 1 || l === undefined || r === undefined) return []
  return columns.map((column) => ({ left: { source: l, column }, right: { source: r, column }, onlyFor }))
}

function table(s: Scanner, found: Found): void {
  s.accept('LATERAL')
  s.accept('ONLY')
  if (s.isMark('(')) {
    const start = s.place()
    s.next()
    if (!s.is('SELECT') && !s.is('WITH') && !s.is('VALUES')) {
      join(s, found)
      s.expectMark(')')
      return
    }
    s.back(start)
    const inner = query(inBrackets(s))
    found.sources.push({ alias: alias(s) ?? `?${found.sources.length}`, of: inner && { kind: 'query', query: inner }, nullable: false })
    return
  }
  let schema: string | null = null
  let name = s.name('a table')
  while (s.acceptMark('.')) {
    schema = name
    name = s.name('a table')
  }
  const call = s.isMark('(')
  if (call) passBrackets(s)
  found.sources.push({ alias: alias(s) ?? name, of: call ? null : { kind: 'relation', schema, name }, nullable: false })
}

function alias(s: Scanner): string | null {
  const as = s.accept('AS')
  if (!as && (!isName(s) || joinWords.has(s.word) || clauses.has(s.word))) return null
  const name = s.name()
  // Columns under other names: what they are called then is not followed.
  if (s.isMark('(')) throw s.unreadable('names of columns are not followed')
  return name
}

/** The text of a condition, up to the next clause or join at its own depth. */
function condition(s: Scanner): string {
  const from = s.from
  while (!atClause(s) && !s.isMark(',') && !(joinWords.has(s.word) && !s.is('ON'))) {
    if (s.isMark('(')) passBrackets(s)
    else s.next()
  }
  return s.text.slice(from, s.before)
}

/** Equalities that all hold: terms joined by AND. Where anything but AND joins them, none. */
function equalities(text: string, { lexis }: Scanner, onlyFor: readonly string[] | null): readonly Equality[] {
  const found: Equality[] = []
  const s = new Scanner(text, lexis)
  while (!s.atEnd) {
    const from = s.from
    let between = false
    while (!s.atEnd && (between || !s.is('AND'))) {
      if (s.is('OR')) return []
      if (s.is('BETWEEN')) between = true
      else if (s.is('AND')) between = false
      if (s.isMark('(')) passBrackets(s)
      else s.next()
    }
    found.push(...term(text.slice(from, s.before), lexis, onlyFor))
    s.next()
  }
  return found
}

function term(text: string, lexis: Lexis, onlyFor: readonly string[] | null): readonly Equality[] {
  const s = new Scanner(text, lexis)
  if (s.isMark('(')) {
    const start = s.place()
    const inner = inBrackets(s)
    if (s.atEnd) return equalities(inner.text, inner, onlyFor)
    s.back(start)
  }
  const left = columnName(s)
  if (!left || !s.acceptMark('=')) return []
  const constant = s.kind === 'string' || s.kind === 'number'
  if (constant) {
    s.next()
    return s.atEnd || s.isMark(':') ? [{ left, right: null, onlyFor }] : []
  }
  const right = columnName(s)
  return right && s.atEnd ? [{ left, right, onlyFor }] : []
}

function groups(s: Scanner): readonly (ColumnName | null)[] {
  const found: (ColumnName | null)[] = []
  do {
    const from = s.from
    while (!atClause(s) && !s.isMark(',')) {
      if (s.isMark('(')) passBrackets(s)
      else s.next()
    }
    const one = new Scanner(s.text.slice(from, s.before), s.lexis)
    found.push(wholeColumn(one))
  } while (s.acceptMark(','))
  return found
}
