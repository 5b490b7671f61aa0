// An SQLite file that people drop or choose: opened in a worker, and only its structure goes on.
import type { FromSqlite } from '../../workers/messages.ts'
import type { ScriptBody } from './scriptFiles.ts'

/** It is held in memory whole; larger ones are for the command line. */
export const sqliteLimit = 256 * 1024 * 1024

/** Database File Format, 1.3. */
export async function isSqlite(file: File): Promise<boolean> {
  return new TextDecoder().decode(await file.slice(0, 16).arrayBuffer()) === 'SQLite format 3\0'
}

export async function sqliteBody(file: File): Promise<{ readonly ok: true; readonly body: ScriptBody } | { readonly ok: false; readonly message: string }> {
  const worker = new Worker(new URL('../../workers/sqlite.worker.ts', import.meta.url), { type: 'module' })
  try {
    const bytes = await file.arrayBuffer()
    const answer = await new Promise<FromSqlite>((done) => {
      worker.onmessage = ({ data }: MessageEvent<FromSqlite>) => done(data)
      worker.onerror = () => done({ type: 'failed', message: 'the worker did not start' })
      worker.postMessage(bytes, [bytes])
    })
    if (answer.type === 'failed') return { ok: false, message: answer.message }
    return { ok: true, body: { name: file.name, body: new Blob([JSON.stringify(answer.facts)]), facts: 'sqlite' } }
  } finally {
    worker.terminate()
  }
}
