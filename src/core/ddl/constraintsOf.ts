// Keys, references, checks and indexes put on a table of the draft, with the names the engine would make up and on its partitions.
import { plainPart } from './clauses.ts'
import {
  at,
  childrenOf,
  cloned,
  columnName,
  type Draft,
  type DraftIndex,
  type DraftKey,
  type DraftRelation,
  dropIndexName,
  findColumn,
  keysOf,
  lookup,
  partitionsOf,
  placeFor,
  putIndexName,
  written,
} from './draft.ts'
import type { CheckDefinition, ConstraintDefinition, IndexDefinition, KeyDefinition, KeyPart, ReferenceDefinition } from './statement.ts'
import { namesIn } from './text.ts'

/** Columns of the table that an expression mentions. */
export function columnsIn(d: Draft, r: DraftRelation, expression: string): readonly string[] {
  const found = namesIn(expression, d.semantics.lexis).flatMap((n) => findColumn(d, r, n)?.name ?? [])
  return [...new Set(found)]
}

/** `only` leaves partitions alone, as ALTER TABLE ONLY does. */
export function addConstraint(d: Draft, r: DraftRelation, c: ConstraintDefinition, only: boolean): void {
  switch (c.kind) {
    case 'primary key':
    case 'unique':
      return addKey(d, r, c, only, null)
    case 'foreign key':
      return addReference(d, r, c)
    case 'check':
      return addCheck(d, r, c, false)
    case 'index':
      return addIndex(d, r, c, only, null)
    case 'exclude': {
      const name = c.name ?? d.semantics.indexName(d, r, c.elements, c.include, 'excl')
      const method = c.method ?? d.semantics.defaultMethod
      r.exclusions.push({
        name,
        method,
        elements: c.elements.map((e) => ({
          ...indexPart(d, r, e, method),
          operator: { schema: e.operator.schema ?? operatorSchema(d, e.operator.name), name: e.operator.name },
        })),
        include: [...c.include],
        predicate: c.predicate === null ? null : written(c.predicate),
        options: [...c.options],
        deferrable: c.deferrable,
        attachedTo: null,
        clustered: false,
        comment: null,
        indexComment: null,
      })
      putIndexName(d, r, name)
      d.constraintNames.add(at(r.schema, name))
      return
    }
    default:
      return unreachable(c)
  }
}

/** An operator without a schema is one of the script's own, or built in. */
const operatorSchema = (d: Draft, name: string): string =>
  [...d.objects.values()].find((o) => o.kind === 'operator' && o.name.startsWith(`${name} (`))?.schema ?? 'pg_catalog'

function unreachable(c: never): never {
  throw new Error(`a constraint of no known kind: ${JSON.stringify(c)}`)
}

const sameColumns = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((c, i) => c === b[i])

/** UNIQUE over the columns of the primary key, without a name of its own, is that key. */
const isMerged = (d: Draft, r: DraftRelation, def: KeyDefinition, columns: readonly string[]): boolean =>
  d.semantics.mergesEqualKeys && def.name === null && def.kind === 'unique' && r.primaryKey !== null && sameColumns(r.primaryKey.columns, columns)

