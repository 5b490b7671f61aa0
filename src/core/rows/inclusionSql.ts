// The query that tells how far the values of some columns are values of a key elsewhere: one pass over the child.
import type { Dialect } from '../catalog/index.ts'
import { quoteIdent } from '../dialect/postgres/quote.ts'
import type { RowEnd } from './rowEvidence.ts'

/** Double quotes for SQLite, whose own keywords differ ("SQLite Keywords"). */
const quoters: Readonly<Partial<Record<Dialect, (name: string) => string>>> = {
  postgresql: quoteIdent,
  sqlite: (name) => `"${name.replaceAll('"', '""')}"`,
}

function quoterOf(dialect: Dialect): (name: string) => string {
  const quote = quoters[dialect]
  if (!quote) throw new Error(`rows of ${dialect} are not read`)
  return quote
}

/** Words of a column and how often each occurs, the first of them; more than these are no kinds. */
export function kindSql(dialect: Dialect, table: RowEnd, kindColumn: string, most: number): string {
  const quote = quoterOf(dialect)
  const from = table.schema === '' ? quote(table.table) : `${quote(table.schema)}.${quote(table.table)}`
  const kind = quote(kindColumn)
  return `select cast(${kind} as ${dialect === 'sqlite' ? 'text' : 'varchar'}) as value, count(*) as rows from ${from}\nwhere ${kind} is not null group by ${kind} order by 2 desc, 1 limit ${most + 1}`
}

/** Only rows whose column has this value. */
export interface OnlyKind {
  readonly column: string
  readonly value: string
}

/** `limit`: rows of the child to look at; null for all. The columns of the answer are those of `InclusionRow`. */
export function inclusionSql(dialect: Dialect, child: RowEnd, parent: RowEnd, limit: number | null, only: OnlyKind | null = null): string {
  const quote = quoterOf(dialect)
  const from = (e: RowEnd) => (e.schema === '' ? quote(e.table) : `${quote(e.schema)}.${quote(e.table)}`)
  const own = child.columns.map(quote)
  const keys = own.map((c, i) => `${c} as k${i}`).join(', ')
  const kind = only ? ` and ${quote(only.column)} = '${only.value.replaceAll("'", "''")}'` : ''
  const filled = own.map((c) => `${c} is not null`).join(' and ') + kind
  const rows = `select ${keys} from ${from(child)} where ${filled}${limit === null ? '' : ` limit ${limit}`}`
  const names = own.map((_, i) => `k${i}`).join(', ')
  const on = parent.columns.map((c, i) => `p.${quote(c)} = v.k${i}`).join(' and ')
  return [
    `with v as (select ${names}, count(*) as n from (${rows}) r group by ${names}),`,
    `m as (select v.n, p.${quote(parent.columns[0] as string)} is not null as found from v left join ${from(parent)} p on ${on})`,
    'select coalesce(sum(n), 0) as rows, count(*) as "values",',
    'coalesce(sum(case when found then 0 else n end), 0) as orphans, coalesce(sum(case when found then 0 else 1 end), 0) as missing,',
    `coalesce(sum(case when found then 1 else 0 end), 0) as parents, (select count(*) from ${from(parent)}) as parent_rows,`,
    'min(case when found then n end) as least, max(case when found then n end) as most,',
    '(select n from m where found order by n limit 1 offset (select count(*) / 2 from m where found)) as median',
    'from m',
  ].join('\n')
}
