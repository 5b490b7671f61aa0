// A column's definition: type, then clauses in any order.
import { expressionUntil, foreignOptions, group, oneLine, qualified, skipGroup, typeName } from './clauses.ts'
import { columnConstraint, conflictClause } from './constraints.ts'
import type { Scanner } from './scanner.ts'
import { sequenceSettings } from './sequences.ts'
import type { ColumnDefinition, ConstraintDefinition, Name, SequenceSettings, TypeName } from './statement.ts'

/** Words that end a default's expression: the clauses that may follow it. */
const clauseWords = new Set([
  'NOT',
  'NULL',
  'CONSTRAINT',
  'PRIMARY',
  'UNIQUE',
  'CHECK',
  'REFERENCES',
  'COLLATE',
  'GENERATED',
  'DEFERRABLE',
  'INITIALLY',
  'DEFAULT',
  'AUTO_INCREMENT',
  'AUTOINCREMENT',
  'COMMENT',
  'ON',
  'KEY',
  'STORAGE',
  'COMPRESSION',
  'AS',
  'CHARACTER',
  'CHARSET',
  'VIRTUAL',
  'STORED',
  'PERSISTENT',
  'INVISIBLE',
  'VISIBLE',
  'COLUMN_FORMAT',
  'AFTER',
  'FIRST',
  'INCLUDING',
  'WITH',
  'USING',
  'ENGINE_ATTRIBUTE',
  'OPTIONS',
])
export const startsClause = (s: Scanner): boolean => s.kind === 'word' && clauseWords.has(s.word)

/** SQLite allows a column without a type: the name is followed by a clause, a comma or the closing bracket. */
const hasType = (s: Scanner) => (s.kind === 'word' && !startsClause(s)) || s.kind === 'name' || (s.kind === 'word' && s.is('CHARACTER'))

interface Draft {
  readonly name: string
  readonly bare: boolean
  type: TypeName | null
  notNull: boolean | null
  default: string | null
  generated: ColumnDefinition['generated']
  identity: ColumnDefinition['identity']
  counts: boolean
  onUpdate: string | null
  collation: Name | null
  charset: string | null
  storage: string | null
  compression: string | null
  comment: string | null
  foreignOptions: readonly string[]
  constraints: ConstraintDefinition[]
}

export function columnDefinition(s: Scanner): ColumnDefinition {
  const bare = s.kind === 'word'
  const name = s.name('a column')
  const d: Draft = {
    name,
    bare,
    type: hasType(s) ? columnType(s) : null,
    notNull: null,
    default: null,
    generated: null,
    identity: null,
    counts: false,
    onUpdate: null,
    collation: null,
    charset: null,
    storage: null,
    compression: null,
    comment: null,
    foreignOptions: [],
    constraints: [],
  }
  while (!s.done && !s.isMark(',') && !s.isMark(')') && !s.is('AFTER') && !s.is('FIRST')) clause(s, name, d)
  return d
}

/** A type's name in SQLite is any run of words (SQLite, "Datatypes In SQLite", 3.1). */
function columnType(s: Scanner): TypeName {
  const from = s.from
  const type = typeName(s)
  const goesOn = () => (s.kind === 'word' && !startsClause(s)) || s.kind === 'name'
  if (type.parameters.length > 0 || type.array || s.lexis.postgresStrings || !goesOn()) return type
  const words = [type.name]
  while (goesOn()) words.push(s.name())
  const inner = s.isMark('(') ? s.place() : null
  if (inner) skipGroup(s)
  return { ...type, name: words.join(' '), written: oneLine(s.text.slice(from, s.before), s.lexis) }
}

function clause(s: Scanner, column: string, d: Draft): void {
  // The two clauses that most columns have need no look at the others.
  if (s.is('NOT') || s.is('DEFAULT')) return plainClause(s, d)
  const name = s.accept('CONSTRAINT') ? s.name('a constraint') : null
  const constraint = columnConstraint(s, name, column)
  if (constraint) {
    d.constraints.push(constraint)
    return
  }
  plainClause(s, d)
}

function plainClause(s: Scanner, d: Draft): void {
  if (s.accept('NOT', 'NULL')) {
    d.notNull = true
    conflictClause(s)
    s.accept('NO', 'INHERIT')
  } else if (s.accept('NULL')) {
    d.notNull ??= false
    conflictClause(s)
  } else if (s.accept('DEFAULT')) d.default = expressionUntil(s, () => startsClause(s))
  else if (s.accept('COLLATE')) d.collation = s.kind === 'string' ? { schema: null, name: s.string() } : qualified(s, 'a collation')
  else if (s.accept('GENERATED') || s.is('AS')) generated(s, d)
  else if (s.accept('AUTO_INCREMENT') || s.accept('AUTOINCREMENT')) d.counts = true
  else if (s.accept('COMMENT')) d.comment = s.string()
  else if (s.accept('ON', 'UPDATE')) d.onUpdate = expressionUntil(s, () => startsClause(s))
  else if (s.accept('CHARACTER', 'SET') || s.accept('CHARSET')) d.charset = nameOrText(s).toLowerCase()
  else if (s.accept('STORAGE')) d.storage = s.name().toLowerCase()
  else if (s.accept('COMPRESSION')) d.compression = s.name().toLowerCase()
  else if (s.accept('OPTIONS')) d.foreignOptions = foreignOptions(s)
  else if (s.accept('WITH', 'OPTIONS') || s.accept('INVISIBLE') || s.accept('VISIBLE')) return
  else if (s.accept('COLUMN_FORMAT')) s.next()
  else if (s.accept('SERIAL', 'DEFAULT', 'VALUE')) d.counts = true
  else throw s.unreadable('a clause of a column was expected')
}

/** GENERATED {ALWAYS | BY DEFAULT} AS IDENTITY [(…)], GENERATED ALWAYS AS (…) [STORED], AS (…) */
function generated(s: Scanner, d: Draft): void {
  const byDefault = s.accept('BY', 'DEFAULT')
  if (byDefault) s.accept('ON', 'NULL')
  else s.accept('ALWAYS')
  s.expect('AS')
  if (s.accept('IDENTITY')) {
    const settings = s.isMark('(') ? bracketed(s) : sequenceSettings(s)
    d.identity = { generation: byDefault ? 'by default' : 'always', settings }
    return
  }
  const expression = group(s)
  const stored = s.accept('STORED') || s.accept('PERSISTENT')
  if (!stored) s.accept('VIRTUAL')
  d.generated = { expression, kept: stored ? 'stored' : 'virtual' }
}

function bracketed(s: Scanner): SequenceSettings {
  s.expectMark('(')
  const settings = sequenceSettings(s)
  s.expectMark(')')
  return settings
}

/** A character set may stand in quotes (MySQL manual, 12.3.5). */
const nameOrText = (s: Scanner): string => (s.kind === 'string' ? s.string() : s.name())
