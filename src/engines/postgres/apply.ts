// Applying numbered migrations to a database, with a journal in it and a lock that is polled.
import { createHash } from 'node:crypto'
import type pg from 'pg'
import { quoteAddress, quoteIdent } from '../../core/dialect/postgres/index.ts'

export interface Migration {
  readonly number: number
  readonly name: string
  readonly sql: string
}

export interface Journal {
  /** Made if absent; the journal and everything the migrations make live in it. */
  readonly schema: string
  readonly table: string
}

/** Any number nobody else is likely to use on this database: the letters "pelv". */
const lockKey = 0x70656c76
const lockPatienceMs = 60_000

const checksum = (sql: string) => createHash('sha256').update(sql).digest('hex')

/**
 * Take the advisory lock by polling, with no transaction open: a blocking wait would deadlock with CREATE INDEX
 * CONCURRENTLY, which waits for every transaction that is older than it (manual, CREATE INDEX, "Building Indexes Concurrently").
 */
async function lock(client: pg.Client): Promise<void> {
  const until = Date.now() + lockPatienceMs
  for (;;) {
    const { rows } = await client.query<{ got: boolean }>('select pg_catalog.pg_try_advisory_lock($1) as got', [lockKey])
    if (rows[0]?.got) return
    if (Date.now() > until) throw new Error('another process has been migrating this database for a minute; try again when it has finished')
    await new Promise((resolve) => setTimeout(resolve, 200))
  }
}

/**
 * Bring a database up to the last migration. Each runs in a transaction of its own together with its line in the journal.
 * Refuses a migration that was changed after it ran, and a database that is ahead of this list. Gives the numbers that ran now.
 */
export async function applyMigrations(client: pg.Client, migrations: readonly Migration[], journal: Journal): Promise<readonly number[]> {
  const table = quoteAddress({ schema: journal.schema, name: journal.table })
  await lock(client)
  try {
    await client.query(`create schema if not exists ${quoteIdent(journal.schema)}`)
    await client.query(
      `create table if not exists ${table} (number integer primary key, name text not null, checksum text not null, at timestamptz not null default now())`,
    )
    const { rows } = await client.query<{ number: number; name: string; checksum: string }>(`select number, name, checksum from ${table} order by number`)
    const known = new Map(migrations.map((m) => [m.number, m]))
    for (const done of rows) {
      const m = known.get(done.number)
      if (!m)
        throw new Error(
          `the database has migration ${done.number} (${done.name}), which this version does not know; use the version that made it, or a newer one`,
        )
      if (checksum(m.sql) !== done.checksum)
        throw new Error(`migration ${m.number} (${m.name}) was changed after it ran; restore the file as it was and put the change into a new one`)
    }
    const ran = new Set(rows.map((r) => r.number))
    const due = migrations.filter((m) => !ran.has(m.number)).sort((a, b) => a.number - b.number)
    for (const m of due) {
      await client.query('begin')
      try {
        await client.query(m.sql)
        await client.query(`insert into ${table} (number, name, checksum) values ($1, $2, $3)`, [m.number, m.name, checksum(m.sql)])
        await client.query('commit')
      } catch (error) {
        await client.query('rollback').catch(() => {})
        throw error
      }
    }
    return due.map((m) => m.number)
  } finally {
    await client.query('select pg_catalog.pg_advisory_unlock($1)', [lockKey]).catch(() => {})
  }
}
