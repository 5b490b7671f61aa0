// Keys, references and checks, at a column or in the list of a table.
import { action, deferrable, group, keyPart, keyParts, list, names, options, plainPart, qualified } from './clauses.ts'
import type { Scanner } from './scanner.ts'
import type {
  CheckDefinition,
  ConstraintDefinition,
  ExclusionDefinition,
  IndexDefinition,
  KeyDefinition,
  KeyPart,
  Name,
  ReferenceDefinition,
} from './statement.ts'

/** ON CONFLICT, which SQLite allows after a key, a check and NOT NULL. */
export function conflictClause(s: Scanner): void {
  if (s.accept('ON', 'CONFLICT')) s.next()
}

/** What may stand after the columns of a key: INCLUDE, WITH, USING, MySQL's comment. */
function keyTail(s: Scanner) {
  let include: readonly string[] = []
  let with_: readonly string[] = []
  let comment: string | null = null
  let method: string | null = null
  for (;;) {
    if (s.accept('INCLUDE')) include = names(s)
    else if (s.accept('WITH', 'PARSER')) s.next()
    else if (s.accept('WITH')) with_ = options(s)
    else if (s.accept('USING', 'INDEX', 'TABLESPACE')) s.next()
    else if (s.accept('USING')) method = s.name().toLowerCase()
    else if (s.accept('COMMENT')) comment = s.string()
    else if (s.accept('KEY_BLOCK_SIZE')) {
      s.acceptMark('=')
      s.next()
    } else if (!s.accept('VISIBLE') && !s.accept('INVISIBLE') && !s.accept('IGNORED')) break
  }
  return { include, options: with_, comment, method }
}

export function reference(s: Scanner, name: string | null, columns: readonly string[], inline: boolean, indexName: string | null): ReferenceDefinition {
  s.expect('REFERENCES')
  const target = qualified(s, 'a table')
  const targetColumns = s.isMark('(') ? names(s) : []
  let onUpdate: ReferenceDefinition['onUpdate'] = 'no action'
  let onDelete: ReferenceDefinition['onDelete'] = 'no action'
  let onDeleteColumns: readonly string[] = []
  let match: ReferenceDefinition['match'] = 'simple'
  for (;;) {
    if (s.accept('ON', 'UPDATE')) onUpdate = action(s)
    else if (s.accept('ON', 'DELETE')) {
      onDelete = action(s)
      if (s.isMark('(')) onDeleteColumns = names(s)
    } else if (s.accept('MATCH')) {
      match = s.is('FULL') ? 'full' : s.is('PARTIAL') ? 'partial' : 'simple'
      s.next()
    } else break
  }
  const can = deferrable(s)
  const notValid = s.accept('NOT', 'VALID')
  return { kind: 'foreign key', name, columns, target, targetColumns, onUpdate, onDelete, onDeleteColumns, match, deferrable: can, notValid, inline, indexName }
}

export function check(s: Scanner, name: string | null, column: string | null): CheckDefinition {
  s.expect('CHECK')
  const expression = group(s)
  let noInherit = false
  let notValid = false
  let notEnforced = false
  for (;;) {
    if (s.accept('NO', 'INHERIT')) noInherit = true
    else if (s.accept('NOT', 'VALID')) notValid = true
    else if (s.accept('NOT', 'ENFORCED')) notEnforced = true
    else if (!s.accept('ENFORCED')) break
  }
  conflictClause(s)
  return { kind: 'check', name, deferrable: deferrable(s), expression, noInherit, notValid, notEnforced, column }
}

function key(s: Scanner, kind: KeyDefinition['kind'], name: string | null, parts: readonly KeyPart[], nullsNotDistinct: boolean): KeyDefinition {
  const tail = keyTail(s)
  conflictClause(s)
  return { kind, name, parts, ...tail, nullsNotDistinct, usingIndex: null, deferrable: deferrable(s) }
}

/** At a column, after CONSTRAINT name if there was one; null where none begins here. */
export function columnConstraint(s: Scanner, name: string | null, column: string): ConstraintDefinition | null {
  if (s.accept('PRIMARY', 'KEY') || (s.is('KEY') && s.accept('KEY'))) {
    const descending = s.accept('DESC')
    if (!descending) s.accept('ASC')
    return key(s, 'primary key', name, [{ ...plainPart(column), descending }], false)
  }
  if (s.accept('UNIQUE')) {
    s.accept('KEY')
    const distinct = nullsDistinct(s)
    return key(s, 'unique', name, [plainPart(column)], distinct)
  }
  if (s.is('CHECK')) return check(s, name, column)
  if (s.is('REFERENCES')) return reference(s, name, [column], true, null)
  return null
}

/** NULLS NOT DISTINCT */
function nullsDistinct(s: Scanner): boolean {
  if (s.accept('NULLS', 'NOT', 'DISTINCT')) return true
  s.accept('NULLS', 'DISTINCT')
  return false
}

const indexOf = (
  kind: { unique: boolean; method: string | null },
  name: string | null,
  parts: readonly KeyPart[],
  tail: ReturnType<typeof keyTail>,
): IndexDefinition => ({
  kind: 'index',
  name,
  unique: kind.unique,
  method: tail.method ?? kind.method,
  parts,
  include: tail.include,
  predicate: null,
  nullsNotDistinct: false,
  options: tail.options,
  comment: tail.comment,
})

