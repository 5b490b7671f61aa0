// What the review asks of rows, on a real server: every query runs, only reads, and counts what SQL written by hand counts.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { rowQuestions } from '../../src/core/infer/index.ts'
import type { EntityModel } from '../../src/core/model/index.ts'
import { loadsOf, looksOf } from '../../src/core/review/index.ts'
import { evidenceQueries } from '../../src/core/rows/index.ts'
import { look, profile } from '../../src/engines/postgres/index.ts'
import { admin, demoDatabase, type makeDatabase, rowsOf } from '../support/server.ts'

type Db = Awaited<ReturnType<typeof makeDatabase>>
let db: Db
let catalog: Catalog
let model: EntityModel

beforeAll(async () => {
  ;({ db, catalog, model } = await demoDatabase())
}, 120_000)
afterAll(() => db.drop())

const ask = (id: string, key: string) => {
  const found = looksOf(id, catalog, model).find((l) => l.key === key)
  if (!found) throw new Error(`${id} has no ${key}`)
  return look(db.location, found.sql, 50)
}

describe('looks at rows', () => {
  it('every query of every relationship and class runs', async () => {
    const ids = [...model.relationships.map((r) => r.id as string), ...model.entities.map((e) => `entity:${e.id}`)]
    const failed: string[] = []
    for (const id of ids)
      for (const l of looksOf(id, catalog, model)) await look(db.location, l.sql, 50).catch((e: unknown) => failed.push(`${id} ${l.key}: ${String(e)}`))
    expect(ids.length).toBeGreaterThan(80)
    expect(failed).toEqual([])
  })
  it('children per parent are counted with those that have none', async () => {
    const { rows } = await ask('reference:field.queen(hive_id)', 'spread')
    const [hand] = await rowsOf<{ queens: string; hives: string; without: string }>(
      db.name,
      `select (select count(hive_id) from field.queen) as queens, (select count(*) from field.hive) as hives,
        (select count(*) from field.hive h where not exists (select 1 from field.queen q where q.hive_id = h.id)) as without`,
    )
    expect(rows.reduce((n, [each, parents]) => n + Number(each) * Number(parents), 0)).toBe(Number(hand?.queens))
    expect(rows.reduce((n, [, parents]) => n + Number(parents), 0)).toBe(Number(hand?.hives))
    expect(Number(rows.find(([each]) => each === '0')?.[1] ?? 0)).toBe(Number(hand?.without))
    expect((await ask('reference:field.queen(hive_id)', 'none')).rows).toHaveLength(Math.min(50, Number(hand?.without)))
  })
  it('rows that point nowhere are those, and a join table counts partners', async () => {
    const guessed = model.relationships.find((r) => r.state === 'guessed' && r.onDelete === null && r.through === null)
    if (!guessed) throw new Error('no guess')
    const [table, column] = /^reference:(.*)\((.*)\)$/.exec(guessed.id)?.slice(1) ?? []
    const target = guessed.to
    const [hand] = await rowsOf<{ n: string }>(
      db.name,
      `select count(*) as n from ${table} c where c.${column} is not null and not exists (select 1 from ${target.entity} p where p.${target.columns[0]} = c.${column})`,
    )
    expect((await ask(guessed.id, 'orphans')).rows).toHaveLength(Math.min(50, Number(hand?.n)))
    const joined = await ask('join-table:field.apiary_forage_site', 'spread')
    const [pairs] = await rowsOf<{ n: string }>(db.name, 'select count(*) as n from field.apiary_forage_site')
    expect(joined.rows.reduce((n, [each, parents]) => n + Number(each) * Number(parents), 0)).toBe(Number(pairs?.n))
  })
  it('values arrive as the server writes them, and very long ones are cut', async () => {
    const { columns, rows } = await look(
      db.location,
      `select 9223372036854775807::int8 as big, 0.10::numeric(5,2) as exact, null as nothing, repeat('x', 900) as long`,
      50,
    )
    expect(columns).toEqual(['big', 'exact', 'nothing', 'long'])
    expect(rows[0]?.slice(0, 3)).toEqual(['9223372036854775807', '0.10', null])
    expect(rows[0]?.[3]).toHaveLength(401)
  })
  it('nothing can be written, and a fault names what the server said', async () => {
    await expect(look(db.location, 'delete from field.queen', 50)).rejects.toMatchObject({ failure: { sqlState: '25006' } })
    await expect(look(db.location, 'select nothing_there', 50)).rejects.toMatchObject({ failure: { sqlState: '42703' } })
  })
  it('a load of either end is a statement the server can plan', async () => {
    for (const r of model.relationships)
      for (const [i, l] of loadsOf(r.id, catalog, model).entries()) await admin(db.name, `prepare l${i} as ${l.sql}`, `deallocate l${i}`)
  })
  it('queries of evidence are made again from what they are about, to the letter', async () => {
    const rows = await profile(db.location, rowQuestions(catalog), { at: '2026-01-01T00:00:00.000Z' })
    const known = evidenceQueries(rows, 'postgresql')
    const kept = [...rows.inclusions.map((i) => i.query), ...rows.partners.map((p) => p.query), ...rows.kinds.map((k) => k.query)]
    expect(kept.length).toBeGreaterThan(10)
    expect(kept.filter((q) => !known.has(q))).toEqual([])
    expect(known.has('delete from field.queen')).toBe(false)
  })
})
