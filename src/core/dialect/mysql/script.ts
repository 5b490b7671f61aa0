// What MySQL and MariaDB make of a script.
import { emptyCatalog } from '../../catalog/index.ts'
import { type Draft, type DraftColumn, type DraftRelation, keysOf, type Semantics, written } from '../../ddl/draft.ts'
import { resolveReferences } from '../../ddl/resolve.ts'
import type { ColumnDefinition, KeyPart } from '../../ddl/statement.ts'
import { mysqlLexis } from './lexis.ts'
import { reservedWords } from './reserved.ts'
import { defaultServer, type MySqlServer } from './server.ts'
import { columnType } from './typeNames.ts'

/** The first column's name, numbered from 2 where the table has an index of that name (MySQL manual, CREATE TABLE, index_name). */
function indexName(r: DraftRelation, first: string): string {
  const taken = new Set([...r.indexes, ...r.uniques].map((x) => x.name.toLowerCase()))
  for (let n = 1; ; n += 1) {
    const name = n === 1 ? first : `${first}_${n}`
    if (!taken.has(name.toLowerCase()) && name.toLowerCase() !== 'primary') return name
  }
}

/** table_ibfk_n, one above the highest there is (MySQL manual, FOREIGN KEY Constraints). */
function referenceName(r: DraftRelation): string {
  const numbers = r.foreignKeys.flatMap((f) => (f.name.startsWith(`${r.name}_ibfk_`) ? Number(f.name.slice(r.name.length + 6)) : []))
  return `${r.name}_ibfk_${Math.max(0, ...numbers) + 1}`
}

function checkName(r: DraftRelation, at: string, server: MySqlServer): string {
  if (server.engine === 'mysql') return `${r.name}_chk_${r.checks.length + 1}`
  if (at !== '') return at
  return `CONSTRAINT_${r.checks.filter((c) => c.name.startsWith('CONSTRAINT_')).length + 1}`
}

function column(r: DraftRelation, c: DraftColumn, def: ColumnDefinition, server: MySqlServer): void {
  const type = def.type?.name.toLowerCase()
  if (def.counts || type === 'serial') {
    c.identity = { generation: 'by default', sequence: null, options: null, comment: null }
    c.nullable = false
  }
  if (type === 'serial') {
    const name = indexName(r, c.name)
    r.uniques.push({
      name,
      columns: [c.name],
      include: [],
      deferrable: 'no',
      nullsNotDistinct: false,
      options: [],
      attachedTo: null,
      clustered: false,
      comment: null,
      indexComment: null,
    })
  }
  // TIMESTAMP without more is NOT NULL on servers where explicit_defaults_for_timestamp is off: MySQL before 8.0.2, MariaDB before 10.10.
  const implicit = server.engine === 'mysql' ? server.version < 80_002 : server.version < 101_000
  if (implicit && type === 'timestamp' && def.notNull === null) {
    c.nullable = false
    const first = r.columns.find((x) => x.type.startsWith('timestamp')) === c
    if (first && c.default === null && c.onUpdate === null) {
      c.default = written('current_timestamp()')
      c.onUpdate = written('current_timestamp()')
    } else c.default ??= written("'0000-00-00 00:00:00'")
  }
  // MariaDB keeps JSON as text with a check of its own.
  if (type === 'json' && server.engine === 'mariadb') {
    r.checks.push({ name: c.name, expression: written(`json_valid(\`${c.name}\`)`), validated: true, inheritable: true, inherited: false, comment: null })
  }
}

/** What says something about the table; AUTO_INCREMENT=n only says where it stands. */
const keptSettings = new Set(['engine', 'charset', 'collate', 'row_format'])

function settings(r: DraftRelation, given: ReadonlyMap<string, string>): void {
  const kept = new Map(r.options.map((o) => [o.slice(0, o.indexOf('=')), o.slice(o.indexOf('=') + 1)]))
  for (const [name, value] of given) if (keptSettings.has(name)) kept.set(name, value.toLowerCase())
  r.options = [...kept].map(([name, value]) => `${name}=${value}`).sort()
  const comment = given.get('comment')
  if (comment !== undefined) r.comment = comment === '' ? null : comment
}

/** Engines that read FOREIGN KEY and keep nothing of it. */
const withoutKeys = /^engine=(myisam|aria|memory|heap|csv|archive|blackhole|mrg_myisam)$/

function table(d: Draft, r: DraftRelation): void {
  if (!r.options.some((o) => withoutKeys.test(o)) || r.foreignKeys.length === 0) return
  d.complain({ code: 'ignored-by-server', what: 'FOREIGN KEY of', name: r.name })
  r.foreignKeys = []
}

/** An index that a reference brought along goes where another has its columns first. */
function dropImplied(d: Draft): void {
  for (const r of d.relations.values()) {
    const lists = (own: DraftRelation['indexes'][number]) => [
      ...keysOf(r).map((k) => k.columns as readonly (string | null)[]),
      ...r.indexes.filter((x) => x !== own && !d.impliedIndexes.has(x)).map((x) => x.columns.map((c) => c.column)),
    ]
    r.indexes = r.indexes.filter((x) => !(d.impliedIndexes.has(x) && lists(x).some((l) => x.columns.every((c, i) => l[i] === c.column))))
  }
}

export function mysqlScript(server: MySqlServer = defaultServer): Semantics {
  return {
    dialect: 'mysql',
    lexis: mysqlLexis(server),
    // MySQL manual 10.4.7; InnoDB has 1,017.
    mostColumns: 4096,
    fixedSchema: true,
    defaultSchema: '',
    relationKey: (name) => name.toLowerCase(),
    columnKey: (name) => name.toLowerCase(),
    quote: (name) => `\`${name.replaceAll('`', '``')}\``,
    reserved: reservedWords,
    type: (t) => (t === null ? '' : columnType(t, server)),
    keyIsNotNull: () => true,
    referenceTakesIndexName: server.engine === 'mariadb',
    indexesReferences: true,
    inlineReferences: server.engine === 'mariadb' ? server.version >= 100_500 : server.version >= 90_000,
    keepsChecks: server.engine === 'mariadb' ? server.version >= 100_201 : server.version >= 80_016,
    mergesEqualKeys: false,
    uniqueIndexIsKey: true,
    keyName: (_d, r, kind, columns) => (kind === 'primary key' ? 'PRIMARY' : indexName(r, columns[0] as string)),
    statisticsName: null,
    indexName: (_d, r, parts: readonly KeyPart[]) => indexName(r, parts[0]?.column ?? 'functional_index'),
    referenceName: (_d, r) => referenceName(r),
    checkName: (_d, r, _column, at) => checkName(r, at, server),
    primaryKeyName: 'PRIMARY',
    defaultMethod: 'btree',
    column: (_d, r, c, def) => column(r, c, def, server),
    table: (d, r, s) => {
      settings(r, s.settings)
      table(d, r)
    },
    settings: (_d, r, given) => settings(r, given),
    nextValue: (q) => `nextval(${q.name})`,
    finish: (d) => {
      dropImplied(d)
      resolveReferences(d)
    },
    ownedSequence: null,
    collation: (n) => ({ schema: '', name: n.name.toLowerCase() }),
    operatorClass: () => null,
    base: emptyCatalog('mysql'),
    storage: () => null,
  }
}
