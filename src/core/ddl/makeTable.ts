// CREATE TABLE on the draft.

import type { RelationAddress } from '../catalog/index.ts'
import { withoutFirstBrackets } from '../text/scan.ts'
import { plainPart } from './clauses.ts'
import { addCheck, addConstraint, addKey, attachIndexes, cloneIndex } from './constraintsOf.ts'
import {
  at,
  cloned,
  type Draft,
  type DraftColumn,
  type DraftRelation,
  findColumn,
  getRelation,
  lookup,
  newColumn,
  newRelation,
  placeFor,
  putRelation,
  relationKey,
  written,
} from './draft.ts'
import type { CheckDefinition, ColumnDefinition, ConstraintDefinition, CreateTable, LikeClause, Name } from './statement.ts'
import { tooWide } from './tooWide.ts'
import { viewColumns } from './viewColumns.ts'

/** Is the name free for a new relation? Complains where it is not and the statement does not allow for that. */
export function isFree(d: Draft, a: RelationAddress, what: string, allowed: boolean): boolean {
  const key = relationKey(d, a.schema, a.name)
  const taken =
    d.relations.has(key) || d.sequences.has(key) || d.composites.has(key) || (d.semantics.dialect === 'postgresql' && d.classNames.has(at(a.schema, a.name)))
  if (taken && !allowed) d.complain({ code: 'already-there', what, name: a.name })
  return !taken
}

/** A new schema appears where a script only uses it: a part of a dump, a database's name. */
export function useSchema(d: Draft, name: string): void {
  if (!d.schemas.has(name) && !d.semantics.fixedSchema) {
    d.complain({ code: 'unknown-object', what: 'schema', name })
    d.schemas.set(name, { name, comment: null })
  }
}

export function makeTable(d: Draft, s: CreateTable): void {
  if (s.temporary || s.name.schema === 'pg_temp') {
    d.temporary.add(d.semantics.relationKey(s.name.name))
    return
  }
  const address = placeFor(d, s.name)
  if (!isFree(d, address, 'table', s.ifNotExists)) return
  const reserved = reservedName(d, s)
  if (reserved !== null)
    return d.complain({ code: 'refused-by-server', what: 'table', name: address.name, because: `"${reserved}" is a reserved word; quoted, it would be a name` })
  if (s.elements.filter((e) => e.kind === 'column').length > d.semantics.mostColumns) return d.complain(tooWide(d, 'table', address.name))
  useSchema(d, address.schema)
  const r = newRelation('table', address)
  r.unlogged = s.unlogged
  r.options = [...s.options].sort()
  r.comment = s.comment
  if (s.partitionOf) {
    const parent = getRelation(d, s.partitionOf.parent, 'table')
    if (!parent) return
    r.kind = 'partition'
    r.partitionOf = { parent: { schema: parent.schema, name: parent.name }, bound: s.partitionOf.bound }
    takeColumns(d, r, parent)
  } else if (s.partitionKey !== null && d.semantics.dialect === 'postgresql') r.kind = 'partitioned table'
  if (d.semantics.dialect === 'postgresql') r.partitionKey = s.partitionKey
  for (const p of s.inherits) inheritFrom(d, r, p)
  if (s.ofType) takeAttributes(d, r, s.ofType)
  takeStorage(r, s)
  putRelation(d, r)
  const constraints: ConstraintDefinition[] = []
  const likes: LikeClause[] = []
  for (const e of s.elements) {
    if (e.kind === 'column') {
      addColumn(d, r, e.column)
      constraints.push(...e.column.constraints)
    } else if (e.kind === 'like') {
      likeColumns(d, r, e)
      likes.push(e)
    } else constraints.push(e)
  }
  const selected = s.query === null ? [] : viewColumns(d, s.query, [])
  for (const c of selected.filter((x) => !findColumn(d, r, x.name))) {
    r.columns.push(newColumn(c.name, c.type))
    if (c.type === '' && d.semantics.dialect !== 'sqlite') d.complain({ code: 'unknown-type', name: '(of its expression)', column: `${r.name}.${c.name}` })
  }
  addInOrder(d, r, constraints)
  for (const l of likes) likeRest(d, r, l)
  if (s.partitionOf) {
    const parent = getRelation(d, s.partitionOf.parent)
    if (parent) attachIndexes(d, parent, r)
  }
  d.semantics.table(d, r, s)
}

