// Pieces that many statements share: names, expressions as text, types, keys, actions.
import type { Lexis } from './lexis.ts'
import { Scanner } from './scanner.ts'
import type { Action, Deferrable, KeyPart, Name, NamedText, OptionChanges, TypeName } from './statement.ts'

/** `schema.name` or `name`; of `database.schema.name` the database is dropped. */
export function qualified(s: Scanner, what = 'a name'): Name {
  let schema: string | null = null
  let name = s.name(what)
  while (s.isMark('.')) {
    s.next()
    schema = name
    name = s.name(what)
  }
  return { schema, name }
}

/** The statement so far; `at` is where in it the name stands, `more` are the places of other names of its schema. */
export const textFrom = (s: Scanner, from: number, name: Name, at: number, more: NamedText['namesAt'] = []): NamedText => ({
  text: s.text.slice(from, s.before),
  namesAt: [...(name.schema === null && name.name !== '' ? [{ from: at, to: null }] : []), ...more],
})

/** The text as one line: comments gone, white space between tokens collapsed, nothing else changed. */
export function oneLine(text: string, lexis: Lexis): string {
  if (!/[\n\r\t]|--|\/\*|#| {2}/.test(text)) return text.trim()
  const s = new Scanner(text, lexis)
  let out = ''
  while (s.kind !== 'end') {
    if (out !== '' && s.from > s.before) out += ' '
    out += text.slice(s.from, s.to)
    s.next()
  }
  return out
}

/** Goes over one bracketed group, the brackets included. */
export function skipGroup(s: Scanner): void {
  s.expectMark('(')
  for (let depth = 1; depth > 0; ) {
    if (s.done) throw s.unreadable('a closing bracket was expected')
    if (s.isMark('(')) depth += 1
    else if (s.isMark(')')) depth -= 1
    s.next()
  }
}

/** The text inside a bracketed group, on one line. */
export function group(s: Scanner): string {
  const from = s.to
  if (!s.isMark('(')) throw s.unreadable('"(" was expected')
  skipGroup(s)
  return oneLine(s.text.slice(from, s.before - 1), s.lexis)
}

/** Text up to where `stop` says so outside of any brackets, or the statement ends. Never empty; at least one token is taken. */
export function expressionUntil(s: Scanner, stop: () => boolean): string {
  const from = s.from
  let taken = false
  while (!s.done) {
    if (taken && stop()) break
    if (s.isMark(',') || s.isMark(')')) break
    if (s.isMark('(')) skipGroup(s)
    else if (s.isMark('[')) skipSquare(s)
    else if (s.is('CASE')) skipCase(s)
    else if (s.isMark(':')) cast(s)
    else s.next()
    taken = true
  }
  if (!taken) throw s.unreadable('an expression was expected')
  return oneLine(s.text.slice(from, s.before), s.lexis)
}

/** Over `[…]`: an array's elements or its subscript. */
function skipSquare(s: Scanner): void {
  let depth = 0
  do {
    if (s.isMark('[')) depth += 1
    else if (s.isMark(']')) depth -= 1
    if (s.done) throw s.unreadable('"]" was expected')
    s.next()
  } while (depth > 0)
}

/** `::type`, whose words may be those that begin a clause elsewhere: `::character varying`. */
function cast(s: Scanner): void {
  s.next()
  if (s.acceptMark(':')) typeName(s)
}

function skipCase(s: Scanner): void {
  let depth = 0
  do {
    if (s.is('CASE')) depth += 1
    else if (s.is('END')) depth -= 1
    if (s.done) throw s.unreadable('END was expected')
    s.next()
  } while (depth > 0)
}

/** Items between brackets, each read by `item`. */
export function list<T>(s: Scanner, item: () => T): readonly T[] {
  s.expectMark('(')
  const found: T[] = []
  if (s.acceptMark(')')) return found
  do found.push(item())
  while (s.acceptMark(','))
  s.expectMark(')')
  return found
}

export const names = (s: Scanner): readonly string[] => list(s, () => s.name('a column'))

/** Words that go on with a type's name, by the words before (SQL:2016, 6.1; MySQL manual, chapter 11). */
const longTypes: readonly (readonly string[])[] = [
  ['DOUBLE', 'PRECISION'],
  ['NATIONAL', 'CHARACTER', 'VARYING'],
  ['NATIONAL', 'CHAR', 'VARYING'],
  ['NATIONAL', 'CHARACTER'],
  ['NATIONAL', 'CHAR'],
  ['NATIONAL', 'VARCHAR'],
  ['CHARACTER', 'VARYING'],
  ['CHAR', 'VARYING'],
  ['NCHAR', 'VARYING'],
  ['BIT', 'VARYING'],
  ['CHARACTER', 'LARGE', 'OBJECT'],
  ['UNSIGNED', 'BIG', 'INT'],
  ['NATIVE', 'CHARACTER'],
  ['VARYING', 'CHARACTER'],
  ['LONG', 'VARCHAR'],
  ['LONG', 'VARBINARY'],
]
const longByFirst = new Map<string, (readonly string[])[]>()
for (const words of longTypes) longByFirst.set(words[0] as string, [...(longByFirst.get(words[0] as string) ?? []), words])
const suffixWords = new Set(['UNSIGNED', 'SIGNED', 'ZEROFILL', 'BINARY', 'ASCII', 'UNICODE', 'BYTE'])
const fieldWords = new Set(['YEAR', 'MONTH', 'DAY', 'HOUR', 'MINUTE', 'SECOND'])

/** `with time zone`, `unsigned`, fields of an interval. */
function typeSuffix(s: Scanner, base: string): string {
  const words: string[] = []
  if (base === 'TIME' || base === 'TIMESTAMP') {
    if (s.accept('WITH', 'TIME', 'ZONE')) return 'with time zone'
    if (s.accept('WITHOUT', 'TIME', 'ZONE')) return 'without time zone'
  }
  if (base === 'INTERVAL') {
    while (s.kind === 'word' && (fieldWords.has(s.word) || (words.length > 0 && s.is('TO')))) {
      words.push(s.raw.toLowerCase())
      s.next()
    }
    if (words.length > 0 && s.isMark('(')) words.push(`(${group(s)})`)
    return words.join(' ').replace(' (', '(')
  }
  while (s.kind === 'word' && suffixWords.has(s.word)) {
    words.push(s.raw.toLowerCase())
    s.next()
  }
  return words.join(' ')
}

/** A type. `schema.type`, with parameters, a suffix and `[]`. */
export function typeName(s: Scanner): TypeName {
  const from = s.from
  const quoted = s.kind === 'name'
  let schema: string | null = null
  let name = ''
  const first = s.word
  const long = quoted ? undefined : longByFirst.get(first)?.find((words) => s.acceptAll(words))
  if (long) name = long.join(' ').toLowerCase()
  else {
    ;({ schema, name } = qualified(s, 'a type'))
    if (schema === null && !quoted && first === 'SETOF') ({ schema, name } = qualified(s, 'a type'))
    while (s.isMark('%')) {
      s.next()
      s.expect('TYPE')
      name += '%type'
    }
  }
  const base = schema !== null || quoted ? '' : name.length === first.length ? first : name.toUpperCase()
  const early = base === 'INTERVAL' ? typeSuffix(s, base) : ''
  const parameters = s.isMark('(') ? list(s, () => expressionUntil(s, () => false)) : []
  const suffix = early || typeSuffix(s, base)
  let array = s.accept('ARRAY')
  while (s.isMark('[')) {
    array = true
    while (!s.isMark(']')) {
      if (s.done) throw s.unreadable('"]" was expected')
      s.next()
    }
    s.next()
  }
  return {
    schema,
    name,
    quoted,
    parameters,
    suffix,
    array,
    written: s.before - from === name.length ? s.text.slice(from, s.before) : oneLine(s.text.slice(from, s.before), s.lexis),
  }
}

/** A column as a key names it, and nothing more. */
export const plainPart = (column: string): KeyPart => ({
  column,
  expression: null,
  collation: null,
  operatorClass: null,
  operatorClassOptions: [],
  descending: false,
  nulls: null,
  length: null,
})

/** `(a, lower(b) COLLATE "C" text_pattern_ops DESC NULLS LAST, c(10))` */
export function keyParts(s: Scanner): readonly KeyPart[] {
  return list(s, () => keyPart(s))
}

const partEnd = (s: Scanner) => s.is('COLLATE') || s.is('ASC') || s.is('DESC') || s.is('NULLS') || s.is('WITH')

export function keyPart(s: Scanner): KeyPart {
  let column: string | null = null
  let expression: string | null = null
  let length: number | null = null
  const start = s.place()
  if (s.isMark('(')) {
    expression = `(${group(s)})`
    if (!s.done && !s.isMark(',') && !s.isMark(')') && !partEnd(s) && s.kind === 'mark') {
      s.back(start)
      expression = expressionUntil(s, () => partEnd(s))
    }
  } else {
    column = s.name('a column')
    const simple = s.isMark(',') || s.isMark(')') || partEnd(s) || s.kind === 'word' || s.kind === 'name'
    if (!simple && s.isMark('(') && /^\d+$/.test(peekGroup(s))) {
      length = Number(group(s))
    } else if (!simple) {
      s.back(start)
      column = null
      expression = expressionUntil(s, () => partEnd(s) || (s.kind === 'word' && s.before < s.from && !s.isMark('.')))
    }
  }
  const collation = s.accept('COLLATE') ? qualified(s) : null
  const named = (s.kind === 'word' || s.kind === 'name') && !partEnd(s)
  const operatorClass = named ? qualified(s) : null
  const operatorClassOptions = operatorClass && s.isMark('(') ? options(s) : []
  const descending = s.accept('DESC')
  if (!descending) s.accept('ASC')
  const nulls = s.accept('NULLS', 'FIRST') ? 'first' : s.accept('NULLS', 'LAST') ? 'last' : null
  return { column, expression, collation, operatorClass, operatorClassOptions, descending, nulls, length }
}

function peekGroup(s: Scanner): string {
  const start = s.place()
  const text = group(s)
  s.back(start)
  return text
}

/** `(fillfactor = 70, autovacuum_enabled = off, deduplicate)` as `fillfactor=70`. */
export function options(s: Scanner): readonly string[] {
  return list(s, () => {
    let name = s.name('an option')
    while (s.acceptMark('.')) name += `.${s.name('an option')}`
    if (!s.acceptMark('=')) return `${name}=true`
    if (s.kind === 'string') return `${name}=${s.string()}`
    const from = s.from
    while (!s.done && !s.isMark(',') && !s.isMark(')')) s.next()
    return `${name}=${s.text.slice(from, s.before)}`
  })
}

/** `(schema_name 'field', table_name 'crate')` of a foreign object, as `schema_name=field`. */
export const foreignOptions = (s: Scanner): readonly string[] => list(s, () => `${s.name('an option')}=${s.string()}`)

/** `(ADD a '1', SET b '2', DROP c)`. */
export function optionChanges(s: Scanner): OptionChanges {
  const set: string[] = []
  const drop: string[] = []
  list(s, () => {
    if (s.accept('DROP')) drop.push(s.name('an option'))
    else {
      if (!s.accept('ADD')) s.accept('SET')
      set.push(`${s.name('an option')}=${s.string()}`)
    }
  })
  return { set, drop }
}

export function deferrable(s: Scanner): Deferrable {
  let can = false
  let deferred = false
  for (;;) {
    if (s.accept('NOT', 'DEFERRABLE')) can = false
    else if (s.accept('DEFERRABLE')) can = true
    else if (s.accept('INITIALLY', 'DEFERRED')) {
      can = true
      deferred = true
    } else if (!s.accept('INITIALLY', 'IMMEDIATE')) break
  }
  return !can ? 'no' : deferred ? 'initially deferred' : 'initially immediate'
}

export function action(s: Scanner): Action {
  if (s.accept('CASCADE')) return 'cascade'
  if (s.accept('RESTRICT')) return 'restrict'
  if (s.accept('SET', 'NULL')) return 'set null'
  if (s.accept('SET', 'DEFAULT')) return 'set default'
  s.expect('NO', 'ACTION')
  return 'no action'
}
