// CREATE FUNCTION, PROCEDURE and AGGREGATE: the signature is read, the body is kept as text.
import { expressionUntil, list, qualified, skipGroup, textFrom, typeName } from './clauses.ts'
import { skipBody } from './objects.ts'
import type { Scanner } from './scanner.ts'
import type { Statement, TypeName } from './statement.ts'

type Routine = Extract<Statement, { kind: 'create routine' }>
type Parameter = Routine['parameters'][number]

const endsParameter = (s: Scanner) => s.isMark(',') || s.isMark(')') || s.is('DEFAULT') || s.is('ORDER') || s.isMark('=') || s.isMark(':') || s.done

function mode(s: Scanner): string {
  if (s.accept('IN', 'OUT') || s.accept('INOUT')) return 'inout'
  if (s.accept('VARIADIC')) return 'variadic'
  const start = s.place()
  for (const word of ['IN', 'OUT']) {
    // A parameter may be called "in" or "out" itself: then a comma or bracket follows its type only.
    if (s.accept(word)) {
      if (!endsParameter(s)) return word.toLowerCase()
      s.back(start)
    }
  }
  return 'in'
}

function parameter(s: Scanner): Parameter {
  const how = mode(s)
  const start = s.place()
  let name: string | null = null
  let type = typeName(s)
  if (!endsParameter(s)) {
    s.back(start)
    name = s.name('a parameter')
    type = typeName(s)
  }
  let default_: string | null = null
  if (s.acceptMark(':') || s.isMark('=') || s.is('DEFAULT')) {
    s.next()
    default_ = expressionUntil(s, () => false)
  }
  return { mode: how, name, type, default: default_ }
}

/** `(a, b ORDER BY c)`, `(*)`: `orderedFrom` is where the arguments after ORDER BY begin (manual, CREATE AGGREGATE). */
function parameterList(s: Scanner): { readonly parameters: readonly Parameter[]; readonly orderedFrom: number | null } {
  const found: Parameter[] = []
  let orderedFrom: number | null = null
  s.expectMark('(')
  if (s.isMark('*')) s.next()
  while (!s.acceptMark(')')) {
    if (s.accept('ORDER', 'BY')) orderedFrom = found.length
    found.push(parameter(s))
    if (!s.isMark(')') && !s.is('ORDER')) s.expectMark(',')
  }
  return { parameters: found, orderedFrom }
}

/** Types that tell a routine apart where it is altered, dropped or commented on; null where no list is given. */
export function signature(s: Scanner): readonly TypeName[] | null {
  if (!s.isMark('(')) return null
  return parameterList(s)
    .parameters.filter((p) => p.mode !== 'out')
    .map((p) => p.type)
}

function returns(s: Scanner): Routine['returns'] {
  if (s.accept('TABLE')) {
    const table = list(s, () => ({ name: s.name('a column'), type: typeName(s) }))
    return { table }
  }
  const setOf = s.accept('SETOF')
  return { type: typeName(s), setOf }
}

/** After CREATE [OR REPLACE] FUNCTION or PROCEDURE. */
export function createRoutine(s: Scanner, of: 'function' | 'procedure', from: number, replace: boolean): Statement {
  s.accept('IF', 'NOT', 'EXISTS')
  const at = s.from - from
  const name = qualified(s, 'a routine')
  const parameters = s.isMark('(') ? list(s, () => parameter(s)) : []
  let result: Routine['returns'] = null
  if (s.accept('RETURNS')) result = returns(s)
  let language = 'sql'
  let window = false
  // MySQL and MariaDB have bodies in their own language, up to the delimiter.
  if (s.lexis.postgresStrings) {
    while (!s.done) {
      if (s.accept('LANGUAGE')) language = s.kind === 'string' ? s.string() : s.name()
      else if (s.accept('WINDOW')) window = true
      else if (s.is('BEGIN')) skipBody(s)
      else if (s.isMark('(')) skipGroup(s)
      else s.next()
    }
  } else skipBody(s)
  return { kind: 'create routine', of, window, name, replace, parameters, returns: result, language, orderedFrom: null, ...textFrom(s, from, name, at) }
}

/** `(BASETYPE = type, SFUNC = …)`: the type stands among what else is said, and "any" is none (manual, CREATE AGGREGATE, old syntax). */
function oldStyle(s: Scanner): ReturnType<typeof parameterList> | null {
  const start = s.place()
  s.next()
  const isOld = (s.kind === 'word' || s.kind === 'name') && s.name() !== '' && s.isMark('=')
  s.back(start)
  if (!isOld) return null
  s.next()
  let base: TypeName | null = null
  let none = true
  while (!s.isMark(')') && !s.done) {
    if (s.accept('BASETYPE')) {
      s.expectMark('=')
      none = s.kind === 'string' || s.is('ANY')
      if (none) s.next()
      else base = typeName(s)
    } else if (s.isMark('(')) skipGroup(s)
    else s.next()
  }
  s.expectMark(')')
  return { parameters: base === null || none ? [] : [{ mode: 'in', name: null, type: base, default: null }], orderedFrom: null }
}

/** CREATE AGGREGATE name (types) (…), or the old form without types. */
export function createAggregate(s: Scanner, from: number, replace: boolean): Statement {
  const at = s.from - from
  const name = qualified(s, 'an aggregate')
  const start = s.place()
  let arguments_: ReturnType<typeof parameterList> = { parameters: [], orderedFrom: null }
  try {
    if (s.isMark('(')) arguments_ = oldStyle(s) ?? parameterList(s)
  } catch {
    s.back(start)
  }
  if (s.isMark('(')) skipGroup(s)
  return {
    kind: 'create routine',
    of: 'aggregate',
    window: false,
    name,
    replace,
    ...arguments_,
    returns: null,
    language: 'internal',
    ...textFrom(s, from, name, at),
  }
}
