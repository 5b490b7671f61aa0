// ALTER and DROP on the draft.

import { changeColumn, dropColumn, renameColumn } from './changeColumn.ts'
import { addConstraint, attachIndexes } from './constraintsOf.ts'
import {
  at,
  childrenOf,
  cloned,
  type Draft,
  type DraftColumn,
  type DraftRelation,
  dropIndexName,
  findColumn,
  getRelation,
  isTemporary,
  keyOf,
  keysOf,
  lookup,
  partitionsOf,
  putIndexName,
  relationKey,
  removeRelation,
  written,
} from './draft.ts'
import { freeCheckName, indexOf, sequenceOptions, setOwner } from './makeOther.ts'
import { addColumn, inheritFrom, useSchema } from './makeTable.ts'
import { findRoutine, routineKey } from './routineText.ts'
import type { AlterAction, Droppable, Name, Statement, TypeAction } from './statement.ts'
import { pathsIn } from './text.ts'

type Of<K extends Statement['kind']> = Extract<Statement, { kind: K }>

const shown = (n: Name) => (n.schema === null ? n.name : `${n.schema}.${n.name}`)

export function alterTable(d: Draft, s: Of<'alter table'>): void {
  if (isTemporary(d, s.table)) return
  if (s.of === 'sequence' || lookup(d, d.sequences, s.table)) return alterSequenceAsTable(d, s)
  if (s.of === 'index' || (!lookup(d, d.relations, s.table) && indexOf(d, s.table))) return alterIndexAsTable(d, s)
  const r = lookup(d, d.relations, s.table)
  if (!r) {
    if (!s.ifExists) getRelation(d, s.table, s.of)
    return
  }
  for (const a of s.actions) alterRelation(d, r, a, s.only)
}

function alterSequenceAsTable(d: Draft, s: Of<'alter table'>): void {
  const sequence = lookup(d, d.sequences, s.table)
  if (!sequence) {
    if (!s.ifExists) d.complain({ code: 'unknown-object', what: 'sequence', name: shown(s.table) })
    return
  }
  for (const a of s.actions) {
    if (a.kind === 'rename') moveSequence(d, sequence, sequence.schema, a.to.name)
    else if (a.kind === 'set schema') moveSequence(d, sequence, a.schema, sequence.name)
    else if (a.kind === 'logged') sequence.unlogged = !a.logged
  }
}

/** Defaults that count with it follow: the server keeps them by the sequence's identity. */
function moveSequence(d: Draft, q: { schema: string; name: string }, schema: string, name: string): void {
  const old = d.semantics.nextValue(q)
  d.sequences.delete(relationKey(d, q.schema, q.name))
  d.classNames.delete(at(q.schema, q.name))
  q.schema = schema
  q.name = name
  d.sequences.set(relationKey(d, schema, name), q as never)
  d.classNames.add(at(schema, name))
  for (const r of d.relations.values())
    for (const c of r.columns) if (c.default && sameCall(c.default.written, old)) c.default = written(d.semantics.nextValue(q))
}

