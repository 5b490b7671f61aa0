// The queries that row evidence is read with. How far the values of some columns are values of keys elsewhere takes one pass over the
// child, whatever the number of keys; the query that is kept for each key asks the same of it alone.
import type { Dialect } from '../catalog/index.ts'
import { identQuoter } from '../dialect/quoting.ts'
import type { RowEnd } from './rowEvidence.ts'

function quoterOf(dialect: Dialect): (name: string) => string {
  if (dialect === 'mysql') throw new Error(`rows of ${dialect} are not read`)
  return identQuoter(dialect)
}

const fromOf = (quote: (name: string) => string, e: RowEnd) => (e.schema === '' ? quote(e.table) : `${quote(e.schema)}.${quote(e.table)}`)

/** Words of a column and how often each occurs, the first of them; more than these are no kinds. */
export function kindSql(dialect: Dialect, table: RowEnd, kindColumn: string, most: number): string {
  const quote = quoterOf(dialect)
  const kind = quote(kindColumn)
  return `select cast(${kind} as ${dialect === 'sqlite' ? 'text' : 'varchar'}) as value, count(*) as rows from ${fromOf(quote, table)}\nwhere ${kind} is not null group by ${kind} order by 2 desc, 1 limit ${most + 1}`
}

/** How often each pair of partners comes: rows, different pairs, pairs that come more than once, and how often the most frequent one. */
export function partnerSql(dialect: Dialect, table: RowEnd): string {
  const quote = quoterOf(dialect)
  const columns = table.columns.map(quote).join(', ')
  return `select coalesce(sum(n), 0) as rows, count(*) as pairs, coalesce(sum(case when n > 1 then 1 else 0 end), 0) as repeated, coalesce(max(n), 0) as most\nfrom (select count(*) as n from ${fromOf(quote, table)} group by ${columns}) g`
}

/** Only rows whose column has this value. */
export interface OnlyKind {
  readonly column: string
  readonly value: string
}

/**
 * One row per parent, in their order, whose place is `parent`; `nulls` counts rows without a value in some column. `limit`: rows of the
 * child to look at, whatever they hold; null for all.
 */
export function inclusionSql(dialect: Dialect, child: RowEnd, parents: readonly RowEnd[], limit: number | null, only: OnlyKind | null = null): string {
  const quote = quoterOf(dialect)
  const own = child.columns.map(quote)
  const names = own.map((_, i) => `k${i}`)
  const kind = only ? ` where ${quote(only.column)} = '${only.value.replaceAll("'", "''")}'` : ''
  const rows = `select ${own.map((c, i) => `${c} as k${i}`).join(', ')} from ${fromOf(quote, child)}${kind}${limit === null ? '' : ` limit ${limit}`}`
  const filled = names.map((n) => `${n} is not null`).join(' and ')
  const one = (p: RowEnd, i: number) => {
    const from = fromOf(quote, p)
    const on = p.columns.map((c, k) => `p.${quote(c)} = v.k${k}`).join(' and ')
    return [
      `m${i} as materialized (select v.n, p.${quote(p.columns[0] as string)} is not null as found from v left join ${from} p on ${on} where ${names.map((n) => `v.${n} is not null`).join(' and ')})`,
      [
        `select ${i} as parent, coalesce(sum(n), 0) as rows, (select coalesce(sum(n), 0) from v where not (${filled})) as nulls, count(*) as "values",`,
        'coalesce(sum(case when found then 0 else n end), 0) as orphans, coalesce(sum(case when found then 0 else 1 end), 0) as missing,',
        `coalesce(sum(case when found then 1 else 0 end), 0) as parents, (select count(*) from ${from}) as parent_rows,`,
        'min(case when found then n end) as least, max(case when found then n end) as most,',
        `(select n from m${i} where found order by n limit 1 offset (select count(*) / 2 from m${i} where found)) as median`,
        `from m${i}`,
      ].join('\n'),
    ] as const
  }
  const each = parents.map(one)
  return [
    `with v as materialized (select ${names.join(', ')}, count(*) as n from (${rows}) r group by ${names.join(', ')}),`,
    each.map(([m]) => m).join(',\n'),
    each.map(([, select]) => select).join('\nunion all\n'),
  ].join('\n')
}
