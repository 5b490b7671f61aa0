// Opens an SQLite file in the browser, so that its rows stay there: only what it says of its structure is handed on.
import type { FromSqlite } from './messages.ts'
import { factsOf, openDatabase } from './sqliteDatabase.ts'

const post = (message: FromSqlite) => self.postMessage(message)

async function read(bytes: ArrayBuffer): Promise<void> {
  const db = await openDatabase(bytes)
  try {
    post({ type: 'facts', facts: factsOf(db) })
  } finally {
    db.close()
  }
}

self.onmessage = ({ data }: MessageEvent<ArrayBuffer>) => {
  read(data).catch((error: unknown) => post({ type: 'failed', message: error instanceof Error ? error.message : String(error) }))
}
