// Range types, policies and objects that are kept as the text that makes them, on the draft.

import type { DefinedKind, RelationAddress } from '../catalog/index.ts'
import { multirangeName } from '../dialect/postgres/multirange.ts'
import { at, childrenOf, type Draft, getRelation, lookup, placedText, placeFor, relationKey, written } from './draft.ts'
import { isFree, useSchema } from './makeTable.ts'
import type { Name, ObjectName, PublishedTables, StatementOf, TypeName } from './statement.ts'

type DefinedObject = Draft['objects'] extends Map<string, infer O> ? O : never

const inDatabase: ReadonlySet<DefinedKind> = new Set([
  'cast',
  'transform',
  'language',
  'access method',
  'foreign-data wrapper',
  'server',
  'publication',
  'event trigger',
])
const keyOf = (o: { readonly kind: string; readonly schema: string; readonly name: string }) => `${o.kind} ${at(o.schema, o.name)}`

/** The object's name as the catalog has it, within its schema. */
function nameOf(d: Draft, o: ObjectName): string {
  const { quote } = d.semantics
  const type = (t: TypeName | null | undefined) => (t ? d.semantics.type(t, d, '') : 'NONE')
  switch (o.what) {
    case 'operator':
      return `${o.name.name} (${type(o.types[0])}, ${type(o.types[1])})`
    case 'operator class':
    case 'operator family':
      return `${quote(o.name.name)} USING ${quote(o.method ?? '')}`
    case 'cast':
      return `(${type(o.types[0])} AS ${type(o.types[1])})`
    case 'transform':
      return `FOR ${type(o.types[0])} LANGUAGE ${quote(o.method ?? '')}`
    default:
      return quote(o.name.name)
  }
}

/** Where a statement's name leads: its own schema, or the first of the path that has it. */
function find(d: Draft, o: ObjectName): DefinedObject | undefined {
  const name = nameOf(d, o)
  const schemas = inDatabase.has(o.what) ? [''] : o.name.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [o.name.schema]
  for (const schema of schemas) {
    const found = d.objects.get(keyOf({ kind: o.what, schema, name }))
    if (found) return found
  }
  return undefined
}

function put(d: Draft, kind: DefinedKind, a: RelationAddress, text: ReturnType<typeof written>): DefinedObject {
  const o: DefinedObject = { kind, schema: a.schema, name: a.name, definition: [text], comment: null, dependsOn: [] }
  d.objects.set(keyOf(o), o)
  return o
}

export function makeObject(d: Draft, s: StatementOf<'create object'>): void {
  const { what } = s.object
  if (what === 'language' && !s.handler) return makeLanguage(d, s)
  let { object } = s
  const table = s.statistics ? getRelation(d, s.statistics.table, 'table') : null
  if (s.statistics) {
    const r = table
    if (!r) return
    if (object.name.name === '') object = { ...object, name: { schema: r.schema, name: d.semantics.statisticsName?.(d, r, s.statistics.columns) ?? '' } }
  }
  const schema = inDatabase.has(what) ? '' : placeFor(d, object.name).schema
  if (schema !== '') useSchema(d, schema)
  const address = { schema, name: nameOf(d, object) }
  const old = d.objects.get(keyOf({ kind: what, ...address }))
  // The shell of a type comes first, then the type.
  if (old && what === 'type' && old.definition.length === 1) old.definition.push(placedText(d, s, schema))
  else if (old) {
    if (!s.ifNotExists) d.complain({ code: 'already-there', what, name: address.name })
  } else {
    if (what === 'operator class' && !object.family) impliedFamily(d, schema, object)
    const made = put(d, what, address, placedText(d, s, schema))
    if (table) made.dependsOn.push({ kind: 'relation', schema: table.schema, name: table.name })
    if (s.tables) publish(d, made, s.tables)
  }
}

/** The server makes a family of the class's own name where none is named (manual, CREATE OPERATOR CLASS). */
function impliedFamily(d: Draft, schema: string, o: ObjectName): void {
  const name = nameOf(d, { ...o, what: 'operator family' })
  if (d.objects.has(keyOf({ kind: 'operator family', schema, name }))) return
  put(d, 'operator family', { schema, name }, written(`CREATE OPERATOR FAMILY ${d.semantics.quote(schema)}.${name}`))
}

/** Without a handler it is an extension of that name (manual, CREATE LANGUAGE, Notes); plpgsql is in every database. */
function makeLanguage(d: Draft, s: StatementOf<'create object'>): void {
  const { name } = s.object.name
  if (name === 'plpgsql' || d.extensions.has(name)) return
  d.extensions.set(name, { name, schema: 'pg_catalog', version: '', comment: null })
}

/** The tables of a publication are what it depends on; children come along unless ONLY is said. */
function publish(d: Draft, o: DefinedObject, p: PublishedTables): void {
  const named = p.tables.flatMap(({ name, only }) => {
    const r = getRelation(d, name, 'table')
    return r ? [r, ...(only ? [] : childrenOf(d, r).filter((c) => c.partitionOf === null))] : []
  })
  const kept = p.change === 'set' ? [] : o.dependsOn.filter((x) => !named.some((r) => r.schema === x.schema && r.name === x.name))
  o.dependsOn = [...kept, ...(p.change === 'drop' ? [] : named.map((r) => ({ kind: 'relation' as const, schema: r.schema, name: r.name })))]
}

