// How PostgreSQL cuts text into tokens (manual 4.1).
import type { Lexis } from '../../ddl/lexis.ts'
import { clip } from './madeUpNames.ts'

/** ASCII only: the server folds letters beyond it by the locale of the database, which a script does not tell (manual 4.1.1). Names are cut at 63 bytes. */
const fold = (name: string): string => (plainName.test(name) ? name : foldedAndCut(name))
const plainName = /^[a-z_][a-z0-9_]{0,62}$/
const foldedAndCut = (name: string): string =>
  clip(
    name.replace(/[A-Z]+/g, (c) => c.toLowerCase()),
    63,
  )

export const postgresLexis: Lexis = {
  nameQuotes: '"',
  stringQuotes: "'",
  backslashEscapes: false,
  postgresStrings: true,
  nestedComments: true,
  hashComments: false,
  dashNeedsSpace: false,
  conditional: null,
  fold,
}
