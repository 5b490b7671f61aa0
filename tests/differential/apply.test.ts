// Our own migrations: journal, lock, checksums, and a failure that leaves nothing.
import pg from 'pg'
import { describe, expect, it } from 'vitest'
import { applyMigrations, type Migration } from '../../src/engines/postgres/apply.ts'
import { makeDatabase, rowsOf } from '../support/server.ts'

const journal = { schema: 'own', table: 'journal' }
const one: Migration = { number: 1, name: 'one', sql: 'create table own.a (id int)' }
const two: Migration = { number: 2, name: 'two', sql: 'create table own.b (id int); insert into own.b values (1)' }

async function apply(url: string, list: readonly Migration[]): Promise<readonly number[]> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    return await applyMigrations(client, list, journal)
  } finally {
    await client.end()
  }
}

describe('applying migrations', () => {
  it('runs what is due, once, even when two start together', async () => {
    const db = await makeDatabase()
    const ran = await Promise.all([apply(db.url, [one, two]), apply(db.url, [one, two])])
    expect(ran.flat()).toEqual([1, 2])
    expect(await apply(db.url, [one, two])).toEqual([])
    expect(await rowsOf(db.name, 'select number, name from own.journal order by 1')).toEqual([
      { number: 1, name: 'one' },
      { number: 2, name: 'two' },
    ])
    await db.drop()
  })

  it('a failing one leaves nothing of itself, and the ones before it stay', async () => {
    const db = await makeDatabase()
    await expect(apply(db.url, [one, { ...two, sql: 'create table own.b (id int); select 1/0' }])).rejects.toThrow(/division by zero/)
    expect(await rowsOf(db.name, `select to_regclass('own.b') as b, to_regclass('own.a')::text as a`)).toEqual([{ b: null, a: 'own.a' }])
    expect(await apply(db.url, [one, two])).toEqual([2])
    await db.drop()
  })

  it('refuses a migration that was changed after it ran, and a database that is ahead', async () => {
    const db = await makeDatabase()
    await apply(db.url, [one, two])
    await expect(apply(db.url, [{ ...one, sql: 'select 1' }, two])).rejects.toThrow(/migration 1 \(one\) was changed/)
    await expect(apply(db.url, [one])).rejects.toThrow(/has migration 2 \(two\)/)
    await db.drop()
  })
})
