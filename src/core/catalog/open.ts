// Kept snapshots are opened here and nowhere else: their format is checked, what a later version says is filled in, and what is no
// structure any more goes. Their bytes and their hash stay what they are.
import type { z } from 'zod'
import { asReadBack } from '../dialect/postgres/reparse.ts'
import { withSettableOptions } from '../dialect/postgres/settable.ts'
import { Told } from '../text/told.ts'
import * as s from './schema.ts'
import type { Catalog } from './types.ts'

/** A snapshot that this version does not read, in words. */
export class SnapshotUnreadable extends Told {
  constructor(problem: string) {
    super({ message: problem, detail: '', hint: 'Survey the source again; what was ruled moves along.' }, 409)
    this.name = 'SnapshotUnreadable'
  }
}

type Schema = z.ZodType & {
  readonly _zod: { readonly def: { readonly type: string; readonly shape?: Record<string, Schema>; readonly element?: Schema; readonly innerType?: Schema } }
}

/** What is missing of an object of an earlier form: lists are empty, what may be null is, and what may be so or not is not. */
function filled(schema: Schema, value: unknown): unknown {
  const { def } = schema._zod
  if (value === undefined) {
    if (def.type === 'nullable') return null
    if (def.type === 'array') return []
    if (def.type === 'boolean') return false
    return value
  }
  if (def.type === 'nullable') return value === null ? null : filled(def.innerType as Schema, value)
  if (def.type === 'array' && Array.isArray(value)) return value.map((x) => filled(def.element as Schema, x))
  if (def.type !== 'object' || typeof value !== 'object' || value === null) return value
  const given = value as Readonly<Record<string, unknown>>
  return { ...given, ...Object.fromEntries(Object.entries(def.shape ?? {}).map(([key, of]) => [key, filled(of, given[key])])) }
}

/** Forms of before had no ranges, and relations no policies. */
const isEarlier = (c: Readonly<Record<string, unknown>>): boolean =>
  !('ranges' in c) ||
  !('objects' in c) ||
  (Array.isArray(c['relations']) && c['relations'].some((r: object | null) => r !== null && typeof r === 'object' && !('policies' in r)))

/** Texts that the server prints otherwise once it has read them: compared by what it prints then. */
function readBack(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(readBack)
  if (typeof value !== 'object' || value === null) return value
  const o = value as Readonly<Record<string, unknown>>
  if (typeof o['written'] === 'string' && typeof o['canonical'] === 'string') return { ...o, canonical: asReadBack(o['canonical']) }
  return Object.fromEntries(Object.entries(o).map(([k, v]) => [k, readBack(v)]))
}

/** The value of an earlier form as one of today's; any other as it is. For files, which are checked field by field afterwards. */
export const filledCatalog = (value: unknown): unknown =>
  typeof value === 'object' &&
  value !== null &&
  'format' in value &&
  value.format === 'pelvok.catalog/1' &&
  isEarlier(value as Readonly<Record<string, unknown>>)
    ? filled(s.catalog as unknown as Schema, value)
    : value

/** A catalog that was surveyed, or kept, by an earlier version, as this one would have it. */
export const settledCatalog = (c: Catalog): Catalog => (c.dialect === 'postgresql' ? withSettableOptions(c, null) : c)

/**
 * A kept snapshot's text as its Catalog. Throws SnapshotUnreadable for what is none of ours: text that is no JSON, another format, an engine
 * that is not known. Its fields were checked when it was kept: they are not gone over again. O(text).
 */
export function openSnapshot(text: string): Catalog {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new SnapshotUnreadable('a kept snapshot is damaged: it is not JSON')
  }
  const { format, dialect } = (typeof value === 'object' && value !== null ? value : {}) as { readonly format?: unknown; readonly dialect?: unknown }
  if (format !== 'pelvok.catalog/1')
    throw new SnapshotUnreadable(`a kept snapshot has the format ${JSON.stringify(format)}, and this version reads pelvok.catalog/1`)
  if (!s.catalog.shape.dialect.safeParse(dialect).success)
    throw new SnapshotUnreadable(`a kept snapshot is of the engine ${JSON.stringify(dialect)}, which this version does not know`)
  const whole = filledCatalog(value)
  return settledCatalog((dialect === 'postgresql' && text.includes('((ARRAY[') ? readBack(whole) : whole) as Catalog)
}
