// One pool of connections to Pelvok's own database, which DATABASE_URL names.
import { isMainThread } from 'node:worker_threads'
import pg from 'pg'
import { Told } from '../core/text/told.ts'

/** What statements run on: the pool, or one connection in a transaction. Throws Told where the database is away. */
export interface StoreClient {
  query<R extends pg.QueryResultRow = pg.QueryResultRow>(text: string, values?: readonly unknown[]): Promise<pg.QueryResult<R>>
}

let shared: pg.Pool | null = null

/** The process-wide pool; made at first use. Throws where DATABASE_URL is not set. */
function pool(): pg.Pool {
  if (shared) return shared
  const connectionString = process.env['DATABASE_URL']
  if (!connectionString) throw new Error('DATABASE_URL is not set: it names the database for Pelvok’s own data; "npm start" sets it')
  // Threads of projects have few of their own: there are several of them.
  shared = new pg.Pool({ connectionString, max: isMainThread ? 8 : 3, connectionTimeoutMillis: 30_000, application_name: 'pelvok store' })
  // An idle connection that breaks is replaced at the next query, which reports what is wrong.
  shared.on('error', () => {})
  return shared
}

export async function closeStore(): Promise<void> {
  const closing = shared
  shared = null
  await closing?.end()
}

const away = (code: string): boolean =>
  // Connection exceptions, and the server going down or coming up (manual, Appendix A, classes 08 and 57); too many connections.
  /^(08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ENOENT|ETIMEDOUT|EHOSTUNREACH|ENOTFOUND|EAI_AGAIN)$/.test(code)
const gone = (code: string): boolean => code === '3D000'
/** A table or a schema that is not there (classes 42 and 3F). */
const empty = (code: string): boolean => code === '42P01' || code === '3F000'

const told = (message: string, detail: string, hint: string): Told => new Told({ message, detail, hint }, 503)

/** What is wrong with the store, in words; any other error as it is. */
export function aboutStore(error: unknown): unknown {
  const { code: given, message } = error as { readonly code?: unknown; readonly message?: unknown }
  const code = typeof given === 'string' ? given : ''
  if (gone(code))
    return told(
      'Pelvok’s own database is gone',
      'The server answers, and the database that keeps projects and reviews is not there any more.',
      'Restore it from a backup; or end Pelvok and start it again, which makes a new one, with nothing in it.',
    )
  if (empty(code))
    return told(
      'this database holds nothing of Pelvok’s',
      'DATABASE_URL names it, and the tables that keep projects and reviews are not in it.',
      'Check DATABASE_URL; or start Pelvok with it once, which makes them.',
    )
  if (away(code) || /^(Connection terminated|timeout exceeded when trying to connect)/.test(String(message)))
    return told(
      'Pelvok’s own database does not answer',
      'The server that keeps projects and reviews is starting, stopping or away.',
      'Wait a little: all goes on once it is back, and nothing that was shown as kept is lost.',
    )
  return error
}

const said =
  (client: pg.Pool | pg.PoolClient): StoreClient['query'] =>
  (text, values) =>
    client.query(text, values as unknown[]).catch((error: unknown) => {
      throw aboutStore(error)
    })

/** The store, each statement by itself. */
export const store = (): StoreClient => ({ query: said(pool()) })

/** Run in one transaction; rolled back where `work` throws. */
export async function inTransaction<T>(work: (client: StoreClient) => Promise<T>): Promise<T> {
  const client = await pool()
    .connect()
    .catch((error: unknown) => {
      throw aboutStore(error)
    })
  // Between two statements nobody asks the connection: that it broke is told by the next.
  const broke = () => {}
  client.on('error', broke)
  let broken = false
  try {
    const query = said(client)
    await query('begin')
    const result = await work({ query })
    await query('commit')
    return result
  } catch (error) {
    // A connection that cannot even take its work back is none to be used again.
    await client.query('rollback').catch(() => {
      broken = true
    })
    throw error
  } finally {
    client.off('error', broke)
    client.release(broken)
  }
}
