// Taking a plan back: rows that would go are counted and told first, and drift is looked for before and after.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { admin, cli, makeDatabase, rowsOf } from '../support/server.ts'

const base = `create table bay (id integer primary key, code text not null); insert into bay values (1, 'a'), (2, 'b')`
const dirs: string[] = []
afterAll(() => {
  for (const d of dirs) rmSync(d, { recursive: true, force: true })
})

/** A folder with the plan from one schema to another, and a database it was applied to. */
async function applied(from: string, to: string) {
  const dir = mkdtempSync(join(tmpdir(), 'pelvok-back-'))
  dirs.push(dir)
  const [db, b] = [await makeDatabase(from), await makeDatabase(to)]
  try {
    const made = cli(['plan', '--from', db.url, '--to', b.url, '--out', dir])
    expect(made.status, made.err).toBe(0)
    const went = cli(['apply', dir, '--to', db.url])
    expect(went.status, went.err).toBe(0)
  } finally {
    await b.drop()
  }
  return { db, back: (...more: readonly string[]) => cli(['apply', dir, '--to', db.url, '--down-to', '0', ...more]) }
}

const more = `${base};
  create table crate (id integer primary key, bay_id integer references bay (id));
  alter table bay add column mark text default 'm', add column width integer, add column twice integer generated always as (width * 2) stored`

describe('taking a plan back', () => {
  it('goes where nothing would be lost: values that a column has by its default come again', async () => {
    const { db, back } = await applied(base, more)
    try {
      const went = back()
      expect(went.status, went.err).toBe(0)
      expect(await rowsOf(db.name, 'select * from bay order by id')).toEqual([
        { id: 1, code: 'a' },
        { id: 2, code: 'b' },
      ])
    } finally {
      await db.drop()
    }
  })

  it('is refused with the number of rows, table by table and column by column, until that is agreed to', async () => {
    const { db, back } = await applied(base, more)
    try {
      await admin(
        db.name,
        `insert into crate values (1, 1), (2, null), (3, 2); update bay set width = id where id = 1; update bay set mark = 'own' where id = 2`,
      )
      const held = back()
      expect(held.status).toBe(1)
      for (const said of ['table public.crate: 3 rows', 'column public.bay.width: 1 row', 'column public.bay.mark: 1 row', '--accept-loss'])
        expect(held.err).toContain(said)
      expect(held.err).not.toContain('twice')
      expect(await rowsOf(db.name, 'select count(*)::int as n from crate')).toEqual([{ n: 3 }])
      const went = back('--accept-loss')
      expect(went.status, went.err).toBe(0)
    } finally {
      await db.drop()
    }
  })

  it('counts no rows that it copies back', async () => {
    const { db, back } = await applied(
      'create table tide (id integer not null, at date not null); insert into tide values (1, current_date)',
      `create table tide (id integer not null, at date not null) partition by range (at); create table tide_rest partition of tide default`,
    )
    try {
      const went = back()
      expect(went.status, went.err).toBe(0)
      expect(await rowsOf(db.name, 'select id from tide')).toEqual([{ id: 1 }])
    } finally {
      await db.drop()
    }
  })

  it('is refused where the database is not what the plan left', async () => {
    const { db, back } = await applied(base, more)
    try {
      await admin(db.name, 'alter table bay add column by_hand integer')
      const held = back()
      expect(held.status).toBe(1)
      expect(held.err).toContain('by_hand')
    } finally {
      await db.drop()
    }
  })
})
