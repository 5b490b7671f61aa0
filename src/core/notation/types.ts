// Whether a type that somebody wrote is one of the engine's, and what comes closest where it is another engine's.
import type { Dialect, RelationAddress } from '../catalog/index.ts'
import { typeName } from '../ddl/clauses.ts'
import { Scanner } from '../ddl/scanner.ts'
import type { TypeName } from '../ddl/statement.ts'
import { Unreadable } from '../ddl/unreadable.ts'
import { lexisOf } from '../dialect/lexis.ts'
import { defaultServer } from '../dialect/mysql/server.ts'
import { columnType, isAlias } from '../dialect/mysql/typeNames.ts'
import { typeWords as mysqlWords } from '../dialect/mysql/types.ts'
import { nativeType, neutralKinds, parseNeutral } from '../dialect/nativeTypes.ts'
import type { Neutral } from '../dialect/neutral.ts'
import { neutralText } from '../dialect/neutral.ts'
import { neutralType } from '../dialect/neutralTypes.ts'
import { builtInType, typeWords as postgresWords } from '../dialect/postgres/typeNames.ts'
import { nearestNames } from '../names/index.ts'
import type { NotationProblem } from './problem.ts'
import type { Said, TypeText } from './syntax.ts'

/** Types beside the engine's own: what the schema makes, and what something else does, as they are spelled. */
export interface KnownTypes {
  readonly dialect: Dialect
  readonly named: ReadonlySet<string>
}

export type Resolved = { readonly ok: true; readonly type: string } | { readonly ok: false; readonly problem: NotationProblem }

const engineNames: Readonly<Record<Dialect, string>> = { postgresql: 'PostgreSQL', mysql: 'MySQL', sqlite: 'SQLite' }

/** A name as PostgreSQL prints one of its types (format_type). */
const part = (name: string) => (/^[a-z_][a-z0-9_$]*$/.test(name) ? name : `"${name.replaceAll('"', '""')}"`)
export const namedTypeText = (a: RelationAddress): string => (a.schema === '' ? part(a.name) : `${part(a.schema)}.${part(a.name)}`)

/** Without length, precision and brackets of lists. */
export const baseOf = (type: string): string =>
  type
    .replace(/(\[\])+$/, '')
    .replace(/\([^()]*\)$/, '')
    .trim()

function read(dialect: Dialect, text: string): TypeName | null {
  try {
    const s = new Scanner(text, lexisOf(dialect))
    const t = typeName(s)
    return s.kind === 'end' ? t : null
  } catch (error) {
    if (error instanceof Unreadable) return null
    throw error
  }
}

/** As PostgreSQL prints it; null where it is none of its own. */
const asPostgres = (text: string): string | null => {
  const t = read('postgresql', text)
  // Words behind it are the clock's and the interval's; others belong to other servers.
  const own = t !== null && (t.suffix === '' || /^(time|timestamp|interval)$/.test(t.name))
  return own ? builtInType(t) : null
}

function asMysql(text: string): string | null {
  const lower = text.toLowerCase()
  const word = /^[a-z0-9]+/.exec(lower)?.[0] ?? ''
  if (mysqlWords.includes(word)) return text
  const t = read('mysql', text)
  return t && isAlias(t.name.toLowerCase()) ? columnType(t, defaultServer) : null
}

/** The engine's own spelling of a type of its own; null where it has no such type. SQLite takes any name for one ("Datatypes In SQLite", 3.1). */
function own(dialect: Dialect, text: string): string | null {
  if (dialect === 'sqlite') return text
  return dialect === 'mysql' ? asMysql(text) : asPostgres(text)
}

/** Of two other servers, what people bring along. */
const elsewhere: Readonly<Record<string, readonly [string, Exclude<Neutral['kind'], 'named' | 'list' | 'other'>]>> = {
  uniqueidentifier: ['SQL Server', 'uuid'],
  nvarchar: ['SQL Server', 'text'],
  nchar: ['SQL Server', 'text'],
  ntext: ['SQL Server', 'text'],
  datetime2: ['SQL Server', 'local datetime'],
  smalldatetime: ['SQL Server', 'local datetime'],
  datetimeoffset: ['SQL Server', 'instant'],
  image: ['SQL Server', 'bytes'],
  rowversion: ['SQL Server', 'bytes'],
  number: ['Oracle', 'decimal'],
  varchar2: ['Oracle', 'text'],
  nvarchar2: ['Oracle', 'text'],
  clob: ['Oracle', 'text'],
  nclob: ['Oracle', 'text'],
  raw: ['Oracle', 'bytes'],
  binary_double: ['Oracle', 'float'],
  binary_float: ['Oracle', 'float'],
}

