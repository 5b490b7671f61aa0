// ALTER TABLE on the draft.
import { changeColumn, dropColumn, renameColumn } from './changeColumn.ts'
import { alterIndexAsTable, changedOptions, renameIndex } from './changeIndex.ts'
import { alterSequenceAsTable } from './changeSequence.ts'
import { addConstraint, attachIndexes } from './constraintsOf.ts'
import {
  at,
  childrenOf,
  cloned,
  type Draft,
  type DraftRelation,
  dropIndexName,
  findColumn,
  getRelation,
  isTemporary,
  keysOf,
  lookup,
  partitionsOf,
  written,
} from './draft.ts'
import { indexOf, sequenceOptions } from './makeOther.ts'
import { addColumn, inheritFrom, useSchema } from './makeTable.ts'
import { moveRelation } from './rename.ts'
import type { AlterAction, Name, StatementOf } from './statement.ts'

export function alterTable(d: Draft, s: StatementOf<'alter table'>): void {
  if (isTemporary(d, s.table)) return
  const r = lookup(d, d.relations, s.table)
  if (s.of === 'sequence' || (!r && lookup(d, d.sequences, s.table))) return alterSequenceAsTable(d, s)
  if (s.of === 'index' || (!r && indexOf(d, s.table))) return alterIndexAsTable(d, s)
  if (!r) {
    if (!s.ifExists) getRelation(d, s.table, s.of)
    return
  }
  for (const a of s.actions) alterRelation({ d, r, only: s.only }, a)
}

/** What an action is done to. `only`: partitions and children are left alone. */
interface Change {
  readonly d: Draft
  readonly r: DraftRelation
  readonly only: boolean
}

const alterColumnAndBelow = ({ d, r, only }: Change, a: Extract<AlterAction, { kind: `column ${string}` }>): void => {
  alterColumn(d, r, a)
  if (only || a.kind === 'column identity' || a.kind === 'column plain') return
  for (const child of childrenOf(d, r)) if (findColumn(d, child, a.column)) alterColumn(d, child, a)
}

