// ALTER, DROP and COMMENT of everything but the actions on a table.

import { alterActions } from './alter.ts'
import { expressionUntil, qualified, typeName } from './clauses.ts'
import { startsClause } from './columns.ts'
import { check } from './constraints.ts'
import { alterDefined, definedKind, dropDefined, objectName } from './definedObjects.ts'
import { createView, dotted } from './objects.ts'
import { alterPolicy, dropPolicy } from './policies.ts'
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

const byFirst = new Map<string, (typeof objectWords)[number][]>()
for (const kind of objectWords) byFirst.set(kind[0][0] as string, [...(byFirst.get(kind[0][0] as string) ?? []), kind])

function objectKind(s: Scanner): Droppable | null {
  for (const [words, what] of byFirst.get(s.word) ?? []) if (s.acceptAll(words)) return what
  return null
}

function skipAll(s: Scanner): void {
  while (!s.done) s.next()
}

/** After DROP. */
export function drop(s: Scanner): Statement {
  s.accept('TEMPORARY')
  if (s.accept('POLICY')) return dropPolicy(s)
  const defined = definedKind(s)
  if (defined !== null) return dropDefined(s, defined)
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
export function alter(s: Scanner, from: number): Statement {
  s.accept('IGNORE')
  if (s.accept('POLICY')) return alterPolicy(s)
  const defined = definedKind(s)
  if (defined !== null) return alterDefined(s, defined, from)
  const start = s.place()
  const what = objectKind(s)
  switch (what) {
    case 'view':
      return newQuery(s, from) ?? alterRelation(s, what)
    case 'table':
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

/** MySQL: ALTER VIEW v [(columns)] AS …, which replaces the view. Null, with nothing taken, where it is another change. */
function newQuery(s: Scanner, from: number): Statement | null {
  const start = s.place()
  s.accept('IF', 'EXISTS')
  qualified(s, 'a view')
  const replaced = s.is('AS') || s.isMark('(')
  s.back(start)
  return replaced ? createView(s, { from, replace: true, mustExist: true, temporary: false, materialized: false }) : null
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

/** Of a kind that is not read: a new owner changes nothing. */
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
  const defined = definedKind(s)
  if (defined !== null) return { on: 'object', object: objectName(s, defined) }
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
    ['POLICY', 'policy'],
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

/** What CREATE makes that is kept by name only; null where the words say nothing known. */
export function createOther(s: Scanner): Statement | null {
  for (const [word, what] of [
    ['SUBSCRIPTION', 'subscription'],
    ['EVENT', 'event'],
  ] as const) {
    if (!s.accept(word)) continue
    s.accept('IF', 'NOT', 'EXISTS')
    const name = qualified(s)
    skipAll(s)
    return { kind: 'create other', what, name: dotted(name) }
  }
  return null
}
