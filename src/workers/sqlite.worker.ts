// Opens an SQLite file in the browser, so that its rows stay there: only what it says of its structure is handed on.
import initSqlJs from 'sql.js/dist/sql-wasm-inline.js'
import { columnQuery, type FileFacts, referenceQuery, schemaQuery } from '../core/dialect/sqlite/crossCheck.ts'
import type { FromSqlite } from './messages.ts'

const post = (message: FromSqlite) => self.postMessage(message)

async function factsOf(bytes: ArrayBuffer): Promise<FileFacts> {
  const SQL = await initSqlJs()
  const db = new SQL.Database(new Uint8Array(bytes))
  try {
    const rows = <T>(sql: string): readonly T[] => {
      const [result] = db.exec(sql)
      return (result?.values ?? []).map((values) => Object.fromEntries((result?.columns ?? []).map((c, i) => [c, values[i]])) as T)
    }
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
  } finally {
    db.close()
  }
}

self.onmessage = ({ data }: MessageEvent<ArrayBuffer>) => {
  factsOf(data).then(
    (facts) => post({ type: 'facts', facts }),
    (error: unknown) => post({ type: 'failed', message: error instanceof Error ? error.message : String(error) }),
  )
}
