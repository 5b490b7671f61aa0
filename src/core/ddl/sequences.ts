// What CREATE SEQUENCE, ALTER SEQUENCE and an identity column say of a sequence (PostgreSQL manual, CREATE SEQUENCE).
import { qualified, typeName } from './clauses.ts'
import type { Scanner } from './scanner.ts'
import type { Name, SequenceSettings } from './statement.ts'

function signed(s: Scanner): string {
  const minus = s.acceptMark('-')
  if (!minus) s.acceptMark('+')
  if (s.kind !== 'number') throw s.unreadable('a number was expected')
  const value = s.raw
  s.next()
  return minus ? `-${value}` : value
}

/** Each clause by its first words; longer ones first. */
const clauses: readonly (readonly [readonly string[], (s: Scanner) => Partial<SequenceSettings>])[] = [
  [['AS'], (s) => ({ type: typeName(s) })],
  [['START', 'WITH'], (s) => ({ start: signed(s) })],
  [['START'], (s) => ({ start: signed(s) })],
  [['INCREMENT', 'BY'], (s) => ({ increment: signed(s) })],
  [['INCREMENT'], (s) => ({ increment: signed(s) })],
  [['NO', 'MINVALUE'], () => ({ minimum: null })],
  [['NO', 'MAXVALUE'], () => ({ maximum: null })],
  [['MINVALUE'], (s) => ({ minimum: signed(s) })],
  [['MAXVALUE'], (s) => ({ maximum: signed(s) })],
  [['CACHE'], (s) => ({ cache: signed(s) })],
  [['NO', 'CYCLE'], () => ({ cycle: false })],
  [['CYCLE'], () => ({ cycle: true })],
  [['OWNED', 'BY', 'NONE'], () => ({ ownedBy: null })],
  [['OWNED', 'BY'], (s) => ({ ownedBy: columnOf(s) })],
  [['SEQUENCE', 'NAME'], (s) => ({ name: qualified(s) })],
  // Where it goes on from is no part of what it is.
  [['RESTART', 'WITH'], passNumber],
  [['RESTART'], passNumber],
  [['LOGGED'], () => ({})],
  [['UNLOGGED'], () => ({})],
]

function passNumber(s: Scanner): Partial<SequenceSettings> {
  if (s.kind === 'number' || s.isMark('-') || s.isMark('+')) signed(s)
  return {}
}

/** Where a sequence is made without a word about it. */
export const noSettings: SequenceSettings = {
  type: null,
  start: null,
  increment: null,
  minimum: undefined,
  maximum: undefined,
  cache: null,
  cycle: null,
  ownedBy: undefined,
  name: null,
}

export function sequenceSettings(s: Scanner): SequenceSettings {
  let said = noSettings
  for (;;) {
    const first = s.word
    const clause = first === '' ? undefined : clauses.find(([words]) => words[0] === first && s.acceptAll(words))
    if (!clause) return said
    said = Object.assign(said === noSettings ? { ...noSettings } : said, clause[1](s))
  }
}

/** `schema.table.column` or `table.column` */
export function columnOf(s: Scanner): { readonly table: Name; readonly column: string } {
  const parts = [s.name()]
  while (s.acceptMark('.')) parts.push(s.name('a column'))
  const column = parts.pop() as string
  const name = parts.pop()
  if (name === undefined) throw s.unreadable('a column with its table was expected')
  return { table: { schema: parts.pop() ?? null, name }, column }
}
