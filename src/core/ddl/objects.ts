// CREATE of what is not a table: schemas, indexes, views, sequences, types, domains, triggers, rules.
import { expressionUntil, keyParts, list, names, oneLine, options, qualified, skipGroup, textFrom, typeName } from './clauses.ts'
import { startsClause } from './columns.ts'
import { check } from './constraints.ts'
import type { Scanner } from './scanner.ts'
import { sequenceSettings } from './sequences.ts'
import type { CheckDefinition, IndexDefinition, Name, Statement, TypeName } from './statement.ts'
import { restOf } from './tables.ts'

export const ifNotExists = (s: Scanner): boolean => s.accept('IF', 'NOT', 'EXISTS')

export function createSchema(s: Scanner): Statement {
  const absent = ifNotExists(s)
  const name = s.is('AUTHORIZATION') ? null : s.name('a schema')
  const owner = s.accept('AUTHORIZATION') ? s.name('a role') : null
  return { kind: 'create schema', name: name ?? owner ?? '', ifNotExists: absent, elements: [] }
}

export function createExtension(s: Scanner): Statement {
  const absent = ifNotExists(s)
  const name = s.name('an extension')
  let schema: string | null = null
  let version: string | null = null
  s.accept('WITH')
  for (;;) {
    if (s.accept('SCHEMA')) schema = s.name('a schema')
    else if (s.accept('VERSION')) version = s.kind === 'string' ? s.string() : s.name()
    else if (!s.accept('CASCADE')) break
  }
  return { kind: 'create extension', name, schema, version, ifNotExists: absent }
}

/** After CREATE [UNIQUE | FULLTEXT | SPATIAL] INDEX. */
export function createIndex(s: Scanner, unique: boolean, early: string | null): Statement {
  s.accept('CONCURRENTLY')
  const absent = ifNotExists(s)
  let name: Name | null = null
  if (!s.is('ON') && !s.is('USING')) name = qualified(s, 'an index')
  let method = s.accept('USING') ? s.name().toLowerCase() : early
  s.expect('ON')
  const only = s.accept('ONLY')
  const table = qualified(s, 'a table')
  if (s.accept('USING')) method = s.name().toLowerCase()
  const parts = keyParts(s)
  let rest: Pick<IndexDefinition, 'include' | 'options' | 'predicate' | 'nullsNotDistinct' | 'comment'> = {
    include: [],
    options: [],
    predicate: null,
    nullsNotDistinct: false,
    comment: null,
  }
  while (!s.done) {
    if (s.accept('INCLUDE')) rest = { ...rest, include: names(s) }
    else if (s.accept('NULLS', 'NOT', 'DISTINCT')) rest = { ...rest, nullsNotDistinct: true }
    else if (s.accept('NULLS', 'DISTINCT')) continue
    else if (s.accept('WITH', 'PARSER')) s.next()
    else if (s.accept('WITH')) rest = { ...rest, options: options(s) }
    else if (s.accept('TABLESPACE')) s.next()
    else if (s.accept('WHERE')) rest = { ...rest, predicate: restOf(s) }
    else if (s.accept('USING')) method = s.name().toLowerCase()
    else if (s.accept('COMMENT')) rest = { ...rest, comment: s.string() }
    else if (s.accept('ALGORITHM') || s.accept('LOCK') || s.accept('KEY_BLOCK_SIZE')) {
      s.acceptMark('=')
      s.next()
    } else throw s.unreadable('a clause of an index was expected')
  }
  const index: IndexDefinition = { kind: 'index', name: name?.name ?? null, unique, method, parts, ...rest }
  return { kind: 'create index', table: name?.schema && table.schema === null ? { ...table, schema: name.schema } : table, index, only, ifNotExists: absent }
}

export interface ViewFlags {
  readonly from: number
  readonly replace: boolean
  readonly temporary: boolean
  readonly materialized: boolean
  readonly mustExist: boolean
}

/** After CREATE … VIEW. */
export function createView(s: Scanner, flags: ViewFlags): Statement {
  const absent = ifNotExists(s)
  const name = qualified(s, 'a view')
  const columns = s.isMark('(') ? names(s) : []
  let with_: readonly string[] = []
  for (;;) {
    if (s.accept('USING') || s.accept('TABLESPACE')) s.next()
    else if (s.accept('WITH')) with_ = options(s)
    else break
  }
  s.expect('AS')
  const from = s.from
  let to = s.to
  while (!s.done) {
    const stop = s.place()
    if (s.accept('WITH', 'NO', 'DATA') || s.accept('WITH', 'DATA')) continue
    const scope =
      s.accept('WITH', 'CASCADED', 'CHECK', 'OPTION') || s.accept('WITH', 'CHECK', 'OPTION')
        ? 'cascaded'
        : s.accept('WITH', 'LOCAL', 'CHECK', 'OPTION')
          ? 'local'
          : null
    if (scope !== null) {
      with_ = [...with_, `check_option=${scope}`]
      continue
    }
    s.back(stop)
    to = s.to
    s.next()
  }
  const { replace, mustExist, temporary, materialized } = flags
  const query = oneLine(s.text.slice(from, to), s.lexis)
  return {
    kind: 'create view',
    name,
    materialized,
    replace,
    mustExist,
    ifNotExists: absent,
    temporary,
    columns,
    query,
    options: with_,
    text: s.text.slice(flags.from, s.before),
  }
}

