// The CREATE text that an SQLite file keeps is the first source; its pragmas are the cross-check (SQLite, "PRAGMA Statements").
import type { Catalog, Relation } from '../../catalog/index.ts'
import { readScript, type ScriptResult } from '../../ddl/index.ts'
import { sqliteScript } from './script.ts'

/** A row of sqlite_schema with its text. */
export interface SchemaRow {
  readonly type: string
  readonly name: string
  readonly sql: string
}

/** A row of pragma_table_xinfo with the table's name. */
export interface ColumnInfo {
  readonly relation: string
  readonly name: string
  readonly type: string
  readonly pk: number
  readonly hidden: number
}

/** A row of pragma_foreign_key_list with the table's name; rows of one id belong together, in order of seq. */
export interface ReferenceInfo {
  readonly relation: string
  readonly id: number
  readonly from: string
  readonly target: string
}

export interface FileFacts {
  readonly rows: readonly SchemaRow[]
  readonly columns: readonly ColumnInfo[]
  readonly references: readonly ReferenceInfo[]
}

/** Names that begin so are the engine's own ("Database File Format", 2.6.2). */
const own = String.raw`name not like 'sqlite\_%' escape '\'`
export const schemaQuery = `select type, name, sql from sqlite_master where sql is not null and ${own} order by rowid`
export const columnQuery = `select m.name as relation, x.name, x.type, x.pk, x.hidden from sqlite_master m, pragma_table_xinfo(m.name) x where m.type = 'table' and m.${own} order by m.name, x.cid`
export const referenceQuery = `select m.name as relation, f.id, f."from", f."table" as target from sqlite_master m, pragma_foreign_key_list(m.name) f where m.type = 'table' and m.${own} order by m.name, f.id, f.seq`

export interface FileReading extends ScriptResult {
  /** Where the file's own pragmas say otherwise than its text was read. */
  readonly disagreements: readonly string[]
}

/** What a file keeps, as a catalog. `label` is shown with the places of what was not read. */
export function readSqliteFile(label: string, facts: FileFacts): FileReading {
  // Tables first: a trigger may be older than a table its text names.
  const rank = (r: SchemaRow) => (r.type === 'table' ? 0 : r.type === 'index' ? 1 : 2)
  const text = facts.rows
    .toSorted((a, b) => rank(a) - rank(b))
    .map((r) => `${r.sql.trimEnd().replace(/;$/, '')};\n`)
    .join('')
  const result = readScript([{ name: label, text }], sqliteScript)
  return { ...result, disagreements: disagreements(result.catalog, facts) }
}

const key = (name: string) => name.toLowerCase()
const plainType = (type: string) =>
  type
    .replace(/\s+/g, ' ')
    .replace(/ ?([(),]) ?/g, '$1')
    .trim()
    .toUpperCase()

function disagreements(c: Catalog, facts: FileFacts): readonly string[] {
  const found: string[] = []
  const byName = new Map(c.relations.map((r) => [key(r.name), r]))
  const told = new Map<string, ColumnInfo[]>()
  for (const x of facts.columns) told.set(key(x.relation), [...(told.get(key(x.relation)) ?? []), x])
  const kept = new Set(c.unmodelled.map((u) => key(u.identity.split(' (')[0] as string)))
  for (const [name, columns] of told) {
    const r = byName.get(name)
    if (!r) {
      if (!kept.has(name)) found.push(`the file has a table "${columns[0]?.relation}" that its text does not tell of`)
      continue
    }
    found.push(...columnDisagreements(r, columns))
  }
  for (const r of c.relations) {
    const own = new Set(r.foreignKeys.flatMap((f) => f.columns.map((column) => `${key(column)} ${key(f.target.table)}`)))
    const theirs = facts.references.filter((f) => key(f.relation) === key(r.name)).map((f) => `${key(f.from)} ${key(f.target)}`)
    for (const t of theirs) if (!own.has(t)) found.push(`${r.name}: the file has a reference ${t.replace(' ', ' to ')} that was not read`)
    for (const o of own) if (!theirs.includes(o)) found.push(`${r.name}: a reference ${o.replace(' ', ' to ')} was read that the file has not`)
  }
  return found
}

function columnDisagreements(r: Relation, columns: readonly ColumnInfo[]): readonly string[] {
  const line = (name: string, type: string, pk: number) => `${name} ${plainType(type)}${pk > 0 ? ` key ${pk}` : ''}`
  const theirs = columns.filter((x) => x.hidden !== 1).map((x) => line(x.name, x.type, x.pk))
  const ours = r.columns.map((x) => line(x.name, x.type, (r.primaryKey?.columns.indexOf(x.name) ?? -1) + 1))
  return theirs.join('\n') === ours.join('\n') ? [] : [`${r.name}: the file says (${theirs.join(', ')}), its text was read as (${ours.join(', ')})`]
}
