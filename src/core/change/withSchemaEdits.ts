import { type Catalog, type Column, columnText, type ForeignKey, type Relation, type RelationAddress, relationText, sortCatalog } from '../catalog/index.ts'
import { newColumn, newRelation } from '../ddl/draft.ts'
import * as pg from '../dialect/postgres/index.ts'
import { makeObjectName } from '../dialect/postgres/madeUpNames.ts'
import { viewLineages } from '../views/index.ts'
import type { Conversion, Conversions } from './conversion.ts'
import { groundOf, textOf, wordsOf } from './needs.ts'
import { columnKey, hangs, type Part, partsOf } from './parts.ts'
import { type Rename, renamed, renameProblem } from './renames.ts'

import type { ColumnOf, EditOf, SchemaEdit } from './schemaEdit.ts'

export interface EditedCatalog {
  readonly catalog: Catalog
  readonly renames: readonly Rename[]
  readonly conversions: Conversions
  readonly cleanings: readonly EditOf<'clean rows'>[]
  /** Per edit: what became of it. */
  readonly outcomes: readonly Outcome[]
}

export type Outcome =
  | { readonly is: 'planned' }
  /** The catalog has it already. */
  | { readonly is: 'there' }
  | { readonly is: 'refused'; readonly because: string }

interface State {
  catalog: Catalog
  renames: Rename[]
  conversions: Map<string, Conversion>
  cleanings: EditOf<'clean rows'>[]
}

class Refusal extends Error {}

/** Catalog′: the catalog with the edits, in their order. One that cannot be carried out is told and left out. Pure. */
export function withSchemaEdits(catalog: Catalog, edits: readonly SchemaEdit[]): EditedCatalog {
  const s: State = { catalog, renames: [], conversions: new Map(), cleanings: [] }
  const outcomes = edits.map((e): Outcome => {
    const before = s.catalog
    try {
      carryOut(s, e)
      return { is: s.catalog === before && e.do !== 'clean rows' ? 'there' : 'planned' }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      s.catalog = before
      return { is: 'refused', because: error.message }
    }
  })
  return { catalog: s.catalog === catalog ? catalog : sortCatalog(s.catalog), renames: s.renames, conversions: s.conversions, cleanings: s.cleanings, outcomes }
}

const isAt = (a: RelationAddress, b: RelationAddress) => a.schema === b.schema && a.name === b.name

const find = (c: Catalog, a: RelationAddress) => c.relations.find((r) => isAt(r, a))

function get(c: Catalog, a: RelationAddress): Relation {
  const r = find(c, a)
  if (!r) throw new Refusal(`there is no ${relationText(a)}`)
  if (r.kind === 'view' || r.kind === 'materialized view') throw new Refusal(`${relationText(a)} is a view`)
  return r
}

function getColumn(r: Relation, n: string): Column {
  const c = r.columns.find((x) => x.name === n)
  if (!c) throw new Refusal(`${relationText(r)} has no column ${n}`)
  return c
}

function put(s: State, r: Relation): void {
  s.catalog = { ...s.catalog, relations: s.catalog.relations.map((x) => (isAt(x, r) ? r : x)) }
}

/** A column of a partitioned table, and the same of its partitions and children. */
function family(c: Catalog, r: Relation): readonly Relation[] {
  const children = c.relations.filter((x) => x.inherits.some((p) => isAt(p, r)) || (x.partitionOf !== null && isAt(x.partitionOf.parent, r)))
  return [r, ...children.flatMap((x) => family(c, x))]
}

function putColumn(s: State, r: Relation, n: string, of: (c: Column) => Column): void {
  getColumn(r, n)
  for (const x of family(s.catalog, r)) put(s, { ...x, columns: x.columns.map((c) => (c.name === n ? of(c) : c)) })
}

const sameList = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((x, i) => x === b[i])

/** A name of the relation's schema, or of its constraints, that is taken. */
function checkName(c: Catalog, r: Relation, n: string, inSchema: boolean): void {
  const own = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques, ...r.foreignKeys, ...r.checks, ...r.exclusions, ...r.indexes]
  const others = inSchema
    ? c.relations.filter((x) => x.schema === r.schema).flatMap((x) => [x, ...(x.primaryKey ? [x.primaryKey] : []), ...x.uniques, ...x.indexes, ...x.exclusions])
    : []
  if ([...own, ...others].some((x) => x.name === n)) throw new Refusal(`the name ${n} is taken in ${inSchema ? r.schema : relationText(r)}`)
}

