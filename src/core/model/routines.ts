// Functions and procedures as the code calls them: what they are given, and what is known of what they give back.
import { type Catalog, compareParts, parseAddress, type Routine, relationText } from '../catalog/index.ts'

export interface RoutineParameter {
  /** Null where it has none. */
  readonly name: string | null
  readonly type: string
  readonly optional: boolean
  readonly variadic: boolean
  /** Only given back, by a procedure: it stands in the call all the same, as NULL (manual, CALL). */
  readonly out: boolean
}

export type RoutineResult =
  | { readonly kind: 'nothing' }
  | { readonly kind: 'value'; readonly type: string }
  /** Rows of a relation, by its address text. */
  | { readonly kind: 'relation'; readonly relation: string }
  | { readonly kind: 'columns'; readonly columns: readonly { readonly name: string; readonly type: string }[] }

/** One that can be called by itself. What only triggers, operators or the server's own parts call is none. */
export interface CalledRoutine {
  readonly schema: string
  readonly name: string
  readonly of: 'function' | 'procedure'
  /** Types of the input arguments, which tell overloads apart. */
  readonly argumentTypes: string
  readonly parameters: readonly RoutineParameter[]
  readonly result: RoutineResult
  /** Any number of results rather than one. */
  readonly many: boolean
  /** Why no typed call of it can be made; null where one can. */
  readonly untyped: string | null
  readonly comment: string | null
}

/** Types that only the server's own parts hand around (PostgreSQL manual, 8.21). */
const internal = /^(trigger|event_trigger|internal|cstring|\w+_handler|pg_ddl_command|table_am_handler|index_am_handler|unknown)$/
const polymorphic = /^any(element|array|nonarray|enum|range|multirange|compatible\w*)?(\[\])?$/

/** Text split at commas that stand in no brackets and no quotes. */
function pieces(text: string): readonly string[] {
  const found: string[] = []
  let depth = 0
  let from = 0
  let quote = ''
  for (let i = 0; i < text.length; i += 1) {
    const c = text.charAt(i)
    if (quote !== '') quote = c === quote ? '' : quote
    else if (c === "'" || c === '"') quote = c
    else if (c === '(' || c === '[') depth += 1
    else if (c === ')' || c === ']') depth -= 1
    else if (c === ',' && depth === 0) {
      found.push(text.slice(from, i).trim())
      from = i + 1
    }
  }
  const last = text.slice(from).trim()
  return last === '' ? found : [...found, last]
}

const unquoteIdent = (text: string) => (text.startsWith('"') ? text.slice(1, -1).replaceAll('""', '"') : text)

const nameFirst = /^("(?:[^"]|"")+"|[^\s"]+)\s+(.+)$/s

/** Is it the spelling of a type without a name before it? Of two words those of the standard (manual, table 8.1). */
const isType = (text: string) => !nameFirst.test(text) || /^(character varying|double precision|bit varying|time|timestamp|interval)\b(?!\s+\w+\s*$)/.test(text)

interface Declared extends RoutineParameter {
  readonly mode: 'in' | 'out' | 'inout'
}

/** `arguments` as the server prints them (pg_get_function_arguments): mode, name, type, default. */
function declared(r: Routine): readonly Declared[] {
  const types = pieces(r.argumentTypes)
  let input = 0
  return pieces(r.arguments).map((text): Declared => {
    const [, word = '', rest = text] = /^(IN|OUT|INOUT|VARIADIC)\s+(.+)$/s.exec(text) ?? []
    const [, before = rest, hasDefault] = /^(.*?)( DEFAULT .*)$/s.exec(rest) ?? []
    const mode = word === 'OUT' ? 'out' : word === 'INOUT' ? 'inout' : 'in'
    const type = mode === 'out' ? null : types[input++]
    const named = type === null || type === undefined ? !isType(before) : before !== type
    const [, name = '', own = before] = (named && nameFirst.exec(before)) || []
    return {
      mode,
      name: name === '' ? null : unquoteIdent(name),
      type: type ?? own,
      optional: hasDefault !== undefined,
      variadic: word === 'VARIADIC',
      out: mode === 'out',
    }
  })
}

function resultOf(r: Routine, all: readonly Declared[], relations: ReadonlySet<string>): Pick<CalledRoutine, 'result' | 'many' | 'untyped'> {
  const returns = r.returns ?? ''
  const table = /^TABLE\((.*)\)$/s.exec(returns)
  const one = returns.replace(/^SETOF /, '')
  const many = table !== null || one !== returns
  const known = (result: RoutineResult) => ({ result, many, untyped: null })
  if (table) {
    const columns = pieces(table[1] as string).map((text) => nameFirst.exec(text))
    return known({ kind: 'columns', columns: columns.map((m) => ({ name: unquoteIdent(m?.[1] ?? ''), type: m?.[2] ?? '' })) })
  }
  const outs = all.filter((p) => p.mode !== 'in')
  if (outs.length > 1 || (r.kind === 'procedure' && outs.length > 0)) {
    if (outs.some((p) => p.name === null)) return { result: { kind: 'nothing' }, many, untyped: 'what it gives back has no names' }
    return known({ kind: 'columns', columns: outs.map((p) => ({ name: p.name as string, type: p.type })) })
  }
  if (returns === '' || returns === 'void') return known({ kind: 'nothing' })
  if (one === 'record') return { result: { kind: 'nothing' }, many, untyped: 'it gives back records whose columns are only said where it is called' }
  if (polymorphic.test(one)) return { result: { kind: 'nothing' }, many, untyped: 'the type of what it gives back is only known where it is called' }
  const address = parseAddress(one)
  const relation = address === null ? '' : relationText(address)
  return known(relations.has(relation) ? { kind: 'relation', relation } : { kind: 'value', type: one })
}

/** Those of a catalog that somebody may call, in order of their names and arguments. */
export function calledRoutines(catalog: Catalog): readonly CalledRoutine[] {
  if (catalog.dialect !== 'postgresql' || catalog.routines.length === 0) return []
  const relations = new Set(catalog.relations.map(relationText))
  return catalog.routines
    .filter((r) => !internal.test(r.returns ?? '') && !pieces(r.argumentTypes).some((t) => internal.test(t)))
    .toSorted((a, b) => compareParts([a.schema, a.name, a.argumentTypes], [b.schema, b.name, b.argumentTypes]))
    .map((r): CalledRoutine => {
      const all = declared(r)
      const found = resultOf(r, all, relations)
      const open = all.some((p) => p.mode !== 'out' && polymorphic.test(p.type))
      const called = r.kind === 'function' || r.kind === 'procedure'
      return {
        schema: r.schema,
        name: r.name,
        of: r.kind === 'procedure' ? 'procedure' : 'function',
        argumentTypes: r.argumentTypes,
        parameters: all.filter((p) => !p.out || r.kind === 'procedure'),
        ...found,
        untyped: !called
          ? `it is ${r.kind === 'aggregate' ? 'an aggregate' : 'a window function'}: a query calls it over rows`
          : open
            ? 'the types of its arguments are only known where it is called'
            : found.untyped,
        comment: r.comment,
      }
    })
}