const actions: { readonly [K in AlterAction['kind']]: (x: Change, a: Extract<AlterAction, { kind: K }>) => void } = {
  'add column': ({ d, r, only }, a) => {
    if (a.ifNotExists && findColumn(d, r, a.column.name)) return
    addColumn(d, r, a.column, a.place)
    for (const c of a.column.constraints) addConstraint(d, r, c, only)
    if (!only) passDown(d, r, a.column.name)
  },
  'drop column': ({ d, r, only }, a) => {
    if (a.ifExists && !findColumn(d, r, a.column)) return
    dropColumn(d, r, a.column)
    for (const child of only ? [] : childrenOf(d, r)) if (findColumn(d, child, a.column)) dropColumn(d, child, a.column)
  },
  'rename column': ({ d, r }, a) => {
    renameColumn(d, r, a.column, a.to)
    for (const child of childrenOf(d, r)) renameColumn(d, child, a.column, a.to)
  },
  'change column': ({ d, r }, a) => changeColumn(d, r, a.column, a.definition),
  rename: ({ d, r }, a) => moveRelation(d, r, a.to.schema ?? r.schema, a.to.name),
  'set schema': ({ d, r }, a) => {
    useSchema(d, a.schema)
    moveRelation(d, r, a.schema, r.name)
  },
  'add constraint': ({ d, r, only }, a) => addConstraint(d, r, a.constraint, only),
  'drop constraint': ({ d, r }, a) => dropConstraint(d, r, a),
  'rename constraint': ({ d, r }, a) => renameConstraint(d, r, a.name, a.to),
  'rename index': ({ d, r }, a) => renameIndex(d, r, a.name, a.to),
  'validate constraint': ({ r }, a) => {
    for (const c of [...r.foreignKeys, ...r.checks]) if (c.name === a.name) c.validated = true
  },
  'alter constraint': ({ r }, a) => {
    for (const c of r.foreignKeys) if (c.name === a.name) c.deferrable = a.deferrable
  },
  'column type': alterColumnAndBelow,
  'column default': alterColumnAndBelow,
  'column null': alterColumnAndBelow,
  'column identity': alterColumnAndBelow,
  'column plain': alterColumnAndBelow,
  'column storage': alterColumnAndBelow,
  'column compression': alterColumnAndBelow,
  'column statistics': alterColumnAndBelow,
  'column options': ({ d, r }, a) => alterColumn(d, r, a),
  'column foreign options': ({ d, r }, a) => alterColumn(d, r, a),
  'foreign options': ({ r }, a) => {
    if (r.foreign) r.foreign.options = changedOptions(r.foreign.options, a.changes.set, a.changes.drop)
  },
  'of type': ({ d, r }, a) => {
    const type = a.type === null ? undefined : lookup(d, d.composites, a.type)
    r.ofType = type ? { schema: type.schema, name: type.name } : null
  },
  'access method': ({ r }, a) => {
    r.accessMethod = a.method === 'heap' ? null : a.method
  },
  'attach partition': ({ d, r }, a) => attach(d, r, a.partition, a.bound),
  'detach partition': ({ d }, a) => {
    const p = getRelation(d, a.partition, 'table')
    if (!p) return
    p.kind = p.partitionKey === null ? 'table' : 'partitioned table'
    p.partitionOf = null
    d.children = null
    for (const x of [...p.indexes, ...keysOf(p)]) x.attachedTo = null
    for (const c of p.checks) c.inherited = false
  },
  inherit: ({ d, r }, a) => inheritFrom(d, r, a.parent),
  'no inherit': ({ d, r }, a) => {
    r.inherits = r.inherits.filter((p) => p.name !== a.parent.name)
    d.children = null
    for (const c of r.inherits.length === 0 ? r.columns : []) c.inherited = false
  },
  cluster: ({ r }, a) => {
    for (const x of [...r.indexes, ...keysOf(r)]) x.clustered = x.name === a.index
  },
  'replica identity': ({ r }, a) => {
    r.replicaIdentity = typeof a.identity === 'string' ? { kind: a.identity } : { kind: 'index', index: a.identity.index }
  },
  'row security': ({ r }, a) => {
    const on = a.enabled ?? r.rowSecurity !== 'off'
    const forced = a.forced ?? r.rowSecurity === 'forced'
    r.rowSecurity = !on ? 'off' : forced ? 'forced' : 'on'
  },
  firing: ({ d, r }, a) => fire(d, r, a),
  logged: ({ r }, a) => {
    r.unlogged = !a.logged
  },
  options: ({ r }, a) => {
    r.options = changedOptions(r.options, a.set, a.reset)
  },
  comment: ({ r }, a) => {
    r.comment = a.text
  },
  settings: ({ d, r }, a) => d.semantics.settings(d, r, a.settings),
  nothing: () => {},
}

function alterRelation(x: Change, a: AlterAction): void {
  const act = actions[a.kind] as (x: Change, a: AlterAction) => void
  act(x, a)
}

