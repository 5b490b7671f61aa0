// ALTER, DROP and COMMENT of everything but the actions on a table.

import { alterActions } from './alter.ts'
import { expressionUntil, oneLine, qualified, skipGroup, typeName } from './clauses.ts'
import { startsClause } from './columns.ts'
import { check } from './constraints.ts'
import { signature } from './routines.ts'
import type { Scanner } from './scanner.ts'
import { columnOf, sequenceSettings } from './sequences.ts'
import type { CommentTarget, Droppable, Name, Statement, TypeAction } from './statement.ts'

const ignored: Statement = { kind: 'ignored' }

/** Words for a kind of object, longest first, and what we take it for. */
const objectWords: readonly (readonly [readonly string[], Droppable])[] = [
  [['MATERIALIZED', 'VIEW'], 'materialized view'],
  [['FOREIGN', 'TABLE'], 'foreign table'],
  [['TABLE'], 'table'],
  [['VIEW'], 'view'],
  [['SEQUENCE'], 'sequence'],
  [['INDEX'], 'index'],
  [['TYPE'], 'type'],
  [['DOMAIN'], 'domain'],
  [['SCHEMA'], 'schema'],
  [['EXTENSION'], 'extension'],
  [['FUNCTION'], 'routine'],
  [['PROCEDURE'], 'routine'],
  [['ROUTINE'], 'routine'],
  [['AGGREGATE'], 'routine'],
  [['TRIGGER'], 'trigger'],
  [['RULE'], 'rule'],
]

function objectKind(s: Scanner): Droppable | null {
  for (const [words, what] of objectWords) if (s.acceptAll(words)) return what
  return null
}

function skipAll(s: Scanner): void {
  while (!s.done) s.next()
}

/** After DROP. */
export function drop(s: Scanner): Statement {
  s.accept('TEMPORARY')
  const what = objectKind(s)
  if (what === null) {
    skipAll(s)
    return { kind: 'drop', what: 'other', names: [], table: null, ifExists: true, cascade: false }
  }
  s.accept('CONCURRENTLY')
  const ifExists = s.accept('IF', 'EXISTS')
  const dropped: { name: Name; argumentTypes: ReturnType<typeof signature> }[] = []
  do dropped.push({ name: qualified(s), argumentTypes: what === 'routine' ? signature(s) : null })
  while (s.acceptMark(','))
  const table = s.accept('ON') ? qualified(s, 'a table') : null
  const cascade = s.accept('CASCADE')
  if (!cascade) s.accept('RESTRICT')
  // MySQL: DROP INDEX … ALGORITHM=…
  if (what === 'index' && table !== null) skipAll(s)
  return { kind: 'drop', what, names: dropped, table, ifExists, cascade }
}

/** After ALTER. */
export function alter(s: Scanner): Statement {
  s.accept('IGNORE')
  const start = s.place()
  const what = objectKind(s)
  switch (what) {
    case 'table':
    case 'view':
    case 'materialized view':
    case 'foreign table':
      return alterRelation(s, what)
    case 'sequence':
      return alterSequence(s)
    case 'index':
      return alterIndex(s)
    case 'type':
    case 'domain':
      return alterType(s, what)
    case 'schema':
    case 'routine':
    case 'trigger':
    case 'rule':
      return renameOther(s, what)
    case 'extension':
    case null:
      s.back(start)
      return alterUnmodelled(s)
    default:
      return s.unreadable(what) as never
  }
}

function alterRelation(s: Scanner, of: 'table' | 'view' | 'materialized view' | 'foreign table'): Statement {
  if (s.accept('ALL', 'IN', 'TABLESPACE')) {
    skipAll(s)
    return ignored
  }
  const ifExists = s.accept('IF', 'EXISTS')
  const only = s.accept('ONLY')
  const table = qualified(s, 'a table')
  if (s.isMark('*')) s.next()
  // MySQL: ALTER VIEW v AS …
  if (s.is('AS')) throw s.unreadable('a change of a view was expected')
  return { kind: 'alter table', table, of, only, ifExists, actions: alterActions(s) }
}

function alterSequence(s: Scanner): Statement {
  const ifExists = s.accept('IF', 'EXISTS')
  const name = qualified(s, 'a sequence')
  if (s.is('RENAME') || s.is('SET') || s.is('OWNER'))
    return { kind: 'alter table', table: name, of: 'sequence', only: false, ifExists, actions: alterActions(s) }
  return { kind: 'alter sequence', name, settings: sequenceSettings(s), ifExists }
}