/** `attachedTo`: the key of the partitioned parent that this one belongs to. */
export function addKey(d: Draft, r: DraftRelation, def: KeyDefinition, only: boolean, attachedTo: string | null): void {
  const from = def.usingIndex === null ? null : takeIndex(d, r, def.usingIndex)
  const parts = from ? from.columns.flatMap((c) => c.column ?? []) : def.parts.flatMap((p) => (p.column === null ? [] : columnName(d, r, p.column)))
  if (!from && (parts.length < def.parts.length || (def.kind === 'unique' && def.parts.some((p) => p.length !== null)))) {
    // MySQL: a unique key over an expression or a prefix is an index, no constraint on columns.
    return addIndex(d, r, { ...def, kind: 'index', unique: true, predicate: null }, only, attachedTo)
  }
  for (const c of parts) if (!findColumn(d, r, c)) d.complain({ code: 'unknown-object', what: 'column', name: `${r.name}.${c}` })
  if (def.kind === 'primary key' && r.primaryKey) return d.complain({ code: 'already-there', what: 'primary key of', name: r.name })
  if (attachedTo === null && isMerged(d, r, def, parts)) return
  const given = def.name ?? from?.name ?? null
  if (given !== null && given !== from?.name && d.semantics.dialect === 'postgresql' && d.classNames.has(at(r.schema, given)))
    return d.complain({ code: 'already-there', what: 'key or index', name: given })
  const fixed = def.kind === 'primary key' ? d.semantics.primaryKeyName : null
  const name = fixed ?? given ?? d.semantics.keyName(d, r, def.kind, parts)
  const key: DraftKey = {
    name,
    columns: parts,
    include: from ? [...from.include] : [...def.include],
    deferrable: def.deferrable,
    nullsNotDistinct: def.nullsNotDistinct,
    options: from ? [...from.options] : [...def.options],
    attachedTo,
    clustered: false,
    comment: def.comment,
    indexComment: null,
  }
  if (def.kind === 'primary key') r.primaryKey = key
  else r.uniques.push(key)
  if (name !== '') putIndexName(d, r, name)
  d.constraintNames.add(at(r.schema, name))
  if (def.kind === 'primary key' && d.semantics.keyIsNotNull(r, parts)) for (const c of parts) notNull(d, r, c)
  if (!only) for (const p of partitionsOf(d, r)) addKeyToPartition(d, p, { ...def, name: null, usingIndex: null, parts: parts.map(plainPart) }, name)
}

/** A partition that has the same key already keeps it, attached. */
function addKeyToPartition(d: Draft, p: DraftRelation, def: KeyDefinition, parent: string): void {
  const columns = def.parts.flatMap((x) => x.column ?? [])
  const own = def.kind === 'primary key' ? (p.primaryKey ? [p.primaryKey] : []) : p.uniques
  const same = own.find((k) => k.attachedTo === null && sameColumns(k.columns, columns))
  if (same) same.attachedTo = parent
  else addKey(d, p, def, false, parent)
}

function notNull(d: Draft, r: DraftRelation, column: string): void {
  const c = findColumn(d, r, column)
  if (c) c.nullable = false
  for (const p of partitionsOf(d, r)) notNull(d, p, column)
}

/** Takes an index off a table that becomes a key. */
function takeIndex(d: Draft, r: DraftRelation, name: string): DraftIndex | null {
  const found = r.indexes.find((x) => x.name === name)
  if (!found) {
    d.complain({ code: 'unknown-object', what: 'index', name })
    return null
  }
  r.indexes = r.indexes.filter((x) => x !== found)
  dropIndexName(d, r, name)
  return found
}

export function addReference(d: Draft, r: DraftRelation, def: ReferenceDefinition): void {
  if (def.inline && !d.semantics.inlineReferences) {
    d.complain({ code: 'ignored-by-server', what: 'REFERENCES at column', name: `${r.name}.${def.columns.join(', ')}` })
    return
  }
  const target = lookup(d, d.relations, def.target)
  const address = target ?? placeFor(d, def.target)
  if (!target && d.semantics.dialect === 'postgresql') d.complain({ code: 'unknown-object', what: 'table', name: address.name })
  const columns = def.columns.map((c) => columnName(d, r, c))
  for (const c of columns) if (!findColumn(d, r, c)) d.complain({ code: 'unknown-object', what: 'column', name: `${r.name}.${c}` })
  const targetColumns = target
    ? def.targetColumns.length > 0
      ? def.targetColumns.map((c) => columnName(d, target, c))
      : [...(target.primaryKey?.columns ?? [])]
    : [...def.targetColumns]
  const name = def.name ?? (d.semantics.referenceTakesIndexName ? def.indexName : null) ?? d.semantics.referenceName(d, r, columns)
  if (def.name !== null && d.semantics.dialect === 'postgresql' && r.foreignKeys.some((f) => f.name === name))
    return d.complain({ code: 'already-there', what: 'constraint', name })
  const reference: DraftRelation['foreignKeys'][number] = {
    name,
    columns,
    target: { schema: address.schema, table: address.name, columns: targetColumns },
    onUpdate: def.onUpdate,
    onDelete: def.onDelete,
    onDeleteColumns: [...def.onDeleteColumns],
    match: def.match,
    deferrable: def.deferrable,
    validated: !def.notValid,
    enforced: true,
    comment: null,
  }
  r.foreignKeys.push(reference)
  d.made(reference)
  if (name !== '') d.constraintNames.add(at(r.schema, name))
  if (d.semantics.indexesReferences) indexReference(d, r, columns, def.name ?? def.indexName)
}

