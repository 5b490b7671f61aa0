// Why a server could not be reached or a statement failed, as data, and the one place that words it.
import { nearestNames } from '../../core/names/index.ts'
import { describeLocation, type Location } from './location.ts'

/** What the database said of one statement; its position counts characters from 1 in that statement. */
export interface DatabaseFailure {
  readonly kind: 'database'
  readonly sqlState: string
  readonly message: string
  readonly detail: string | null
  readonly hint: string | null
  readonly object: string | null
  readonly position: number | null
}

export type ConnectFailure =
  | { readonly kind: 'host unknown' }
  | { readonly kind: 'port refused' }
  | { readonly kind: 'no answer' }
  | { readonly kind: 'not PostgreSQL'; readonly said: string }
  | { readonly kind: 'TLS refused' }
  | { readonly kind: 'TLS untrusted'; readonly reason: string }
  | { readonly kind: 'TLS demanded' }
  | { readonly kind: 'password missing' }
  | { readonly kind: 'password wrong' }
  | { readonly kind: 'login refused'; readonly said: string }
  | { readonly kind: 'database unknown'; readonly existing: readonly string[] }
  | { readonly kind: 'database closed'; readonly said: string }
  | { readonly kind: 'server busy'; readonly said: string }
  | { readonly kind: 'server starting'; readonly said: string }
  | { readonly kind: 'only reads' }
  | { readonly kind: 'connection lost' }
  | { readonly kind: 'version too old'; readonly version: string }
  | DatabaseFailure

/** Message, detail and hint: PostgreSQL manual, 56.3.1, "The primary message should be short, factual". */
export interface Wording {
  readonly message: string
  readonly detail: string
  readonly hint: string
}

/** Thrown inside this engine and turned into data at its edge. */
export class SourceError extends Error {
  constructor(
    readonly failure: ConnectFailure,
    readonly location: Location,
  ) {
    super(describeFailure(failure, location).message)
    this.name = 'SourceError'
  }
}

const field = (error: unknown, key: string): string | null => {
  const value = (error as Record<string, unknown> | null)?.[key]
  return typeof value === 'string' && value !== '' ? value : null
}

const networkFailures: Readonly<Record<string, ConnectFailure>> = {
  ENOTFOUND: { kind: 'host unknown' },
  EAI_AGAIN: { kind: 'host unknown' },
  ECONNREFUSED: { kind: 'port refused' },
  ENOENT: { kind: 'port refused' },
  EHOSTUNREACH: { kind: 'no answer' },
  ENETUNREACH: { kind: 'no answer' },
  ETIMEDOUT: { kind: 'no answer' },
  ECONNRESET: { kind: 'connection lost' },
  EPIPE: { kind: 'connection lost' },
}

function bySqlState(code: string, message: string): ConnectFailure | null {
  if (code === '28P01') return { kind: 'password wrong' }
  if (code === '28000')
    return /no pg_hba\.conf entry.*(no encryption|SSL off)/.test(message) ? { kind: 'TLS demanded' } : { kind: 'login refused', said: message }
  if (code === '3D000') return { kind: 'database unknown', existing: [] }
  if (code === '42501' && /permission denied for database/.test(message)) return { kind: 'database closed', said: message }
  if (code === '55000' && /not currently accepting connections/.test(message)) return { kind: 'database closed', said: message }
  if (code === '53300') return { kind: 'server busy', said: message }
  if (code === '57P03') return { kind: 'server starting', said: message }
  if (code === '57P01' || code === '57P02') return { kind: 'connection lost' }
  return null
}

/** Sort an error of the driver into a failure. SQLSTATE classes: PostgreSQL manual, appendix A. */
export function classifyFailure(error: unknown): ConnectFailure {
  if (error instanceof SourceError) return error.failure
  const code = field(error, 'code') ?? ''
  const message = error instanceof Error ? error.message : String(error)
  const nested = (error as { errors?: unknown[] } | null)?.errors?.[0]
  if (nested && code !== '' && networkFailures[code]) return networkFailures[code]
  const network = networkFailures[code]
  if (network) return network
  if (/does not support SSL/.test(message)) return { kind: 'TLS refused' }
  if (/self.signed|certificate|altnames|unable to verify/i.test(message) || /^(CERT_|ERR_TLS|DEPTH_ZERO|SELF_SIGNED|UNABLE_TO)/.test(code))
    return { kind: 'TLS untrusted', reason: message }
  if (/invalid response|unexpected message|packet length too long|wrong version number|SSL routines/i.test(message))
    return { kind: 'not PostgreSQL', said: message }
  if (/timeout expired|connection timed? ?out/i.test(message) && !/^[0-9A-Z]{5}$/.test(code)) return { kind: 'no answer' }
  if (/Connection terminated|Client has encountered a connection error/i.test(message)) return { kind: 'connection lost' }
  if (/client password must be a string|password must be/i.test(message)) return { kind: 'password missing' }
  const known = bySqlState(code, message)
  if (known) return known
  const position = field(error, 'position')
  const object = [field(error, 'schema'), field(error, 'table'), field(error, 'column') ?? field(error, 'constraint')].filter((p) => p !== null).join('.')
  return {
    kind: 'database',
    sqlState: code,
    message,
    detail: field(error, 'detail'),
    hint: field(error, 'hint'),
    object: object === '' ? null : object,
    position: position === null ? null : Number(position),
  }
}