function alterIndex(s: Scanner): Statement {
  const ifExists = s.accept('IF', 'EXISTS')
  const name = qualified(s, 'an index')
  if (s.accept('ATTACH', 'PARTITION')) return { kind: 'alter index', name, action: { kind: 'attach', index: qualified(s, 'an index') } }
  if (s.is('ALTER')) {
    s.next()
    s.accept('COLUMN')
    const position = Number(s.raw)
    s.next()
    s.expect('SET', 'STATISTICS')
    const target = Number(s.raw)
    s.next()
    return { kind: 'alter index', name, action: { kind: 'statistics', position, target } }
  }
  return { kind: 'alter table', table: name, of: 'index', only: false, ifExists, actions: alterActions(s) }
}

function alterType(s: Scanner, of: 'type' | 'domain'): Statement {
  const name = qualified(s, 'a type')
  return { kind: 'alter type', of, name, action: typeAction(s) }
}

function typeAction(s: Scanner): TypeAction {
  if (s.accept('OWNER', 'TO')) {
    s.next()
    return { kind: 'nothing' }
  }
  if (s.accept('RENAME', 'TO')) return { kind: 'rename', to: s.name() }
  if (s.accept('SET', 'SCHEMA')) return { kind: 'set schema', schema: s.name() }
  if (s.accept('ADD', 'VALUE')) {
    const absent = s.accept('IF', 'NOT', 'EXISTS')
    const value = s.string()
    const before = s.accept('BEFORE') ? s.string() : null
    const after = s.accept('AFTER') ? s.string() : null
    return { kind: 'add value', value, before, after, ifNotExists: absent }
  }
  if (s.accept('RENAME', 'VALUE')) {
    const value = s.string()
    s.expect('TO')
    return { kind: 'rename value', value, to: s.string() }
  }
  if (s.accept('RENAME', 'ATTRIBUTE')) {
    const attribute = s.name()
    s.expect('TO')
    const to = s.name()
    cascades(s)
    return { kind: 'rename attribute', name: attribute, to }
  }
  if (s.accept('RENAME', 'CONSTRAINT')) {
    const constraint = s.name()
    s.expect('TO')
    return { kind: 'rename check', name: constraint, to: s.name() }
  }
  if (s.accept('ADD', 'ATTRIBUTE')) {
    const attribute = s.name()
    const type = typeName(s)
    cascades(s)
    return { kind: 'add attribute', name: attribute, type }
  }
  if (s.accept('DROP', 'ATTRIBUTE')) {
    s.accept('IF', 'EXISTS')
    const attribute = s.name()
    cascades(s)
    return { kind: 'drop attribute', name: attribute }
  }
  if (s.accept('ALTER', 'ATTRIBUTE')) {
    const attribute = s.name()
    s.accept('SET', 'DATA')
    s.expect('TYPE')
    const type = typeName(s)
    cascades(s)
    return { kind: 'alter attribute', name: attribute, type }
  }
  return domainAction(s)
}

const cascades = (s: Scanner) => s.accept('CASCADE') || s.accept('RESTRICT')

function domainAction(s: Scanner): TypeAction {
  if (s.accept('SET', 'DEFAULT')) return { kind: 'default', expression: expressionUntil(s, () => startsClause(s)) }
  if (s.accept('DROP', 'DEFAULT')) return { kind: 'default', expression: null }
  if (s.accept('SET', 'NOT', 'NULL')) return { kind: 'null', notNull: true }
  if (s.accept('DROP', 'NOT', 'NULL')) return { kind: 'null', notNull: false }
  if (s.accept('ADD')) {
    const constraint = s.accept('CONSTRAINT') ? s.name() : null
    return { kind: 'add check', check: check(s, constraint, null) }
  }
  if (s.accept('DROP', 'CONSTRAINT')) {
    s.accept('IF', 'EXISTS')
    const constraint = s.name()
    cascades(s)
    return { kind: 'drop check', name: constraint }
  }
  if (s.accept('VALIDATE', 'CONSTRAINT')) return { kind: 'validate check', name: s.name() }
  throw s.unreadable('a change of a type was expected')
}

/** RENAME TO and SET SCHEMA of a schema, routine, trigger or rule; settings of a routine say nothing we keep. */
function renameOther(s: Scanner, what: 'schema' | 'routine' | 'trigger' | 'rule'): Statement {
  const name = qualified(s)
  const argumentTypes = what === 'routine' ? signature(s) : null
  const table = s.accept('ON') ? qualified(s, 'a table') : null
  if (s.accept('RENAME', 'TO')) return { kind: 'rename other', what, name, table, to: s.name(), schema: false, argumentTypes }
  if (s.accept('SET', 'SCHEMA')) return { kind: 'rename other', what, name, table, to: s.name(), schema: true, argumentTypes }
  const owner = s.accept('OWNER', 'TO')
  if (!owner && what !== 'routine') throw s.unreadable('RENAME TO, SET SCHEMA or OWNER TO was expected')
  skipAll(s)
  return ignored
}

