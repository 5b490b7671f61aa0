// Names, and where they can be told types, of the columns a query gives (PostgreSQL, parse_target.c, FigureColname).

import { beforeEnding, nestsDeeply } from '../text/scan.ts'
import { typeName } from './clauses.ts'
import { type Draft, lookup } from './draft.ts'
import { Scanner } from './scanner.ts'
import type { TypeName } from './statement.ts'
import { passBrackets } from './text.ts'
import { Unreadable } from './unreadable.ts'

export interface QueryColumn {
  readonly name: string
  /** "" where it cannot be told without the server. */
  readonly type: string
}

interface Item {
  readonly from: number
  readonly to: number
}

/** Words after a select list at its own depth. */
const listEnds = new Set(['FROM', 'WHERE', 'GROUP', 'ORDER', 'HAVING', 'UNION', 'INTERSECT', 'EXCEPT', 'LIMIT', 'OFFSET', 'WINDOW', 'INTO', 'FETCH', 'FOR'])
const joinWords = new Set(['JOIN', 'LEFT', 'RIGHT', 'INNER', 'FULL', 'CROSS', 'NATURAL', 'ON', 'USING', 'OUTER', 'LATERAL', 'STRAIGHT_JOIN'])

/** `names`: from CREATE VIEW v (a, b), which come first. An empty list where the query has no list of columns we can follow. */
export function viewColumns(d: Draft, query: string, names: readonly string[]): readonly QueryColumn[] {
  const found = readColumns(d, query)
  return names.length === 0 ? found : names.map((name, i) => ({ name, type: found[i]?.type ?? '' }))
}

/** A query that cannot be followed gives none; the statement itself was read. */
function readColumns(d: Draft, query: string): readonly QueryColumn[] {
  if (nestsDeeply(query)) return []
  try {
    return queryColumns(d, query, new Map())
  } catch (error) {
    if (error instanceof Unreadable) return []
    throw error
  }
}

/** What the tables of a query give, by the names they go by; null where that cannot be told: a function, a table that is not there. */
type Sources = ReadonlyMap<string, readonly QueryColumn[] | null>

function queryColumns(d: Draft, query: string, outer: Sources): readonly QueryColumn[] {
  const s = new Scanner(query, d.semantics.lexis)
  while (s.isMark('(')) s.next()
  const known = s.is('WITH') ? commonTables(d, s, outer) : outer
  if (!s.is('SELECT')) return []
  s.next()
  if (s.accept('DISTINCT') && s.accept('ON') && s.isMark('(')) passBrackets(s)
  s.accept('ALL')
  const items = listItems(s)
  const tables = s.is('FROM') ? fromTables(d, s, known) : new Map<string, readonly QueryColumn[] | null>()
  return items.flatMap((item) => itemColumns(d, query.slice(item.from, item.to), tables))
}

/** WITH a AS (…), b (x, y) AS (…). */
function commonTables(d: Draft, s: Scanner, outer: Sources): Sources {
  const known = new Map(outer)
  s.next()
  s.accept('RECURSIVE')
  while (!s.is('SELECT') && !s.atEnd) {
    const name = s.name()
    const list = s.isMark('(') ? bracketed(s) : null
    s.accept('AS')
    if (s.accept('NOT')) s.accept('MATERIALIZED')
    else s.accept('MATERIALIZED')
    if (!s.isMark('(')) return known
    const columns = queryColumns(d, bracketed(s), known)
    const named = list === null ? null : list.split(',').map((n) => nameOf(d, n))
    known.set(name, named ? named.map((n, i) => ({ name: n, type: columns[i]?.type ?? '' })) : columns)
    s.acceptMark(',')
  }
  return known
}

/** The text inside a bracketed group; goes on after it. */
function bracketed(s: Scanner): string {
  const from = s.to
  passBrackets(s)
  return s.text.slice(from, s.before - 1)
}

function listItems(s: Scanner): readonly Item[] {
  const items: Item[] = []
  let from = s.from
  let cases = 0
  for (;;) {
    const ends = s.kind === 'end' || s.kind === 'stop' || s.isMark(')') || (cases === 0 && s.kind === 'word' && listEnds.has(s.raw.toUpperCase()))
    if (ends || (s.isMark(',') && cases === 0)) {
      if (s.before > from) items.push({ from, to: s.before })
      if (ends) return items
      s.next()
      from = s.from
      continue
    }
    if (s.is('CASE')) cases += 1
    else if (s.is('END') && cases > 0) cases -= 1
    if (s.isMark('(')) passBrackets(s)
    else if (s.isMark('[')) while (!s.atEnd && !s.acceptMark(']')) s.next()
    else s.next()
  }
}

function fromTables(d: Draft, s: Scanner, known: Sources): Sources {
  const tables = new Map<string, readonly QueryColumn[] | null>()
  s.next()
  let expectTable = true
  while (!s.atEnd && !(s.kind === 'word' && listEnds.has(s.raw.toUpperCase()))) {
    if (s.isMark(',') || s.is('JOIN') || s.is('STRAIGHT_JOIN')) {
      expectTable = true
      s.next()
    } else if (s.isMark('(')) expectTable = bracketInFrom(d, s, known, tables, expectTable)
    else if (expectTable && (s.kind === 'name' || (s.kind === 'word' && !joinWords.has(s.raw.toUpperCase())))) {
      tableOf(d, s, known, tables)
      expectTable = false
    } else s.next()
  }
  return tables
}