/** A new column reaches partitions and children, and theirs. */
function passDown(d: Draft, r: DraftRelation, column: string): void {
  const own = findColumn(d, r, column)
  if (!own) return
  for (const child of childrenOf(d, r)) {
    if (!findColumn(d, child, column)) child.columns.push({ ...cloned(own), comment: null, inherited: child.partitionOf === null })
    passDown(d, child, column)
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
  if (found.length === 0 && !all && !(a.of === 'trigger' && fireInherited(d, r, a))) d.complain({ code: 'unknown-object', what: a.of, name: a.name })
}

/** A trigger that a partition has from its parent fires otherwise there: told, and no more yet. Gives whether there is such a trigger. */
function fireInherited(d: Draft, r: DraftRelation, a: Extract<AlterAction, { kind: 'firing' }>): boolean {
  for (let at = r.partitionOf; at !== null; ) {
    const parent = getRelation(d, at.parent, 'table')
    const from = parent?.triggers.find((t) => t.name === a.name)
    if (from) {
      const q = d.semantics.quote
      const told = { kind: 'trigger of a partition', identity: `${q(a.name)} on ${q(r.schema)}.${q(r.name)}` }
      if (from.fires === a.fires) d.unmodelled.delete(told.identity)
      else d.unmodelled.set(told.identity, told)
      return true
    }
    at = parent?.partitionOf ?? null
  }
  return false
}

function alterColumn(d: Draft, r: DraftRelation, a: Extract<AlterAction, { kind: `column ${string}` }>): void {
  const c = findColumn(d, r, a.column)
  if (!c) return d.complain({ code: 'unknown-object', what: 'column', name: `${r.name}.${a.column}` })
  const { semantics } = d
  switch (a.kind) {
    case 'column type':
      c.type = semantics.type(a.type, d, `${r.name}.${c.name}`)
      c.collation = a.collation ? semantics.collation(a.collation, d) : null
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
          comment: c.identity?.comment ?? null,
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
      c.options = changedOptions(c.options, a.set, a.reset)
      return
    case 'column foreign options': {
      if (!r.foreign) return
      const own = r.foreign.columns.find((x) => x.column === c.name)
      const options = changedOptions(own?.options ?? [], a.changes.set, a.changes.drop)
      r.foreign.columns = [...r.foreign.columns.filter((x) => x !== own), ...(options.length > 0 ? [{ column: c.name, options }] : [])]
      return
    }
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
  d.children = null
  p.partitionOf = { parent: { schema: parent.schema, name: parent.name }, bound }
  for (const c of p.checks) if (parent.checks.some((x) => x.name === c.name)) c.inherited = true
  attachIndexes(d, parent, p)
  // The parent's references reach the partition; one it has alike becomes part of them (ATTACH PARTITION).
  const same = (a: DraftRelation['foreignKeys'][number], b: DraftRelation['foreignKeys'][number]) =>
    a.columns.join() === b.columns.join() && a.target.table === b.target.table && a.target.schema === b.target.schema
  p.foreignKeys = p.foreignKeys.filter((f) => !parent.foreignKeys.some((x) => same(f, x)))
}

const counts = (r: DraftRelation) => [r.primaryKey, r.uniques.length, r.foreignKeys.length, r.checks.length, r.indexes.length, r.exclusions.length].join()

function dropConstraint(d: Draft, r: DraftRelation, a: Extract<AlterAction, { kind: 'drop constraint' }>): void {
  const named = (x: { readonly name: string }) => x.name === a.name
  const before = counts(r)
  if (r.primaryKey && (a.of === 'primary key' || (a.of !== 'foreign key' && named(r.primaryKey)))) {
    dropIndexName(d, r, r.primaryKey.name)
    r.primaryKey = null
  }
  if (a.of === 'any' || a.of === 'index') r.uniques = r.uniques.filter((x) => !named(x))
  if (a.of === 'any' || a.of === 'foreign key') r.foreignKeys = r.foreignKeys.filter((x) => !named(x))
  if (a.of === 'any') r.exclusions = r.exclusions.filter((x) => !named(x))
  if (a.of === 'any' || a.of === 'check') r.checks = r.checks.filter((x) => !named(x))
  if (a.of === 'index') r.indexes = r.indexes.filter((x) => !named(x))
  d.constraintNames.delete(at(r.schema, a.name))
  dropIndexName(d, r, a.name)
  const after = counts(r)
  if (before === after && !a.ifExists) d.complain({ code: 'unknown-object', what: 'constraint', name: `${r.name}.${a.name}` })
  for (const p of partitionsOf(d, r)) {
    p.uniques = p.uniques.filter((x) => x.attachedTo !== a.name)
    if (p.primaryKey?.attachedTo === a.name) p.primaryKey = null
  }
}

function renameConstraint(d: Draft, r: DraftRelation, from: string, to: string): void {
  const found = [...keysOf(r), ...r.foreignKeys, ...r.checks, ...r.exclusions].find((c) => c.name === from)
  if (!found) return d.complain({ code: 'unknown-object', what: 'constraint', name: `${r.name}.${from}` })
  d.constraintNames.delete(at(r.schema, from))
  d.constraintNames.add(at(r.schema, to))
  if (keysOf(r).some((k) => k.name === from)) renameIndex(d, r, from, to)
  else found.name = to
}