/** Kinds kept by name only: a new owner changes nothing; another change is not read. */
function alterUnmodelled(s: Scanner): Statement {
  const from = s.place()
  while (!s.done) {
    if (s.accept('OWNER', 'TO')) {
      skipAll(s)
      return ignored
    }
    s.next()
  }
  s.back(from)
  throw s.unreadable('a change of an object that is read was expected')
}

/** After COMMENT ON. */
export function comment(s: Scanner): Statement {
  const on = commentTarget(s)
  while (!s.done && !s.is('IS')) s.next()
  s.expect('IS')
  const text = s.accept('NULL') ? null : s.string()
  return { kind: 'comment', on, text }
}

const relationWords: readonly (readonly string[])[] = [['TABLE'], ['VIEW'], ['MATERIALIZED', 'VIEW'], ['FOREIGN', 'TABLE']]

function commentTarget(s: Scanner): CommentTarget {
  if (s.accept('COLUMN')) return { on: 'column', ...columnOf(s) }
  for (const words of relationWords) if (s.acceptAll(words)) return { on: 'relation', name: qualified(s) }
  for (const [word, on] of [
    ['TYPE', 'type'],
    ['DOMAIN', 'type'],
    ['SEQUENCE', 'sequence'],
    ['INDEX', 'index'],
    ['SCHEMA', 'schema'],
    ['EXTENSION', 'extension'],
  ] as const) {
    if (s.accept(word)) return { on, name: qualified(s) }
  }
  for (const [word, on] of [
    ['CONSTRAINT', 'constraint'],
    ['TRIGGER', 'trigger'],
    ['RULE', 'rule'],
  ] as const) {
    if (!s.accept(word)) continue
    const name = s.name()
    s.expect('ON')
    const domain = s.accept('DOMAIN')
    return { on, name, domain, table: qualified(s) }
  }
  for (const word of ['FUNCTION', 'PROCEDURE', 'ROUTINE', 'AGGREGATE']) {
    if (!s.accept(word)) continue
    const name = qualified(s)
    return { on: 'routine', name, argumentTypes: signature(s) ?? [] }
  }
  return { on: 'other' }
}

/** What CREATE makes that is kept by name only; null where the words say nothing known. The name is the server's own for it (pg_identify_object). */
export function createOther(s: Scanner): Statement | null {
  if (s.accept('POLICY')) {
    const name = s.name()
    s.expect('ON')
    const table = qualified(s)
    return { ...other(s, 'policy', name), table }
  }
  for (const [words, what] of namedKinds) {
    if (!s.acceptAll(words)) continue
    s.accept('IF', 'NOT', 'EXISTS')
    // CREATE STATISTICS ON …: the server makes up a name.
    const name = s.is('ON') || s.isMark('(') ? { schema: null, name: oneLine(s.raw, s.lexis) } : qualified(s)
    return other(s, what, name.schema === null ? name.name : `${name.schema}.${name.name}`)
  }
  if (s.accept('CAST')) {
    const from = s.from
    skipGroup(s)
    return other(s, 'cast', s.text.slice(from, s.before).replace(/\s+AS\s+/i, ' AS '))
  }
  if (s.accept('OPERATOR')) {
    const from = s.from
    while (!s.done && !s.isMark('(')) s.next()
    return other(s, 'operator', s.text.slice(from, s.before))
  }
  return null
}

function other(s: Scanner, what: string, name: string): Extract<Statement, { kind: 'create other' }> {
  skipAll(s)
  return { kind: 'create other', what, name }
}

const namedKinds: readonly (readonly [readonly string[], string])[] = [
  [['STATISTICS'], 'statistics object'],
  [['COLLATION'], 'collation'],
  [['DEFAULT', 'CONVERSION'], 'conversion'],
  [['CONVERSION'], 'conversion'],
  [['OPERATOR', 'CLASS'], 'operator class'],
  [['OPERATOR', 'FAMILY'], 'operator family'],
  [['TEXT', 'SEARCH', 'CONFIGURATION'], 'text search configuration'],
  [['TEXT', 'SEARCH', 'DICTIONARY'], 'text search dictionary'],
  [['TEXT', 'SEARCH', 'PARSER'], 'text search parser'],
  [['TEXT', 'SEARCH', 'TEMPLATE'], 'text search template'],
  [['EVENT', 'TRIGGER'], 'event trigger'],
  [['FOREIGN', 'DATA', 'WRAPPER'], 'foreign-data wrapper'],
  [['SERVER'], 'server'],
  [['PUBLICATION'], 'publication'],
  [['SUBSCRIPTION'], 'subscription'],
  [['TRUSTED', 'PROCEDURAL', 'LANGUAGE'], 'language'],
  [['TRUSTED', 'LANGUAGE'], 'language'],
  [['PROCEDURAL', 'LANGUAGE'], 'language'],
  [['LANGUAGE'], 'language'],
  [['ACCESS', 'METHOD'], 'access method'],
  [['EVENT'], 'event'],
]
