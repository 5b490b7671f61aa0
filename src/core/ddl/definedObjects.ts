// Objects that are kept as the text that makes them: how statements name them, and CREATE, ALTER and DROP of them (PostgreSQL manual, part VI).
import { list, qualified, skipGroup, textFrom, typeName } from './clauses.ts'
import type { Scanner } from './scanner.ts'
import type { Name, ObjectName, PublishedTables, Statement, StatementOf, TypeName } from './statement.ts'

const kinds: readonly (readonly [readonly string[], ObjectName['what']])[] = [
  [['STATISTICS'], 'statistics object'],
  [['COLLATION'], 'collation'],
  [['DEFAULT', 'CONVERSION'], 'conversion'],
  [['CONVERSION'], 'conversion'],
  [['OPERATOR', 'CLASS'], 'operator class'],
  [['OPERATOR', 'FAMILY'], 'operator family'],
  [['OPERATOR'], 'operator'],
  [['CAST'], 'cast'],
  [['TRANSFORM'], 'transform'],
  [['TEXT', 'SEARCH', 'CONFIGURATION'], 'text search configuration'],
  [['TEXT', 'SEARCH', 'DICTIONARY'], 'text search dictionary'],
  [['TEXT', 'SEARCH', 'PARSER'], 'text search parser'],
  [['TEXT', 'SEARCH', 'TEMPLATE'], 'text search template'],
  [['EVENT', 'TRIGGER'], 'event trigger'],
  [['FOREIGN', 'DATA', 'WRAPPER'], 'foreign-data wrapper'],
  [['SERVER'], 'server'],
  [['PUBLICATION'], 'publication'],
  [['TRUSTED', 'PROCEDURAL', 'LANGUAGE'], 'language'],
  [['TRUSTED', 'LANGUAGE'], 'language'],
  [['PROCEDURAL', 'LANGUAGE'], 'language'],
  [['LANGUAGE'], 'language'],
  [['ACCESS', 'METHOD'], 'access method'],
]

const byFirst = new Map<string, (typeof kinds)[number][]>()
for (const kind of kinds) byFirst.set(kind[0][0] as string, [...(byFirst.get(kind[0][0] as string) ?? []), kind])

/** The kind that the next words name; null, with nothing taken, where they name none of these. */
export function definedKind(s: Scanner): ObjectName['what'] | null {
  for (const [words, what] of byFirst.get(s.word) ?? []) if (s.acceptAll(words)) return what
  return null
}

const rest = (s: Scanner): void => {
  while (!s.done) s.next()
}

/** `+`, `app.===`: signs up to the bracket. */
function operatorName(s: Scanner): Name {
  let schema: string | null = null
  while (s.kind === 'word' || s.kind === 'name') {
    schema = s.name()
    s.expectMark('.')
  }
  const from = s.from
  while (!s.done && !s.isMark('(')) s.next()
  return { schema, name: s.text.slice(from, s.before).trim() }
}

const operand = (s: Scanner): TypeName | null => (s.accept('NONE') ? null : typeName(s))
const nameless: Name = { schema: null, name: '' }

/** The name after the words for the kind, as ALTER, DROP and COMMENT give it. */
export function objectName(s: Scanner, what: ObjectName['what']): ObjectName {
  switch (what) {
    case 'operator': {
      const name = operatorName(s)
      return { what, name, types: list(s, () => operand(s)), method: null }
    }
    case 'operator class':
    case 'operator family': {
      const name = qualified(s)
      s.expect('USING')
      return { what, name, types: [], method: s.name('a method') }
    }
    case 'cast': {
      s.expectMark('(')
      const from = typeName(s)
      s.expect('AS')
      const to = typeName(s)
      s.expectMark(')')
      return { what, name: nameless, types: [from, to], method: null }
    }
    case 'transform': {
      s.expect('FOR')
      const type = typeName(s)
      s.expect('LANGUAGE')
      return { what, name: nameless, types: [type], method: s.name('a language') }
    }
    default:
      return { what, name: qualified(s), types: [], method: null }
  }
}

/** After CREATE [OR REPLACE]; null where no such kind follows. */
export function createDefined(s: Scanner, from: number): Statement | null {
  const what = definedKind(s)
  if (what === null) return null
  const ifNotExists = s.accept('IF', 'NOT', 'EXISTS')
  const at = s.from - from
  const statement = what === 'statistics object' ? statistics(s) : { object: created(s, what, from), statistics: null }
  const handler = s.is('HANDLER')
  const tables = what === 'publication' && s.accept('FOR', 'TABLE') ? published(s, 'add') : null
  rest(s)
  return { kind: 'create object', ...statement, tables, handler, ifNotExists, ...textFrom(s, from, statement.object.name, at, statement.object.relatedAt) }
}