/** A subquery, joins in brackets, or a condition. Gives whether a table is still expected. */
function bracketInFrom(d: Draft, s: Scanner, known: Sources, tables: Map<string, readonly QueryColumn[] | null>, expectTable: boolean): boolean {
  if (!expectTable) {
    passBrackets(s)
    return false
  }
  const start = s.place()
  s.next()
  if (!s.is('SELECT') && !s.is('WITH') && !s.is('VALUES')) return true
  s.back(start)
  const columns = queryColumns(d, bracketed(s), known)
  tables.set(aliasOf(s) ?? `?${tables.size}`, columns.length === 0 ? null : columns)
  return false
}

function tableOf(d: Draft, s: Scanner, known: Sources, tables: Map<string, readonly QueryColumn[] | null>): void {
  let schema: string | null = null
  let name = s.name()
  while (s.acceptMark('.')) {
    schema = name
    name = s.name()
  }
  const call = s.isMark('(')
  if (call) passBrackets(s)
  const common = schema === null ? known.get(name) : undefined
  const relation = call ? undefined : lookup(d, d.relations, { schema, name })
  const own = relation?.columns.map((c) => ({ name: c.name, type: c.type })) ?? null
  tables.set(aliasOf(s) ?? name, common ?? own)
}

function aliasOf(s: Scanner): string | null {
  if (s.accept('AS')) return s.name()
  if (s.kind === 'name' || (s.kind === 'word' && !joinWords.has(s.raw.toUpperCase()) && !listEnds.has(s.raw.toUpperCase()))) return s.name()
  return null
}

function itemColumns(d: Draft, text: string, tables: Sources): readonly QueryColumn[] {
  const star = text.trim().endsWith('*') ? text.trim().slice(0, -1).trimEnd() : null
  if (star === '' || star?.endsWith('.')) {
    const of = star === '' ? [...tables.values()] : [tables.get(nameOf(d, star.slice(0, -1))) ?? null]
    return of.flatMap((columns) => columns ?? [])
  }
  const { expression, alias } = splitAlias(d, text)
  return [{ name: alias ?? figureName(d, expression), type: typeOf(d, expression, tables) }]
}

const nameOf = (d: Draft, text: string) => new Scanner(text, d.semantics.lexis).name()

/** `expression AS name`, `expression name`. */
function splitAlias(d: Draft, text: string): { readonly expression: string; readonly alias: string | null } {
  const s = new Scanner(text, d.semantics.lexis)
  let last: { from: number; name: string; afterAs: boolean } | null = null
  let previous: 'as' | 'operand' | 'operator' | null = null
  while (!s.atEnd) {
    const before = previous
    const from = s.from
    const word = s.kind === 'name' || s.kind === 'word'
    last = null
    if (s.accept('AS')) previous = 'as'
    else if (word && (before === 'as' || (before === 'operand' && !operatorWords.has(s.word) && !s.is('END')))) {
      last = { from, name: s.name(), afterAs: before === 'as' }
      previous = 'operand'
    } else previous = passOne(s)
  }
  if (!last) return { expression: text.trim(), alias: null }
  const before = text.slice(0, last.from).trim()
  return { expression: last.afterAs ? (beforeEnding(before, ['AS']) ?? before) : before, alias: last.name }
}

/** Over one group, cast, operand or operator; says which it was, as far as an alias may follow. */
function passOne(s: Scanner): 'operand' | 'operator' {
  if (s.isMark('(')) {
    passBrackets(s)
    return 'operand'
  }
  if (s.isMark('[')) {
    while (!s.atEnd && !s.acceptMark(']')) s.next()
    return 'operand'
  }
  if (s.isMark(':')) {
    s.next()
    if (s.acceptMark(':')) typeName(s)
    return 'operand'
  }
  const operator = s.kind === 'mark' || operatorWords.has(s.word)
  s.next()
  return operator ? 'operator' : 'operand'
}

const operatorWords = new Set([
  'AND',
  'OR',
  'NOT',
  'IS',
  'IN',
  'LIKE',
  'ILIKE',
  'BETWEEN',
  'SIMILAR',
  'COLLATE',
  'AT',
  'TIME',
  'ZONE',
  'DISTINCT',
  'CASE',
  'WHEN',
  'THEN',
  'ELSE',
  'OVER',
  'FILTER',
  'DIV',
  'MOD',
])

const unnamed = '?column?'

/** What an expression without a name is called. */
function figureName(d: Draft, expression: string): string {
  const s = new Scanner(expression, d.semantics.lexis)
  if (d.semantics.dialect !== 'postgresql') return /^[^()\s]+$/.test(expression) ? lastName(s) : expression
  return postgresName(d, s) ?? unnamed
}

