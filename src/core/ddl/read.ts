// One statement: which one it is, and the reader for it.
import { qualified } from './clauses.ts'
import { createDefined } from './definedObjects.ts'
import { isIgnorable, isIgnorableAfter } from './ignorable.ts'
import {
  createDomain,
  createExtension,
  createIndex,
  createRule,
  createSchema,
  createSequence,
  createTrigger,
  createType,
  createView,
  createVirtualTable,
} from './objects.ts'
import { alter, comment, createOther, drop } from './others.ts'
import { createPolicy } from './policies.ts'
import { createAggregate, createRoutine } from './routines.ts'
import { Scanner } from './scanner.ts'
import type { Name, Statement } from './statement.ts'
import { createTable, restOf } from './tables.ts'

const ignored: Statement = { kind: 'ignored' }

/**
 * The statement the scanner stands on; afterwards it stands on the stop. Throws Unreadable with the place where the text is
 * none of what is known. Never looks anything up, so it can be read again from its start.
 */
export function readStatement(s: Scanner): Statement {
  const from = s.from
  const statement = structural(s, from)
  if (statement !== null) {
    if (!s.done) throw s.unreadable('the end of the statement was expected')
    return statement
  }
  if (!isIgnorable(s)) throw s.unreadable('this statement is not known')
  return leave(s)
}

/** Over rows and other ignored text. Nothing in them is looked at but where they end. */
function leave(s: Scanner): Statement {
  while (!s.done) s.next()
  return ignored
}

function structural(s: Scanner, from: number): Statement | null {
  if (s.is('CREATE')) return create(s, from)
  if (s.is('ALTER')) {
    s.next()
    if (isIgnorableAfter('ALTER', s)) return leave(s)
    while (s.is('ALGORITHM') || s.is('DEFINER') || s.is('SQL')) definer(s)
    return alter(s, from)
  }
  if (s.is('DROP')) {
    s.next()
    return isIgnorableAfter('DROP', s) ? leave(s) : drop(s)
  }
  if (s.accept('COMMENT', 'ON')) return comment(s)
  if (s.is('RENAME')) return renameTables(s)
  if (s.accept('COPY')) return copy(s)
  if (s.is('SELECT') || s.is('SET')) return searchPath(s)
  if (s.accept('USE')) return { kind: 'search path', schemas: [s.name('a database')] }
  return null
}

function create(s: Scanner, from: number): Statement | null {
  s.next()
  if (isIgnorableAfter('CREATE', s)) return leave(s)
  const replace = s.accept('OR', 'REPLACE')
  // MySQL: ALGORITHM=…, DEFINER=…, SQL SECURITY … before VIEW, TRIGGER and routines.
  while (s.is('ALGORITHM') || s.is('DEFINER') || s.is('SQL')) definer(s)
  const local = s.accept('GLOBAL') || s.accept('LOCAL')
  const temporary = s.accept('TEMPORARY') || s.accept('TEMP') || local
  const unlogged = s.accept('UNLOGGED')
  if (s.accept('TABLE')) return createTable(s, { from, temporary, unlogged })
  if (s.accept('SEQUENCE')) return createSequence(s, temporary, unlogged)
  const materialized = s.accept('MATERIALIZED')
  if (s.accept('RECURSIVE', 'VIEW') || s.accept('VIEW')) return createView(s, { from, replace, mustExist: false, temporary, materialized })
  if (s.accept('UNIQUE', 'INDEX')) return createIndex(s, true, null)
  if (s.accept('INDEX')) return createIndex(s, false, null)
  if (s.accept('FULLTEXT', 'INDEX')) return createIndex(s, false, 'fulltext')
  if (s.accept('SPATIAL', 'INDEX')) return createIndex(s, false, 'spatial')
  if (s.accept('VIRTUAL', 'TABLE')) return createVirtualTable(s)
  if (s.accept('CONSTRAINT', 'TRIGGER') || s.accept('TRIGGER')) return createTrigger(s, from, replace)
  if (s.accept('RULE')) return createRule(s, from, replace)
  if (s.accept('FUNCTION') || s.accept('AGGREGATE', 'FUNCTION')) return createRoutine(s, 'function', from, replace)
  if (s.accept('PROCEDURE')) return createRoutine(s, 'procedure', from, replace)
  if (s.accept('AGGREGATE')) return createAggregate(s, from, replace)
  if (s.accept('SCHEMA')) return withElements(createSchema(s), s)
  if (s.accept('EXTENSION')) return createExtension(s)
  if (s.accept('TYPE')) return createType(s, from)
  if (s.accept('DOMAIN')) return createDomain(s)
  if (s.accept('FOREIGN', 'TABLE')) return createTable(s, { from, temporary: false, unlogged: false })
  if (s.accept('POLICY')) return createPolicy(s)
  const other = createDefined(s, from) ?? createOther(s)
  if (other) return other
  throw s.unreadable('what is created here is not known')
}

