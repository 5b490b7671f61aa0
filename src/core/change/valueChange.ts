// How the values of a column become those of another type, both ways, and what is to be told of it.
import type { Column } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import type { Ground } from './needs.ts'
import type { PartOf } from './parts.ts'

export interface ValueChange {
  /** Expressions over the column; null where ALTER TYPE does it by itself. */
  readonly up: string | null
  readonly down: string | null
  /** What the values become, where there is more than one way to read them. */
  readonly says: string | null
  /** The rows stay as they are stored. */
  readonly keepsRows: boolean
  /** The session's time zone for the statement, which decides what moments without one mean. */
  readonly inZone: string | null
}

/** Does ALTER TYPE leave the rows as they are stored (manual, ALTER TABLE, Notes; tablecmds.c, ATColumnChangeRequiresRewrite)? */
export function keepsRows(from: string, to: string): boolean {
  const [a, b] = [pg.typeFamily(from), pg.typeFamily(to)]
  const limit = (t: string) => /\((\d+)(?:,(\d+))?\)/.exec(t)
  const [la, lb] = [limit(from), limit(to)]
  if (from.endsWith('[]') || to.endsWith('[]')) return false
  if (a === 'character varying' && b === 'character varying') return lb === null || (la !== null && Number(lb[1]) >= Number(la[1]))
  if (a === 'character varying' && b === 'text') return true
  if (a === 'text' && b === 'character varying') return lb === null
  if (a === 'numeric' && b === 'numeric') return lb === null || (la !== null && Number(lb[1]) >= Number(la[1]) && (lb[2] ?? '0') === (la[2] ?? '0'))
  return a === 'cidr' && b === 'inet'
}

const domainOf = (type: string, g: Ground): PartOf<'domain'> | undefined =>
  [...g.parts.values()].find((p): p is PartOf<'domain'> => p.kind === 'domain' && pg.quoteAddress(p.value) === type)

/** The type under a domain, and under the domain that is over; the type itself where it is none. */
export function underDomains(type: string, g: Ground, depth = 0): string {
  const domain = depth < 8 ? domainOf(type, g) : undefined
  return domain ? underDomains(domain.value.type, g, depth + 1) : type
}

/** Has the type rules that the server tests on every row that gets it: a domain's, or those of one that it is over? */
export function hasRules(type: string, g: Ground, depth = 0): boolean {
  const domain = depth < 8 ? domainOf(type, g) : undefined
  return domain !== undefined && (domain.value.checks.length > 0 || !domain.value.nullable || hasRules(domain.value.type, g, depth + 1))
}

const numbers = new Set(['smallint', 'integer', 'bigint', 'numeric', 'real', 'double precision'])
const texts = new Set(['character varying', 'character', 'text', 'bpchar', 'name', '"char"'])
const zoned = 'timestamp with time zone'
const zoneless = 'timestamp without time zone'
const moments = new Set([zoned, zoneless, 'date', 'time without time zone', 'time with time zone', 'interval'])

/** A type of the schema itself. */
const isOwn = (family: string, g: Ground): boolean =>
  [...g.parts.values()].some(
    (p) =>
      (p.kind === 'enum' || p.kind === 'domain' || p.kind === 'composite' || p.kind === 'range' || p.kind === 'object') && pg.quoteAddress(p.value) === family,
  )

/** A type that neither the server nor the schema itself defines: an extension's. What it holds goes through its text into what the schema defines. */
const isForeign = (family: string, other: string, g: Ground, og: Ground): boolean =>
  family.includes('.') && !isOwn(family, g) && !texts.has(other) && !isOwn(other, og)

/** Null where nothing tells what the values become: numbers are no dates, and what an extension's type holds is its own. */
export function valueChange(a: PartOf<'column'>, b: PartOf<'column'>, ga: Ground, gb: Ground): ValueChange | null {
  const said = ga.conversion(a)
  if (said) return { up: said.up, down: said.down, says: null, keepsRows: false, inZone: null }
  const [x, y] = [a.value, b.value]
  const [under, now] = [underDomains(x.type, ga), underDomains(y.type, gb)]
  if (under === now && (under !== x.type || now !== y.type)) return { up: null, down: null, says: null, keepsRows: !hasRules(y.type, gb), inZone: null }
  const plain = { up: pg.conversion(x, y), down: pg.conversion(y, x), says: null, keepsRows: keepsRows(x.type, y.type), inZone: null }
  if (x.type.endsWith('[]') || y.type.endsWith('[]')) return plain
  const [from, to] = [pg.typeFamily(under), pg.typeFamily(now)]
  if ((numbers.has(from) && moments.has(to)) || (moments.has(from) && numbers.has(to))) return null
  if (from !== to && (isForeign(from, to, ga, gb) || isForeign(to, from, gb, ga))) return null
  return betweenMoments(x, y, from, to, plain) ?? betweenBytes(y, from, to) ?? plain
}

/** Moments with a zone and without are the same ones in one zone only. */
function betweenMoments(x: Column, y: Column, from: string, to: string, plain: ValueChange): ValueChange | null {
  if ((from === zoned) === (to === zoned) || !moments.has(from) || !moments.has(to)) return null
  const says = `values are read as in UTC, whatever the session’s TimeZone; a change of the column with an expression of its own says another zone`
  const limit = (t: string) => /\(\d+\)/.exec(t)?.[0] ?? ''
  const alone = [from, to].includes(zoneless) && limit(x.type) === limit(y.type)
  return alone ? { ...plain, up: null, down: null, says, keepsRows: true, inZone: 'UTC' } : { ...plain, says }
}

function betweenBytes(y: Column, from: string, to: string): ValueChange | null {
  const column = pg.quoteIdent(y.name)
  const [text, bytes] = [`pg_catalog.convert_from(${column}, 'UTF8')`, `pg_catalog.convert_to(${column}::text, 'UTF8')`]
  if (texts.has(from) && to === 'bytea') return { up: bytes, down: text, says: 'texts become their bytes in UTF-8', keepsRows: false, inZone: null }
  if (from !== 'bytea' || !texts.has(to)) return null
  const says = 'bytes are written as hexadecimal digits; a change of the column with an expression of its own reads them as characters'
  return { up: `pg_catalog.encode(${column}, 'hex')`, down: `pg_catalog.decode(${column}::text, 'hex')`, says, keepsRows: false, inZone: null }
}
