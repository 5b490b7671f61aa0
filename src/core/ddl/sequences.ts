// What CREATE SEQUENCE, ALTER SEQUENCE and an identity column say of a sequence (PostgreSQL manual, CREATE SEQUENCE).
import { qualified, typeName } from './clauses.ts'
import type { Scanner } from './scanner.ts'
import type { Name, SequenceSettings, TypeName } from './statement.ts'

function signed(s: Scanner): string {
  const minus = s.acceptMark('-')
  if (!minus) s.acceptMark('+')
  if (s.kind !== 'number') throw s.unreadable('a number was expected')
  const value = s.raw
  s.next()
  return minus ? `-${value}` : value
}

export function sequenceSettings(s: Scanner): SequenceSettings {
  let type: TypeName | null = null
  let start: string | null = null
  let increment: string | null = null
  let minimum: string | null | undefined
  let maximum: string | null | undefined
  let cache: string | null = null
  let cycle: boolean | null = null
  let ownedBy: SequenceSettings['ownedBy']
  let name: Name | null = null
  for (;;) {
    if (s.accept('AS')) type = typeName(s)
    else if (s.accept('START', 'WITH') || s.accept('START')) start = signed(s)
    else if (s.accept('INCREMENT', 'BY') || s.accept('INCREMENT')) increment = signed(s)
    else if (s.accept('NO', 'MINVALUE')) minimum = null
    else if (s.accept('NO', 'MAXVALUE')) maximum = null
    else if (s.accept('MINVALUE')) minimum = signed(s)
    else if (s.accept('MAXVALUE')) maximum = signed(s)
    else if (s.accept('CACHE')) cache = signed(s)
    else if (s.accept('NO', 'CYCLE')) cycle = false
    else if (s.accept('CYCLE')) cycle = true
    else if (s.accept('OWNED', 'BY', 'NONE')) ownedBy = null
    else if (s.accept('OWNED', 'BY')) ownedBy = columnOf(s)
    else if (s.accept('SEQUENCE', 'NAME')) name = qualified(s)
    else if (s.accept('RESTART', 'WITH')) signed(s)
    else if (s.accept('RESTART')) {
      if (s.kind === 'number') s.next()
    } else if (!(s.accept('LOGGED') || s.accept('UNLOGGED'))) break
  }
  return { type, start, increment, minimum, maximum, cache, cycle, ownedBy, name }
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
