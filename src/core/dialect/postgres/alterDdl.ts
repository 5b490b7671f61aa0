// ALTER of what is there already, one small function per clause (manual, part VI: ALTER TABLE, ALTER TYPE, ALTER DOMAIN, COMMENT and so on).

import type { Column, Domain, Relation, RelationAddress } from '../../catalog/index.ts'
import { withoutFirstBrackets } from '../../text/scan.ts'
import { quoteAddress, quoteIdent, quoteLiteral } from './quote.ts'
import { reparsable } from './reparse.ts'
import { collate, identityClause, optionText, sequenceClauses } from './tableDdl.ts'

/** COMMENT ON … IS …; null takes the comment away. */
export const setComment = (what: string, text: string | null): string => `COMMENT ON ${what} IS ${text === null ? 'NULL' : quoteLiteral(text)};`

/** `ALTER TABLE t`; with ONLY where the change must not reach children and partitions. */
export const alterTable = (t: RelationAddress, only = false): string => `ALTER TABLE ${only ? 'ONLY ' : ''}${quoteAddress(t)}`

const optionName = (option: string) => option.slice(0, option.indexOf('='))

/** SET and RESET of storage parameters, as clauses: ` SET (fillfactor=70)`. */
export function optionChanges(was: readonly string[], is: readonly string[]): readonly string[] {
  const set = is.filter((o) => !was.includes(o))
  const reset = was.map(optionName).filter((name) => !is.some((o) => optionName(o) === name))
  return [...(set.length > 0 ? [`SET (${set.map(optionText).join(', ')})`] : []), ...(reset.length > 0 ? [`RESET (${reset.join(', ')})`] : [])]
}

/** ALTER COLUMN … TYPE; `using` where the values do not turn into it by themselves. */
export function columnType(t: RelationAddress, c: Column, using: string | null): string {
  return `${alterTable(t)} ALTER COLUMN ${quoteIdent(c.name)} TYPE ${c.type}${collate(c.collation)}${using === null ? '' : ` USING ${using}`};`
}

/** Identity put on, taken off, or counted another way. */
export function identityChange(t: RelationAddress, was: Column, is: Column): readonly string[] {
  const alter = `${alterTable(t, true)} ALTER COLUMN ${quoteIdent(is.name)}`
  if (JSON.stringify(was.identity) === JSON.stringify(is.identity)) return []
  if (is.identity === null) return [`${alter} DROP IDENTITY;`]
  const same = was.identity !== null && JSON.stringify(was.identity.sequence) === JSON.stringify(is.identity.sequence)
  const comment = is.identity.sequence ? [setComment(`SEQUENCE ${quoteAddress(is.identity.sequence)}`, is.identity.comment)] : []
  if (was.identity === null || !same)
    return [
      ...(was.identity === null ? [] : [`${alter} DROP IDENTITY;`]),
      `${alter} ADD ${identityClause(is.identity)};`,
      // Rows that are there have numbers already: counting goes on behind the largest.
      ...(is.identity.sequence
        ? [
            `SELECT pg_catalog.setval(${quoteLiteral(quoteAddress(is.identity.sequence))}, COALESCE((SELECT pg_catalog.max(${quoteIdent(is.name)}) FROM ${quoteAddress(t)}), 0) + 1, false);`,
          ]
        : []),
      ...(is.identity.comment === null ? [] : comment),
    ]
  const { options } = is.identity
  const changed = JSON.stringify(was.identity.options) !== JSON.stringify(options)
  return [
    ...(was.identity.generation === is.identity.generation ? [] : [`${alter} SET GENERATED ${is.identity.generation === 'always' ? 'ALWAYS' : 'BY DEFAULT'};`]),
    ...(changed && options && is.identity.sequence ? [`ALTER SEQUENCE ${quoteAddress(is.identity.sequence)} AS ${options.type} ${allClauses(options)};`] : []),
    ...(was.identity.comment === is.identity.comment ? [] : comment),
  ]
}

/** Every option, NO CYCLE said too: what is not said stays as it was. */
export const allClauses = (o: NonNullable<NonNullable<Column['identity']>['options']>): string =>
  `${sequenceClauses({ ...o, cycle: true }).replace(/ CYCLE$/, '')} ${o.cycle ? 'CYCLE' : 'NO CYCLE'}`

