// Addresses as text: unambiguous for any name, safe in a URL and in a file name.
import type { RelationAddress } from './types.ts'

/** One name as a part of an address; characters that an address uses itself are percent-encoded. */
function part(name: string): string {
  return /^[\w$-]*$/.test(name) ? name : encodeURIComponent(name).replace(/[.!*'()~]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)
}

/** `schema.table`, or `table` for engines with one database per connection. */
export function relationText(a: RelationAddress): string {
  return a.schema === '' ? part(a.name) : `${part(a.schema)}.${part(a.name)}`
}

/** `schema.table(a,b)`, columns in the order given. */
export function columnsText(a: RelationAddress, columns: readonly string[]): string {
  return `${relationText(a)}(${columns.map(part).join(',')})`
}

/** `schema.table(a)`, where the relation's text is known: columns of one table are addressed in a row. */
export const columnText = (relation: string, column: string): string => `${relation}(${part(column)})`

/** The relation and columns that an address text names; null where the text is none. */
export function parseAddress(text: string): { readonly schema: string; readonly name: string; readonly columns: readonly string[] } | null {
  const m = /^(?:([^.()]*)\.)?([^.()]+)(?:\(([^()]*)\))?$/.exec(text)
  if (!m) return null
  try {
    return {
      schema: decodeURIComponent(m[1] ?? ''),
      name: decodeURIComponent(m[2] ?? ''),
      columns: m[3] === undefined || m[3] === '' ? [] : m[3].split(',').map(decodeURIComponent),
    }
  } catch {
    return null
  }
}

/** Compare by code units, which no locale changes. */
export function compareText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0
}

/** Compare lists of texts part by part; a shorter list that is a prefix comes first. */
export function compareParts(a: readonly string[], b: readonly string[]): number {
  for (let i = 0; i < a.length && i < b.length; i += 1) {
    const c = compareText(a[i] as string, b[i] as string)
    if (c !== 0) return c
  }
  return a.length - b.length
}

/** Natural order of anything that lives in a schema. */
export function compareAddress(a: RelationAddress, b: RelationAddress): number {
  return compareText(a.schema, b.schema) || compareText(a.name, b.name)
}

/** Is it the object of this schema and name? */
export const isAddress = (a: RelationAddress, b: { readonly schema: string; readonly name: string }): boolean => a.schema === b.schema && a.name === b.name
