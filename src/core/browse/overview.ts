// A snapshot at a glance: what it has where, and which of it stands out.
import { type Catalog, compareText, type Relation, relationText } from '../catalog/index.ts'
import { hasPlans } from '../change/index.ts'
import { columnNames } from './occurrences.ts'

export interface SchemaLine {
  /** "" where the engine has no schemas. */
  readonly name: string
  readonly tables: number
  readonly views: number
  readonly routines: number
}

/** An object, by its id in the list of all, and how much of something it has. */
type Ranked = readonly (readonly [id: string, n: number])[]

export interface CatalogOverview {
  /** Can a new table be asked for? */
  readonly changeable: boolean
  readonly schemas: readonly SchemaLine[]
  /** Tables that most foreign keys refer to. */
  readonly referred: Ranked
  /** Tables and views with the most columns. */
  readonly widest: Ranked
  /** Names of columns that occur in the most relations. */
  readonly columns: readonly (readonly [name: string, n: number])[]
  /** Tables without a primary key: how many, and the first of them. */
  readonly keyless: { readonly n: number; readonly first: readonly string[] }
  /** Tables that no foreign key leads to or from: how many, and the first of them. */
  readonly alone: { readonly n: number; readonly first: readonly string[] }
}

const isTable = (r: Relation) => r.kind === 'table' || r.kind === 'partitioned table'
const isView = (r: Relation) => r.kind === 'view' || r.kind === 'materialized view'

const ranked = (counts: Iterable<readonly [string, number]>, most: number): Ranked =>
  [...counts].sort((a, b) => b[1] - a[1] || compareText(a[0], b[0])).slice(0, most)

/** `most`: so many of each list. O(columns + keys). */
export function overviewOf(c: Catalog, most = 8): CatalogOverview {
  const schemas = new Map<string, { tables: number; views: number; routines: number }>()
  const lineOf = (name: string) => {
    const line = schemas.get(name) ?? { tables: 0, views: 0, routines: 0 }
    schemas.set(name, line)
    return line
  }
  for (const s of c.schemas) lineOf(s.name)
  const referred = new Map<string, number>()
  const linked = new Set<string>()
  for (const r of c.relations) {
    if (isTable(r)) lineOf(r.schema).tables += 1
    if (isView(r)) lineOf(r.schema).views += 1
    for (const k of r.foreignKeys) {
      const to = relationText({ schema: k.target.schema, name: k.target.table })
      referred.set(to, (referred.get(to) ?? 0) + 1)
      linked.add(to).add(relationText(r))
    }
  }
  for (const r of c.routines) lineOf(r.schema).routines += 1
  const tables = c.relations.filter(isTable)
  const listed = (some: readonly Relation[]) => ({ n: some.length, first: some.map(relationText).sort(compareText).slice(0, most) })
  return {
    changeable: hasPlans(c),
    schemas: [...schemas].map(([name, n]) => ({ name, ...n })).sort((a, b) => compareText(a.name, b.name)),
    referred: ranked(referred, most),
    widest: ranked(
      c.relations.filter((r) => isTable(r) || isView(r)).map((r) => [relationText(r), r.columns.length]),
      most,
    ),
    columns: columnNames(c).slice(0, most),
    keyless: listed(tables.filter((r) => r.primaryKey === null)),
    alone: listed(tables.filter((r) => !linked.has(relationText(r)))),
  }
}