const shownName = (o: ObjectName): string => (o.name.name === '' ? o.what : o.name.name)

export function alterObject(d: Draft, s: StatementOf<'alter object'>): void {
  const found = find(d, s.object)
  if (!found) {
    if (s.object.what !== 'language') d.complain({ code: 'unknown-object', what: s.object.what, name: shownName(s.object) })
    return
  }
  found.definition.push(placedText(d, s, found.schema))
  if (s.tables) publish(d, found, s.tables)
  if (s.to === null) return
  d.objects.delete(keyOf(found))
  if (s.to.part === 'schema') found.schema = s.to.name
  else found.name = nameOf(d, { ...s.object, name: { schema: null, name: s.to.name } })
  d.objects.set(keyOf(found), found)
}

/** With its schema, when that is renamed. */
export function moveObject(d: Draft, o: DefinedObject, schema: string): void {
  d.objects.delete(keyOf(o))
  o.schema = schema
  d.objects.set(keyOf(o), o)
}

export function dropObject(d: Draft, s: StatementOf<'drop object'>): void {
  for (const o of s.objects) {
    const found = find(d, o)
    if (found) d.objects.delete(keyOf(found))
    else if (!s.ifExists && o.what !== 'language') d.complain({ code: 'unknown-object', what: o.what, name: shownName(o) })
  }
}

/** What COMMENT ON is about; a language that is not the script's own has no place here. */
export const commentedObject = (d: Draft, o: ObjectName): { comment: string | null } | undefined =>
  find(d, o) ?? (o.what === 'language' ? { comment: null } : undefined)

/** A base type or a shell that the script made. */
export function ownType(d: Draft, n: Name): RelationAddress | undefined {
  const found = find(d, { what: 'type', name: n, types: [], method: null })
  return found ? { schema: found.schema, name: n.name } : undefined
}

export function makeRange(d: Draft, s: StatementOf<'create range'>): void {
  const address = placeFor(d, s.name)
  const shell = ownType(d, s.name)
  if (!shell && !isFree(d, address, 'type', false)) return
  useSchema(d, address.schema)
  if (shell) d.objects.delete(keyOf({ kind: 'type', schema: shell.schema, name: d.semantics.quote(shell.name) }))
  const routine = (n: Name | null) =>
    n === null ? null : { schema: n.schema ?? [...d.routines.values()].find((r) => r.name === n.name)?.schema ?? 'pg_catalog', name: n.name }
  const subtype = d.semantics.type(s.subtype, d, address.name)
  d.ranges.set(relationKey(d, address.schema, address.name), {
    ...address,
    subtype,
    multirange: s.multirange
      ? { schema: s.multirange.schema ?? address.schema, name: s.multirange.name }
      : { schema: address.schema, name: multirangeName(address.name) },
    operatorClass: s.operatorClass ? d.semantics.operatorClass(s.operatorClass, 'btree', d) : null,
    collation: s.collation ? d.semantics.collation(s.collation, d) : null,
    canonical: routine(s.canonical),
    difference: routine(s.difference),
    comment: null,
    dependsOn: [],
  })
}

/** The range or its multirange that a type's name means. */
export function rangeNamed(d: Draft, n: Name): RelationAddress | undefined {
  const found = lookup(d, d.ranges, n)
  if (found) return found
  if (d.ranges.size === 0) return undefined
  const schemas = n.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [n.schema]
  return [...d.ranges.values()].flatMap((r) => r.multirange ?? []).find((m) => m.name === n.name && schemas.includes(m.schema))
}

export function makePolicy(d: Draft, s: StatementOf<'create policy'>): void {
  const r = getRelation(d, s.table, 'table')
  if (!r) return
  if (r.policies.some((p) => p.name === s.name)) return d.complain({ code: 'already-there', what: 'policy', name: s.name })
  r.policies.push({
    name: s.name,
    permissive: s.permissive,
    command: s.command,
    roles: [...(s.roles ?? [])],
    using: s.using === null ? null : written(s.using),
    check: s.check === null ? null : written(s.check),
    comment: null,
  })
}

export function alterPolicy(d: Draft, s: StatementOf<'alter policy'>): void {
  const found = getRelation(d, s.table, 'table')?.policies.find((p) => p.name === s.name)
  if (!found) return d.complain({ code: 'unknown-object', what: 'policy', name: s.name })
  if (s.to !== null) found.name = s.to
  if (s.roles !== null) found.roles = [...s.roles]
  if (s.using !== null) found.using = written(s.using)
  if (s.check !== null) found.check = written(s.check)
}

export function dropPolicy(d: Draft, s: StatementOf<'drop policy'>): void {
  const r = getRelation(d, s.table, 'table')
  if (!r) return
  const before = r.policies.length
  r.policies = r.policies.filter((p) => p.name !== s.name)
  if (r.policies.length === before && !s.ifExists) d.complain({ code: 'unknown-object', what: 'policy', name: s.name })
}