/** What of a column changes without its type, default or NOT NULL. */
export function columnSettings(t: RelationAddress, was: Column, is: Column): readonly string[] {
  const alter = `${alterTable(t, true)} ALTER COLUMN ${quoteIdent(is.name)}`
  return [
    ...(was.compression === is.compression ? [] : [`${alter} SET COMPRESSION ${is.compression ?? 'default'};`]),
    ...(was.statisticsTarget === is.statisticsTarget ? [] : [`${alter} SET STATISTICS ${is.statisticsTarget ?? -1};`]),
    ...optionChanges(was.options, is.options).map((o) => `${alter} ${o};`),
    ...(was.comment === is.comment ? [] : [setComment(`COLUMN ${quoteAddress(t)}.${quoteIdent(is.name)}`, is.comment)]),
  ]
}

/** What types that do not begin with "extended" begin with (pg_type.dat, typstorage). */
const ownStorage: Readonly<Record<string, string>> = { numeric: 'MAIN', inet: 'MAIN', cidr: 'MAIN' }

/** SET STORAGE; a column without one of its own has its type's, and a new type begins with its own. */
export function columnStorage(t: RelationAddress, was: Column, is: Column): readonly string[] {
  const before = was.type === is.type ? was.storage : null
  if (before === is.storage) return []
  return [
    `${alterTable(t, true)} ALTER COLUMN ${quoteIdent(is.name)} SET STORAGE ${is.storage?.toUpperCase() ?? ownStorage[typeFamily(is.type)] ?? 'EXTENDED'};`,
  ]
}

/** A domain over the same type: default, NOT NULL and checks. Checks are dropped first, and validated apart. */
export function domainChange(was: Domain, is: Domain): readonly string[] {
  const alter = `ALTER DOMAIN ${quoteAddress(is)}`
  const said = (c: Domain['checks'][number]) => (c.expression.canonical ?? c.expression.written) + String(c.validated)
  const kept = new Map(is.checks.map((c) => [c.name, c]))
  const had = new Map(was.checks.map((c) => [c.name, c]))
  const onCheck = (name: string) => `CONSTRAINT ${quoteIdent(name)} ON DOMAIN ${quoteAddress(is)}`
  return [
    ...was.checks
      .filter((c) => !kept.has(c.name) || said(kept.get(c.name) as typeof c) !== said(c))
      .map((c) => `${alter} DROP CONSTRAINT ${quoteIdent(c.name)};`),
    ...((was.default?.written ?? null) === (is.default?.written ?? null)
      ? []
      : [is.default === null ? `${alter} DROP DEFAULT;` : `${alter} SET DEFAULT ${reparsable(is.default.written)};`]),
    ...(was.nullable === is.nullable ? [] : [`${alter} ${is.nullable ? 'DROP' : 'SET'} NOT NULL;`]),
    ...is.checks
      .filter((c) => !had.has(c.name) || said(had.get(c.name) as typeof c) !== said(c))
      .flatMap((c) => [
        `${alter} ADD CONSTRAINT ${quoteIdent(c.name)} CHECK (${reparsable(c.expression.written)})${c.validated ? '' : ' NOT VALID'};`,
        ...(c.comment === null ? [] : [setComment(onCheck(c.name), c.comment)]),
      ]),
    ...is.checks
      .filter((c) => had.has(c.name) && said(had.get(c.name) as typeof c) === said(c) && had.get(c.name)?.comment !== c.comment)
      .map((c) => setComment(onCheck(c.name), c.comment)),
    ...(was.comment === is.comment ? [] : [setComment(`DOMAIN ${quoteAddress(is)}`, is.comment)]),
  ]
}

/** The same type without modifiers and brackets: `character varying` of `character varying(20)[]`. */
export function typeFamily(type: string): string {
  let family = withoutFirstBrackets(type)
  while (family.endsWith('[]')) family = family.slice(0, -2)
  return family.trim()
}