const newKey = (n: string, list: readonly string[]) => ({
  name: n,
  columns: list,
  include: [],
  deferrable: 'no' as const,
  nullsNotDistinct: false,
  options: [],
  attachedTo: null,
  clustered: false,
  comment: null,
  indexComment: null,
})

const written = (text: string) => ({ written: text, canonical: null })

/** A counted column's sequence has the name that PostgreSQL would make up (manual, CREATE TABLE, GENERATED). */
function columnFrom(r: RelationAddress, c: ColumnOf): Column {
  return {
    ...newColumn(c.name, c.type),
    nullable: c.nullable && !c.counted,
    default: c.default === null ? null : written(c.default),
    identity: c.counted
      ? {
          generation: 'by default',
          sequence: { schema: r.schema, name: makeObjectName(r.name, c.name, 'seq') },
          options: { type: c.type, start: '1', increment: '1', minimum: '1', maximum: largest[c.type] ?? '2147483647', cache: '1', cycle: false },
          comment: null,
        }
      : null,
  }
}

const largest: Readonly<Record<string, string>> = { smallint: '32767', integer: '2147483647', bigint: '9223372036854775807' }

/** What each kind of edit does; refused by throwing. */
const carriedOut: { readonly [K in SchemaEdit['do']]: (s: State, e: EditOf<K>) => void } = {
  'clean rows': (s, e) => {
    s.cleanings.push(e)
  },
  'declare reference': (s, e) => declare(s, e),
  'drop reference': (s, e) => {
    const r = get(s.catalog, e.table)
    if (r.foreignKeys.some((k) => k.name === e.name)) put(s, { ...r, foreignKeys: r.foreignKeys.filter((k) => k.name !== e.name) })
  },
  'add index': (s, e) => {
    const r = get(s.catalog, e.table)
    for (const c of e.columns) getColumn(r, c)
    const over = (x: Relation['indexes'][number]) => x.columns.map((c) => c.column ?? '')
    if (r.indexes.some((x) => x.name === e.name && sameList(over(x), e.columns))) return
    checkName(s.catalog, r, e.name, true)
    addIndex(s, r, e.name, e.columns)
  },
  'drop index': (s, e) => {
    const r = get(s.catalog, e.table)
    if (!r.indexes.some((x) => x.name === e.name)) return
    for (const x of family(s.catalog, r)) put(s, { ...x, indexes: x.indexes.filter((i) => !(isAt(x, r) ? i.name === e.name : i.attachedTo === e.name)) })
  },
  'make unique': (s, e) => {
    const r = get(s.catalog, e.table)
    for (const c of e.columns) getColumn(r, c)
    if (r.uniques.some((u) => sameList(u.columns, e.columns)) || (r.primaryKey && sameList(r.primaryKey.columns, e.columns))) return
    if (r.partitionKey !== null)
      throw new Refusal(`${relationText(r)} is partitioned; a key over it must hold its partition key, and one edit does not make those of its partitions`)
    checkName(s.catalog, r, e.name, true)
    put(s, { ...r, uniques: [...r.uniques, newKey(e.name, e.columns)] })
  },
  'drop unique': (s, e) => {
    const r = get(s.catalog, e.table)
    const u = r.uniques.find((x) => x.name === e.name)
    if (!u) return
    const by = s.catalog.relations.find((x) =>
      x.foreignKeys.some((k) => isAt({ schema: k.target.schema, name: k.target.table }, r) && sameList(k.target.columns.toSorted(), u.columns.toSorted())),
    )
    if (by) throw new Refusal(`${relationText(by)} refers to it`)
    put(s, { ...r, uniques: r.uniques.filter((x) => x !== u) })
  },
  'set key': (s, e) => {
    const r = get(s.catalog, e.table)
    if (r.primaryKey && sameList(r.primaryKey.columns, e.columns)) return
    if (r.primaryKey) throw new Refusal(`${relationText(r)} has the key ${r.primaryKey.name} already`)
    for (const c of e.columns) putColumn(s, get(s.catalog, e.table), c, (x) => ({ ...x, nullable: false }))
    checkName(s.catalog, r, e.name, true)
    put(s, { ...get(s.catalog, e.table), primaryKey: newKey(e.name, e.columns) })
  },
  require: (s, e) => {
    const r = get(s.catalog, e.table)
    if (getColumn(r, e.column).nullable) putColumn(s, r, e.column, (c) => ({ ...c, nullable: false }))
  },
  'allow null': (s, e) => {
    const r = get(s.catalog, e.table)
    if (getColumn(r, e.column).nullable) return
    if (r.primaryKey?.columns.includes(e.column)) throw new Refusal(`${e.column} is part of the primary key`)
    putColumn(s, r, e.column, (c) => ({ ...c, nullable: true }))
  },
  'set default': (s, e) => {
    const r = get(s.catalog, e.table)
    const c = getColumn(r, e.column)
    if (c.generated || c.identity) throw new Refusal(`${columnText(relationText(r), c.name)} gets its value from the database`)
    if ((c.default?.written ?? null) === e.expression) return
    putColumn(s, r, e.column, (x) => ({ ...x, default: e.expression === null ? null : written(e.expression) }))
  },
  'set type': (s, e) => {
    retype(s, get(s.catalog, e.table), e.column, e.type, null)
  },
  'make enumerated': (s, e) => enumerate(s, e),
  'make boolean': (s, e) => flag(s, e),
  'add column': (s, e) => {
    const r = get(s.catalog, e.table)
    const before = r.columns.find((c) => c.name === e.column.name)
    if (before?.type === e.column.type) return
    if (before) throw new Refusal(`${relationText(r)} has a column ${before.name} of type ${before.type} already`)
    const made = columnFrom(r, e.column)
    for (const x of family(s.catalog, r))
      put(s, { ...x, columns: [...x.columns, isAt(x, r) ? made : { ...made, identity: null, inherited: x.partitionOf === null }] })
  },
  'drop column': (s, e) => dropColumn(s, e),
  'add table': (s, e) => {
    if (find(s.catalog, e.table)) return
    if (!s.catalog.schemas.some((x) => x.name === e.table.schema)) throw new Refusal(`there is no schema ${e.table.schema}`)
    for (const k of e.key) if (!e.columns.some((c) => c.name === k)) throw new Refusal(`the key names ${k}, which is none of its columns`)
    const list = e.columns.map((c) => columnFrom(e.table, c)).map((c) => (e.key.includes(c.name) ? { ...c, nullable: false } : c))
    const made: Relation = { ...newRelation('table', e.table), columns: list, primaryKey: newKey(makeObjectName(e.table.name, null, 'pkey'), e.key) }
    s.catalog = { ...s.catalog, relations: [...s.catalog.relations, made] }
  },
  'drop table': (s, e) => dropTable(s, e),
  'rename table': (s, e) => {
    if (!find(s.catalog, e.table) && find(s.catalog, e.to)) return
    rename(s, { of: 'relation', from: e.table, to: e.to })
  },
  'rename column': (s, e) => {
    const r = get(s.catalog, e.table)
    if (!r.columns.some((c) => c.name === e.column) && r.columns.some((c) => c.name === e.to)) return
    rename(s, { of: 'column', relation: e.table, from: e.column, to: e.to })
  },
  'set comment': (s, e) => {
    const r = find(s.catalog, e.table)
    if (!r) throw new Refusal(`there is no ${relationText(e.table)}`)
    if (e.column === null) {
      if (r.comment !== e.text) put(s, { ...r, comment: e.text })
      return
    }
    const c = getColumn(r, e.column)
    if (c.comment !== e.text) put(s, { ...r, columns: r.columns.map((x) => (x === c ? { ...x, comment: e.text } : x)) })
  },
}

