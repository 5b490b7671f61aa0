// CREATE of everything but tables, and COMMENT, on the draft.
import type { SequenceOptions } from '../catalog/index.ts'
import { addIndex } from './constraintsOf.ts'
import {
  at,
  type Draft,
  type DraftRelation,
  findColumn,
  getRelation,
  isTemporary,
  keysOf,
  lookup,
  newColumn,
  newRelation,
  placeFor,
  putRelation,
  relationKey,
  written,
} from './draft.ts'
import { commentedObject } from './makeObject.ts'
import { isFree, useSchema } from './makeTable.ts'
import { isReferenced, routineKey, routineOf } from './routineText.ts'
import type { CommentTarget, Name, SequenceSettings, StatementOf } from './statement.ts'
import { tooWide } from './tooWide.ts'
import { viewColumns } from './viewColumns.ts'

export function makeSchema(d: Draft, s: StatementOf<'create schema'>): void {
  if (d.semantics.fixedSchema) return
  if (!d.schemas.has(s.name)) d.schemas.set(s.name, { name: s.name, comment: null })
  else if (!s.ifNotExists && s.name !== d.semantics.defaultSchema) d.complain({ code: 'already-there', what: 'schema', name: s.name })
}

export function makeExtension(d: Draft, s: StatementOf<'create extension'>): void {
  // It is there in every database and no part of the schema.
  if (s.name === 'plpgsql') return
  if (d.extensions.has(s.name)) {
    if (!s.ifNotExists) d.complain({ code: 'already-there', what: 'extension', name: s.name })
    return
  }
  d.extensions.set(s.name, { name: s.name, schema: s.schema ?? d.searchPath[0] ?? d.semantics.defaultSchema, version: s.version ?? '', comment: null })
}

export function makeIndex(d: Draft, s: StatementOf<'create index'>): void {
  if (isTemporary(d, s.table)) return
  const r = getRelation(d, s.table, 'table')
  if (!r) return
  if (s.ifNotExists && s.index.name !== null && (d.classNames.has(at(r.schema, s.index.name)) || r.indexes.some((x) => x.name === s.index.name))) return
  addIndex(d, r, s.index, s.only, null)
}

export function makeView(d: Draft, s: StatementOf<'create view'>): void {
  if (s.temporary) {
    d.temporary.add(d.semantics.relationKey(s.name.name))
    return
  }
  const address = placeFor(d, s.name)
  const key = relationKey(d, address.schema, address.name)
  const old = d.relations.get(key)
  if (s.mustExist && !old) return d.complain({ code: 'unknown-object', what: 'view', name: s.name.name })
  if (old && (s.replace || s.ifNotExists)) {
    if (s.ifNotExists) return
  } else if (!isFree(d, address, 'view', false)) return
  useSchema(d, address.schema)
  const r = newRelation(s.materialized ? 'materialized view' : 'view', address)
  r.options = [...s.options].sort()
  r.definition = written(s.query)
  const columns = viewColumns(d, s.query, s.columns)
  if (columns.length > d.semantics.mostColumns + 64) return d.complain(tooWide(d, 'view', address.name))
  r.columns = columns.map((c) => newColumn(c.name, c.type))
  r.comment = old?.comment ?? null
  // A view has no rows of its own to identify (pg_class.relreplident is n).
  if (!s.materialized && d.semantics.dialect === 'postgresql') r.replicaIdentity = { kind: 'nothing' }
  if (r.columns.length === 0) d.complain({ code: 'not-read', what: 'the columns of the view', name: r.name })
  putRelation(d, r)
}

/** CREATE VIRTUAL TABLE: what it holds is its module's affair; it is kept by name. */
export function makeVirtualTable(d: Draft, s: StatementOf<'create virtual table'>): void {
  const address = placeFor(d, s.name)
  if (!isFree(d, address, 'table', s.ifNotExists)) return
  d.virtual.set(d.semantics.relationKey(address.name), s.module)
  d.unmodelled.set(`virtual table ${address.name}`, { kind: 'virtual table', identity: `${address.name} (${s.module})` })
}

const limits: Readonly<Record<string, readonly [string, string]>> = {
  smallint: ['-32768', '32767'],
  integer: ['-2147483648', '2147483647'],
  bigint: ['-9223372036854775808', '9223372036854775807'],
}

