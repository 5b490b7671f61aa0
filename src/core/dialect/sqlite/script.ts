// What SQLite makes of a script (SQLite, "CREATE TABLE", "Datatypes In SQLite", "Foreign Key Support").
import { emptyCatalog } from '../../catalog/index.ts'
import type { Draft, DraftColumn, DraftRelation, Semantics } from '../../ddl/draft.ts'
import { findColumn, relationKey } from '../../ddl/draft.ts'
import { resolveReferences } from '../../ddl/resolve.ts'
import type { CreateTable, TableElement } from '../../ddl/statement.ts'
import { sqliteLexis } from './lexis.ts'

/**
 * A single column of declared type INTEGER that is the primary key is the rowid ("CREATE TABLE", 5, ROWIDs and the INTEGER PRIMARY
 * KEY); "INTEGER PRIMARY KEY DESC" at the column is not, for old files' sake.
 */
function rowidColumn(d: Draft, r: DraftRelation, s: CreateTable): DraftColumn | null {
  const key = r.primaryKey
  if (s.withoutRowid || !key || key.columns.length !== 1) return null
  const c = findColumn(d, r, key.columns[0] as string)
  if (c?.type.toUpperCase() !== 'INTEGER') return null
  const atColumn = s.elements.some(
    (e: TableElement) => e.kind === 'column' && e.column.constraints.some((k) => k.kind === 'primary key' && k.parts[0]?.descending),
  )
  return atColumn ? null : c
}

function table(d: Draft, r: DraftRelation, s: CreateTable): void {
  if (s.withoutRowid) r.options.push('without rowid')
  if (s.strict) r.options.push('strict')
  const rowid = rowidColumn(d, r, s)
  if (rowid) {
    rowid.identity = { generation: 'by default', sequence: null, options: null, comment: null }
    rowid.nullable = false
  }
  // Elsewhere a primary key accepts null, by a mistake kept for old files ("CREATE TABLE", 3.5).
  if (s.withoutRowid || s.strict) for (const name of r.primaryKey?.columns ?? []) (findColumn(d, r, name) as DraftColumn).nullable = false
  // A reference holds only where a connection says PRAGMA foreign_keys = ON, which no file can tell.
  for (const f of r.foreignKeys) f.enforced = false
}

/** Types that SQLite keeps as a number and prints in capitals (sqliteInt.h, sqlite3StdType). */
const standardTypes: ReadonlySet<string> = new Set(['ANY', 'BLOB', 'INT', 'INTEGER', 'REAL', 'TEXT'])

/** Keywords that never fall back to a name (SQLite, parse.y, the list of %fallback and what is not on it). */
const reservedWords: ReadonlySet<string> = new Set(
  `add all alter and as autoincrement between case check collate commit constraint create default deferrable delete distinct drop else escape exists foreign from group having in index insert into is isnull
join limit not notnull null on or order primary references select set table then to transaction union unique update using values when where`.split(/\s+/),
)

/** Tables that a virtual table keeps its content in, by module (SQLite, FTS3, FTS5 and R*Tree documentation). */
const shadows: Readonly<Record<string, readonly string[]>> = {
  fts3: ['content', 'segments', 'segdir'],
  fts4: ['content', 'segments', 'segdir', 'docsize', 'stat'],
  fts5: ['data', 'idx', 'content', 'docsize', 'config'],
  rtree: ['node', 'rowid', 'parent'],
  rtree_i32: ['node', 'rowid', 'parent'],
  geopoly: ['node', 'rowid', 'parent'],
}

function dropShadows(d: Draft): void {
  for (const [name, module] of d.virtual) {
    for (const part of shadows[module] ?? []) {
      const key = relationKey(d, '', `${name}_${part}`)
      const r = d.relations.get(key)
      if (!r) continue
      d.relations.delete(key)
      d.unmodelled.set(`shadow table ${r.name}`, { kind: 'shadow table', identity: `${r.name} (of ${name})` })
    }
  }
}

export const sqliteScript: Semantics = {
  dialect: 'sqlite',
  lexis: sqliteLexis,
  // Limits In SQLite, 2, as it is built unless somebody says otherwise.
  mostColumns: 2000,
  fixedSchema: true,
  defaultSchema: '',
  relationKey: (name) => name.toLowerCase(),
  columnKey: (name) => name.toLowerCase(),
  quote: (name) => `"${name.replaceAll('"', '""')}"`,
  reserved: reservedWords,
  type: (t) => {
    // One quoted name is the type without its quotes (sqlite3AddColumn, build.c).
    const text = t === null ? '' : t.quoted && t.written.length === t.name.length + 2 ? t.name : t.written
    return standardTypes.has(text.toUpperCase()) ? text.toUpperCase() : text
  },
  keyIsNotNull: () => false,
  referenceTakesIndexName: false,
  indexesReferences: false,
  inlineReferences: true,
  keepsChecks: true,
  mergesEqualKeys: false,
  uniqueIndexIsKey: false,
  // A constraint that is not named has no name here.
  keyName: () => '',
  indexName: () => '',
  statisticsName: null,
  referenceName: () => '',
  checkName: () => '',
  primaryKeyName: null,
  defaultMethod: 'btree',
  column: () => {},
  table,
  settings: () => {},
  nextValue: () => '',
  finish: (d) => {
    dropShadows(d)
    // The engine's own tables, that a dump may write (Database File Format, 2.6): no part of the schema.
    for (const key of [...d.relations.keys()]) if (d.relations.get(key)?.name.toLowerCase().startsWith('sqlite_')) d.relations.delete(key)
    resolveReferences(d)
  },
  ownedSequence: null,
  collation: (n) => ({ schema: '', name: n.name.toLowerCase() }),
  operatorClass: () => null,
  base: emptyCatalog('sqlite'),
  storage: () => null,
}
