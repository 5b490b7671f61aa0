import {
  type Catalog,
  type Column,
  columnText,
  type ForeignKey,
  isAddress,
  plainIndex,
  type Relation,
  type RelationAddress,
  relationText,
  sortCatalog,
} from '../catalog/index.ts'
import { newColumn, newRelation } from '../ddl/draft.ts'
import { refuseExpression, refuseType, type TextRefusal } from '../ddl/oneText.ts'
import { lexisOf } from '../dialect/lexis.ts'
import { makeObjectName } from '../dialect/postgres/madeUpNames.ts'
import { dropColumn, dropTable, enumerate, flag, retype } from './columnEdits.ts'
import type { Conversions } from './conversion.ts'
import { checkName, family, find, get, getColumn, newKey, put, putColumn, Refusal, type State, sameList, written } from './editState.ts'
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

/** Catalog′: the catalog with the edits, in their order. One that cannot be carried out is told and left out. Pure. */
export function withSchemaEdits(catalog: Catalog, edits: readonly SchemaEdit[]): EditedCatalog {
  const s: State = { catalog, renames: [], conversions: new Map(), cleanings: [] }
  const outcomes = edits.map((e): Outcome => {
    const before = s.catalog
    try {
      refuseTexts(e, catalog.dialect)
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

/** What somebody typed goes into statements as it is: it has to be one expression, or one type. Refused with the place, by throwing. */
function refuseTexts(e: SchemaEdit, dialect: Catalog['dialect']): void {
  const lexis = lexisOf(dialect)
  const refuse = (what: string, text: string, r: TextRefusal | null) => {
    if (r) throw new Refusal(`the ${what} ${JSON.stringify(text.slice(0, 80))}: at character ${r.at + 1}, ${r.because}`)
  }
  const column = (c: ColumnOf) => {
    refuse('type', c.type, refuseType(c.type, lexis))
    if (c.default !== null) refuse('default', c.default, refuseExpression(c.default, lexis))
  }
  if (e.do === 'set default' && e.expression !== null) refuse('default', e.expression, refuseExpression(e.expression, lexis))
  if (e.do === 'set type') refuse('type', e.type, refuseType(e.type, lexis))
  if (e.do === 'add column') column(e.column)
  if (e.do === 'add table') for (const c of e.columns) column(c)
}

/** A counted column's sequence has the name that PostgreSQL would make up (manual, CREATE TABLE, GENERATED). */
export function columnFrom(r: RelationAddress, c: ColumnOf): Column {
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
    for (const x of family(s.catalog, r)) put(s, { ...x, indexes: x.indexes.filter((i) => !(isAddress(x, r) ? i.name === e.name : i.attachedTo === e.name)) })
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
      x.foreignKeys.some((k) => isAddress({ schema: k.target.schema, name: k.target.table }, r) && sameList(k.target.columns.toSorted(), u.columns.toSorted())),
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
      put(s, { ...x, columns: [...x.columns, isAddress(x, r) ? made : { ...made, identity: null, inherited: x.partitionOf === null }] })
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
    isAddress({ schema: k.target.schema, name: k.target.table }, e.target) && sameList(k.columns, e.columns) && sameList(k.target.columns, e.targetColumns)
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
  const taken = new Set(
    s.catalog.relations.filter((x) => x.schema === r.schema).flatMap((x) => [x.name, ...x.indexes.map((i) => i.name), ...x.uniques.map((u) => u.name)]),
  )
  const walk = (x: Relation, own: string, above: string | null): void => {
    put(s, { ...x, indexes: [...x.indexes, plainIndex(own, list, { attachedTo: above })] })
    if (x.partitionKey === null) return
    for (const child of s.catalog.relations.filter((c) => c.partitionOf !== null && isAddress(c.partitionOf.parent, x))) {
      let free = makeObjectName(child.name, list.join('_'), 'idx')
      for (let i = 1; taken.has(free); i += 1) free = makeObjectName(child.name, list.join('_'), `idx${i}`)
      taken.add(free)
      walk(child, free, own)
    }
  }
  walk(r, n, null)
}
