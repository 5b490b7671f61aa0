// One pool of connections to Pelvok's own database, which DATABASE_URL names.
import pg from 'pg'

let shared: pg.Pool | null = null

/** The process-wide pool; made at first use. Throws where DATABASE_URL is not set. */
export function store(): pg.Pool {
  if (shared) return shared
  const connectionString = process.env['DATABASE_URL']
  if (!connectionString) throw new Error('DATABASE_URL is not set: it names the database for Pelvok’s own data; "npm start" sets it')
  shared = new pg.Pool({ connectionString, max: 8, application_name: 'pelvok store' })
  // An idle connection that breaks is replaced at the next query, which reports what is wrong.
  shared.on('error', () => {})
  return shared
}

export async function closeStore(): Promise<void> {
  const pool = shared
  shared = null
  await pool?.end()
}

/** Run in one transaction; rolled back where `work` throws. */
export async function inTransaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await store().connect()
  let broken = false
  try {
    await client.query('begin')
    const result = await work(client)
    await client.query('commit')
    return result
  } catch (error) {
    // A connection that cannot even take its work back is none to be used again.
    await client.query('rollback').catch(() => {
      broken = true
    })
    throw error
  } finally {
    client.release(broken)
  }
}