/** The options of a sequence with what is not said filled in (PostgreSQL manual, CREATE SEQUENCE). */
export function sequenceOptions(s: SequenceSettings, type: string, old: SequenceOptions | null): SequenceOptions {
  const [low, high] = limits[type] ?? (limits['bigint'] as readonly [string, string])
  const increment = s.increment ?? old?.increment ?? '1'
  const up = !increment.startsWith('-')
  const minimum = s.minimum ?? (s.minimum === undefined && old ? old.minimum : up ? '1' : low)
  const maximum = s.maximum ?? (s.maximum === undefined && old ? old.maximum : up ? high : '-1')
  return {
    type,
    start: s.start ?? old?.start ?? (up ? minimum : maximum),
    increment,
    minimum,
    maximum,
    cache: s.cache ?? old?.cache ?? '1',
    cycle: s.cycle ?? old?.cycle ?? false,
  }
}

export function makeSequence(d: Draft, s: StatementOf<'create sequence'>): void {
  if (s.temporary) {
    d.temporary.add(d.semantics.relationKey(s.name.name))
    return
  }
  const address = placeFor(d, s.name)
  if (!isFree(d, address, 'sequence', s.ifNotExists)) return
  useSchema(d, address.schema)
  const type = s.settings.type ? d.semantics.type(s.settings.type, d, s.name.name) : 'bigint'
  const key = relationKey(d, address.schema, address.name)
  d.sequences.set(key, { ...address, options: sequenceOptions(s.settings, type, null), unlogged: s.unlogged, ownedBy: null, comment: null })
  d.classNames.add(key)
  setOwner(d, key, s.settings)
}

export function setOwner(d: Draft, key: string, s: SequenceSettings): void {
  const sequence = d.sequences.get(key)
  if (!sequence || s.ownedBy === undefined) return
  const table = s.ownedBy === null ? null : getRelation(d, s.ownedBy.table, 'table')
  sequence.ownedBy = table && s.ownedBy ? { schema: table.schema, table: table.name, column: s.ownedBy.column } : null
}

export function makeType(d: Draft, s: StatementOf<'create enum'> | StatementOf<'create composite'> | StatementOf<'create domain'>): void {
  const address = placeFor(d, s.name)
  const key = relationKey(d, address.schema, address.name)
  if (d.enums.has(key) || d.domains.has(key) || d.composites.has(key) || d.ranges.has(key))
    return d.complain({ code: 'already-there', what: 'type', name: address.name })
  useSchema(d, address.schema)
  const typeOf = (t: Parameters<typeof d.semantics.type>[0]) => d.semantics.type(t, d, address.name)
  if (s.kind === 'create enum') d.enums.set(key, { ...address, labels: [...s.labels], comment: null })
  else if (s.kind === 'create composite') {
    const attributes = s.attributes.map((a) => ({
      name: a.name,
      type: typeOf(a.type),
      collation: a.collation ? d.semantics.collation(a.collation, d) : null,
      comment: null,
    }))
    d.composites.set(key, { ...address, attributes, comment: null, dependsOn: [] })
    d.classNames.add(key)
  } else {
    const checks: { name: string; expression: ReturnType<typeof written>; validated: boolean; comment: null }[] = []
    for (const c of s.checks) {
      const name = c.name ?? freeCheckName(address.name, checks)
      checks.push({ name, expression: written(c.expression), validated: true, comment: null })
    }
    d.domains.set(key, {
      ...address,
      type: typeOf(s.type),
      nullable: !s.notNull,
      default: s.default === null ? null : written(s.default),
      collation: s.collation ? d.semantics.collation(s.collation, d) : null,
      checks,
      comment: null,
      dependsOn: [],
    })
  }
}

/** `name_check`, `name_check1`, … (PostgreSQL, pg_constraint.c, ChooseConstraintName). */
export function freeCheckName(base: string, taken: readonly { readonly name: string }[]): string {
  for (let n = 0; ; n += 1) {
    const name = `${base}_check${n === 0 ? '' : n}`
    if (!taken.some((c) => c.name === name)) return name
  }
}

export function makeRoutine(d: Draft, s: StatementOf<'create routine'>): void {
  const r = routineOf(d, s)
  const key = routineKey(r)
  const old = d.routines.get(key)
  if (old && !s.replace) return d.complain({ code: 'already-there', what: s.of, name: s.name.name })
  useSchema(d, r.schema)
  d.routines.set(key, { ...r, comment: old?.comment ?? null })
}

export function makeTrigger(d: Draft, s: StatementOf<'create trigger'>): void {
  if (isTemporary(d, s.table)) return
  const r = getRelation(d, s.table, 'table')
  if (!r) return
  const old = r.triggers.find((t) => t.name === s.name.name)
  if (old && s.ifNotExists) return
  if (old && !s.replace) return d.complain({ code: 'already-there', what: 'trigger', name: s.name.name })
  if (old) old.definition = written(s.text)
  else r.triggers.push({ name: s.name.name, definition: written(s.text), fires: 'origin', comment: null })
}