/** Where the rows are: on a server elsewhere, or under another access method. */
function takeStorage(r: DraftRelation, s: CreateTable): void {
  if (s.foreign) {
    if (!s.partitionOf) r.kind = 'foreign table'
    r.foreign = { server: s.foreign.server, options: [...s.foreign.options], columns: [] }
    // It has no rows of its own to identify (pg_class.relreplident is n).
    r.replicaIdentity = { kind: 'nothing' }
  }
  if (s.method !== null && s.method !== 'heap') r.accessMethod = s.method
}

function reservedName(d: Draft, s: CreateTable): string | null {
  const found = s.elements.find((e) => e.kind === 'column' && e.column.bare && d.semantics.reserved.has(e.column.name.toLowerCase()))
  return found?.kind === 'column' ? found.column.name : null
}

/** CREATE TABLE … OF type. */
function takeAttributes(d: Draft, r: DraftRelation, name: Name): void {
  const type = lookup(d, d.composites, name)
  if (type) {
    r.dependsOn.push({ kind: 'type', schema: type.schema, name: type.name })
    r.ofType = { schema: type.schema, name: type.name }
  }
  for (const a of type?.attributes ?? []) r.columns.push({ ...newColumn(a.name, a.type), collation: a.collation })
}

/** PostgreSQL makes checks first, then keys with the primary key first, then the rest: that decides the names it makes up. */
function addInOrder(d: Draft, r: DraftRelation, list: readonly ConstraintDefinition[]): void {
  const rank = (c: ConstraintDefinition) => (c.kind === 'check' ? 0 : c.kind === 'primary key' ? 1 : c.kind === 'foreign key' ? 3 : 2)
  for (const c of list.length > 1 ? list.toSorted((a, b) => rank(a) - rank(b)) : list) addConstraint(d, r, c, false)
}

/** Columns, NOT NULL, defaults and checks of a partition's parent. */
function takeColumns(d: Draft, r: DraftRelation, parent: DraftRelation): void {
  for (const c of parent.columns) r.columns.push({ ...cloned(c), identity: null, comment: null, statisticsTarget: null, options: [] })
  for (const c of parent.checks) if (c.inheritable) r.checks.push({ ...cloned(c), inherited: true, validated: true, comment: null })
  for (const c of r.checks) d.constraintNames.add(at(r.schema, c.name))
}

export function inheritFrom(d: Draft, r: DraftRelation, name: { readonly schema: string | null; readonly name: string }): void {
  const parent = getRelation(d, name, 'table')
  if (!parent) return
  d.children = null
  r.inherits.push({ schema: parent.schema, name: parent.name })
  for (const c of parent.columns) {
    const own = findColumn(d, r, c.name)
    if (own) own.nullable = own.nullable && c.nullable
    else r.columns.push({ ...cloned(c), identity: null, comment: null, statisticsTarget: null, options: [], inherited: true })
  }
  for (const c of parent.checks)
    if (c.inheritable && !r.checks.some((x) => x.name === c.name)) r.checks.push({ ...cloned(c), inherited: true, validated: true, comment: null })
}

/** A new column, or one that is inherited and said again; its constraints are added by the caller. */
export function addColumn(d: Draft, r: DraftRelation, def: ColumnDefinition, place: string | 'first' | null = null): void {
  const { semantics } = d
  const inherited = findColumn(d, r, def.name)
  if (inherited && r.inherits.length === 0 && r.partitionOf === null && r.ofType === null) {
    d.complain({ code: 'already-there', what: 'column', name: `${r.name}.${def.name}` })
    return
  }
  const type = def.type === null && inherited ? inherited.type : semantics.type(def.type, d, `${r.name}.${def.name}`)
  const c = inherited ?? newColumn(def.name, type)
  if (def.notNull === true) c.nullable = false
  c.default = defaultOf(def.default, type, semantics.dialect) ?? c.default
  if (def.generated) c.generated = { expression: written(def.generated.expression), kept: def.generated.kept }
  if (def.onUpdate !== null) c.onUpdate = written(def.onUpdate)
  if (def.collation) c.collation = semantics.collation(def.collation, d)
  if (def.storage !== null) c.storage = semantics.storage(def.storage, type)
  if (def.compression === 'pglz' || def.compression === 'lz4') c.compression = def.compression
  if (def.comment !== null) c.comment = def.comment
  if (def.foreignOptions.length > 0) r.foreign?.columns.push({ column: c.name, options: [...def.foreignOptions] })
  c.inherited = false
  if (!inherited) insertColumn(d, r, c, place)
  semantics.column(d, r, c, def)
}