/** InnoDB makes an index for a reference that has none with its columns first (MySQL manual, FOREIGN KEY Constraints). */
function indexReference(d: Draft, r: DraftRelation, columns: readonly string[], name: string | null): void {
  const leads = (list: readonly (string | null)[]) => columns.every((c, i) => list[i] === c)
  if (keysOf(r).some((k) => leads(k.columns)) || r.indexes.some((x) => leads(x.columns.map((c) => c.column)))) return
  const index: IndexDefinition = {
    kind: 'index',
    name: name ?? null,
    unique: false,
    method: null,
    parts: columns.map(plainPart),
    include: [],
    predicate: null,
    nullsNotDistinct: false,
    options: [],
    comment: null,
  }
  addIndex(d, r, index, true, null)
  const made = r.indexes.at(-1)
  if (made) d.impliedIndexes.add(made)
}

/** The column an expression mentions; null where it is none or several. */
function onlyColumnIn(d: Draft, r: DraftRelation, expression: string): string | null {
  const mentioned = columnsIn(d, r, expression)
  return mentioned.length === 1 ? (mentioned[0] as string) : null
}

export function addCheck(d: Draft, r: DraftRelation, def: CheckDefinition, inherited: boolean): void {
  if (!d.semantics.keepsChecks) return d.complain({ code: 'ignored-by-server', what: 'check on', name: r.name })
  const name = def.name ?? d.semantics.checkName(d, r, onlyColumnIn(d, r, def.expression), def.column ?? '')
  const same = name === '' ? undefined : r.checks.find((c) => c.name === name)
  if (same) {
    if (inherited) return
    if (!same.inherited) return d.complain({ code: 'already-there', what: 'constraint', name })
    // Said again of a child it is merged, and the child's own from then on; a partition's never is (MergeWithExistingConstraint, heap.c).
    same.inherited = r.partitionOf !== null
    return
  }
  r.checks.push({ name, expression: written(def.expression), validated: !def.notValid, inheritable: !def.noInherit, inherited, comment: null })
  d.constraintNames.add(at(r.schema, name))
  if (!def.noInherit) for (const c of childrenOf(d, r)) addCheck(d, c, { ...def, name }, true)
}

/** `attachedTo`: the index of the partitioned parent that this one belongs to. */
export function addIndex(d: Draft, r: DraftRelation, def: IndexDefinition, only: boolean, attachedTo: string | null): void {
  const { semantics } = d
  if (def.unique && semantics.uniqueIndexIsKey && def.parts.every((p) => p.column !== null && p.length === null))
    return addKey(d, r, { ...def, kind: 'unique', usingIndex: null, deferrable: 'no' }, only, null)
  const name = def.name ?? semantics.indexName(d, r, def.parts, def.include, 'idx')
  const taken =
    semantics.dialect === 'mysql' ? r.indexes.some((x) => x.name === name) || keysOf(r).some((k) => k.name === name) : d.classNames.has(at(r.schema, name))
  if (taken) return d.complain({ code: 'already-there', what: 'index', name })
  for (const p of def.parts)
    if (p.column !== null && !findColumn(d, r, p.column)) d.complain({ code: 'unknown-object', what: 'column', name: `${r.name}.${p.column}` })
  const method = def.method ?? semantics.defaultMethod
  const index: DraftIndex = {
    name,
    unique: def.unique,
    method,
    columns: def.parts.map((p) => indexPart(d, r, p, method)),
    include: def.include.map((c) => columnName(d, r, c)),
    predicate: def.predicate === null ? null : written(def.predicate),
    nullsNotDistinct: def.nullsNotDistinct,
    options: [...def.options],
    attachedTo,
    clustered: false,
    // ON ONLY a table with partitions: it waits for theirs to be attached (indexcmds.c, DefineIndex).
    valid: !(only && partitionsOf(d, r).length > 0),
    statistics: [],
    comment: def.comment,
  }
  r.indexes.push(index)
  putIndexName(d, r, name)
  if (!only) for (const p of partitionsOf(d, r)) addIndexToPartition(d, p, def, index)
}

