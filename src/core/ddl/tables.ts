// CREATE TABLE in all three dialects.
import { beforeEnding } from '../text/scan.ts'
import { expressionUntil, foreignOptions, group, list, oneLine, options, qualified, skipGroup } from './clauses.ts'
import { columnDefinition } from './columns.ts'
import { tableConstraint } from './constraints.ts'
import type { Scanner } from './scanner.ts'
import type { CreateTable, LikeClause, Name, TableElement } from './statement.ts'

export interface TableFlags {
  readonly from: number
  readonly temporary: boolean
  readonly unlogged: boolean
}

const likeParts = ['COMMENTS', 'COMPRESSION', 'CONSTRAINTS', 'DEFAULTS', 'GENERATED', 'IDENTITY', 'INDEXES', 'STATISTICS', 'STORAGE']

function likeClause(s: Scanner): LikeClause {
  const of = qualified(s, 'a table')
  const including = new Set<string>()
  for (;;) {
    const add = s.accept('INCLUDING')
    if (!add && !s.accept('EXCLUDING')) break
    const parts = s.accept('ALL') ? likeParts : [s.name().toUpperCase()]
    for (const p of parts) {
      if (add) including.add(p)
      else including.delete(p)
    }
  }
  return { kind: 'like', of, including }
}

function element(s: Scanner): TableElement {
  if (s.accept('LIKE')) return likeClause(s)
  const constraint = tableConstraint(s)
  return constraint ?? { kind: 'column', column: columnDefinition(s) }
}

/** FOR VALUES …, DEFAULT: as the catalog prints it. */
export function bound(s: Scanner): string {
  if (s.accept('DEFAULT')) return 'DEFAULT'
  const from = s.from
  s.expect('FOR', 'VALUES')
  if (s.accept('IN')) skipGroup(s)
  else if (s.accept('FROM')) {
    skipGroup(s)
    s.expect('TO')
    skipGroup(s)
  } else {
    s.expect('WITH')
    skipGroup(s)
  }
  return oneLine(s.text.slice(from, s.before), s.lexis)
}

interface Tail {
  inherits: readonly Name[]
  partitionKey: string | null
  options: readonly string[]
  query: string | null
  withoutRowid: boolean
  strict: boolean
  method: string | null
  foreign: CreateTable['foreign']
}

/** Everything after CREATE … TABLE. */
export function createTable(s: Scanner, flags: TableFlags): CreateTable {
  const ifNotExists = s.accept('IF', 'NOT', 'EXISTS')
  const name = qualified(s, 'a table')
  let elements: readonly TableElement[] = []
  let ofType: Name | null = null
  let partitionOf: CreateTable['partitionOf'] = null
  const settings = new Map<string, string>()
  if (s.accept('PARTITION', 'OF')) {
    const parent = qualified(s, 'a table')
    if (s.isMark('(')) elements = elementsOf(s)
    partitionOf = { parent, bound: bound(s) }
  } else if (s.accept('OF')) {
    ofType = qualified(s, 'a type')
    if (s.isMark('(')) elements = elementsOf(s)
  } else if (s.accept('LIKE')) elements = [likeClause(s)]
  else if (s.isMark('(')) elements = elementsOf(s)
  const tail: Tail = { inherits: [], partitionKey: null, options: [], query: null, withoutRowid: false, strict: false, method: null, foreign: null }
  for (s.acceptMark(','); !s.done; s.acceptMark(',')) if (!tableTail(s, tail, elements.length === 0)) setting(s, settings)
  const { temporary, unlogged } = flags
  const { inherits, partitionKey, options: storage, query, withoutRowid, strict, method, foreign } = tail
  const comment = settings.get('comment') ?? null
  return {
    kind: 'create table',
    name,
    ifNotExists,
    temporary,
    unlogged,
    elements,
    ofType,
    partitionOf,
    settings,
    inherits,
    partitionKey,
    options: storage,
    query,
    withoutRowid,
    strict,
    method,
    foreign,
    comment,
    text: s.text.slice(flags.from, s.before),
  }
}

/** One clause after the list; false where it is none of them. */
function tableTail(s: Scanner, t: Tail, mayBeQuery: boolean): boolean {
  if (s.accept('INHERITS')) t.inherits = list(s, () => qualified(s, 'a table'))
  else if (s.accept('PARTITION', 'BY')) t.partitionKey = partitioning(s)
  else if (s.accept('WITHOUT', 'ROWID')) t.withoutRowid = true
  else if (s.accept('STRICT')) t.strict = true
  else if (noOps.some((words) => s.acceptAll(words))) return true
  else if (s.accept('WITH')) t.options = options(s)
  else if (s.accept('ON', 'COMMIT')) {
    s.next()
    s.accept('ROWS')
  } else if (s.accept('TABLESPACE')) s.next()
  else if (s.accept('USING')) t.method = s.name('an access method')
  else if (s.accept('SERVER')) t.foreign = { server: s.name('a server'), options: [] }
  else if (t.foreign && s.accept('OPTIONS')) t.foreign = { ...t.foreign, options: foreignOptions(s) }
  else if (s.is('AS') || s.is('SELECT') || (s.isMark('(') && mayBeQuery)) {
    s.accept('AS')
    const query = restOf(s)
    t.query = beforeEnding(query, ['WITH', 'NO', 'DATA']) ?? beforeEnding(query, ['WITH', 'DATA']) ?? query
  } else return false
  return true
}

const noOps = [
  ['WITHOUT', 'OIDS'],
  ['WITH', 'OIDS'],
  ['WITH', 'NO', 'DATA'],
  ['WITH', 'DATA'],
] as const

/** The list of a table; SQLite needs no comma before a table constraint. `(a, b) AS SELECT` gives names only. */
function elementsOf(s: Scanner): readonly TableElement[] {
  s.expectMark('(')
  const found: TableElement[] = []
  if (s.acceptMark(')')) return found
  for (;;) {
    found.push(element(s))
    if (s.acceptMark(')')) return found
    if (!s.acceptMark(',') && s.lexis.postgresStrings) throw s.unreadable('"," or ")" was expected')
    if (s.done) throw s.unreadable('")" was expected')
  }
}

function partitioning(s: Scanner): string {
  if (!s.lexis.postgresStrings) return restOf(s)
  const method = s.name().toUpperCase()
  return `${method} (${group(s)})`
}

export function restOf(s: Scanner): string {
  const from = s.from
  while (!s.done) s.next()
  return oneLine(s.text.slice(from, s.before), s.lexis)
}

/** ENGINE=InnoDB, DEFAULT CHARSET=utf8mb4, COMMENT='…': MySQL manual, table_option. */
export function setting(s: Scanner, settings: Map<string, string>): void {
  s.accept('DEFAULT')
  let name = s.name('an option').toLowerCase()
  if (name === 'character') {
    s.expect('SET')
    name = 'charset'
  } else if (name === 'data' || name === 'index') {
    s.expect('DIRECTORY')
    name += ' directory'
  }
  s.acceptMark('=')
  if (s.kind === 'string') settings.set(name, s.string())
  else if (s.isMark('(')) settings.set(name, group(s))
  else if (s.kind === 'word' || s.kind === 'number' || s.kind === 'name') {
    settings.set(name, s.raw)
    s.next()
  } else
    settings.set(
      name,
      expressionUntil(s, () => true),
    )
}