export function makeRule(d: Draft, s: StatementOf<'create rule'>): void {
  const r = getRelation(d, s.table, 'table')
  if (!r) return
  const old = r.rules.find((t) => t.name === s.name)
  if (old && !s.replace) return d.complain({ code: 'already-there', what: 'rule', name: s.name })
  if (old) old.definition = written(s.text)
  else r.rules.push({ name: s.name, definition: written(s.text), fires: 'origin', comment: null })
}

/** Subscriptions and events: kept by name, so that nothing is dropped in silence. */
export function makeUnmodelled(d: Draft, s: StatementOf<'create other'>): void {
  d.unmodelled.set(`${s.what} ${s.name}`, { kind: s.what, identity: s.name })
}

function commented(d: Draft, on: CommentTarget): { comment: string | null } | undefined {
  switch (on.on) {
    case 'relation':
      return lookup(d, d.relations, on.name)
    case 'sequence':
      return lookup(d, d.sequences, on.name) ?? identityOf(d, on.name)
    case 'type':
      return (
        lookup(d, d.enums, on.name) ??
        lookup(d, d.domains, on.name) ??
        lookup(d, d.composites, on.name) ??
        lookup(d, d.ranges, on.name) ??
        commentedObject(d, { what: 'type', name: on.name, types: [], method: null })
      )
    case 'schema':
      return d.schemas.get(on.name.name)
    case 'extension':
      return d.extensions.get(on.name.name)
    case 'index':
      return indexOf(d, on.name) ?? keyIndexOf(d, on.name)
    case 'column': {
      const r = lookup(d, d.relations, on.table)
      if (r) return findColumn(d, r, on.column)
      return lookup(d, d.composites, on.table)?.attributes.find((a) => a.name === on.column)
    }
    case 'constraint':
    case 'trigger':
    case 'rule':
    case 'policy':
      return partOf(d, on)
    case 'object':
      return commentedObject(d, on.object)
    case 'routine':
      return isReferenced(d, on.name, on.argumentTypes)
    case 'other':
      return { comment: null }
    default:
      return unreachable(on)
  }
}

function unreachable(on: never): never {
  throw new Error(`a comment on nothing known: ${JSON.stringify(on)}`)
}

function partOf(d: Draft, on: Extract<CommentTarget, { on: 'constraint' | 'trigger' | 'rule' | 'policy' }>): { comment: string | null } | undefined {
  const named = (x: { readonly name: string }) => x.name === on.name
  if (on.domain) return lookup(d, d.domains, on.table)?.checks.find(named)
  const r = lookup(d, d.relations, on.table)
  if (!r) return undefined
  if (on.on === 'trigger') return r.triggers.find(named)
  if (on.on === 'rule') return r.rules.find(named)
  if (on.on === 'policy') return r.policies.find(named)
  return [...keysOf(r), ...r.checks, ...r.foreignKeys, ...r.exclusions].find(named)
}

/** The identity column whose sequence has this name. */
function identityOf(d: Draft, n: Name): { comment: string | null } | undefined {
  const schemas = n.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [n.schema]
  for (const r of d.relations.values())
    for (const { identity } of r.columns)
      if (identity?.sequence && identity.sequence.name === n.name && schemas.includes(identity.sequence.schema)) return identity
  return undefined
}

/** The comment on the index of a key or an exclusion constraint. */
function keyIndexOf(d: Draft, n: Name): { comment: string | null } | undefined {
  const schemas = n.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [n.schema]
  const table = schemas.map((schema) => d.relations.get(d.tableOfIndex.get(at(schema, n.name)) ?? '')).find((r) => r !== undefined)
  const key = table && [...keysOf(table), ...table.exclusions].find((k) => k.name === n.name)
  if (!key) return undefined
  return {
    get comment() {
      return key.indexComment
    },
    set comment(text) {
      key.indexComment = text
    },
  }
}

/** The index by its name, where it is not that of a key. */
export function indexOf(d: Draft, n: Name): DraftRelation['indexes'][number] | undefined {
  const schemas = n.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [n.schema]
  for (const schema of schemas) {
    const table = d.relations.get(d.tableOfIndex.get(at(schema, n.name)) ?? '')
    const found = table?.indexes.find((x) => x.name === n.name)
    if (found) return found
  }
  return undefined
}

export function makeComment(d: Draft, s: StatementOf<'comment'>): void {
  if (s.on.on === 'other' || (s.on.on === 'extension' && s.on.name.name === 'plpgsql')) return
  const target = commented(d, s.on)
  if (target) target.comment = s.text === '' ? null : s.text
  else
    d.complain({
      code: 'unknown-object',
      what: s.on.on,
      name: s.on.on === 'object' ? s.on.object.name.name : 'name' in s.on ? (typeof s.on.name === 'string' ? s.on.name : s.on.name.name) : s.on.column,
    })
}
