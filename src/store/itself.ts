// Whether a database is the store itself: by what it is called, and by what its server says once it is reached under any name.
import pg from 'pg'
import { store } from './pool.ts'

const loopback: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '::1', '[::1]', '0.0.0.0', '::'])
const plainHost = (host: string) => (loopback.has(host.toLowerCase()) || /^127\./.test(host) ? 'localhost' : host.toLowerCase())

/** Does a location name the store's server and database? */
export function namesStore(l: { readonly host?: unknown; readonly port?: unknown; readonly database?: unknown }): boolean {
  const own = process.env['DATABASE_URL'] ?? ''
  if (!URL.canParse(own)) return false
  const url = new URL(own)
  return (
    plainHost(String(l.host)) === plainHost(decodeURIComponent(url.hostname)) &&
    String(l.port) === (url.port === '' ? '5432' : url.port) &&
    l.database === decodeURIComponent(url.pathname.slice(1))
  )
}

/** When a server was started, to the microsecond, and the database's own number: no two databases have both. */
const identity = `select pg_catalog.pg_postmaster_start_time()::text || ' ' || d.oid::text as is from pg_catalog.pg_database d where d.datname = pg_catalog.current_database()`

/** Is what is reached there the store? False where nothing is reached: whoever asks says why elsewhere. */
export async function isStoreItself(l: {
  readonly host: string
  readonly port: number
  readonly user: string
  readonly password: string | null
  readonly database: string
}): Promise<boolean> {
  if (namesStore(l)) return true
  // Whatever encryption it demands: nothing is sent that it does not know.
  for (const ssl of [false, { rejectUnauthorized: false }]) {
    const client = new pg.Client({
      host: l.host,
      port: l.port,
      user: l.user,
      password: l.password ?? undefined,
      database: l.database,
      ssl,
      connectionTimeoutMillis: 10_000,
      application_name: 'pelvok',
    })
    client.on('error', () => {})
    try {
      await client.connect()
      const [there, here] = [await client.query<{ is: string }>(identity), await store().query<{ is: string }>(identity)]
      return there.rows[0]?.is === here.rows[0]?.is
    } catch {
      // The other way, or whoever asks says why it cannot be reached.
    } finally {
      await client.end().catch(() => {})
    }
  }
  return false
}
