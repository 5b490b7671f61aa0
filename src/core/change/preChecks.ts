// Read-only queries that tell before a step runs whether the rows let it: each counts what is in the way and shows some of it.
import type { RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Misfit, misfit } from './fits.ts'
import type { Ground } from './needs.ts'
import type { PartOf } from './parts.ts'
import type { PreCheck } from './plan.ts'

/** Rows shown of what is in the way. */
const sampled = 10

const q = pg.quoteIdent

/** A check over the rows of one table that meet a condition; they are shown by the table's key and the columns in question. */
function rowsWhere(
  id: string,
  asks: string,
  on: RelationAddress,
  columns: readonly string[],
  condition: string,
  more: Pick<PreCheck, 'cleaning' | 'cleaningSays'>,
): PreCheck {
  const table = `${pg.quoteAddress(on)} t`
  return {
    id,
    asks,
    count: `select pg_catalog.count(*) from ${table} where ${condition}`,
    sample: `select ${columns.map((c) => `t.${q(c)}`).join(', ')} from ${table} where ${condition} limit ${sampled}`,
    ...more,
  }
}

const shown = (on: RelationAddress, g: Ground, columns: readonly string[]): readonly string[] => [
  ...new Set([...(g.relation(on)?.primaryKey?.columns ?? []), ...columns]),
]

const none = { cleaning: null, cleaningSays: null }

/** Rows where a column that is to be required is null. */
/** `composite`: of such a value IS NULL asks about its parts, and NOT NULL does not (manual, 9.2). */
export function nullCheck(a: PartOf<'column'>, composite: boolean): PreCheck {
  const column = q(a.value.name)
  return rowsWhere(
    `null ${pg.quoteAddress(a.on)}.${column}`,
    `Is ${column} null anywhere in ${pg.quoteAddress(a.on)}?`,
    a.on,
    [a.value.name],
    composite ? `t.${column} is not distinct from null` : `t.${column} is null`,
    none,
  )
}

/**
 * Rows that refer to none: every referring column has a value (MATCH SIMPLE), and no row of the target has them. `empty`: the target is
 * made by the plan itself.
 */
export function orphanCheck(p: PartOf<'reference'>, g: Ground, empty = false): PreCheck {
  const { columns, target } = p.value
  const pairs = columns.map((c, i) => `r.${q(target.columns[i] as string)} = t.${q(c)}`)
  const there = columns.map((c) => `t.${q(c)} is not null`).join(p.value.match === 'full' ? ' or ' : ' and ')
  const parent = pg.quoteAddress({ schema: target.schema, name: target.table })
  const condition = empty ? `(${there})` : `(${there}) and not exists (select from ${parent} r where ${pairs.join(' and ')})`
  const nullable = columns.filter((c) => g.relation(p.on)?.columns.find((x) => x.name === c)?.nullable)
  const table = pg.quoteAddress(p.on)
  const cleaning =
    nullable.length > 0
      ? {
          cleaning: `UPDATE ${table} t SET ${nullable.map((c) => `${q(c)} = NULL`).join(', ')} WHERE ${condition};`,
          cleaningSays: `${nullable.join(', ')} of these rows is emptied`,
        }
      : { cleaning: `DELETE FROM ${table} t WHERE ${condition};`, cleaningSays: 'these rows are deleted' }
  return rowsWhere(
    `orphans ${table} ${q(p.value.name)}`,
    `Do all rows of ${table} refer to one of ${parent}?`,
    p.on,
    shown(p.on, g, columns),
    condition,
    cleaning,
  )
}

/** Sets of values that several rows have. */
export function duplicateCheck(
  on: RelationAddress,
  name: string,
  columns: readonly string[],
  options: { readonly where: string | null; readonly nulls: boolean },
): PreCheck {
  const list = columns.map((c) => `t.${q(c)}`).join(', ')
  const conditions = [...(options.where === null ? [] : [`(${options.where})`]), ...(options.nulls ? [] : columns.map((c) => `t.${q(c)} is not null`))]
  const from = `from ${pg.quoteAddress(on)} t${conditions.length > 0 ? ` where ${conditions.join(' and ')}` : ''} group by ${list} having pg_catalog.count(*) > 1`
  return {
    id: `duplicates ${pg.quoteAddress(on)} ${q(name)}`,
    asks: `Is every ${columns.join(', ')} in ${pg.quoteAddress(on)} there once?`,
    count: `select pg_catalog.count(*) from (select 1 ${from}) d`,
    sample: `select ${list}, pg_catalog.count(*) as rows ${from} limit ${sampled}`,
    ...none,
  }
}

/** Rows that a check refuses: those for which it is false, null passes (manual 5.4.1). */
export function refusedCheck(p: PartOf<'check'>, g: Ground): PreCheck {
  const table = pg.quoteAddress(p.on)
  const columns = shown(p.on, g, [])
  const condition = `not (${pg.reparsable(p.value.expression.written)})`
  return {
    id: `check ${table} ${q(p.value.name)}`,
    asks: `Do all rows of ${table} pass ${q(p.value.name)}?`,
    count: `select pg_catalog.count(*) from ${table} where ${condition}`,
    sample: `select ${columns.length > 0 ? columns.map(q).join(', ') : '*'} from ${table} where ${condition} limit ${sampled}`,
    ...none,
  }
}

/** Does every value fit into the new type? Null where the type takes all of the old one; no check where the server refuses none. */
export function typeCheck(
  a: PartOf<'column'>,
  b: PartOf<'column'>,
  ga: Ground,
  gb: Ground,
): { readonly narrows: string; readonly checks: readonly PreCheck[] } | null {
  const said = ga.conversion(a)
  const type = [...gb.parts.values()].find((p): p is PartOf<'enum'> => p.kind === 'enum' && pg.quoteAddress(p.value) === b.value.type)
  const found: Misfit | null = said
    ? said.misfit === null
      ? null
      : { when: said.misfit, says: 'other values than those two do not fit' }
    : misfit(a.value.type, b.value.type, `t.${q(a.value.name)}`, type ? type.value.labels : null)
  if (!found) return null
  const table = pg.quoteAddress(a.on)
  const columns = shown(a.on, ga, [a.value.name])
  return {
    narrows: found.says,
    checks:
      found.when === null
        ? []
        : [
            rowsWhere(
              `fits ${table}.${q(a.value.name)}`,
              `Do all values of ${table}.${q(a.value.name)} fit into ${b.value.type}?`,
              a.on,
              columns,
              found.when,
              none,
            ),
          ],
  }
}
