// A connection tried step by step, so that what fails is told where it fails: host, port, TLS, login, database, privileges.
import { lookup } from 'node:dns/promises'
import { isIP, type Socket, connect as tcpConnect } from 'node:net'
import { connect as tlsConnect } from 'node:tls'
import type pg from 'pg'
import { connect } from './connect.ts'
import { type ConnectFailure, classifyFailure, describeFailure, type Wording } from './failure.ts'
import type { Location } from './location.ts'

export const walkSteps = ['host', 'port', 'TLS', 'login', 'database', 'privileges'] as const
export type WalkStepName = (typeof walkSteps)[number]

/** `attention`: it works, and something should be known. `not reached`: a step before failed. */
export interface WalkStep {
  readonly step: WalkStepName
  readonly state: 'passed' | 'attention' | 'failed' | 'not reached'
  /** What was found, in a sentence; with `wording` where it failed. */
  readonly says: string
  readonly wording: Wording | null
}

const timeoutMs = 10_000

class Stopped extends Error {
  constructor(
    readonly step: WalkStepName,
    readonly failure: ConnectFailure,
  ) {
    super(step)
  }
}

type Found = Pick<WalkStep, 'state' | 'says'>
const passed = (says: string): Found => ({ state: 'passed', says })
const attention = (says: string): Found => ({ state: 'attention', says })

async function host(l: Location): Promise<Found> {
  if (l.host.startsWith('/')) return passed(`${l.host} is a folder for local sockets`)
  if (isIP(l.host) > 0) return passed(`${l.host} is an address`)
  try {
    const found = await lookup(l.host, { all: true })
    return passed(`${l.host} is ${found.map((a) => a.address).join(', ')}`)
  } catch (error) {
    throw new Stopped('host', classifyFailure(error))
  }
}

function reach(l: Location): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = l.host.startsWith('/') ? tcpConnect(`${l.host}/.s.PGSQL.${l.port}`) : tcpConnect(l.port, l.host)
    const fail = (failure: ConnectFailure) => {
      socket.destroy()
      reject(new Stopped('port', failure))
    }
    socket.setTimeout(timeoutMs, () => fail({ kind: 'no answer' }))
    socket.once('error', (error) => fail(classifyFailure(error)))
    socket.once('connect', () => {
      socket.setTimeout(0)
      socket.removeAllListeners('error')
      resolve(socket)
    })
  })
}

/** SSLRequest: length 8, code 80877103 (manual 55.7). The server answers one byte, S or N. */
const sslRequest = Buffer.from([0, 0, 0, 8, 4, 210, 22, 47])

function askForTls(socket: Socket): Promise<string> {
  return new Promise((resolve, reject) => {
    const fail = (failure: ConnectFailure) => reject(new Stopped('TLS', failure))
    socket.setTimeout(timeoutMs, () => fail({ kind: 'no answer' }))
    socket.once('error', (error) => fail(classifyFailure(error)))
    socket.once('close', () => fail({ kind: 'not PostgreSQL', said: 'nothing, and closed the connection' }))
    socket.once('data', (data: Buffer) => resolve(data.toString('latin1')))
    socket.write(sslRequest)
  })
}

function handshake(socket: Socket, l: Location): Promise<Found> {
  return new Promise((resolve, reject) => {
    const strict = l.tls === 'verify-full'
    const secure = tlsConnect({ socket, rejectUnauthorized: strict, ...(isIP(l.host) > 0 ? {} : { servername: l.host }) }, () => {
      const protocol = secure.getProtocol() ?? 'TLS'
      resolve(
        secure.authorized
          ? passed(`${protocol}, and the certificate is trusted`)
          : attention(`${protocol}; the certificate is not verified (${String(secure.authorizationError ?? 'unknown')})`),
      )
      secure.destroy()
    })
    secure.once('error', (error) => reject(new Stopped('TLS', classifyFailure(error))))
  })
}

async function encryption(socket: Socket, l: Location): Promise<Found> {
  if (l.host.startsWith('/')) return passed('a local socket needs none')
  const said = await askForTls(socket)
  if (said !== 'S' && said !== 'N') throw new Stopped('TLS', { kind: 'not PostgreSQL', said: JSON.stringify(said.slice(0, 60)) })
  if (l.tls === 'disable') return passed(said === 'S' ? 'offered by the server, and not asked for' : 'neither offered nor asked for')
  if (said === 'S') return handshake(socket, l)
  if (l.tls === 'prefer') return attention('not offered by the server; the connection is in plain text')
  throw new Stopped('TLS', { kind: 'TLS refused' })
}