function carryOut<K extends SchemaEdit['do']>(s: State, e: EditOf<K>): void {
  carriedOut[e.do as K](s, e)
}

function rename(s: State, r: Rename): void {
  const problem = renameProblem(s.catalog, r)
  if (problem !== null) throw new Refusal(problem)
  s.catalog = renamed(s.catalog, r)
  s.renames.push(r)
}

function declare(s: State, e: EditOf<'declare reference'>): void {
  const r = get(s.catalog, e.table)
  const target = get(s.catalog, e.target)
  if (e.columns.length !== e.targetColumns.length) throw new Refusal('it has not as many columns on both sides')
  for (const c of e.columns) getColumn(r, c)
  for (const c of e.targetColumns) getColumn(target, c)
  const same = (k: ForeignKey) =>
    isAt({ schema: k.target.schema, name: k.target.table }, e.target) && sameList(k.columns, e.columns) && sameList(k.target.columns, e.targetColumns)
  const before = r.foreignKeys.find(same)
  if (before?.validated && before.enforced && before.onDelete === e.onDelete && before.onUpdate === e.onUpdate) return
  const keys = [...(target.primaryKey ? [target.primaryKey] : []), ...target.uniques].map((k) => k.columns)
  const unique = target.indexes
    .filter((x) => x.unique && x.predicate === null && x.columns.every((c) => c.column !== null))
    .map((x) => x.columns.map((c) => c.column as string))
  if (![...keys, ...unique].some((k) => sameList(k.toSorted(), e.targetColumns.toSorted())))
    throw new Refusal(`nothing makes (${e.targetColumns.join(', ')}) of ${relationText(target)} unique; make it unique first`)
  if (before) {
    put(s, {
      ...r,
      foreignKeys: r.foreignKeys.map((k) => (k === before ? { ...k, onDelete: e.onDelete, onUpdate: e.onUpdate, validated: true, enforced: true } : k)),
    })
    return
  }
  checkName(s.catalog, r, e.name, false)
  const made: ForeignKey = {
    name: e.name,
    columns: e.columns,
    target: { schema: e.target.schema, table: e.target.name, columns: e.targetColumns },
    onUpdate: e.onUpdate,
    onDelete: e.onDelete,
    onDeleteColumns: [],
    match: 'simple',
    deferrable: 'no',
    validated: true,
    enforced: true,
    comment: null,
  }
  put(s, { ...r, foreignKeys: [...r.foreignKeys, made] })
}

