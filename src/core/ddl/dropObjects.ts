// DROP on the draft, with what goes along.
import {
  at,
  childrenOf,
  type Draft,
  type DraftRelation,
  dropIndexName,
  isTemporary,
  keyOf,
  lookup,
  partitionsOf,
  relationKey,
  removeRelation,
  shown,
} from './draft.ts'
import { dropObject } from './makeObject.ts'
import { findRoutine } from './routineText.ts'
import type { Droppable, Name, StatementOf } from './statement.ts'
import { pathsIn } from './text.ts'

const notThere = (d: Draft, what: Droppable, n: Name) => d.complain({ code: 'unknown-object', what, name: shown(n) })

export function drop(d: Draft, s: StatementOf<'drop'>): void {
  for (const { name, argumentTypes } of s.names) {
    if (isTemporary(d, name)) continue
    if (!dropOne(d, s, name, argumentTypes) && !s.ifExists) notThere(d, s.what, name)
  }
}

function dropOne(d: Draft, s: StatementOf<'drop'>, name: Name, argumentTypes: Parameters<typeof findRoutine>[2]): boolean {
  switch (s.what) {
    case 'table':
    case 'view':
    case 'materialized view':
    case 'foreign table': {
      const r = lookup(d, d.relations, name)
      if (r) dropRelation(d, r, s.cascade)
      return r !== undefined
    }
    case 'sequence':
      return dropFrom(d, d.sequences, name)
    case 'type':
    case 'domain':
      return (
        dropFrom(d, d.enums, name) || dropFrom(d, d.domains, name) || dropFrom(d, d.composites, name) || dropFrom(d, d.ranges, name) || dropBaseType(d, name)
      )
    case 'schema':
      return dropSchema(d, name.name)
    case 'extension':
      return d.extensions.delete(name.name)
    case 'index':
      return dropIndex(d, name, s.table)
    case 'routine': {
      const found = findRoutine(d, name, argumentTypes)
      if (found) d.routines.delete(found.key)
      return found !== undefined
    }
    case 'trigger':
    case 'rule':
      return dropPart(d, s.what, name, s.table)
    case 'other':
      return true
    default:
      return unreachable(s.what)
  }
}

function dropBaseType(d: Draft, name: Name): boolean {
  const before = d.objects.size
  dropObject(d, { kind: 'drop object', objects: [{ what: 'type', name, types: [], method: null }], ifExists: true })
  return d.objects.size < before
}

function dropFrom(d: Draft, map: Map<string, { schema: string; name: string }>, n: Name): boolean {
  const found = lookup(d, map, n)
  if (!found) return false
  d.classNames.delete(at(found.schema, found.name))
  return map.delete(relationKey(d, found.schema, found.name))
}

/** With its partitions, its sequences, references to it, and with CASCADE the views that mention it. */
function dropRelation(d: Draft, r: DraftRelation, cascade: boolean): void {
  if (!d.relations.has(keyOf(d, r))) return
  for (const child of childrenOf(d, r)) if (child.partitionOf || cascade) dropRelation(d, child, cascade)
  removeRelation(d, r)
  for (const q of [...d.sequences.values()]) if (q.ownedBy?.schema === r.schema && q.ownedBy.table === r.name) dropFrom(d, d.sequences, q)
  if (d.semantics.dialect === 'postgresql')
    for (const other of d.relations.values()) other.foreignKeys = other.foreignKeys.filter((f) => !(f.target.schema === r.schema && f.target.table === r.name))
  if (!cascade) return
  for (const v of [...d.relations.values()])
    if (v.definition && pathsIn(v.definition.written, d.semantics.lexis).some((p) => p.name === r.name && (p.schema === null || p.schema === r.schema)))
      dropRelation(d, v, true)
}

function dropSchema(d: Draft, name: string): boolean {
  for (const r of [...d.relations.values()]) if (r.schema === name) dropRelation(d, r, true)
  for (const map of [d.sequences, d.enums, d.domains, d.composites, d.ranges, d.routines, d.objects] as Map<string, { schema: string }>[])
    for (const [key, o] of [...map]) if (o.schema === name) map.delete(key)
  return d.schemas.delete(name)
}

function dropIndex(d: Draft, n: Name, table: Name | null): boolean {
  const schemas = d.semantics.fixedSchema ? [''] : n.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [n.schema]
  const r = table
    ? lookup(d, d.relations, table)
    : schemas.map((s) => d.relations.get(d.tableOfIndex.get(at(s, n.name)) ?? '')).find((x) => x?.indexes.some((i) => i.name === n.name))
  if (!r) return false
  const before = r.indexes.length + r.uniques.length
  r.indexes = r.indexes.filter((x) => x.name !== n.name)
  if (table) r.uniques = r.uniques.filter((x) => x.name !== n.name)
  dropIndexName(d, r, n.name)
  for (const p of partitionsOf(d, r)) p.indexes = p.indexes.filter((x) => x.attachedTo !== n.name)
  return r.indexes.length + r.uniques.length < before
}

function dropPart(d: Draft, what: 'trigger' | 'rule', n: Name, table: Name | null): boolean {
  // MySQL and SQLite name triggers per database, not per table.
  const tables = table ? [lookup(d, d.relations, table)] : [...d.relations.values()]
  for (const r of tables) {
    const list = what === 'trigger' ? r?.triggers : r?.rules
    const i = list?.findIndex((t) => t.name === n.name) ?? -1
    if (i >= 0) {
      list?.splice(i, 1)
      return true
    }
  }
  return false
}

function unreachable(what: never): never {
  throw new Error(`a kind that is not known: ${JSON.stringify(what)}`)
}