/** What happened, to what, and the next thing to do. Holds no password. */
export function describeFailure(f: ConnectFailure, l: Location): Wording {
  const at = `${l.host}:${l.port}`
  switch (f.kind) {
    case 'host unknown':
      return {
        message: `the host name "${l.host}" is not known`,
        detail: 'The name could not be resolved to an address from this machine.',
        hint: 'Check the spelling, or whether the name needs a VPN or an entry in the hosts file; an address such as 127.0.0.1 works as well.',
      }
    case 'port refused':
      return {
        message: `nothing accepts connections at ${at}`,
        detail: `The machine "${l.host}" answered, and refused port ${l.port}.`,
        hint: 'Check the port, that the server is running, and that it listens on this address (listen_addresses).',
      }
    case 'no answer':
      return {
        message: `no answer from ${at}`,
        detail: 'The connection attempt ran out of time.',
        hint: 'Check the address, and whether a firewall or VPN stands between this machine and the server.',
      }
    case 'not PostgreSQL':
      return {
        message: `what answers at ${at} does not speak the PostgreSQL protocol`,
        detail: `It said: ${f.said}`,
        hint: 'Check the port: another service listens there.',
      }
    case 'TLS refused':
      return {
        message: `the server at ${at} does not offer TLS`,
        detail: `The connection asks for TLS (${l.tls}), and the server has it switched off.`,
        hint: 'Choose TLS "prefer" or "disable" if the network is trusted, or switch ssl on in the server.',
      }
    case 'TLS untrusted':
      return {
        message: `the certificate of ${at} could not be verified`,
        detail: `${f.reason}.`,
        hint: 'Choose TLS "require" to encrypt without verifying, or make the issuing authority known with NODE_EXTRA_CA_CERTS.',
      }
    case 'TLS demanded':
      return {
        message: `the server at ${at} accepts this login only over TLS`,
        detail: 'Its access rules (pg_hba.conf) have no entry for an unencrypted connection.',
        hint: 'Choose TLS "require" or "verify-full".',
      }
    case 'password missing':
      return {
        message: `the server asks for a password for "${l.user}" and none was given`,
        detail: 'The connection has no password.',
        hint: 'Enter the password, or put it into the URL after the user name and a colon.',
      }
    case 'password wrong':
      return {
        message: `the password for "${l.user}" is wrong`,
        detail: `The server at ${at} was reached and refused it; it says the same when the user does not exist.`,
        hint: 'Check the user and the password; in a URL write special characters as % and two hexadecimal digits.',
      }
    case 'login refused':
      return {
        message: `the server at ${at} does not let "${l.user}" in`,
        detail: `It said: ${f.said}.`,
        hint: 'Check the user name, and the server’s access rules (pg_hba.conf) for this user, database and address.',
      }
    case 'database unknown':
      return {
        message: `there is no database "${l.database}" on ${at}`,
        detail:
          f.existing.length === 0
            ? 'The login worked; the databases that exist could not be listed.'
            : `The login worked. Databases that exist: ${f.existing.join(', ')}.`,
        hint: f.existing.length === 0 ? 'Check the spelling; letter case matters.' : `Use one of them${nearest(l.database, f.existing)}.`,
      }
    case 'database closed':
      return {
        message: `the database "${l.database}" does not accept "${l.user}"`,
        detail: `It said: ${f.said}.`,
        hint: `Ask its owner for GRANT CONNECT ON DATABASE, or use another user.`,
      }
    case 'server busy':
      return {
        message: `the server at ${at} takes no new connection now`,
        detail: `It said: ${f.said}.`,
        hint: 'Try again in a moment; if it stays so, raise max_connections or end idle sessions.',
      }
    case 'server starting':
      return {
        message: `the server at ${at} takes no connection yet`,
        detail: `It said: ${f.said}.`,
        hint: 'It is starting, stopping or recovering: try again in a moment. A standby takes connections only where hot_standby is on.',
      }
    case 'only reads':
      return {
        message: `the server at ${at} can only be read`,
        detail:
          'It is a standby that follows another server, or its transactions are read-only by default (default_transaction_read_only). Nothing was changed.',
        hint: 'Name the primary: what is changed there reaches its standbys by itself. To read a schema, a standby will do.',
      }
    case 'connection lost':
      return {
        message: `the connection to ${describeLocation(l)} broke`,
        detail: 'The server or something on the way closed it.',
        hint: 'Try again; if it happens again, look into the server’s log.',
      }
    case 'version too old':
      return {
        message: `the server at ${at} is PostgreSQL ${f.version}, and Pelvok reads 13 and newer`,
        detail: 'Older versions keep parts of the schema in other places of their catalogs; what was read would not be whole.',
        hint: 'Restore a dump of it (pg_dump --schema-only) on a newer server and read that, or give the dump itself as a script.',
      }
    case 'database':
      return {
        message: f.message,
        detail: [f.detail, f.object && `Object: ${f.object}.`, `SQLSTATE ${f.sqlState || 'none'}.`].filter(Boolean).join(' '),
        hint: f.hint ?? hintFor(f.sqlState),
      }
    default:
      return unreachable(f)
  }
}

function unreachable(f: never): never {
  throw new Error(`a failure of no known kind: ${JSON.stringify(f)}`)
}

function hintFor(sqlState: string): string {
  if (sqlState === '57014') return 'The statement was cancelled or ran out of time; try again when the server is less busy.'
  if (sqlState === '55P03') return 'Another session holds a lock on this object; try again when it has finished.'
  if (sqlState.startsWith('42501')) return 'This needs a role with more rights.'
  return 'Look up the SQLSTATE in the server manual, appendix A.'
}

/** `; did you mean "x" or "y"?` for close names, else nothing. */
function nearest(wanted: string, existing: readonly string[]): string {
  const close = nearestNames(wanted, existing)
  return close.length > 0 ? `; did you mean ${close.map((n) => `"${n}"`).join(' or ')}?` : ''
}