/** `nextval('s'::regclass)` in any spelling of its quotes and schema. */
export function sameCall(text: string, call: string): boolean {
  const bare = (t: string) => t.replace(/pg_catalog\.|::(text|regclass)|[()"\s]/g, '').replace(/'(?:[^'.]*\.)?/g, "'")
  return bare(text) === bare(call)
}

function alterIndexAsTable(d: Draft, s: Of<'alter table'>): void {
  const schemas = s.table.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [s.table.schema]
  const schema = schemas.find((x) => d.tableOfIndex.has(at(x, s.table.name)))
  const r = schema === undefined ? undefined : d.relations.get(d.tableOfIndex.get(at(schema, s.table.name)) ?? '')
  if (!r) {
    if (!s.ifExists) d.complain({ code: 'unknown-object', what: 'index', name: shown(s.table) })
    return
  }
  for (const a of s.actions) {
    const index = r.indexes.find((x) => x.name === s.table.name)
    if (a.kind === 'rename') renameIndex(d, r, s.table.name, a.to.name)
    else if (a.kind === 'options' && index) index.options = changedOptions(index.options, a.set, a.reset)
  }
}

function renameIndex(d: Draft, r: DraftRelation, from: string, to: string): void {
  const own = [...r.indexes, ...keysOf(r)].find((x) => x.name === from)
  if (!own) return d.complain({ code: 'unknown-object', what: 'index', name: from })
  dropIndexName(d, r, from)
  own.name = to
  putIndexName(d, r, to)
  for (const p of partitionsOf(d, r)) for (const x of [...p.indexes, ...keysOf(p)]) if (x.attachedTo === from) x.attachedTo = to
  if (r.replicaIdentity.kind === 'index' && r.replicaIdentity.index === from) r.replicaIdentity = { kind: 'index', index: to }
}

const changedOptions = (have: readonly string[], set: readonly string[], reset: readonly string[]): string[] => {
  const nameOf = (o: string) => o.split('=')[0] as string
  const gone = new Set([...set, ...reset].map(nameOf))
  return [...have.filter((o) => !gone.has(nameOf(o))), ...set].sort()
}

function alterRelation(d: Draft, r: DraftRelation, a: AlterAction, only: boolean): void {
  const below = only ? [] : childrenOf(d, r)
  switch (a.kind) {
    case 'add column': {
      if (a.ifNotExists && findColumn(d, r, a.column.name)) return
      addColumn(d, r, a.column, a.place)
      for (const c of a.column.constraints) addConstraint(d, r, c, only)
      for (const child of below)
        if (!findColumn(d, child, a.column.name)) child.columns.push({ ...cloned(findColumn(d, r, a.column.name) as DraftColumn), comment: null })
      return
    }
    case 'drop column':
      if (a.ifExists && !findColumn(d, r, a.column)) return
      dropColumn(d, r, a.column)
      for (const child of below) if (findColumn(d, child, a.column)) dropColumn(d, child, a.column)
      return
    case 'rename column':
      renameColumn(d, r, a.column, a.to)
      for (const child of childrenOf(d, r)) renameColumn(d, child, a.column, a.to)
      return
    case 'change column':
      return changeColumn(d, r, a.column, a.definition)
    case 'rename':
      return moveRelation(d, r, a.to.schema ?? r.schema, a.to.name)
    case 'set schema':
      useSchema(d, a.schema)
      return moveRelation(d, r, a.schema, r.name)
    case 'add constraint':
      return addConstraint(d, r, a.constraint, only)
    case 'drop constraint':
      return dropConstraint(d, r, a)
    case 'rename constraint':
      return renameConstraint(d, r, a.name, a.to)
    case 'rename index':
      return renameIndex(d, r, a.name, a.to)
    case 'validate constraint':
      for (const c of [...r.foreignKeys, ...r.checks]) if (c.name === a.name) c.validated = true
      return
    case 'alter constraint':
      for (const c of r.foreignKeys) if (c.name === a.name) c.deferrable = a.deferrable
      return
    case 'column type':
    case 'column default':
    case 'column null':
    case 'column identity':
    case 'column plain':
    case 'column storage':
    case 'column compression':
    case 'column statistics':
    case 'column options':
      alterColumn(d, r, a)
      if (a.kind !== 'column identity' && a.kind !== 'column plain') for (const child of below) if (findColumn(d, child, a.column)) alterColumn(d, child, a)
      return
    case 'attach partition':
      return attach(d, r, a.partition, a.bound)
    case 'detach partition': {
      const p = getRelation(d, a.partition, 'table')
      if (!p) return
      p.kind = p.partitionKey === null ? 'table' : 'partitioned table'
      p.partitionOf = null
      for (const x of [...p.indexes, ...keysOf(p)]) x.attachedTo = null
      for (const c of p.checks) c.inherited = false
      return
    }
    case 'inherit':
      return inheritFrom(d, r, a.parent)
    case 'no inherit':
      r.inherits = r.inherits.filter((p) => p.name !== a.parent.name)
      if (r.inherits.length === 0) d.unmodelled.delete(`inheritance ${r.schema}.${r.name}`)
      return
    case 'cluster':
      for (const x of [...r.indexes, ...keysOf(r)]) x.clustered = x.name === a.index
      return
    case 'replica identity':
      r.replicaIdentity = typeof a.identity === 'string' ? { kind: a.identity } : { kind: 'index', index: a.identity.index }
      return
    case 'row security': {
      const on = a.enabled ?? r.rowSecurity !== 'off'
      const forced = a.forced ?? r.rowSecurity === 'forced'
      r.rowSecurity = !on ? 'off' : forced ? 'forced' : 'on'
      return
    }
    case 'firing':
      return fire(d, r, a)
    case 'logged':
      r.unlogged = !a.logged
      return
    case 'options':
      r.options = changedOptions(r.options, a.set, a.reset)
      return
    case 'comment':
      r.comment = a.text
      return
    case 'settings':
      d.semantics.settings(d, r, a.settings)
      return
    case 'nothing':
      return
    default:
      return unreachable(a)
  }
}

function unreachable(a: never): never {
  throw new Error(`an action of no known kind: ${JSON.stringify(a)}`)
}

function fire(d: Draft, r: DraftRelation, a: Extract<AlterAction, { kind: 'firing' }>): void {
  const list = a.of === 'trigger' ? r.triggers : r.rules
  const all = a.of === 'trigger' && /^(all|user)$/i.test(a.name)
  const found = list.filter((t) => all || t.name === a.name)
  for (const t of found) t.fires = a.fires
  // DISABLE TRIGGER ALL turns the references off as well (manual, ALTER TABLE).
  if (/^all$/i.test(a.name)) for (const f of r.foreignKeys) f.enforced = a.fires !== 'disabled'
  if (found.length === 0 && !all) d.complain({ code: 'unknown-object', what: a.of, name: a.name })
}

function alterColumn(d: Draft, r: DraftRelation, a: Extract<AlterAction, { kind: `column ${string}` }>): void {
  const c = findColumn(d, r, a.column)
  if (!c) return d.complain({ code: 'unknown-object', what: 'column', name: `${r.name}.${a.column}` })
  const { semantics } = d
  switch (a.kind) {
    case 'column type':
      c.type = semantics.type(a.type, d, `${r.name}.${c.name}`)
      c.collation = a.collation ? semantics.collation(a.collation) : null
      c.storage = null
      return
    case 'column default':
      c.default = a.expression === null || /^null$/i.test(a.expression) ? null : written(a.expression)
      return
    case 'column null':
      c.nullable = !a.notNull
      return
    case 'column identity':
      if (a.identity)
        c.identity = {
          generation: a.identity.generation,
          sequence: c.identity?.sequence ?? identitySequence(d, r, c.name, a.identity.settings.name),
          options: sequenceOptions(a.identity.settings, c.type, c.identity?.options ?? null),
        }
      c.nullable = false
      return
    case 'column plain':
      c.identity = null
      c.generated = null
      return
    case 'column storage':
      c.storage = semantics.storage(a.storage, c.type)
      return
    case 'column compression':
      c.compression = a.compression === 'pglz' || a.compression === 'lz4' ? a.compression : null
      return
    case 'column statistics':
      c.statisticsTarget = a.target < 0 ? null : a.target
      return
    case 'column options':
      d.unmodelled.set(`statistics ${r.schema}.${r.name}`, { kind: 'statistics options of a column', identity: `${r.schema}.${r.name}` })
      return
    default:
      return unreachable(a)
  }
}

/** A sequence given by name is there already in the dump that names it, or is made now. */
function identitySequence(d: Draft, r: DraftRelation, column: string, name: Name | null) {
  if (name === null) return d.semantics.ownedSequence?.(d, r, column) ?? null
  const address = { schema: name.schema ?? r.schema, name: name.name }
  d.classNames.add(at(address.schema, address.name))
  return address
}

function attach(d: Draft, parent: DraftRelation, name: Name, bound: string): void {
  const p = getRelation(d, name, 'table')
  if (!p) return
  p.kind = 'partition'
  p.partitionOf = { parent: { schema: parent.schema, name: parent.name }, bound }
  for (const c of p.checks) if (parent.checks.some((x) => x.name === c.name)) c.inherited = true
  attachIndexes(d, parent, p)
  // The parent's references reach the partition; one it has alike becomes part of them (ATTACH PARTITION).
  const same = (a: DraftRelation['foreignKeys'][number], b: DraftRelation['foreignKeys'][number]) =>
    a.columns.join() === b.columns.join() && a.target.table === b.target.table && a.target.schema === b.target.schema
  p.foreignKeys = p.foreignKeys.filter((f) => !parent.foreignKeys.some((x) => same(f, x)))
}

function moveRelation(d: Draft, r: DraftRelation, schema: string, name: string): void {
  const oldKey = keyOf(d, r)
  const old = { schema: r.schema, name: r.name }
  const is = (a: { schema: string; name: string }) => relationKey(d, a.schema, a.name) === oldKey
  for (const other of d.relations.values()) {
    for (const f of other.foreignKeys) if (is({ schema: f.target.schema, name: f.target.table })) f.target = { ...f.target, schema, table: name }
    if (other.partitionOf && is(other.partitionOf.parent)) other.partitionOf.parent = { schema, name }
    other.inherits = other.inherits.map((p) => (is(p) ? { schema, name } : p))
  }
  for (const q of d.sequences.values())
    if (q.ownedBy && is({ schema: q.ownedBy.schema, name: q.ownedBy.table })) q.ownedBy = { ...q.ownedBy, schema, table: name }
  for (const x of [...r.indexes, ...keysOf(r)]) dropIndexName(d, r, x.name)
  d.classNames.delete(at(old.schema, old.name))
  d.relations.delete(oldKey)
  for (const c of r.columns) if (c.identity?.sequence && schema !== old.schema) c.identity.sequence = { ...c.identity.sequence, schema }
  r.schema = schema
  r.name = name
  d.relations.set(keyOf(d, r), r)
  d.classNames.add(at(schema, name))
  for (const x of [...r.indexes, ...keysOf(r)]) putIndexName(d, r, x.name)
}

function dropConstraint(d: Draft, r: DraftRelation, a: Extract<AlterAction, { kind: 'drop constraint' }>): void {
  const named = (x: { readonly name: string }) => x.name === a.name
  const before = [r.primaryKey, r.uniques.length, r.foreignKeys.length, r.checks.length, r.indexes.length].join()
  if (r.primaryKey && (a.of === 'primary key' || (a.of !== 'foreign key' && named(r.primaryKey)))) {
    dropIndexName(d, r, r.primaryKey.name)
    r.primaryKey = null
  }
  if (a.of === 'any' || a.of === 'index') r.uniques = r.uniques.filter((x) => !named(x))
  if (a.of === 'any' || a.of === 'foreign key') r.foreignKeys = r.foreignKeys.filter((x) => !named(x))
  if (a.of === 'any' || a.of === 'check') r.checks = r.checks.filter((x) => !named(x))
  if (a.of === 'index') r.indexes = r.indexes.filter((x) => !named(x))
  d.constraintNames.delete(at(r.schema, a.name))
  dropIndexName(d, r, a.name)
  const after = [r.primaryKey, r.uniques.length, r.foreignKeys.length, r.checks.length, r.indexes.length].join()
  if (before === after && !a.ifExists) d.complain({ code: 'unknown-object', what: 'constraint', name: `${r.name}.${a.name}` })
  for (const p of partitionsOf(d, r)) {
    p.uniques = p.uniques.filter((x) => x.attachedTo !== a.name)
    if (p.primaryKey?.attachedTo === a.name) p.primaryKey = null
  }
}

function renameConstraint(d: Draft, r: DraftRelation, from: string, to: string): void {
  const found = [...keysOf(r), ...r.foreignKeys, ...r.checks].find((c) => c.name === from)
  if (!found) return d.complain({ code: 'unknown-object', what: 'constraint', name: `${r.name}.${from}` })
  d.constraintNames.delete(at(r.schema, from))
  d.constraintNames.add(at(r.schema, to))
  if (keysOf(r).some((k) => k.name === from)) renameIndex(d, r, from, to)
  else found.name = to
}

export function alterSequence(d: Draft, s: Of<'alter sequence'>): void {
  const q = lookup(d, d.sequences, s.name)
  if (!q) {
    if (!s.ifExists && !identityOf(d, s.name)) d.complain({ code: 'unknown-object', what: 'sequence', name: shown(s.name) })
    return
  }
  const type = s.settings.type ? d.semantics.type(s.settings.type, d, q.name) : q.options.type
  q.options = sequenceOptions(s.settings, type, q.options)
  setOwner(d, relationKey(d, q.schema, q.name), s.settings)
}

const identityOf = (d: Draft, n: Name) => [...d.relations.values()].some((r) => r.columns.some((c) => c.identity?.sequence?.name === n.name))

export function alterIndex(d: Draft, s: Of<'alter index'>): void {
  if (s.action.kind === 'statistics') {
    const index = indexOf(d, s.name)
    if (index)
      index.statistics = [
        ...index.statistics.filter((x) => x.position !== (s.action as { position: number }).position),
        { position: s.action.position, target: s.action.target },
      ]
    return
  }
  const child = s.action.index
  const schemas = child.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [child.schema]
  for (const schema of schemas) {
    const r = d.relations.get(d.tableOfIndex.get(at(schema, child.name)) ?? '')
    const own = r ? [...r.indexes, ...keysOf(r)].find((x) => x.name === child.name) : undefined
    if (!r || !own) continue
    own.attachedTo = s.name.name
    return
  }
  d.complain({ code: 'unknown-object', what: 'index', name: shown(child) })
}

export function alterType(d: Draft, s: Of<'alter type'>): void {
  const { action } = s
  const e = lookup(d, d.enums, s.name)
  const c = lookup(d, d.composites, s.name)
  const o = lookup(d, d.domains, s.name)
  const any = e ?? c ?? o
  if (!any) {
    if (action.kind !== 'nothing') d.complain({ code: 'unknown-object', what: s.of, name: shown(s.name) })
    return
  }
  if (action.kind === 'rename') return moveType(d, any, any.schema, action.to)
  if (action.kind === 'set schema') return moveType(d, any, action.schema, any.name)
  if (e) changeLabels(e, action)
  if (c) changeAttributes(d, c, action)
  if (o) changeDomain(d, o, action)
}

/** A type that moves takes the columns of it along. */
function moveType(d: Draft, t: { schema: string; name: string }, schema: string, name: string): void {
  const old = relationKey(d, t.schema, t.name)
  const spelled = (x: { schema: string; name: string }) => `${d.semantics.quote(x.schema)}.${d.semantics.quote(x.name)}`
  const before = spelled(t)
  for (const map of [d.enums, d.domains, d.composites] as Map<string, { schema: string; name: string }>[]) {
    if (map.get(old) !== t) continue
    map.delete(old)
    t.schema = schema
    t.name = name
    map.set(relationKey(d, schema, name), t)
  }
  const after = spelled(t)
  for (const r of d.relations.values()) for (const c of r.columns) if (c.type === before || c.type === `${before}[]`) c.type = c.type.replace(before, after)
}

function changeLabels(e: { labels: string[] }, a: TypeAction): void {
  if (a.kind === 'rename value') e.labels = e.labels.map((l) => (l === a.value ? a.to : l))
  if (a.kind !== 'add value' || e.labels.includes(a.value)) return
  const anchor = a.before ?? a.after
  const i = anchor === null ? -1 : e.labels.indexOf(anchor)
  e.labels.splice(i < 0 ? e.labels.length : a.before !== null ? i : i + 1, 0, a.value)
}

function changeAttributes(
  d: Draft,
  c: { name: string; attributes: { name: string; type: string; collation: unknown; comment: string | null }[] },
  a: TypeAction,
): void {
  if (a.kind === 'add attribute') c.attributes.push({ name: a.name, type: d.semantics.type(a.type, d, c.name), collation: null, comment: null })
  if (a.kind === 'drop attribute') c.attributes = c.attributes.filter((x) => x.name !== a.name)
  if (a.kind === 'alter attribute') for (const x of c.attributes) if (x.name === a.name) x.type = d.semantics.type(a.type, d, c.name)
  if (a.kind === 'rename attribute') for (const x of c.attributes) if (x.name === a.name) x.name = a.to
}

function changeDomain(d: Draft, o: Draft['domains'] extends Map<string, infer D> ? D : never, a: TypeAction): void {
  if (a.kind === 'default') o.default = a.expression === null ? null : written(a.expression)
  if (a.kind === 'null') o.nullable = !a.notNull
  if (a.kind === 'add check')
    o.checks.push({
      name: a.check.name ?? freeCheckName(o.name, o.checks),
      expression: written(a.check.expression),
      validated: !a.check.notValid,
      comment: null,
    })
  if (a.kind === 'drop check') o.checks = o.checks.filter((c) => c.name !== a.name)
  if (a.kind === 'rename check') for (const c of o.checks) if (c.name === a.name) c.name = a.to
  if (a.kind === 'validate check') for (const c of o.checks) if (c.name === a.name) c.validated = true
}

export function renameOther(d: Draft, s: Of<'rename other'>): void {
  if (s.what === 'schema') return renameSchema(d, s.name.name, s.to)
  if (s.what === 'routine') {
    const found = findRoutine(d, s.name, s.argumentTypes)
    if (!found) return d.complain({ code: 'unknown-object', what: 'routine', name: shown(s.name) })
    d.routines.delete(found.key)
    if (s.schema) found.routine.schema = s.to
    else found.routine.name = s.to
    d.routines.set(routineKey(found.routine), found.routine)
    return
  }
  const r = s.table ? getRelation(d, s.table, 'table') : null
  const list = s.what === 'trigger' ? r?.triggers : r?.rules
  const found = list?.find((t) => t.name === s.name.name)
  if (found) found.name = s.to
  else if (r) d.complain({ code: 'unknown-object', what: s.what, name: s.name.name })
}

function renameSchema(d: Draft, from: string, to: string): void {
  const schema = d.schemas.get(from)
  if (!schema) return d.complain({ code: 'unknown-object', what: 'schema', name: from })
  d.schemas.delete(from)
  d.schemas.set(to, { ...schema, name: to })
  for (const r of [...d.relations.values()]) if (r.schema === from) moveRelation(d, r, to, r.name)
  for (const q of [...d.sequences.values()]) if (q.schema === from) moveSequence(d, q, to, q.name)
  for (const t of [...d.enums.values(), ...d.domains.values(), ...d.composites.values()]) if (t.schema === from) moveType(d, t, to, t.name)
}

const notThere = (d: Draft, what: Droppable, n: Name) => d.complain({ code: 'unknown-object', what, name: shown(n) })

export function drop(d: Draft, s: Of<'drop'>): void {
  for (const { name, argumentTypes } of s.names) {
    if (isTemporary(d, name)) continue
    if (!dropOne(d, s, name, argumentTypes) && !s.ifExists) notThere(d, s.what, name)
  }
}

function dropOne(d: Draft, s: Of<'drop'>, name: Name, argumentTypes: Parameters<typeof findRoutine>[2]): boolean {
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
      return dropFrom(d, d.enums, name) || dropFrom(d, d.domains, name) || dropFrom(d, d.composites, name)
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
  for (const map of [d.sequences, d.enums, d.domains, d.composites, d.routines] as Map<string, { schema: string }>[])
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
