// Connections to a database under study: opening one, with every failure named, and cancelling what it runs.
import pg from 'pg'
import { type ConnectFailure, classifyFailure, SourceError } from './failure.ts'
import type { Location, TlsMode } from './location.ts'

const sslOf: Readonly<Record<TlsMode, false | { rejectUnauthorized: boolean }>> = {
  disable: false,
  prefer: { rejectUnauthorized: false },
  require: { rejectUnauthorized: false },
  'verify-full': { rejectUnauthorized: true },
}

async function open(l: Location, tls: TlsMode, database: string): Promise<pg.Client> {
  const client = new pg.Client({
    host: l.host,
    port: l.port,
    user: l.user,
    password: l.password ?? undefined,
    database,
    ssl: sslOf[tls],
    connectionTimeoutMillis: 10_000,
    application_name: 'pelvok',
    keepAlive: true,
  })
  // Without a listener a broken idle connection would end the process; the next query reports it.
  client.on('error', () => {})
  try {
    await client.connect()
    return client
  } catch (error) {
    client.end().catch(() => {})
    throw error
  }
}

/** Open a connection; "prefer" falls back to plain text where the server has no TLS, as libpq does (manual 34.1.2, sslmode). Throws SourceError. */
export async function connect(l: Location): Promise<pg.Client> {
  try {
    return await open(l, l.tls, l.database)
  } catch (first) {
    let failure: ConnectFailure = classifyFailure(first)
    if (failure.kind === 'TLS refused' && l.tls === 'prefer') {
      try {
        return await open(l, 'disable', l.database)
      } catch (second) {
        failure = classifyFailure(second)
      }
    }
    if (failure.kind === 'database unknown') failure = { ...failure, existing: await listDatabases(l) }
    throw new SourceError(failure, l)
  }
}

/** Databases this login may connect to, by asking the maintenance databases every installation has; empty where none lets us in. */
async function listDatabases(l: Location): Promise<readonly string[]> {
  for (const database of ['postgres', 'template1']) {
    for (const tls of l.tls === 'prefer' ? (['prefer', 'disable'] as const) : [l.tls]) {
      try {
        const client = await open(l, tls, database)
        try {
          const { rows } = await client.query<{ name: string }>(
            `select datname as name from pg_catalog.pg_database where datallowconn and not datistemplate and pg_catalog.has_database_privilege(datname, 'CONNECT') order by datname`,
          )
          return rows.map((r) => r.name)
        } finally {
          await client.end()
        }
      } catch {
        // The next maintenance database may let us in; the caller says when none did.
      }
    }
  }
  return []
}

/**
 * Ends a connection over which nothing has come for so long: the server's own timeouts say nothing where it, or the way to it, is
 * gone. Give the function it returns a call when the work is done.
 */
export function endWhenSilent(client: pg.Client, milliseconds: number): () => void {
  const { stream } = (client as unknown as { connection: { stream: { on: (e: 'data', f: () => void) => void; destroy: (e: Error) => void } } }).connection
  const end = () => stream.destroy(new Error('Connection terminated: the server has been silent for too long'))
  let timer = setTimeout(end, milliseconds)
  stream.on('data', () => {
    clearTimeout(timer)
    timer = setTimeout(end, milliseconds)
  })
  return () => clearTimeout(timer)
}

/** End what `client` is running, by asking the server on a second connection (manual 9.27.2, pg_cancel_backend). */
export async function cancelRunning(client: pg.Client, l: Location): Promise<void> {
  const pid = (client as unknown as { processID: number | null }).processID
  if (pid === null) return
  const second = await connect(l)
  try {
    await second.query('select pg_catalog.pg_cancel_backend($1)', [pid])
  } finally {
    await second.end()
  }
}

export type TestResult =
  | { readonly ok: true; readonly serverVersion: string; readonly database: string; readonly relations: number }
  | { readonly ok: false; readonly failure: ConnectFailure }

/** Try a location: log in, read the version and count what there is to survey. Never throws. */
export async function testConnection(l: Location): Promise<TestResult> {
  try {
    const client = await connect(l)
    try {
      const { rows } = await client.query<{ version: string; relations: number }>(
        `select pg_catalog.current_setting('server_version') as version,
           (select count(*)::int from pg_catalog.pg_class c join pg_catalog.pg_namespace n on n.oid = c.relnamespace
             where c.relkind in ('r','p','v','m','f') and n.nspname !~ '^pg_' and n.nspname <> 'information_schema') as relations`,
      )
      return { ok: true, serverVersion: rows[0]?.version ?? '', database: l.database, relations: rows[0]?.relations ?? 0 }
    } finally {
      await client.end()
    }
  } catch (error) {
    return { ok: false, failure: classifyFailure(error) }
  }
}