/** [ONLY] table [*] [(columns)] [WHERE (…)], … */
function published(s: Scanner, change: 'add' | 'set' | 'drop'): PublishedTables {
  const tables: { name: Name; only: boolean }[] = []
  do {
    if (s.accept('TABLES')) break
    s.accept('TABLE')
    const only = s.accept('ONLY')
    tables.push({ name: qualified(s, 'a table'), only })
    if (s.isMark('*')) s.next()
    if (s.isMark('(')) skipGroup(s)
    if (s.accept('WHERE')) skipGroup(s)
  } while (s.acceptMark(','))
  return { change, tables }
}

function created(s: Scanner, what: Exclude<ObjectName['what'], 'statistics object'>, from: number): ObjectName {
  if (what === 'operator') return createdOperator(s, from)
  if (what !== 'operator class') return objectName(s, what)
  const name = qualified(s)
  s.accept('DEFAULT')
  s.expect('FOR', 'TYPE')
  const type = typeName(s)
  s.expect('USING')
  const method = s.name('a method')
  const family = s.accept('FAMILY') ? qualified(s) : null
  return { what, name, types: [type], method, family }
}

function createdOperator(s: Scanner, from: number): ObjectName {
  const name = operatorName(s)
  let left: TypeName | null = null
  let right: TypeName | null = null
  const relatedAt: { from: number; to: number }[] = []
  list(s, () => {
    const option = s.is('LEFTARG') ? 'left' : s.is('RIGHTARG') ? 'right' : null
    const related = s.is('COMMUTATOR') || s.is('NEGATOR')
    s.next()
    if (!s.acceptMark('=')) return
    const bare = related && s.kind === 'mark' ? s.from - from : null
    if (option === 'left') left = operand(s)
    else if (option === 'right') right = operand(s)
    else
      while (!s.done && !s.isMark(',') && !s.isMark(')')) {
        if (s.isMark('(')) skipGroup(s)
        else s.next()
      }
    if (bare !== null) relatedAt.push({ from: bare, to: s.before - from })
  })
  return { what: 'operator', name, types: [left, right], method: null, relatedAt }
}

/** [name] [(kinds)] ON column, (expression) FROM table. */
function statistics(s: Scanner): Pick<StatementOf<'create object'>, 'object' | 'statistics'> {
  const name = s.is('ON') || s.isMark('(') ? null : qualified(s)
  if (s.isMark('(')) skipGroup(s)
  s.expect('ON')
  const columns: (string | null)[] = []
  do {
    if (s.isMark('(')) {
      skipGroup(s)
      columns.push(null)
    } else {
      const column = s.name('a column')
      columns.push(s.isMark('(') ? null : column)
      if (s.isMark('(')) skipGroup(s)
    }
  } while (s.acceptMark(','))
  s.expect('FROM')
  const object: ObjectName = { what: 'statistics object', name: name ?? nameless, types: [], method: null }
  return { object, statistics: { table: qualified(s, 'a table'), columns } }
}

/** After ALTER and the kind. A new owner changes nothing; a new name or schema moves it; anything else is part of what makes it. */
export function alterDefined(s: Scanner, what: ObjectName['what'], from: number): Statement {
  const at = s.from - from
  const object = objectName(s, what)
  if (s.accept('OWNER', 'TO')) {
    rest(s)
    return { kind: 'ignored' }
  }
  const change = what !== 'publication' ? undefined : (['add', 'set', 'drop'] as const).find((c) => s.accept(c.toUpperCase(), 'TABLE'))
  const tables = change ? published(s, change) : null
  const to = s.accept('RENAME', 'TO')
    ? ({ part: 'name', name: s.name() } as const)
    : s.accept('SET', 'SCHEMA')
      ? ({ part: 'schema', name: s.name('a schema') } as const)
      : null
  rest(s)
  return { kind: 'alter object', object, to, tables, ...textFrom(s, from, object.name, at) }
}

/** After DROP and the kind. */
export function dropDefined(s: Scanner, what: ObjectName['what']): Statement {
  const ifExists = s.accept('IF', 'EXISTS')
  const objects: ObjectName[] = []
  do objects.push(objectName(s, what))
  while (s.acceptMark(','))
  if (!s.accept('CASCADE')) s.accept('RESTRICT')
  return { kind: 'drop object', objects, ifExists }
}