/**
 * DEFAULT NULL is no default (PostgreSQL, heap.c: "If the expression is just a NULL constant, we do not bother to make an explicit
 * pg_attrdef entry"); but a type with a length wraps it in a coercion, which is no constant.
 */
export function defaultOf(text: string | null, type: string, dialect: string): DraftColumn['default'] {
  if (text === null) return null
  if (!/^null$/i.test(text)) return written(text)
  return dialect === 'postgresql' && type.includes('(') ? written(`NULL::${withoutFirstBrackets(type)}`) : null
}

function insertColumn(d: Draft, r: DraftRelation, c: DraftColumn, place: string | 'first' | null): void {
  const after = place === null || place === 'first' ? -1 : r.columns.findIndex((x) => d.semantics.columnKey(x.name) === d.semantics.columnKey(place))
  if (place === 'first') r.columns.unshift(c)
  else if (after >= 0) r.columns.splice(after + 1, 0, c)
  else r.columns.push(c)
}

function likeColumns(d: Draft, r: DraftRelation, l: LikeClause): void {
  const of = getRelation(d, l.of, 'table')
  if (!of) return
  const all = d.semantics.dialect !== 'postgresql'
  const has = (part: string) => all || l.including.has(part)
  for (const c of of.columns) {
    r.columns.push({
      ...newColumn(c.name, c.type),
      nullable: c.nullable,
      collation: c.collation,
      default: has('DEFAULTS') ? cloned(c.default) : null,
      generated: has('GENERATED') ? cloned(c.generated) : null,
      identity: all ? c.identity : null,
      onUpdate: c.onUpdate,
      storage: has('STORAGE') ? c.storage : null,
      compression: has('COMPRESSION') ? c.compression : null,
      comment: has('COMMENTS') ? c.comment : null,
    })
    if (!all && has('IDENTITY') && c.identity) {
      const made = r.columns.at(-1) as DraftColumn
      made.identity = { ...cloned(c.identity), sequence: d.semantics.ownedSequence?.(d, r, c.name) ?? null }
    }
  }
}

function likeRest(d: Draft, r: DraftRelation, l: LikeClause): void {
  const of = lookup(d, d.relations, l.of)
  if (!of) return
  const all = d.semantics.dialect !== 'postgresql'
  if (all || l.including.has('CONSTRAINTS')) for (const c of of.checks) addCheck(d, r, copyOfCheck(c), false)
  if (!all && !l.including.has('INDEXES')) return
  for (const k of [...(of.primaryKey ? [of.primaryKey] : []), ...of.uniques]) {
    addKey(
      d,
      r,
      {
        kind: k === of.primaryKey ? 'primary key' : 'unique',
        name: all ? k.name : null,
        parts: k.columns.map(plainPart),
        include: k.include,
        options: k.options,
        nullsNotDistinct: k.nullsNotDistinct,
        usingIndex: null,
        comment: null,
        method: null,
        deferrable: k.deferrable,
      },
      false,
      null,
    )
  }
  for (const x of of.indexes) cloneIndex(d, r, x, null)
}

const copyOfCheck = (c: { readonly name: string; readonly expression: { readonly written: string }; readonly inheritable: boolean }): CheckDefinition => ({
  kind: 'check',
  name: c.name,
  deferrable: 'no',
  expression: c.expression.written,
  noInherit: !c.inheritable,
  notValid: false,
  notEnforced: false,
  column: null,
})