/** Which step a failed login belongs to: the server checks the database after the password. */
const stepOf: Partial<Record<ConnectFailure['kind'], WalkStepName>> = {
  'database unknown': 'database',
  'database closed': 'database',
  'TLS refused': 'TLS',
  'TLS untrusted': 'TLS',
  'TLS demanded': 'TLS',
}

async function login(l: Location): Promise<pg.Client> {
  try {
    return await connect(l)
  } catch (error) {
    const failure = classifyFailure(error)
    throw new Stopped(stepOf[failure.kind] ?? 'login', failure)
  }
}

const privilegesQuery = `
  select current_setting('server_version') as version, pg_is_in_recovery() as recovering, current_user::text as role,
    count(*) filter (where c.relkind is not null)::int as relations,
    count(*) filter (where c.relkind is not null and has_schema_privilege(n.oid, 'USAGE') and has_table_privilege(c.oid, 'SELECT'))::int as readable,
    array(select s.nspname from pg_namespace s where s.nspname !~ '^pg_' and s.nspname <> 'information_schema' and not has_schema_privilege(s.oid, 'USAGE') order by 1)::text[] as closed
  from pg_namespace n left join pg_class c on c.relnamespace = n.oid and c.relkind in ('r', 'p', 'v', 'm', 'f')
  where n.nspname !~ '^pg_' and n.nspname <> 'information_schema'`

interface Privileges {
  readonly version: string
  /** It follows another server and can only be read. */
  readonly recovering: boolean
  readonly role: string
  readonly relations: number
  readonly readable: number
  readonly closed: readonly string[]
}

const databaseSays = (l: Location, p: Privileges): Found =>
  p.recovering
    ? attention(
        `"${l.database}" on PostgreSQL ${p.version}, a standby in recovery: its schema and rows can be read; plans are applied on the primary that it follows`,
      )
    : passed(`"${l.database}" on PostgreSQL ${p.version}`)

function privileges(p: Privileges): Found {
  if (p.relations === 0) return attention('there is no table or view in this database; is it the right one?')
  const hidden = p.relations - p.readable
  const closed = p.closed.length === 0 ? '' : ` Schemas it may not use: ${p.closed.slice(0, 5).join(', ')}${p.closed.length > 5 ? ' …' : ''}.`
  if (hidden === 0) return passed(`${p.relations} relations, and ${p.role} may read the rows of all of them`)
  return attention(
    `${p.relations} relations; ${p.role} may not read the rows of ${hidden} of them. The structure is read all the same; for rows, GRANT USAGE ON SCHEMA and GRANT SELECT ON ALL TABLES IN SCHEMA to it.${closed}`,
  )
}

/** Try a location step by step; every step is in the answer. Nothing is written, and nothing is left open. */
export async function walkConnection(l: Location): Promise<readonly WalkStep[]> {
  const found = new Map<WalkStepName, Found>()
  let socket: Socket | null = null
  let client: pg.Client | null = null
  let stopped: Stopped | null = null
  try {
    found.set('host', await host(l))
    socket = await reach(l)
    found.set('port', passed(`something accepts connections at port ${l.port}`))
    found.set('TLS', await encryption(socket, l))
    client = await login(l)
    found.set('login', passed(`the server takes "${l.user}"`))
    const rows = (await client.query<Privileges>(privilegesQuery)).rows[0] as Privileges
    found.set('database', databaseSays(l, rows))
    found.set('privileges', privileges(rows))
  } catch (error) {
    stopped = error instanceof Stopped ? error : new Stopped(client ? 'privileges' : 'login', classifyFailure(error))
  } finally {
    socket?.destroy()
    await client?.end().catch(() => {})
  }
  // Where the server got as far as looking for the database, the login before it had passed.
  if (stopped?.step === 'database') found.set('login', passed(`the server takes "${l.user}"`))
  return walkSteps.map((step): WalkStep => {
    if (stopped?.step === step) {
      const wording = describeFailure(stopped.failure, l)
      return { step, state: 'failed', says: wording.message, wording }
    }
    const known = found.get(step)
    return known ? { step, ...known, wording: null } : { step, state: 'not reached', says: '', wording: null }
  })
}
