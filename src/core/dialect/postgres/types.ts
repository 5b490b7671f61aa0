// PostgreSQL's spelling of a type (format_type, manual 9.26.4) → what its values are.
import type { Neutral } from '../neutral.ts'

/** By the type's name without modifiers; manual, chapter 8. Integers of 64 bits and exact decimals have kinds of their own: a JavaScript number would lose digits. */
const builtIn: Readonly<Record<string, Exclude<Neutral['kind'], 'named' | 'list' | 'other'>>> = {
  smallint: 'integer',
  integer: 'integer',
  oid: 'integer',
  bigint: 'bigint',
  numeric: 'decimal',
  money: 'text',
  real: 'float',
  'double precision': 'float',
  text: 'text',
  'character varying': 'text',
  character: 'text',
  bpchar: 'text',
  name: 'text',
  '"char"': 'text',
  boolean: 'boolean',
  date: 'date',
  'time without time zone': 'time',
  'time with time zone': 'time',
  'timestamp without time zone': 'local datetime',
  'timestamp with time zone': 'instant',
  interval: 'interval',
  bytea: 'bytes',
  uuid: 'uuid',
  json: 'json',
  jsonb: 'json',
}

/** `numeric(10,2)` → numeric; `timestamp(3) with time zone` → timestamp with time zone; a field list of interval is dropped. */
function withoutModifiers(type: string): string {
  return type
    .replace(/\([\d, -]+\)/, '')
    .replace(/^interval .*$/, 'interval')
    .trim()
}

/** A possibly quoted, possibly qualified name: `field."Health Grade"`. Null for anything else. */
function qualifiedName(type: string): { readonly schema: string; readonly name: string } | null {
  const m = /^(?:("(?:[^"]|"")+"|[^".\s]+)\.)("(?:[^"]|"")+"|[^".\s(]+)$/.exec(type)
  const plain = (part: string) => (part.startsWith('"') ? part.slice(1, -1).replaceAll('""', '"') : part)
  return m ? { schema: plain(m[1] as string), name: plain(m[2] as string) } : null
}

/** What values of this type are; a type of the user's that is not known to `isNamed` counts as `other`. */
export function neutralType(type: string, isNamed: (t: { readonly schema: string; readonly name: string }) => boolean): Neutral {
  if (type.endsWith('[]')) return { kind: 'list', of: neutralType(type.slice(0, -2), isNamed) }
  const base = withoutModifiers(type)
  const kind = Object.hasOwn(builtIn, base) ? builtIn[base] : undefined
  if (kind !== undefined) return { kind }
  const name = qualifiedName(base)
  return name && isNamed(name) ? { kind: 'named', ...name } : { kind: 'other', type }
}
