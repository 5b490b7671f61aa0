// Rows of a PostgreSQL database, read for evidence: one connection, read-only, a timeout per statement.
import { type ReadRowsOptions, type RowEvidence, type RowQuestions, readRows } from '../../core/rows/index.ts'
import { cancelRunning, connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'
import { pinSession } from './queries.ts'

/** Milliseconds; what takes longer is listed as unread. */
const statementTimeout = 20_000

export interface ProfileOptions extends Pick<ReadRowsOptions, 'at' | 'onProgress'> {
  readonly signal?: AbortSignal
}

/** Throws SourceError where the server cannot be reached, and an AbortError when cancelled; a statement that fails is listed. */
export async function profile(l: Location, questions: RowQuestions, o: ProfileOptions): Promise<RowEvidence> {
  const client = await connect(l)
  const cancel = () => void cancelRunning(client, l).catch(() => {})
  o.signal?.addEventListener('abort', cancel)
  try {
    await client.query(pinSession)
    await client.query(`set local statement_timeout = ${statementTimeout}`)
    return await readRows(questions, {
      ...o,
      dialect: 'postgresql',
      source: `${l.host}:${l.port}/${l.database}`,
      run: async (sql) => {
        // One failure must not end the transaction that shows all statements one state of the rows.
        await client.query('savepoint reading')
        try {
          const { rows } = await client.query(sql)
          return { ok: true, rows: rows as Record<string, unknown>[] }
        } catch (error) {
          o.signal?.throwIfAborted()
          await client.query('rollback to savepoint reading')
          return { ok: false, because: reason(error) }
        }
      },
    })
  } catch (error) {
    if (error instanceof SourceError || o.signal?.aborted) throw error
    throw new SourceError(classifyFailure(error), l)
  } finally {
    o.signal?.removeEventListener('abort', cancel)
    await client.end()
  }
}

/** What the server said, without detail lines, which may hold values of rows. */
function reason(error: unknown): string {
  const { code, message } = error as { code?: string; message?: string }
  if (code === undefined) throw error
  return code === '57014' ? `took longer than ${statementTimeout / 1000} s` : (message ?? code)
}
