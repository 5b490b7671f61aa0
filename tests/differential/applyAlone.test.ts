// Steps outside of transactions: an index that somebody else made stays, and one that a long reader stopped is dropped or named.
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { admin, cli, makeDatabase, rowsOf } from '../support/server.ts'
import { eventually } from '../support/wait.ts'

const base = 'create table bay (id integer primary key, code text); create table crate (id integer primary key)'
const dir = mkdtempSync(join(tmpdir(), 'pelvok-alone-'))
beforeAll(async () => {
  const [a, b] = [await makeDatabase(base), await makeDatabase(`${base}; alter table crate add column kind text; create index bay_code on bay (code)`)]
  const made = cli(['plan', '--from', a.url, '--to', b.url, '--out', dir])
  expect(made.status, made.err).toBe(0)
  await Promise.all([a.drop(), b.drop()])
})
afterAll(() => rmSync(dir, { recursive: true, force: true }))

const indexes = (name: string) =>
  rowsOf<{ index: string; valid: boolean }>(
    name,
    `select c.relname as index, i.indisvalid as valid from pg_index i join pg_class c on c.oid = i.indexrelid where c.relname like 'bay_code%' order by 1`,
  )

/** A database, and a session of somebody else's in it. */
async function withOther(work: (db: Awaited<ReturnType<typeof makeDatabase>>, other: pg.Client) => Promise<void>): Promise<void> {
  const db = await makeDatabase(base, "insert into bay select i, 'c' || i from generate_series(1, 50) i")
  const other = new pg.Client({ connectionString: db.url })
  await other.connect()
  try {
    await work(db, other)
  } finally {
    await other.end()
    await db.drop()
  }
}

describe('an index of the name that a step wants', () => {
  it('made by somebody else meanwhile stays as it is', () =>
    withOther(async (db, other) => {
      await other.query('begin; lock table crate in share row exclusive mode')
      const child = spawn(process.execPath, ['dist/cli.js', 'apply', dir, '--to', db.url], { stdio: 'ignore' })
      const ended = new Promise<number | null>((resolve) => child.once('exit', resolve))
      await eventually(
        'waiting for the lock',
        async () =>
          (
            await rowsOf(
              db.name,
              `select pid from pg_stat_activity where application_name = 'pelvok apply' and datname = current_database() and wait_event_type = 'Lock'`,
            )
          ).length,
      )
      await admin(db.name, 'create index bay_code on bay (id, code)')
      await other.query('commit')
      expect(await ended).toBe(1)
      expect(await indexes(db.name)).toEqual([{ index: 'bay_code', valid: true }])
      await admin(db.name, 'drop index bay_code')
      const again = cli(['apply', dir, '--to', db.url])
      expect(again.status, again.err).toBe(0)
    }))
})

describe('a long reader', () => {
  const stopped = (url: string) => cli(['apply', dir, '--to', url, '--lock-timeout', '200', '--lock-tries', '2'])

  it('of another table stops the build, and no half of it is left', () =>
    withOther(async (db, other) => {
      await other.query('begin isolation level repeatable read; select * from pg_class limit 1')
      expect(stopped(db.url)).toMatchObject({ status: 1, err: expect.stringContaining('55P03') })
      expect(await indexes(db.name)).toEqual([])
      await other.query('commit')
      expect(cli(['apply', dir, '--to', db.url]).status).toBe(0)
    }))

  it('of the table itself leaves what cannot be dropped yet, by its name, and the next run goes on', () =>
    withOther(async (db, other) => {
      await other.query('begin isolation level repeatable read; select * from bay limit 1')
      const said = stopped(db.url)
      expect(said.status).toBe(1)
      const left = await indexes(db.name)
      if (left.length > 0) expect(said.err).toContain('public.bay_code is left half built')
      await other.query('commit')
      const again = cli(['apply', dir, '--to', db.url])
      expect(again.status, again.err).toBe(0)
      expect(await indexes(db.name)).toEqual([{ index: 'bay_code', valid: true }])
    }))
})
