// Which dialect a script is written in, told by what only one of them has, with the reason.

import type { Semantics } from '../ddl/index.ts'
import { withSingleBlanks } from '../text/scan.ts'
import { mysqlScript } from './mysql/script.ts'
import { defaultServer, type MySqlServer, mySqlServer, serverOfDump, versionNumber } from './mysql/server.ts'
import { postgresScript } from './postgres/script.ts'
import { sqliteScript } from './sqlite/script.ts'

export type ScriptDialect = { readonly dialect: 'postgresql' | 'sqlite' } | { readonly dialect: 'mysql'; readonly server: MySqlServer }

export interface Guess {
  readonly choice: ScriptDialect
  /** What spoke for it, in words of the script. */
  readonly because: string
}

type Dialect = ScriptDialect['dialect']

/** What only one dialect has, or (below zero) has not; each counts once. */
const signs: readonly (readonly [Dialect, RegExp, number, string])[] = [
  ['postgresql', /^-- PostgreSQL database dump/m, 9, 'it is headed "PostgreSQL database dump"'],
  ['mysql', /^-- (MySQL|MariaDB) dump|^\/\*!\d{5} SET|^\/\*M?!\d+/m, 9, 'it has conditional comments /*! … */'],
  ['sqlite', /^PRAGMA\s+\w+/im, 7, 'it has PRAGMA'],
  ['mysql', /\bENGINE\s*=\s*\w+/i, 7, 'it has ENGINE='],
  ['mysql', /\bAUTO_INCREMENT\b/i, 6, 'it has AUTO_INCREMENT'],
  ['mysql', /^\s*DELIMITER\s+\S+\s*$/im, 6, 'it has DELIMITER'],
  ['sqlite', /\bAUTOINCREMENT\b/i, 6, 'it has AUTOINCREMENT'],
  ['sqlite', /\bWITHOUT\s+ROWID\b|\bCREATE\s+VIRTUAL\s+TABLE\b/i, 6, 'it has WITHOUT ROWID or virtual tables'],
  ['postgresql', /\bAS\s+\$\w*\$|\bLANGUAGE\s+'?plpgsql/i, 6, 'it has dollar-quoted bodies'],
  ['postgresql', /^\s*"?\w+"?\s+(big|small)?serial\b/im, 4, 'it has serial columns'],
  ['postgresql', /\s(datetime|tinyint|mediumint|mediumtext|longtext|unsigned|blob|varbinary)\b/i, -8, ''],
  ['postgresql', /::\s*\w+/, 4, 'it has casts with ::'],
  [
    'postgresql',
    /\bCREATE\s+(SEQUENCE|EXTENSION|DOMAIN|TYPE)\b|\bGENERATED\s+(ALWAYS|BY\s+DEFAULT)\s+AS\s+IDENTITY\b/i,
    4,
    'it makes sequences, types, domains or identity columns',
  ],
  ['postgresql', /\b(timestamptz|bytea|jsonb|character varying|timestamp with(out)? time zone)\b/i, 4, 'it has types such as bytea or timestamptz'],
  ['mysql', /`\w+`/, 3, 'it quotes names with backticks'],
  ['mysql', /\s(unsigned|tinyint|mediumint|mediumtext|longtext|datetime\(\d\)|longblob)\b/i, 2, 'it has types such as unsigned or mediumtext'],
  ['sqlite', /\bINTEGER\s+(NOT\s+NULL\s+)?PRIMARY\s+KEY\b/i, 3, 'it has INTEGER PRIMARY KEY'],
  ['sqlite', /\b(\w+)\s+INTEGER\s*,[^;]{0,2000}?\bPRIMARY\s+KEY\s*\(\s*\1\s*\)/i, 3, 'it counts INTEGER primary keys up without saying so'],
  ['postgresql', /\b(SET\s+search_path|nextval\s*\(|ALTER\s+TABLE\s+ONLY)\b/i, 3, 'it has search_path or nextval'],
  ['sqlite', /^BEGIN TRANSACTION;/m, 2, 'it begins a transaction as SQLite writes it'],
  ['mysql', /^\s*#/m, 1, 'it has # comments'],
]

/** The guess of the first piece of a script; PostgreSQL where nothing speaks for any. */
export function guessDialect(text: string): Guess {
  const score: Record<Dialect, number> = { postgresql: 0, mysql: 0, sqlite: 0 }
  const reasons: Record<Dialect, string[]> = { postgresql: [], mysql: [], sqlite: [] }
  // Signs are found in text with single blanks: no run of them is gone over again.
  const single = withSingleBlanks(text)
  for (const [dialect, sign, weight, reason] of signs) {
    if (!sign.test(single)) continue
    score[dialect] += weight
    if (weight > 0) reasons[dialect].push(reason)
  }
  const order: readonly Dialect[] = ['postgresql', 'mysql', 'sqlite']
  const dialect = order.toSorted((a, b) => score[b] - score[a])[0] as Dialect
  const because = reasons[dialect].length === 0 ? 'nothing speaks for another' : reasons[dialect].slice(0, 2).join(', and ')
  if (dialect !== 'mysql') return { choice: { dialect }, because }
  const server = serverOfDump(text)
  return { choice: { dialect, server: server ?? defaultServer }, because: server ? `${because}; the dump names its server` : because }
}

/** `postgresql`, `sqlite`, `mysql`, `mariadb`, `mysql:8.0`, `mariadb:10.6`; null for anything else. */
export function parseDialect(text: string): ScriptDialect | null {
  const [name, version] = text.toLowerCase().split(':') as [string, string | undefined]
  if ((name === 'postgresql' || name === 'sqlite') && version === undefined) return { dialect: name }
  if (name !== 'mysql' && name !== 'mariadb') return null
  const number = version === undefined ? null : versionNumber(version)
  if (version !== undefined && number === null) return null
  if (number === null && name === 'mysql') return { dialect: 'mysql', server: defaultServer }
  return { dialect: 'mysql', server: mySqlServer(name, number ?? defaultServer.version) }
}

export function semanticsOf(choice: ScriptDialect): Semantics {
  switch (choice.dialect) {
    case 'postgresql':
      return postgresScript
    case 'sqlite':
      return sqliteScript
    case 'mysql':
      return mysqlScript(choice.server)
    default:
      return unreachable(choice)
  }
}

function unreachable(choice: never): never {
  throw new Error(`a dialect of no known name: ${JSON.stringify(choice)}`)
}

/** `MariaDB 10.11`, `PostgreSQL`: for people. */
export function dialectLabel(choice: ScriptDialect): string {
  if (choice.dialect === 'postgresql') return 'PostgreSQL'
  if (choice.dialect === 'sqlite') return 'SQLite'
  if (choice.dialect !== 'mysql') return unreachable(choice as never)
  const { engine, version } = choice.server
  return `${engine === 'mariadb' ? 'MariaDB' : 'MySQL'} ${Math.floor(version / 10_000)}.${Math.floor((version % 10_000) / 100)}`
}
