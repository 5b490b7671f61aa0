// How SQLite cuts text into tokens (SQLite, "SQL Language Expressions", "Keywords").
import type { Lexis } from '../../ddl/lexis.ts'

export const sqliteLexis: Lexis = {
  nameQuotes: '"`[',
  stringQuotes: "'",
  backslashEscapes: false,
  postgresStrings: false,
  nestedComments: false,
  // No token begins with #; scripts of applications that strip comments themselves have them.
  hashComments: true,
  dashNeedsSpace: false,
  conditional: null,
  fold: (name) => name,
}
