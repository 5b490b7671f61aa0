// Emitted stores against the demo on a real server: every entity read, looked up and linked as hand-written SQL says; rows stored, changed, removed.
import { readFileSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import type pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { SnapshotHash } from '../../src/core/catalog/index.ts'
import { emitTypeScript } from '../../src/core/emit/typescript/index.ts'
import type { EntityModel, Relationship } from '../../src/core/model/index.ts'
import { review } from '../../src/core/review/index.ts'
import { inCodeFolder, writeFiles } from '../support/compile.ts'
import { postgres } from '../support/plans.ts'
import { loadScript, makeDatabase, rowsOf } from '../support/server.ts'

// biome-ignore lint/suspicious/noExplicitAny: what is emitted is known to the compiler of the one who uses it, not to ours
type Module = Readonly<Record<string, any>>

async function emitted(sql: string): Promise<{ readonly m: Module; readonly model: EntityModel }> {
  const { model, revision } = review(postgres(sql), '0'.repeat(64) as SnapshotHash, [])
  const m = await inCodeFolder(async (dir) => {
    writeFiles(dir, emitTypeScript(model, revision))
    writeFileSync(join(dir, 'all.ts'), `export * from './index.js'\nexport * as db from './db.js'\n`)
    const outfile = resolve(dir, 'all.mjs')
    await build({ entryPoints: [join(dir, 'all.ts')], bundle: true, format: 'esm', platform: 'node', packages: 'external', outfile, logLevel: 'error' })
    return (await import(pathToFileURL(outfile).href)) as Module
  })
  return { m, model }
}

/** A connection that says what was sent. */
function counting(on: pg.Pool): { readonly on: pg.Pool; readonly sent: { text: string; values?: unknown[] }[] } {
  const sent: { text: string }[] = []
  const query = (q: { text: string }) => {
    sent.push(q)
    return on.query(q as never)
  }
  return { on: { query } as never, sent }
}

describe('the demo through its stores', () => {
  let own: Awaited<ReturnType<typeof makeDatabase>>
  let m: Module
  let model: EntityModel
  let pool: pg.Pool
  beforeAll(async () => {
    own = await makeDatabase()
    loadScript(own.url, 'demo/schema.sql')
    loadScript(own.url, 'demo/rows.sql')
    ;({ m, model } = await emitted(readFileSync('demo/schema.sql', 'utf8')))
    pool = m['db'].connect({ connectionString: own.url })
  })
  afterAll(async () => {
    await pool.end()
    await own.drop()
  })
  const store = (name: string, on: pg.Pool = pool) => new m[`${name}Store`](on)
  const first = async (name: string, n: number) => {
    const s = store(name)
    return (s.get ? await s.list(null, n) : await s.list()).slice(0, n)
  }

  it('counts and streams every entity as often as there are rows, in order of the key', async () => {
    for (const e of model.entities) {
      const at = `"${e.relation.schema}"."${e.relation.name}"`
      const [{ n } = { n: -1 }] = (await rowsOf(own.name, `select count(*)::int as n from ${at}`)) as { n: number }[]
      expect([e.name, await store(e.name).count()]).toEqual([e.name, n])
      if (e.identity.kind === 'none') {
        expect((await store(e.name).list()).length).toBe(n)
        continue
      }
      const keys: string[] = []
      for await (const one of store(e.name).stream(97)) keys.push(JSON.stringify(m[e.name].key.map((k: string) => String(one[k]))))
      expect([e.name, keys.length, new Set(keys).size]).toEqual([e.name, n, n])
    }
  })

  it('finds each by its key and by each unique rule, and none where there is none', async () => {
    let looked = 0
    for (const e of model.entities) {
      if (e.identity.kind === 'none') continue
      for (const one of await first(e.name, 3)) {
        const key = m[e.name].key.length === 1 ? one[m[e.name].key[0]] : one
        expect(await store(e.name).get(key), e.name).toEqual(one)
        for (const names of Object.values((m[e.name].unique ?? {}) as Record<string, string[]>)) {
          if (names.some((n) => one[n] === null)) continue
          const method = `oneBy${names.map((n) => n.charAt(0).toUpperCase() + n.slice(1)).join('And')}`
          expect(await store(e.name)[method](...names.map((n) => one[n])), method).toEqual(one)
          looked += 1
        }
      }
    }
    expect(looked).toBeGreaterThan(15)
    expect(await store('Hive').get(-1)).toBeNull()
    expect(await store('Hive').list(999999)).toEqual([])
  })

  /** How many pairs hand-written SQL finds from the first 400 of an entity over one end; null where those cannot be told without a key. */
  async function pairs(r: Relationship, side: 'from' | 'to', read: number): Promise<number | null> {
    const [end, other] = side === 'from' ? [r.from, r.to] : [r.to, r.from]
    const at = (id: string) => model.entities.find((x) => x.id === id) as EntityModel['entities'][number]
    const [mine, theirs] = [at(end.entity), at(other.entity)]
    const q = (x: { schema: string; name: string }) => `"${x.schema}"."${x.name}"`
    const on = (x: string, xs: readonly string[], y: string, ys: readonly string[]) => xs.map((c, i) => `${x}."${c}" = ${y}."${ys[i]}"`).join(' and ')
    if (mine.identity.kind === 'none' && read === 400) return null
    const order = mine.identity.kind === 'none' ? '' : `order by ${mine.identity.columns.map((k) => `"${k}"`).join(', ')}`
    const some = `(select * from ${q(mine.relation)} ${order} limit 400) o`
    const t = r.through
    const [link, linked] = !t ? [[], []] : side === 'from' ? [t.fromColumns, t.toColumns] : [t.toColumns, t.fromColumns]
    const joined = t
      ? `${some} join ${q(t.table)} l on ${on('o', end.columns, 'l', link)} join ${q(theirs.relation)} t on ${on('l', linked, 't', other.columns)}`
      : `${some} join ${q(theirs.relation)} t on ${on('o', end.columns, 't', other.columns)}`
    const [row] = (await rowsOf(own.name, `select count(*)::int as n from ${joined}`)) as { n: number }[]
    return row?.n ?? -1
  }
  const reached = (o: Module, property: string, isMany: boolean) => (o[property] === null || o[property] === undefined ? 0 : isMany ? o[property].size : 1)

  it('loads every end in one statement, with those that hand-written SQL finds', async () => {
    let ends = 0
    const sides = model.relationships.flatMap((r) => [
      { r, end: r.from, side: 'from' as const },
      { r, end: r.to, side: 'to' as const },
    ])
    for (const e of model.entities) {
      const all = await first(e.name, 400)
      for (const { r, end, side } of sides.filter((s) => s.end.entity === e.id && all.length > 0)) {
        const c = counting(pool)
        const method = `load${end.property.charAt(0).toUpperCase()}${end.property.slice(1)}`
        await store(e.name, c.on)[method](all)
        expect([e.name, method, c.sent.length <= 1]).toEqual([e.name, method, true])
        const n = await pairs(r, side, all.length)
        if (n === null) continue
        const found = all.reduce((sum: number, o: Module) => sum + reached(o, end.property, end.leadsTo === 'any number'), 0)
        expect([e.name, end.property, found]).toEqual([e.name, end.property, n])
        ends += 1
      }
    }
    expect(ends).toBeGreaterThan(80)
  })

  it('stores, changes and removes; sends what changed and nothing else', async () => {
    const [apiary] = await first('Apiary', 1)
    const c = counting(pool)
    const hives = store('Hive', c.on)
    const hive = await hives.insert({ apiaryId: apiary.id, hiveNo: 30001, createdByNo: apiary.keeperNo })
    expect([hive.id > 0, hive.frames > 0, hive.createdAt instanceof Date, hive.retiredOn]).toEqual([true, true, true, null])
    await hives.update(hive)
    expect(c.sent.length).toBe(1)
    hive.retiredOn = '2026-11-20'
    hive.frames += 1
    await hives.update(hive)
    expect(c.sent[1]?.text).toBe('UPDATE field.hive SET frames = $1, retired_on = $2 WHERE id = $3')
    expect(c.sent[1]?.values).toEqual([String(hive.frames), '2026-11-20', String(hive.id)])
    const again = await hives.get(hive.id)
    expect([again.retiredOn, again.frames, again.hiveNo]).toEqual(['2026-11-20', hive.frames, 30001])
    expect((await hives.allByApiaryId(apiary.id)).some((h: Module) => h['id'] === hive.id)).toBe(true)
    expect([await hives.delete(hive.id), await hives.delete(hive.id), await hives.get(hive.id)]).toEqual([true, false, null])
    hive.frames += 1
    await expect(hives.update(hive)).rejects.toThrow(m['db'].StaleError)
    await expect(hives.update(new m['Hive']({ ...hive }))).rejects.toThrow('not read by a store')
    await expect(hives.insert({ apiaryId: apiary.id })).rejects.toThrow(/hive_no/)
  })

  it('in one transaction all of it happens, or nothing', async () => {
    const before = await store('Apiary').count()
    const [keeper] = await first('Keeper', 1)
    const make = async (on: pg.Pool) => store('Apiary', on).insert({ name: 'Made to fail', keeperNo: keeper.keeperNo })
    await expect(
      m['db'].transaction(pool, async (on: pg.Pool) => {
        await make(on)
        throw new Error('not after all')
      }),
    ).rejects.toThrow('not after all')
    expect(await store('Apiary').count()).toBe(before)
    const made = await m['db'].transaction(pool, make)
    expect(await store('Apiary').delete(made.id)).toBe(true)
  })

  it('what is linked in memory is what is stored', async () => {
    const [a, b] = await first('Apiary', 2)
    const hives = store('Hive')
    await store('Apiary').loadHives([a, b])
    const hive = await hives.insert({ apiaryId: a.id, hiveNo: 30002 })
    hive.loadApiary(a)
    hive.apiary = b
    await hives.update(hive)
    expect((await hives.get(hive.id)).apiaryId).toBe(b.id)
    expect([a.hives.has(hive), b.hives.has(hive)]).toEqual([false, true])
    await hives.delete(hive.id)
  })
})

describe('two writers', () => {
  it('the later hears of the earlier where a column counts changes', async () => {
    const own = await makeDatabase()
    const sql = `CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label char(4), flags jsonb NOT NULL DEFAULT '{}', tags text[] NOT NULL DEFAULT '{}', version integer NOT NULL DEFAULT 1);
      CREATE TABLE crate (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, bay_label varchar(9), at timestamptz);`
    const { m } = await emitted(sql)
    const pool: pg.Pool = m['db'].connect({ connectionString: own.url })
    try {
      await pool.query(sql)
      const bays = new m['BayStore'](pool)
      const made = await bays.insert({ label: 'a', flags: { a: [1] }, tags: ['x', null, '{}'] })
      expect(made).toMatchObject({ label: 'a   ', flags: { a: [1] }, tags: ['x', null, '{}'], version: 1 })
      const [one, two] = [await bays.get(made.id), await bays.get(made.id)]
      one.flags.a.push(2)
      one.tags = []
      await bays.update(one)
      expect(one.version).toBe(2)
      expect(await bays.get(made.id)).toMatchObject({ flags: { a: [1, 2] }, tags: [], version: 2 })
      two.label = 'b'
      await expect(bays.update(two)).rejects.toThrow(m['db'].StaleError)
      one.label = null
      await bays.update(one)
      expect(await bays.get(made.id)).toMatchObject({ label: null, version: 3 })
      // Written back as it was read, to the microsecond.
      const crates = new m['CrateStore'](pool)
      const at = Object.assign(new Date('2026-01-02T03:04:05.678Z'), { micros: 901 })
      const crate = await crates.insert({ at })
      expect([crate.at.getTime(), crate.at.micros]).toEqual([at.getTime(), 901])
      await crates.update(crate)
      expect((await pool.query('select at::text from crate')).rows[0].at).toBe('2026-01-02 03:04:05.678901+00')
    } finally {
      await pool.end()
      await own.drop()
    }
  })
})
