// What can be asked of the rows behind a relationship, as queries that only read: how children spread over parents, which rows stand out, and
// what a load of either end would send.
import { type Catalog, type Dialect, parseAddress, relationText } from '../catalog/index.ts'
import { identQuoter, tableQuoter } from '../dialect/quoting.ts'
import type { EntityModel, Relationship } from '../model/index.ts'

export const lookKeys = ['over', 'spread', 'most', 'none', 'orphans', 'rows'] as const
export type LookKey = (typeof lookKeys)[number]

export interface Look {
  readonly key: LookKey
  readonly label: string
  readonly sql: string
}

/** What reading one end for many rows at once would send: a batch by key, and the same joined. */
export interface Load {
  readonly label: string
  readonly sql: string
}

/** Rows that a look shows at most. */
export const lookLimit = 50

interface Side {
  readonly table: string
  readonly columns: readonly string[]
}

/** The table that holds the references, and the parent they are counted for; of a many-to-many the join table and its first entity. */
interface Sides {
  readonly child: Side
  readonly parent: Side
  readonly childName: string
  readonly parentName: string
}

const addressOf = (id: string) => {
  const a = parseAddress(id)
  return { schema: a?.schema ?? '', name: a?.name ?? id }
}

function sidesOf(r: Relationship, model: EntityModel, dialect: Dialect): Sides {
  const table = tableQuoter(dialect)
  const quote = identQuoter(dialect)
  const nameOf = (id: string) => model.entities.find((e) => e.id === id)?.name ?? id
  const side = (id: string, columns: readonly string[]): Side => ({ table: table(addressOf(id)), columns: columns.map(quote) })
  if (r.through)
    return {
      child: { table: table(r.through.table), columns: r.through.fromColumns.map(quote) },
      parent: side(r.from.entity, r.from.columns),
      childName: r.to.property,
      parentName: nameOf(r.from.entity),
    }
  return {
    child: side(r.from.entity, r.from.columns),
    parent: side(r.to.entity, r.to.columns),
    childName: nameOf(r.from.entity),
    parentName: nameOf(r.to.entity),
  }
}

const on = (left: string, a: readonly string[], right: string, b: readonly string[]) => a.map((c, i) => `${left}.${c} = ${right}.${b[i]}`).join(' and ')
const filled = (alias: string, columns: readonly string[]) => columns.map((c) => `${alias}.${c} is not null`).join(' and ')

/** Queries of the relationship or the class with this id; empty where there is none. */
export function looksOf(id: string, catalog: Catalog, model: EntityModel): readonly Look[] {
  const r = model.relationships.find((x) => x.id === id)
  if (!r) {
    const entity = model.entities.find((e) => `entity:${e.id}` === id)
    return entity ? [{ key: 'rows', label: `Some rows of ${entity.name}`, sql: rowsSql(entity, catalog.dialect) }] : []
  }
  const { child, parent, childName, parentName } = sidesOf(r, model, catalog.dialect)
  const join = `${parent.table} p left join ${child.table} c on ${on('c', child.columns, 'p', parent.columns)}`
  const key = parent.columns.map((c) => `p.${c}`).join(', ')
  const counted = `select ${key}, count(c.${child.columns[0]}) as n from ${join} group by ${key}`
  const over: readonly Look[] = r.to.claimed
    ? [
        {
          key: 'over',
          label: `${parentName} with more than one ${childName}`,
          sql: `${counted}\nhaving count(c.${child.columns[0]}) > 1 order by n desc, ${key} limit ${lookLimit}`,
        },
      ]
    : []
  return [
    ...over,
    { key: 'spread', label: `${childName} per ${parentName}`, sql: `select n, count(*) as parents from (\n  ${counted}\n) g group by n order by n` },
    {
      key: 'most',
      label: `${parentName} with the most`,
      sql: `${counted}\nhaving count(c.${child.columns[0]}) > 0 order by n desc, ${key} limit ${lookLimit}`,
    },
    { key: 'none', label: `${parentName} without any`, sql: `select p.* from ${join}\nwhere c.${child.columns[0]} is null order by ${key} limit ${lookLimit}` },
    {
      key: 'orphans',
      label: 'Rows that point nowhere',
      sql: `select c.* from ${child.table} c left join ${parent.table} p on ${on('c', child.columns, 'p', parent.columns)}\nwhere ${filled('c', child.columns)} and p.${parent.columns[0]} is null limit ${lookLimit}`,
    },
    { key: 'rows', label: `Some rows of ${childName}`, sql: `select c.* from ${child.table} c\nwhere ${filled('c', child.columns)} limit ${lookLimit}` },
  ]
}

