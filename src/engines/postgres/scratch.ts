// Scratch databases: made from template0, never anything a user has, dropped even after a crash.
import { randomBytes } from 'node:crypto'
import type pg from 'pg'
import { quoteIdent } from '../../core/dialect/postgres/index.ts'
import { connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'

/** Names tell when a scratch database was made: `pelvok_scratch_<seconds since 1970>_<random>`. */
const pattern = /^pelvok_scratch_(\d+)_[0-9a-f]{8}$/
/** A database younger than this may belong to a rehearsal that is just connecting. */
const youngSeconds = 60

export interface Scratch {
  readonly location: Location
  readonly drop: () => Promise<void>
}

/** Create one on the server of `server`, which names the role and a database to connect to. Throws SourceError. */
export async function createScratch(server: Location): Promise<Scratch> {
  const client = await connect(server)
  try {
    await dropOrphans(client)
    const name = `pelvok_scratch_${Math.floor(Date.now() / 1000)}_${randomBytes(4).toString('hex')}`
    await client.query(`create database ${quoteIdent(name)} template template0`)
    await client.query(`revoke connect on database ${quoteIdent(name)} from public`)
    return { location: { ...server, database: name }, drop: () => dropDatabase(server, name) }
  } catch (error) {
    throw new SourceError(classifyFailure(error), server)
  } finally {
    await client.end().catch(() => {})
  }
}

async function dropDatabase(server: Location, name: string): Promise<void> {
  const client = await connect(server)
  try {
    const drop = `drop database if exists ${quoteIdent(name)}`
    await client.query(`${drop} with (force)`).catch((error: { code?: string }) => {
      // A worker of autovacuum is nobody's that this role could end; without force the server ends it itself (procarray.c, CountOtherDBBackends).
      if (error.code === '42501') return client.query(drop)
      throw error
    })
  } finally {
    await client.end().catch(() => {})
  }
}

/** Drop what a crash left: scratch databases of this role that nobody is connected to and that are not brand-new. Gives their names. */
export async function dropOrphans(client: pg.Client): Promise<readonly string[]> {
  const { rows } = await client.query<{ name: string }>(
    `select d.datname as name from pg_catalog.pg_database d
     where d.datname like 'pelvok\\_scratch\\_%' and pg_catalog.pg_get_userbyid(d.datdba) = current_user
       and not exists (select 1 from pg_catalog.pg_stat_activity a where a.datid = d.oid)`,
  )
  const now = Date.now() / 1000
  const old = rows.map((r) => r.name).filter((name) => now - Number(pattern.exec(name)?.[1] ?? now) > youngSeconds)
  for (const name of old) await client.query(`drop database if exists ${quoteIdent(name)}`)
  return old
}
