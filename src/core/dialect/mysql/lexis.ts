// How MySQL and MariaDB cut text into tokens (MySQL manual, Language Structure).
import type { Lexis } from '../../ddl/lexis.ts'
import type { MySqlServer } from './server.ts'

/** `modes`: the server's SQL modes, which change what a double quote and a backslash are. */
export const mysqlLexis = (server: MySqlServer, modes = ''): Lexis => ({
  nameQuotes: /\bANSI(_QUOTES)?\b/i.test(modes) ? '`"' : '`',
  stringQuotes: /\bANSI(_QUOTES)?\b/i.test(modes) ? "'" : `'"`,
  backslashEscapes: !/\bNO_BACKSLASH_ESCAPES\b/i.test(modes),
  postgresStrings: false,
  nestedComments: false,
  hashComments: true,
  dashNeedsSpace: true,
  conditional: { version: server.version, mariadb: server.engine === 'mariadb' },
  fold: (name) => name,
  underMode: (mode) => mysqlLexis(server, mode ?? ''),
})