/** Its columns as they are mapped, in the order of its key where it has one. */
function rowsSql(entity: EntityModel['entities'][number], dialect: Dialect): string {
  const quote = identQuoter(dialect)
  const key = entity.identity.kind === 'none' ? [] : entity.identity.columns
  const order = key.length === 0 ? '' : ` order by ${key.map(quote).join(', ')}`
  return `select ${entity.properties.map((p) => quote(p.column)).join(', ')} from ${tableQuoter(dialect)(entity.relation)}${order} limit 20`
}

/** As many keys as a batch has, written as each engine takes a list; types are said where nothing else tells them. */
function among(catalog: Catalog, tableId: string, columns: readonly string[], alias: string): string {
  const { dialect } = catalog
  const quote = identQuoter(dialect)
  const list = columns.map((c) => `${alias}.${quote(c)}`)
  if (columns.length === 1)
    return dialect === 'postgresql' ? `${list[0]} = any($1)` : dialect === 'sqlite' ? `${list[0]} in (select value from json_each(?))` : `${list[0]} in (?)`
  if (dialect !== 'postgresql') return `(${list.join(', ')}) in (values …)`
  const relation = catalog.relations.find((x) => relationText(x) === tableId)
  const arrays = columns.map((c, i) => `$${i + 1}::${relation?.columns.find((x) => x.name === c)?.type ?? 'text'}[]`)
  return `(${list.join(', ')}) in (select * from unnest(${arrays.join(', ')}))`
}

/** The statements that a load of either end sends for many rows at once. */
export function loadsOf(id: string, catalog: Catalog, model: EntityModel): readonly Load[] {
  const r = model.relationships.find((x) => x.id === id)
  if (!r) return []
  const { dialect } = catalog
  const quote = identQuoter(dialect)
  const table = tableQuoter(dialect)
  const [from, to] = [table(addressOf(r.from.entity)), table(addressOf(r.to.entity))]
  const nameOf = (e: string) => model.entities.find((x) => x.id === e)?.name ?? e
  const label = (end: 'from' | 'to') => `${nameOf(r[end].entity)}.${r[end].property} of many at once`
  if (r.through) {
    const join = table(r.through.table)
    const half = (target: string, keyColumns: readonly string[], toTarget: readonly string[], ownColumns: readonly string[]) =>
      `select ${ownColumns.map((c) => `j.${quote(c)}`).join(', ')}, t.*\nfrom ${join} j join ${target} t on ${on('t', keyColumns.map(quote), 'j', toTarget.map(quote))}\nwhere ${among(catalog, relationText(r.through?.table ?? { schema: '', name: '' }), ownColumns, 'j')}`
    return [
      { label: label('from'), sql: half(to, r.to.columns, r.through.toColumns, r.through.fromColumns) },
      { label: label('to'), sql: half(from, r.from.columns, r.through.fromColumns, r.through.toColumns) },
    ]
  }
  return [
    { label: label('from'), sql: `select t.* from ${to} t\nwhere ${among(catalog, r.to.entity, r.to.columns, 't')}` },
    { label: label('to'), sql: `select t.* from ${from} t\nwhere ${among(catalog, r.from.entity, r.from.columns, 't')}` },
  ]
}