/** CREATE SCHEMA s CREATE TABLE … CREATE VIEW …: each element is a statement that begins with CREATE outside of brackets (manual, CREATE SCHEMA). */
function withElements(schema: Statement, s: Scanner): Statement {
  if (schema.kind !== 'create schema' || s.done) return schema
  const starts: number[] = []
  let depth = 0
  for (; !s.done; s.next()) {
    if (s.isMark('(')) depth += 1
    else if (s.isMark(')')) depth -= 1
    else if (depth === 0 && (s.is('CREATE') || s.is('GRANT'))) starts.push(s.from)
  }
  const end = s.before
  const elements = starts.map((from, i) => readStatement(new Scanner(s.text.slice(0, starts[i + 1] ?? end), s.lexis, from)))
  return { ...schema, elements }
}

function definer(s: Scanner): void {
  if (s.accept('SQL', 'SECURITY')) s.next()
  else {
    s.next()
    s.expectMark('=')
    s.next()
    if (s.acceptMark('@')) s.next()
    if (s.isMark('(')) {
      s.next()
      s.expectMark(')')
    }
  }
}

/** MySQL: RENAME TABLE a TO b, c TO d. */
function renameTables(s: Scanner): Statement {
  s.next()
  s.expect('TABLE')
  const pairs: { table: Name; to: Name }[] = []
  do {
    const table = qualified(s, 'a table')
    s.expect('TO')
    pairs.push({ table, to: qualified(s, 'a table') })
  } while (s.acceptMark(','))
  return { kind: 'rename tables', pairs }
}

function copy(s: Scanner): Statement {
  const rest = restOf(s)
  return /\bfrom\s+stdin\b/i.test(rest) ? { kind: 'rows follow' } : ignored
}

/** SET search_path = …; SELECT pg_catalog.set_config('search_path', '…', false). Null for any other SET or SELECT. */
function searchPath(s: Scanner): Statement | null {
  const start = s.place()
  if (s.accept('SET')) {
    if (!s.accept('LOCAL')) s.accept('SESSION')
    if (s.accept('SEARCH_PATH')) {
      if (!s.acceptMark('=')) s.expect('TO')
      const schemas: string[] = []
      do {
        if (s.kind === 'string') schemas.push(s.string())
        else schemas.push(s.name('a schema'))
      } while (s.acceptMark(','))
      return { kind: 'search path', schemas: pathOf(schemas) }
    }
    s.back(start)
    return null
  }
  s.next()
  if (s.accept('PG_CATALOG')) s.acceptMark('.')
  if (s.accept('SET_CONFIG') && s.acceptMark('(') && s.kind === 'string' && s.string() === 'search_path' && s.acceptMark(',') && s.kind === 'string') {
    const schemas = s
      .string()
      .split(',')
      .map((n) => n.trim().replace(/^"|"$/g, ''))
    leave(s)
    return { kind: 'search path', schemas: pathOf(schemas) }
  }
  s.back(start)
  return null
}

const pathOf = (schemas: readonly string[]) => schemas.filter((n) => n !== '' && n !== '$user' && n !== 'pg_catalog' && n.toLowerCase() !== 'default')