const numbers = ['smallint', 'integer', 'bigint', 'numeric', 'real', 'double precision']
const texts = ['character varying', 'character', 'text', 'bpchar', 'name', '"char"']
const moments = ['timestamp without time zone', 'timestamp with time zone', 'date']

/**
 * How the values of a column become those of another type: null where ALTER TYPE does it by itself (an assignment cast), else the
 * expression. Moments without a zone are taken to be UTC. Anything else goes through its text.
 */
export function conversion(was: Column, is: Column): string | null {
  const [from, to] = [typeFamily(was.type), typeFamily(is.type)]
  const column = quoteIdent(is.name)
  const list = was.type.endsWith('[]') || is.type.endsWith('[]')
  if (from === to && was.type.endsWith('[]') === is.type.endsWith('[]')) return null
  if (list) return was.type.endsWith('[]') ? `${column}::text[]::${is.type}` : `ARRAY[${column}]::${is.type}`
  if (numbers.includes(from) && numbers.includes(to)) return null
  if (texts.includes(from) && texts.includes(to)) return null
  if (moments.includes(from) && moments.includes(to)) {
    if (to === 'timestamp with time zone') return `${column}::timestamp without time zone AT TIME ZONE 'UTC'`
    if (from === 'timestamp with time zone') return `(${column} AT TIME ZONE 'UTC')${to === 'date' ? '::date' : ''}`
    return null
  }
  if (texts.includes(to)) return `${column}::text`
  if (numbers.includes(from) && to === 'boolean') return `${column} <> 0`
  if (from === 'boolean' && numbers.includes(to)) return `${column}::integer`
  return `${column}::text::${is.type}`
}

/** `ALTER TABLE a RENAME TO b`, to another schema first where it moves. */
export function renameRelation(was: RelationAddress, is: RelationAddress, word: string): readonly string[] {
  const moved = { schema: is.schema, name: was.name }
  return [
    ...(was.schema === is.schema ? [] : [`ALTER ${word} ${quoteAddress(was)} SET SCHEMA ${quoteIdent(is.schema)};`]),
    ...(was.name === is.name ? [] : [`ALTER ${word} ${quoteAddress(moved)} RENAME TO ${quoteIdent(is.name)};`]),
  ]
}

/** View options changed in place. */
export const viewOptions = (r: Relation, was: Relation): readonly string[] =>
  optionChanges(was.options, r.options).map((o) => `ALTER ${r.kind === 'view' ? 'VIEW' : 'MATERIALIZED VIEW'} ${quoteAddress(r)} ${o};`)

/** The column as ADD COLUMN leaves it: without what is set afterwards. */
export const newColumnLike = (c: Column): Column => ({ ...c, storage: null, statisticsTarget: null, options: [], comment: null })

/** OPTIONS of a foreign table and of its columns, added, set and dropped (manual, ALTER FOREIGN TABLE). */
export function foreignOptionChanges(was: Relation, is: Relation): readonly string[] {
  const alter = `ALTER FOREIGN TABLE ONLY ${quoteAddress(is)}`
  const changes = (a: readonly string[], b: readonly string[]) => [
    ...a.filter((o) => !b.some((n) => optionName(n) === optionName(o))).map((o) => `DROP ${quoteIdent(optionName(o))}`),
    ...b
      .filter((o) => !a.includes(o))
      .map(
        (o) => `${a.some((n) => optionName(n) === optionName(o)) ? 'SET' : 'ADD'} ${quoteIdent(optionName(o))} ${quoteLiteral(o.slice(o.indexOf('=') + 1))}`,
      ),
  ]
  const own = changes(was.foreign?.options ?? [], is.foreign?.options ?? [])
  const columns = new Set([...(was.foreign?.columns ?? []), ...(is.foreign?.columns ?? [])].map((c) => c.column))
  const of = (r: Relation, name: string) => r.foreign?.columns.find((c) => c.column === name)?.options ?? []
  return [
    ...(own.length > 0 ? [`${alter} OPTIONS (${own.join(', ')});`] : []),
    ...[...columns].flatMap((name) => {
      const list = changes(of(was, name), of(is, name))
      return list.length > 0 ? [`${alter} ALTER COLUMN ${quoteIdent(name)} OPTIONS (${list.join(', ')});`] : []
    }),
  ]
}