/** On a partitioned table with one on each partition, under the names that PostgreSQL would make up. */
function addIndex(s: State, r: Relation, n: string, list: readonly string[]): void {
  const made = (own: string, attachedTo: string | null) => ({
    name: own,
    unique: false,
    method: 'btree',
    columns: list.map((column) => ({
      column,
      expression: null,
      collation: null,
      operatorClass: null,
      operatorClassOptions: [],
      descending: false,
      nullsFirst: false,
    })),
    include: [],
    predicate: null,
    nullsNotDistinct: false,
    options: [],
    attachedTo,
    clustered: false,
    valid: true,
    statistics: [],
    comment: null,
  })
  const taken = new Set(
    s.catalog.relations.filter((x) => x.schema === r.schema).flatMap((x) => [x.name, ...x.indexes.map((i) => i.name), ...x.uniques.map((u) => u.name)]),
  )
  const walk = (x: Relation, own: string, above: string | null): void => {
    put(s, { ...x, indexes: [...x.indexes, made(own, above)] })
    if (x.partitionKey === null) return
    for (const child of s.catalog.relations.filter((c) => c.partitionOf !== null && isAt(c.partitionOf.parent, x))) {
      let free = makeObjectName(child.name, list.join('_'), 'idx')
      for (let i = 1; taken.has(free); i += 1) free = makeObjectName(child.name, list.join('_'), `idx${i}`)
      taken.add(free)
      walk(child, free, own)
    }
  }
  walk(r, n, null)
}

/** The text of a default without the cast that the server wrote behind a constant. */
const uncast = (text: string) => text.replace(/^('(?:[^']|'')*')::[\w\s".()[\]]+$/, '$1')

