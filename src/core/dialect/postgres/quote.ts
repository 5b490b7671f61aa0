// The one place where names and texts become PostgreSQL SQL (manual 4.1.1 and 4.1.2).
import { bidirectional } from '../../text/scan.ts'
import { quotedWords } from './keywords.ts'

/** Characters that make a line read otherwise than it is (UAX 9, 2): escaped, as the standard's Unicode escapes (manual 4.1.2.3). */
const withUnicodeEscapes = (quoted: string): string =>
  `U&${quoted.replaceAll('\\', '\\\\').replace(bidirectional, (c) => `\\${c.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}`)}`
const escaped = (quoted: string): string => (quoted.search(bidirectional) < 0 ? quoted : withUnicodeEscapes(quoted))

/** A name as SQL: bare where the server would read it back unchanged, else in double quotes. */
export function quoteIdent(name: string): string {
  return /^[a-z_][a-z0-9_$]*$/.test(name) && !quotedWords.has(name) ? name : escaped(`"${name.replaceAll('"', '""')}"`)
}

/** A text as an SQL literal, for standard_conforming_strings = on. */
export function quoteLiteral(text: string): string {
  return escaped(`'${text.replaceAll("'", "''")}'`)
}

/** `schema.name`, both quoted where needed. */
export function quoteAddress(a: { readonly schema: string; readonly name: string }): string {
  return `${quoteIdent(a.schema)}.${quoteIdent(a.name)}`
}

/** `(a, b)` */
export function quoteColumns(names: readonly string[]): string {
  return `(${names.map(quoteIdent).join(', ')})`
}
