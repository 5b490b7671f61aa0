// Reads row evidence from an SQLite file in the browser: its rows stay there, only counts are handed on.
import { type Catalog, canonicalText, hashText } from '../core/catalog/index.ts'
import { readSqliteFile } from '../core/dialect/sqlite/crossCheck.ts'
import { rowQuestions } from '../core/infer/index.ts'
import { type RunQuery, readRows } from '../core/rows/index.ts'
import type { FromSqliteRows, ToSqliteRows } from './messages.ts'
import { factsOf, openDatabase } from './sqliteDatabase.ts'

const post = (message: FromSqliteRows) => self.postMessage(message)

async function read({ name, bytes, snapshot, at }: ToSqliteRows): Promise<void> {
  const db = await openDatabase(bytes)
  try {
    const catalog: Catalog = readSqliteFile(name, factsOf(db)).catalog
    if (hashText(canonicalText(catalog)) !== snapshot) {
      post({ type: 'other file' })
      return
    }
    const run: RunQuery = async (sql) => {
      try {
        return { ok: true, rows: db.rows<Record<string, unknown>>(sql) }
      } catch (error) {
        return { ok: false, because: error instanceof Error ? error.message : String(error) }
      }
    }
    const rows = await readRows(rowQuestions(catalog), {
      dialect: 'sqlite',
      source: name,
      at,
      run: [run],
      onProgress: (done, all) => post({ type: 'progress', done, all }),
    })
    post({ type: 'rows', rows })
  } finally {
    db.close()
  }
}

self.onmessage = ({ data }: MessageEvent<ToSqliteRows>) => {
  read(data).catch((error: unknown) => post({ type: 'failed', message: error instanceof Error ? error.message : String(error) }))
}