/** In the list of a table, CONSTRAINT name included; null where a column begins here instead. */
export function tableConstraint(s: Scanner): ConstraintDefinition | null {
  let name: string | null = null
  const named = s.accept('CONSTRAINT')
  if (named && !startsConstraint(s)) name = s.name('a constraint')
  if (s.accept('PRIMARY', 'KEY')) {
    if (s.accept('USING', 'INDEX')) return usingIndex(s, 'primary key', name)
    if (s.accept('USING')) s.next()
    if (s.kind !== 'mark') s.name()
    return key(s, 'primary key', name, keyParts(s), false)
  }
  if (s.is('UNIQUE')) {
    s.next()
    if (s.accept('USING', 'INDEX')) return usingIndex(s, 'unique', name)
    if (!s.accept('KEY')) s.accept('INDEX')
    const distinct = nullsDistinct(s)
    const own = s.isMark('(') || s.is('USING') ? null : s.name('an index')
    if (s.accept('USING')) s.next()
    return key(s, 'unique', name ?? own, keyParts(s), distinct)
  }
  if (s.accept('FOREIGN', 'KEY')) {
    const indexName = s.isMark('(') ? null : s.name('an index')
    return reference(s, name, names(s), false, indexName)
  }
  if (s.is('CHECK')) return check(s, name, null)
  if (beginsExclusion(s)) {
    s.next()
    return exclusion(s, name)
  }
  const inline = inlineIndex(s)
  if (inline) return inline
  if (named) throw s.unreadable('a constraint was expected')
  return null
}

const startsConstraint = (s: Scanner) => s.is('PRIMARY') || s.is('UNIQUE') || s.is('FOREIGN') || s.is('CHECK') || beginsExclusion(s)

/** EXCLUDE is no reserved word: a column may be called so, and has a type behind its name. */
function beginsExclusion(s: Scanner): boolean {
  if (!s.is('EXCLUDE')) return false
  const start = s.place()
  s.next()
  const is = s.is('USING') || s.isMark('(')
  s.back(start)
  return is
}

/** EXCLUDE [USING method] (element WITH operator, …) [INCLUDE …] [WITH …] [WHERE (…)] */
function exclusion(s: Scanner, name: string | null): ExclusionDefinition {
  const method = s.accept('USING') ? s.name('a method').toLowerCase() : null
  const elements = list(s, () => {
    const part = keyPart(s)
    s.expect('WITH')
    return { ...part, operator: operator(s) }
  })
  const rest = keyTail(s)
  const predicate = s.accept('WHERE') ? group(s) : null
  return { kind: 'exclude', name, method, elements, include: rest.include, options: rest.options, predicate, deferrable: deferrable(s) }
}

/** `&&`, OPERATOR(app.===) */
function operator(s: Scanner): Name {
  if (!s.accept('OPERATOR')) return { schema: null, name: signs(s) }
  s.expectMark('(')
  const schema = s.kind === 'word' || s.kind === 'name' ? s.name() : null
  if (schema !== null) s.expectMark('.')
  const found = { schema, name: signs(s) }
  s.expectMark(')')
  return found
}

function signs(s: Scanner): string {
  const from = s.from
  while (s.kind === 'mark' && !s.isMark(',') && !s.isMark(')')) s.next()
  if (s.before <= from) throw s.unreadable('an operator was expected')
  return s.text.slice(from, s.before)
}

function usingIndex(s: Scanner, kind: KeyDefinition['kind'], name: string | null): KeyDefinition {
  const index = s.name('an index')
  return {
    kind,
    name,
    parts: [],
    include: [],
    options: [],
    nullsNotDistinct: false,
    usingIndex: index,
    comment: null,
    method: null,
    deferrable: deferrable(s),
  }
}

/** [FULLTEXT | SPATIAL] {INDEX | KEY} [name] [USING method] (…): MySQL manual, CREATE TABLE. */
function inlineIndex(s: Scanner): IndexDefinition | null {
  // Elsewhere these are names like any other, of columns whose types may have brackets.
  if (s.lexis.conditional === null || (!s.is('INDEX') && !s.is('KEY') && !s.is('FULLTEXT') && !s.is('SPATIAL'))) return null
  const start = s.place()
  const method = s.accept('FULLTEXT') ? 'fulltext' : s.accept('SPATIAL') ? 'spatial' : null
  if (!s.accept('INDEX')) s.accept('KEY')
  let name: string | null = null
  if (!s.isMark('(') && !s.is('USING')) {
    if (s.kind !== 'word' && s.kind !== 'name') {
      s.back(start)
      return null
    }
    name = s.name()
  }
  const early = s.accept('USING') ? s.name().toLowerCase() : null
  // A column may be called "key": `key varchar(10)`.
  if (!s.isMark('(')) {
    s.back(start)
    return null
  }
  const inner = s.place()
  let parts: readonly KeyPart[]
  try {
    parts = keyParts(s)
  } catch (error) {
    s.back(inner)
    throw error
  }
  return indexOf({ unique: false, method: method ?? early }, name, parts, keyTail(s))
}
