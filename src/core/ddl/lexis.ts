// How a dialect's text is cut into tokens: the rules a scanner is driven by.

export interface Lexis {
  /** Characters that open a quoted name; each is its own closing one but `[`. */
  readonly nameQuotes: string
  /** Characters that open a string. */
  readonly stringQuotes: string
  /** A backslash escapes in every string, not only in E''. */
  readonly backslashEscapes: boolean
  /** E'', B'', X'', N'', U&'' and $tag$ … $tag$ (PostgreSQL manual 4.1.2). */
  readonly postgresStrings: boolean
  readonly nestedComments: boolean
  readonly hashComments: boolean
  /** `--` opens a comment only before white space (MySQL manual, Comments). */
  readonly dashNeedsSpace: boolean
  /** `/*!50003 … *\/` is code from that server version on; `/*M!` from that version of MariaDB on. Null where there is no such thing. */
  readonly conditional: { readonly version: number; readonly mariadb: boolean } | null
  /** The rules after SET SQL_MODE = '…' (MySQL manual, Server SQL Modes); null for a value that is no text stands for the mode from before. */
  readonly underMode?: (mode: string | null) => Lexis
  /** An unquoted name as the catalog keeps it. */
  readonly fold: (name: string) => string
}