export function createSequence(s: Scanner, temporary: boolean, unlogged: boolean): Statement {
  const absent = ifNotExists(s)
  const name = qualified(s, 'a sequence')
  return { kind: 'create sequence', name, settings: sequenceSettings(s), temporary, unlogged, ifNotExists: absent }
}

export function createType(s: Scanner, from: number): Statement {
  const at = s.from - from
  const name = qualified(s, 'a type')
  if (s.accept('AS', 'ENUM')) return { kind: 'create enum', name, labels: list(s, () => s.string()) }
  if (s.accept('AS', 'RANGE')) return createRange(s, name)
  if (s.accept('AS')) {
    const attributes = list(s, () => {
      const attribute = s.name('an attribute')
      const type = typeName(s)
      return { name: attribute, type, collation: s.accept('COLLATE') ? qualified(s) : null }
    })
    return { kind: 'create composite', name, attributes }
  }
  if (s.isMark('(')) skipGroup(s)
  const object = { what: 'type', name, types: [], method: null } as const
  return { kind: 'create object', object, statistics: null, tables: null, handler: false, ifNotExists: false, ...textFrom(s, from, name, at) }
}

/** (SUBTYPE = type, SUBTYPE_OPCLASS = class, …): manual, CREATE TYPE. */
function createRange(s: Scanner, name: Name): Statement {
  let subtype: TypeName | null = null
  const named = new Map<string, Name>()
  list(s, () => {
    const option = s.name('an option').toLowerCase()
    s.expectMark('=')
    if (option === 'subtype') subtype = typeName(s)
    else named.set(option, qualified(s))
  })
  if (subtype === null) throw s.unreadable('SUBTYPE was expected')
  const of = (option: string) => named.get(option) ?? null
  return {
    kind: 'create range',
    name,
    subtype,
    operatorClass: of('subtype_opclass'),
    collation: of('collation'),
    canonical: of('canonical'),
    difference: of('subtype_diff'),
    multirange: of('multirange_type_name'),
  }
}

export const dotted = (n: Name): string => (n.schema === null ? n.name : `${n.schema}.${n.name}`)

export function createDomain(s: Scanner): Statement {
  const name = qualified(s, 'a domain')
  s.accept('AS')
  const type = typeName(s)
  let default_: string | null = null
  let notNull = false
  let collation: Name | null = null
  const checks: CheckDefinition[] = []
  while (!s.done) {
    const constraint = s.accept('CONSTRAINT') ? s.name('a constraint') : null
    if (s.is('CHECK')) checks.push(check(s, constraint, null))
    else if (s.accept('NOT', 'NULL')) notNull = true
    else if (s.accept('NULL')) notNull = false
    else if (s.accept('DEFAULT')) default_ = expressionUntil(s, () => startsClause(s))
    else if (s.accept('COLLATE')) collation = qualified(s)
    else throw s.unreadable('a clause of a domain was expected')
  }
  return { kind: 'create domain', name, type, default: default_, notNull, collation, checks }
}

/** After CREATE … TRIGGER. A body between BEGIN and END has statements of its own. */
export function createTrigger(s: Scanner, from: number, replace: boolean): Statement {
  const absent = ifNotExists(s)
  const name = qualified(s, 'a trigger')
  while (!s.done && !s.is('ON')) s.next()
  s.expect('ON')
  const table = qualified(s, 'a table')
  skipBody(s)
  return { kind: 'create trigger', name, table, replace, ifNotExists: absent, text: s.text.slice(from, s.before) }
}

/** To the end of the statement; a stop between BEGIN and END, or in brackets, does not end it. */
export function skipBody(s: Scanner): void {
  let blocks = 0
  let brackets = 0
  const began = s.delimiter !== ';'
  while (s.kind !== 'end') {
    if (s.kind === 'stop' && (began || (blocks === 0 && brackets === 0))) return
    if (!began && s.kind === 'word') {
      if (s.is('BEGIN') || (s.is('CASE') && blocks > 0)) blocks += 1
      else if (s.is('END') && blocks > 0) blocks -= 1
    } else if (s.isMark('(')) brackets += 1
    else if (s.isMark(')')) brackets -= 1
    s.next()
  }
}

/** After CREATE [OR REPLACE] RULE. */
export function createRule(s: Scanner, from: number, replace: boolean): Statement {
  const name = s.name('a rule')
  s.expect('AS', 'ON')
  s.next()
  s.expect('TO')
  const table = qualified(s, 'a table')
  skipBody(s)
  return { kind: 'create rule', name, table, replace, text: s.text.slice(from, s.before) }
}

/** CREATE VIRTUAL TABLE name USING module(…) */
export function createVirtualTable(s: Scanner): Statement {
  const absent = ifNotExists(s)
  const name = qualified(s, 'a table')
  s.expect('USING')
  const module = s.name('a module').toLowerCase()
  const arguments_ = s.isMark('(') ? moduleArguments(s) : []
  return { kind: 'create virtual table', name, module, arguments: arguments_, ifNotExists: absent }
}

function moduleArguments(s: Scanner): readonly string[] {
  s.expectMark('(')
  const found: string[] = []
  for (;;) {
    const from = s.from
    while (!s.done && !s.isMark(',') && !s.isMark(')')) {
      if (s.isMark('(')) skipGroup(s)
      else s.next()
    }
    if (s.before > from) found.push(oneLine(s.text.slice(from, s.before), s.lexis))
    if (s.acceptMark(')')) return found
    s.expectMark(',')
  }
}