function retype(s: State, r: Relation, n: string, type: string, conversion: Conversion | null): void {
  const c = getColumn(r, n)
  if (c.type === type) return
  if (c.generated) throw new Refusal(`${columnText(relationText(r), n)} is a generated column`)
  if (r.partitionOf) throw new Refusal(`${relationText(r)} is a partition; change ${relationText(r.partitionOf.parent)}`)
  if (r.partitionKey && wordsOf(r.partitionKey).has(n)) throw new Refusal(`${n} is in the partition key`)
  putColumn(s, r, n, (x) => ({ ...x, type, collation: null, storage: null, default: x.default && written(uncast(x.default.written)) }))
  if (conversion) s.conversions.set(columnKey(r, n), conversion)
  retypeViews(s, r, n, type)
}

/** Views give the column on: what comes from it alone has its type, what is computed of it the server says. */
function retypeViews(s: State, r: Relation, n: string, type: string): void {
  const lineages = viewLineages(s.catalog)
  for (const v of s.catalog.relations) {
    if (v.kind !== 'view' && v.kind !== 'materialized view') continue
    const lineage = lineages.get(relationText(v))
    const from = v.columns.filter((x) => {
      const origin = lineage?.columns.get(x.name)
      return origin && isAt(origin.relation, r) && origin.column === n
    })
    const reads = wordsOf(v.definition?.written ?? '').has(n) || from.length > 0
    if (!reads) continue
    put(s, { ...v, columns: v.columns.map((x) => (from.includes(x) ? { ...x, type } : x)), definition: v.definition && { ...v.definition, canonical: null } })
  }
}

/** Checks that say no more than which values a column may have. */
const valueChecks = (r: Relation, n: string) =>
  r.checks.filter((k) => r.columns.every((c) => c.name === n || !wordsOf(k.expression.written).has(c.name)) && wordsOf(k.expression.written).has(n))

function enumerate(s: State, e: EditOf<'make enumerated'>): void {
  const r = get(s.catalog, e.table)
  const type = pg.quoteAddress(e.type)
  const c = getColumn(r, e.column)
  if (c.type === type) return
  const before = s.catalog.enums.find((t) => isAt(t, e.type))
  if (before && e.labels.some((l) => !before.labels.includes(l))) throw new Refusal(`the type ${type} has other values`)
  if (!before && [...s.catalog.domains, ...s.catalog.composites, ...s.catalog.ranges, ...s.catalog.relations].some((t) => isAt(t, e.type)))
    throw new Refusal(`the name ${type} is taken`)
  if (!before) s.catalog = { ...s.catalog, enums: [...s.catalog.enums, { schema: e.type.schema, name: e.type.name, labels: e.labels, comment: null }] }
  const gone = new Set(valueChecks(r, e.column).map((k) => k.name))
  put(s, { ...r, checks: r.checks.filter((k) => !gone.has(k.name)), dependsOn: [...r.dependsOn, { kind: 'type', schema: e.type.schema, name: e.type.name }] })
  retype(s, get(s.catalog, e.table), e.column, type, null)
  putColumn(s, get(s.catalog, e.table), e.column, (x) =>
    x.default && /^'(?:[^']|'')*'$/.test(x.default.written) ? { ...x, default: { written: `${x.default.written}::${type}`, canonical: null } } : x,
  )
}

function flag(s: State, e: EditOf<'make boolean'>): void {
  const r = get(s.catalog, e.table)
  const c = getColumn(r, e.column)
  if (c.type === 'boolean') return
  const [column, yes, no] = [pg.quoteIdent(e.column), pg.quoteLiteral(e.yes), pg.quoteLiteral(e.no)]
  const gone = new Set(valueChecks(r, e.column).map((k) => k.name))
  const constant = c.default && uncast(c.default.written).replace(/^'(.*)'$/, '$1')
  if (c.default && constant !== e.yes && constant !== e.no) throw new Refusal(`the default ${c.default.written} is neither ${e.yes} nor ${e.no}`)
  put(s, {
    ...r,
    checks: r.checks.filter((k) => !gone.has(k.name)),
    columns: r.columns.map((x) =>
      x.name === e.column && c.default
        ? { ...x, default: { written: constant === e.yes ? 'true' : 'false', canonical: constant === e.yes ? 'true' : 'false' } }
        : x,
    ),
  })
  const back = pg.typeFamily(c.type)
  retype(s, get(s.catalog, e.table), e.column, 'boolean', {
    up: `CASE ${column}::text WHEN ${yes} THEN true WHEN ${no} THEN false END`,
    down: `CASE WHEN ${column} THEN ${yes} WHEN NOT ${column} THEN ${no} END${back === 'character varying' || back === 'text' ? '' : `::${c.type}`}`,
    misfit: `t.${column}::text not in (${yes}, ${no})`,
  })
}

