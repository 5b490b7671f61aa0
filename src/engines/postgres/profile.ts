// Rows of a PostgreSQL database, read for evidence: two connections that see one state, read-only, a timeout per statement.
import type pg from 'pg'
import { quoteIdent } from '../../core/dialect/postgres/quote.ts'
import { type ReadRowsOptions, type RowEvidence, type RowQuestions, type RunQuery, readRows } from '../../core/rows/index.ts'
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
  const clients = [await connect(l)]
  const [first] = clients as [pg.Client]
  const cancel = () => void Promise.all(clients.map((c) => cancelRunning(c, l))).catch(() => {})
  o.signal?.addEventListener('abort', cancel)
  try {
    await pinned(first)
    const second = await sameState(first, l)
    if (second) clients.push(second)
    const run = [runOn(first, o), ...(second ? [runOn(second, o)] : [])] as const
    const rows = await readRows(questions, { ...o, dialect: 'postgresql', source: `${l.host}:${l.port}/${l.database}`, run })
    const statements = await statementTexts(run[0])
    return statements === null ? rows : { ...rows, joins: [...questions.joinsIn(statements)], statements: statements.length }
  } catch (error) {
    if (error instanceof SourceError || o.signal?.aborted) throw error
    throw new SourceError(classifyFailure(error), l)
  } finally {
    o.signal?.removeEventListener('abort', cancel)
    await Promise.all(clients.map((c) => c.end()))
  }
}

async function pinned(client: pg.Client): Promise<void> {
  await client.query(pinSession)
  await client.query(`set local statement_timeout = ${statementTimeout}`)
}

/** A second connection on the snapshot of the first (manual 9.27.5); null where the server lets there be none. */
async function sameState(first: pg.Client, l: Location): Promise<pg.Client | null> {
  await first.query('savepoint sharing')
  try {
    const { rows } = await first.query<{ snapshot: string }>('select pg_export_snapshot() as snapshot')
    const second = await connect(l)
    try {
      await second.query(`begin transaction isolation level repeatable read, read only; set transaction snapshot '${rows[0]?.snapshot.replaceAll("'", '')}'`)
      await second.query(pinSession.replace(/^\s*begin[^;]*;/, ''))
      await second.query(`set local statement_timeout = ${statementTimeout}`)
      return second
    } catch (error) {
      await second.end()
      throw error
    }
  } catch {
    await first.query('rollback to savepoint sharing')
    return null
  }
}

function runOn(client: pg.Client, o: ProfileOptions): RunQuery {
  return async (sql) => {
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
  }
}

/** Statements that the server has counted for this database (manual F.32, pg_stat_statements), without their constants; null where it counts none. */
async function statementTexts(run: RunQuery): Promise<readonly string[] | null> {
  const where = await run(`select n.nspname as schema from pg_extension e join pg_namespace n on n.oid = e.extnamespace where e.extname = 'pg_stat_statements'`)
  const schema = where.ok ? where.rows[0]?.['schema'] : undefined
  if (typeof schema !== 'string') return null
  const answer = await run(
    `select query from ${quoteIdent(schema)}.pg_stat_statements s join pg_database d on d.oid = s.dbid where d.datname = current_database() and query ilike '%select%'`,
  )
  return answer.ok ? answer.rows.map((r) => String(r['query'])) : null
}

/** What the server said, without detail lines, which may hold values of rows. */
function reason(error: unknown): string {
  const { code, message } = error as { code?: string; message?: string }
  if (code === undefined) throw error
  return code === '57014' ? `took longer than ${statementTimeout / 1000} s` : (message ?? code)
}