function addIndexToPartition(d: Draft, p: DraftRelation, def: IndexDefinition, parent: DraftIndex): void {
  const alike = p.indexes.find((x) => x.attachedTo === null && sameShape(x, parent))
  if (alike) alike.attachedTo = parent.name
  else addIndex(d, p, { ...def, name: null }, false, parent.name)
}

/** Would the server take one index for the other when a partition is attached? */
export function sameShape(a: DraftIndex, b: DraftIndex): boolean {
  const shape = (x: DraftIndex) => JSON.stringify([x.unique, x.method, x.columns, x.include, x.predicate, x.nullsNotDistinct])
  return shape(a) === shape(b)
}

function indexPart(d: Draft, r: DraftRelation, p: KeyPart, method: string): DraftIndex['columns'][number] {
  const column = p.column === null ? null : columnName(d, r, p.column)
  const collation = p.collation === null ? null : d.semantics.collation(p.collation, d)
  const own = column === null ? null : (findColumn(d, r, column)?.collation ?? null)
  return {
    column: p.length === null ? column : null,
    expression: p.length !== null ? written(`${column ?? ''}(${p.length})`) : p.expression === null ? null : written(p.expression),
    collation: collation && own && collation.name === own.name ? null : collation,
    operatorClass: p.operatorClass === null ? null : d.semantics.operatorClass(p.operatorClass, method, d),
    operatorClassOptions: [...p.operatorClassOptions],
    descending: p.descending,
    nullsFirst: p.nulls === null ? p.descending && d.semantics.dialect === 'postgresql' : p.nulls === 'first',
  }
}

/** Attach a partition's keys and indexes to those of its parent, making what is missing, as ATTACH PARTITION does. */
export function attachIndexes(d: Draft, parent: DraftRelation, p: DraftRelation): void {
  const define = (k: DraftKey, kind: KeyDefinition['kind']): KeyDefinition => ({
    kind,
    name: null,
    parts: k.columns.map(plainPart),
    include: k.include,
    options: k.options,
    nullsNotDistinct: k.nullsNotDistinct,
    usingIndex: null,
    comment: null,
    method: null,
    deferrable: k.deferrable,
  })
  if (parent.primaryKey) addKeyToPartition(d, p, define(parent.primaryKey, 'primary key'), parent.primaryKey.name)
  for (const u of parent.uniques) addKeyToPartition(d, p, define(u, 'unique'), u.name)
  for (const x of parent.indexes) {
    const alike = p.indexes.find((i) => i.attachedTo === null && sameShape(i, x))
    if (alike) alike.attachedTo = x.name
    else cloneIndex(d, p, x, x.name)
  }
}

/** The same index on another table, under a name of its own. */
export function cloneIndex(d: Draft, r: DraftRelation, x: DraftIndex, attachedTo: string | null): void {
  const parts = x.columns.map((c): KeyPart => ({ ...plainPart(c.column ?? ''), column: c.column, expression: c.expression?.written ?? null }))
  const name = d.semantics.dialect === 'postgresql' ? d.semantics.indexName(d, r, parts, x.include, 'idx') : x.name
  r.indexes.push({ ...cloned(x), name, attachedTo, comment: null })
  putIndexName(d, r, name)
}