/** Parts that would have to go with a column and say more than it: somebody has to decide on them first. */
function dropColumn(s: State, e: EditOf<'drop column'>): void {
  const r = get(s.catalog, e.table)
  if (!r.columns.some((c) => c.name === e.column)) return
  if (r.partitionKey && wordsOf(r.partitionKey).has(e.column)) throw new Refusal(`${e.column} is in the partition key`)
  const parts = partsOf(s.catalog)
  const ground = groundOf(s.catalog, parts)
  const key = columnKey(r, e.column)
  const rests = [...parts.values()].filter((p) => ground.needsOf(p).includes(key))
  const other = rests.find(
    (p) => !hangs(p) || p.kind === 'trigger' || p.kind === 'policy' || p.kind === 'rule' || p.kind === 'column' || (p.kind === 'reference' && !isAt(p.on, r)),
  )
  if (other && other.kind !== 'owner') throw new Refusal(`${describe(other)} needs it; change that first`)
  const named = (p: Part) => (hangs(p) && 'name' in p.value ? p.value.name : '')
  const gone = (kind: Part['kind']) => new Set(rests.filter((p) => p.kind === kind).map(named))
  for (const x of family(s.catalog, r)) {
    put(s, {
      ...x,
      columns: x.columns.filter((c) => c.name !== e.column),
      primaryKey: x.primaryKey?.columns.includes(e.column) ? null : x.primaryKey,
      uniques: x.uniques.filter((u) => !u.columns.includes(e.column) && !u.include.includes(e.column)),
      foreignKeys: x.foreignKeys.filter((k) => !k.columns.includes(e.column)),
      checks: x.checks.filter((k) => !gone('check').has(k.name)),
      indexes: x.indexes.filter((i) => !wordsOf(textOf({ kind: 'index', on: x, value: i })).has(e.column)),
      exclusions: x.exclusions.filter((i) => !gone('exclusion').has(i.name)),
    })
  }
  const owned = (q: Catalog['sequences'][number]) => q.ownedBy?.schema === r.schema && q.ownedBy.table === r.name && q.ownedBy.column === e.column
  s.catalog = { ...s.catalog, sequences: s.catalog.sequences.filter((q) => !owned(q)) }
}

function dropTable(s: State, e: EditOf<'drop table'>): void {
  const r = find(s.catalog, e.table)
  if (!r) return
  get(s.catalog, e.table)
  const own = new Set(family(s.catalog, r).map(relationText))
  const refers = s.catalog.relations.find(
    (x) => !own.has(relationText(x)) && x.foreignKeys.some((k) => own.has(relationText({ schema: k.target.schema, name: k.target.table }))),
  )
  if (refers) throw new Refusal(`${relationText(refers)} refers to it; drop that reference first`)
  const reads = [...s.catalog.relations, ...s.catalog.routines].find(
    (x) => !own.has(relationText(x)) && x.dependsOn.some((d) => d.kind === 'relation' && own.has(relationText(d))),
  )
  if (reads) throw new Refusal(`${relationText(reads)} needs it; change that first`)
  const owned = (q: Catalog['sequences'][number]) => q.ownedBy && own.has(relationText({ schema: q.ownedBy.schema, name: q.ownedBy.table }))
  s.catalog = {
    ...s.catalog,
    relations: s.catalog.relations.filter((x) => !own.has(relationText(x))),
    sequences: s.catalog.sequences.filter((q) => !owned(q)),
    objects: s.catalog.objects.filter((o) => !(o.kind === 'statistics object' && o.dependsOn.some((d) => d.kind === 'relation' && own.has(relationText(d))))),
  }
}

const describe = (p: Part): string =>
  'schema' in p.value && 'name' in p.value
    ? `${p.kind} ${relationText(p.value)}`
    : hangs(p) && 'name' in p.value
      ? `${p.kind} ${p.value.name} of ${relationText(p.on)}`
      : p.kind
