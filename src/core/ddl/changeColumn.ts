// Columns renamed, dropped and redefined on the draft, with all that names them.
import { addConstraint, columnsIn } from './constraintsOf.ts'
import { at, type Draft, type DraftRelation, dropIndexName, findColumn, keysOf, relationKey, written } from './draft.ts'
import type { ColumnDefinition } from './statement.ts'
import { renameIn } from './text.ts'

const missing = (d: Draft, r: DraftRelation, column: string) => d.complain({ code: 'unknown-object', what: 'column', name: `${r.name}.${column}` })

function referencesTo(d: Draft, r: DraftRelation) {
  const key = relationKey(d, r.schema, r.name)
  return [...d.relations.values()].flatMap((o) =>
    o.foreignKeys.filter((f) => relationKey(d, f.target.schema, f.target.table) === key).map((f) => ({ owner: o, f })),
  )
}

export function renameColumn(d: Draft, r: DraftRelation, from: string, to: string): void {
  const c = findColumn(d, r, from)
  if (!c) return missing(d, r, from)
  const old = c.name
  c.name = to
  const renamed = (list: string[]) => list.map((x) => (x === old ? to : x))
  for (const k of keysOf(r)) {
    k.columns = renamed(k.columns)
    k.include = renamed(k.include)
  }
  const text = (t: string) => renameIn(t, old, to, d.semantics.lexis, d.semantics.quote)
  for (const x of r.indexes) {
    x.columns = x.columns.map((p) => ({ ...p, column: p.column === old ? to : p.column, expression: p.expression && written(text(p.expression.written)) }))
    x.include = renamed(x.include)
    x.predicate = x.predicate && written(text(x.predicate.written))
  }
  for (const f of r.foreignKeys) f.columns = renamed(f.columns)
  for (const { f } of referencesTo(d, r)) f.target = { ...f.target, columns: renamed(f.target.columns) }
  for (const k of r.checks) k.expression = written(text(k.expression.written))
  for (const other of r.columns) if (other.generated) other.generated = { ...other.generated, expression: written(text(other.generated.expression.written)) }
  if (r.partitionKey !== null) r.partitionKey = text(r.partitionKey)
  for (const q of d.sequences.values())
    if (q.ownedBy?.schema === r.schema && q.ownedBy.table === r.name && q.ownedBy.column === old) q.ownedBy = { ...q.ownedBy, column: to }
}

/** PostgreSQL drops keys, indexes and checks that use it; MySQL takes it out of keys and indexes. */
export function dropColumn(d: Draft, r: DraftRelation, name: string): void {
  const c = findColumn(d, r, name)
  if (!c) return missing(d, r, name)
  const uses = (columns: readonly (string | null)[]) => columns.includes(c.name)
  r.checks = r.checks.filter((k) => !columnsIn(d, r, k.expression.written).includes(c.name))
  r.columns = r.columns.filter((x) => x !== c)
  if (d.semantics.dialect === 'mysql') {
    for (const k of keysOf(r)) k.columns = k.columns.filter((x) => x !== c.name)
    for (const x of r.indexes) x.columns = x.columns.filter((p) => p.column !== c.name)
  }
  const gone = (columns: readonly (string | null)[]) => columns.length === 0 || uses(columns)
  if (r.primaryKey && gone(r.primaryKey.columns)) {
    dropIndexName(d, r, r.primaryKey.name)
    r.primaryKey = null
  }
  for (const u of r.uniques) if (gone(u.columns)) dropIndexName(d, r, u.name)
  r.uniques = r.uniques.filter((u) => !gone(u.columns))
  const mentions = (t: string) => columnsIn(d, { ...r, columns: [c] }, t).length > 0
  const goes = (x: DraftRelation['indexes'][number]) =>
    gone(x.columns.map((p) => p.column)) ||
    uses(x.include) ||
    (x.predicate !== null && mentions(x.predicate.written)) ||
    x.columns.some((p) => p.expression !== null && mentions(p.expression.written))
  for (const x of r.indexes) if (goes(x)) dropIndexName(d, r, x.name)
  r.indexes = r.indexes.filter((x) => !goes(x))
  for (const f of r.foreignKeys) if (uses(f.columns)) d.constraintNames.delete(at(r.schema, f.name))
  r.foreignKeys = r.foreignKeys.filter((f) => !uses(f.columns))
  for (const { owner, f } of referencesTo(d, r)) if (uses(f.target.columns)) owner.foreignKeys = owner.foreignKeys.filter((x) => x !== f)
  for (const [key, q] of [...d.sequences]) {
    if (q.ownedBy?.schema !== r.schema || q.ownedBy.table !== r.name || q.ownedBy.column !== c.name) continue
    d.sequences.delete(key)
    d.classNames.delete(at(q.schema, q.name))
  }
}

/** MySQL: MODIFY and CHANGE say the whole column anew. */
export function changeColumn(d: Draft, r: DraftRelation, name: string, def: ColumnDefinition): void {
  const c = findColumn(d, r, name)
  if (!c) return missing(d, r, name)
  if (def.name !== c.name) renameColumn(d, r, c.name, def.name)
  c.type = d.semantics.type(def.type, d, `${r.name}.${c.name}`)
  const inKey = r.primaryKey?.columns.includes(c.name) ?? false
  c.nullable = def.notNull !== true && !inKey
  c.default = def.default === null || /^null$/i.test(def.default) ? null : written(def.default)
  c.generated = def.generated ? { expression: written(def.generated.expression), kept: def.generated.kept } : null
  c.onUpdate = def.onUpdate === null ? null : written(def.onUpdate)
  c.comment = def.comment
  c.identity = null
  c.collation = def.collation ? d.semantics.collation(def.collation, d) : null
  d.semantics.column(d, r, c, def)
  // A check written at the column has the column's name (MariaDB), and is said anew with it.
  r.checks = r.checks.filter((k) => k.name !== name)
  for (const k of def.constraints) addConstraint(d, r, k, true)
}
