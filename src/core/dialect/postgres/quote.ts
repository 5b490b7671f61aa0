// The one place where names and texts become PostgreSQL SQL (manual 4.1.1 and 4.1.2).
import { quotedWords } from './keywords.ts'

/** A name as SQL: bare where the server would read it back unchanged, else in double quotes. */
export function quoteIdent(name: string): string {
  return /^[a-z_][a-z0-9_$]*$/.test(name) && !quotedWords.has(name) ? name : `"${name.replaceAll('"', '""')}"`
}

/** A text as an SQL literal, for standard_conforming_strings = on. */
export function quoteLiteral(text: string): string {
  return `'${text.replaceAll("'", "''")}'`
}

/** `schema.name`, both quoted where needed. */
export function quoteAddress(a: { readonly schema: string; readonly name: string }): string {
  return `${quoteIdent(a.schema)}.${quoteIdent(a.name)}`
}

/** `(a, b)` */
export function quoteColumns(names: readonly string[]): string {
  return `(${names.map(quoteIdent).join(', ')})`
}