interface Foreign {
  readonly engines: readonly string[]
  readonly near: readonly string[]
}

const noName = () => false
const parametersOf = (text: string) => (/\(([\d\s,]+)\)/.exec(text)?.[1] ?? '').split(',').flatMap((x) => (x.trim() === '' ? [] : [x.trim()]))

/** Which other engines have it, and what this one has for such values. */
function foreign(dialect: Dialect, text: string): Foreign | null {
  const parameters = parametersOf(text)
  const known = elsewhere[/^\w+/.exec(text.toLowerCase())?.[0] ?? '']
  if (known) {
    const [engine, kind] = known
    const native = nativeType(dialect, { kind }, kind === 'text' || kind === 'decimal' ? parameters : [])
    return { engines: [engine], near: native === null ? [] : [native] }
  }
  const engines: string[] = []
  const near = new Set<string>()
  for (const other of ['postgresql', 'mysql'] as const) {
    const spelled = other === dialect ? null : own(other, text)
    if (spelled === null) continue
    engines.push(engineNames[other])
    const native = nativeType(dialect, neutralType(other, spelled, noName), /char|numeric|decimal/.test(spelled) ? parameters : [])
    if (native !== null) near.add(native)
  }
  return engines.length === 0 ? null : { engines, near: [...near] }
}

const counting = /^(small|big)?serial[248]?$/

/** The engine's spelling of a type, or what is wrong with it and what comes closest. */
export function resolveType(t: Said<TypeText>, known: KnownTypes): Resolved {
  const { dialect } = known
  const { kind, text } = t.value
  const fail = (problem: NotationProblem): Resolved => ({ ok: false, problem })
  if (kind === 'neutral') {
    const neutral = parseNeutral(text)
    if (!neutral) return fail({ code: 'unknown', at: t.at, what: 'kind of value', name: text, near: nearestNames(baseOf(text), neutralKinds) })
    const native = nativeType(dialect, neutral.type, neutral.parameters)
    return native === null
      ? fail({ code: 'bad-type', at: t.at, type: `some ${text}`, problem: `${engineNames[dialect]} has no lists; some json holds them` })
      : { ok: true, type: native }
  }
  // Columns of a view whose type a script does not tell.
  if (text === '') return { ok: true, type: text }
  const native = own(dialect, text)
  if (dialect === 'postgresql' && counting.test(text.toLowerCase()))
    return fail({ code: 'bad-type', at: t.at, type: text, problem: `it is a column of type ${native} with a default; say ${native}, counted` })
  if (native !== null) return { ok: true, type: native }
  if (known.named.has(text) || known.named.has(baseOf(text))) return { ok: true, type: text }
  const other = foreign(dialect, text)
  if (other) return fail({ code: 'other-engine', at: t.at, type: text, engines: other.engines, here: engineNames[dialect], near: other.near })
  const words = dialect === 'mysql' ? mysqlWords : postgresWords
  return fail({ code: 'unknown', at: t.at, what: 'type', of: engineNames[dialect], name: text, near: nearestNames(baseOf(text), [...known.named, ...words]) })
}

/** The kind of value a type holds, where a new column of that kind would have the same type; else the type itself. */
export function neutralised(dialect: Dialect, type: string): TypeText {
  const neutral = neutralType(dialect, type, noName)
  for (const parameters of [parametersOf(type), []]) {
    if (neutral.kind === 'other' || nativeType(dialect, neutral, parameters) !== type) continue
    return { kind: 'neutral', text: `${neutralText(neutral)}${parameters.length === 0 ? '' : `(${parameters.join(',')})`}` }
  }
  return { kind: 'native', text: type }
}

/** Is it a type that needs a word about where it comes from? */
export const isFromElsewhere = (type: string, known: KnownTypes): boolean =>
  type !== '' && own(known.dialect, type) === null && !known.named.has(type) && !known.named.has(baseOf(type))