/** The name of one operand that is the whole expression, with what may follow it; null where operators make it another thing. */
function postgresName(d: Draft, s: Scanner): string | null {
  const name = operandName(d, s)
  let cast: string | null = null
  while (!s.atEnd) {
    if (s.isMark(':')) cast = castName(s)
    else if (s.accept('COLLATE')) lastName(s)
    else if (s.isMark('[')) while (!s.atEnd && !s.acceptMark(']')) s.next()
    else if (s.is('OVER') || s.is('FILTER') || s.is('WITHIN')) while (!s.atEnd) s.next()
    else return null
  }
  return name ?? cast
}

/** An operand's own name; null for a literal, which may be called after its cast. */
function operandName(d: Draft, s: Scanner): string | null {
  if (s.is('CASE')) return caseName(d, s)
  if (s.isMark('(')) {
    const inner = new Scanner(bracketed(s), d.semantics.lexis)
    return inner.is('SELECT') ? (queryColumns(d, inner.text, new Map())[0]?.name ?? null) : postgresName(d, inner)
  }
  if (s.kind !== 'word' && s.kind !== 'name') {
    s.next()
    return null
  }
  if (s.accept('NULL')) return null
  if (s.accept('TRUE') || s.accept('FALSE')) return 'bool'
  const call = s.is('CAST')
  const name = lastName(s)
  if (!s.isMark('(')) return name
  const inside = bracketed(s)
  return call ? castCallName(d, inside) : name
}

/** CAST(x AS type) is called as x is, or after the type. */
function castCallName(d: Draft, inside: string): string {
  const at = inside.toLowerCase().lastIndexOf(' as ')
  const operand = postgresName(d, new Scanner(inside.slice(0, Math.max(at, 0)), d.semantics.lexis))
  return operand ?? internalName(typeName(new Scanner(inside, d.semantics.lexis, at + 4)))
}

function castName(s: Scanner): string | null {
  s.next()
  return s.acceptMark(':') ? internalName(typeName(s)) : null
}

/** Names the server itself has for types of several words (pg_type.typname). */
const internalNames: Readonly<Record<string, string>> = {
  int: 'int4',
  integer: 'int4',
  smallint: 'int2',
  bigint: 'int8',
  real: 'float4',
  float: 'float8',
  'double precision': 'float8',
  boolean: 'bool',
  decimal: 'numeric',
  'character varying': 'varchar',
  character: 'bpchar',
  char: 'bpchar',
  'bit varying': 'varbit',
}

function internalName(t: TypeName): string {
  if (t.suffix === 'with time zone') return `${t.name}tz`
  return internalNames[t.name] ?? t.name
}

/** After what ELSE gives, where that has a name. */
function caseName(d: Draft, s: Scanner): string {
  let depth = 0
  let from = -1
  let otherwise: string | null = null
  do {
    if (s.is('CASE')) depth += 1
    else if (s.is('ELSE') && depth === 1) from = s.to
    else if (s.is('END')) {
      if (depth === 1 && from >= 0) otherwise = s.text.slice(from, s.from)
      depth -= 1
    }
    s.next()
  } while (depth > 0 && !s.atEnd)
  const inner = otherwise === null ? null : new Scanner(otherwise, d.semantics.lexis)
  const named = inner && (inner.kind === 'word' || inner.kind === 'name') && !inner.is('CASE') && !inner.is('NULL') && !inner.is('TRUE') && !inner.is('FALSE')
  return (named && inner ? postgresName(d, inner) : null) ?? 'case'
}

function lastName(s: Scanner): string {
  let name = s.kind === 'word' || s.kind === 'name' ? s.name() : unnamed
  while (s.acceptMark('.')) name = s.kind === 'word' || s.kind === 'name' ? s.name() : name
  return name
}

/** Columns as they are, casts, counts and literals; "" for all else. */
function typeOf(d: Draft, expression: string, tables: Sources): string {
  const s = new Scanner(expression, d.semantics.lexis)
  if (s.kind === 'word' || s.kind === 'name') {
    const parts = [s.name()]
    while (s.acceptMark('.') && (s.kind === 'word' || s.kind === 'name')) parts.push(s.name())
    if (s.atEnd) return columnType(d, parts, tables)
    if (parts.at(-1)?.toLowerCase() === 'count' && s.isMark('(') && d.semantics.dialect !== 'sqlite') return 'bigint'
  }
  const cast = expression.lastIndexOf('::')
  if (cast > 0 && d.semantics.dialect === 'postgresql') {
    try {
      const c = new Scanner(expression, d.semantics.lexis, cast + 2)
      const type = typeName(c)
      if (c.atEnd) return d.semantics.type(type, d, '')
    } catch {
      return ''
    }
  }
  return ''
}

function columnType(d: Draft, parts: readonly string[], tables: Sources): string {
  const column = parts.at(-1) as string
  const of = parts.length > 1 ? [tables.get(parts.at(-2) as string) ?? null] : [...tables.values()]
  const key = d.semantics.columnKey(column)
  for (const columns of of) {
    const c = columns?.find((x) => d.semantics.columnKey(x.name) === key)
    if (c) return c.type
  }
  return ''
}
