// An SQLite file opened in the browser, by its bytes: what it says of its structure, and queries.
import initSqlJs from 'sql.js/dist/sql-wasm-inline.js'
import { columnQuery, type FileFacts, referenceQuery, schemaQuery } from '../core/dialect/sqlite/crossCheck.ts'

export interface FileDatabase {
  /** Rows by the names of their columns. Throws what SQLite says. */
  readonly rows: <T>(sql: string) => readonly T[]
  /** Rows of a query with its parameters, integers as BigInt. Throws what SQLite says. */
  readonly asked: (sql: string, values: readonly (string | null)[]) => readonly (readonly SqliteValue[])[]
  readonly close: () => void
}

export type SqliteValue = bigint | number | string | Uint8Array | null

export async function openDatabase(bytes: ArrayBuffer): Promise<FileDatabase> {
  const SQL = await initSqlJs()
  const db = new SQL.Database(new Uint8Array(bytes))
  return {
    rows: <T>(sql: string) => {
      const [result] = db.exec(sql)
      return (result?.values ?? []).map((values) => Object.fromEntries((result?.columns ?? []).map((c, i) => [c, values[i]])) as T)
    },
    asked: (sql, values) => {
      const statement = db.prepare(sql, [...values])
      try {
        const rows: SqliteValue[][] = []
        // The types of sql.js do not know of its option.
        const next = statement.get.bind(statement) as unknown as (params: null, config: { useBigInt: boolean }) => SqliteValue[]
        while (statement.step()) rows.push(next(null, { useBigInt: true }))
        return rows
      } finally {
        statement.free()
      }
    },
    close: () => db.close(),
  }
}

export function factsOf({ rows }: FileDatabase): FileFacts {
  // A virtual table of a module that this build has not (fts5, rtree) fails its pragma: then each table is asked alone.
  const perTable = <T>(sql: string): readonly T[] => {
    try {
      return rows<T>(sql)
    } catch {
      return rows<{ name: string }>(`select name from sqlite_master where type = 'table'`).flatMap(({ name }) => {
        try {
          return rows<T>(sql.replace(`m.type = 'table'`, `m.type = 'table' and m.name = '${name.replaceAll("'", "''")}'`))
        } catch {
          return []
        }
      })
    }
  }
  return { rows: rows(schemaQuery), columns: perTable(columnQuery), references: perTable(referenceQuery) }
}
