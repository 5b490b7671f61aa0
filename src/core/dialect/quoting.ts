// Names as SQL, in whatever dialect.
import type { Dialect } from '../catalog/index.ts'
import { quoteIdent } from './postgres/quote.ts'

/** Double quotes for SQLite, whose own keywords differ ("SQLite Keywords"); back quotes for MySQL and MariaDB (manual 11.2). */
const quoters: Readonly<Record<Dialect, (name: string) => string>> = {
  postgresql: quoteIdent,
  sqlite: (name) => `"${name.replaceAll('"', '""')}"`,
  mysql: (name) => `\`${name.replaceAll('`', '``')}\``,
}

export const identQuoter = (dialect: Dialect): ((name: string) => string) => quoters[dialect]

/** `schema.table`, or the table alone where an engine has no schemas. */
export const tableQuoter =
  (dialect: Dialect) =>
  (a: { readonly schema: string; readonly name: string }): string => {
    const quote = quoters[dialect]
    return a.schema === '' ? quote(a.name) : `${quote(a.schema)}.${quote(a.name)}`
  }
