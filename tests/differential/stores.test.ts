// Emitted stores against the demo on a real server: every entity read, looked up and linked as hand-written SQL says; rows stored, changed, removed.
import { readFileSync } from 'node:fs'
import type pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { EntityModel, EntryBody, Relationship } from '../../src/core/model/index.ts'
import { counting, emitted, type Module } from '../support/emitted.ts'
import { loadScript, makeDatabase, rowsOf } from '../support/server.ts'

const step = (relationship: string, end: 'from' | 'to') => ({ relationship: `reference:${relationship}`, end })
/** As Trial keeps it: hives of grade A apiaries with more than a few frames, their inspections, and who inspected. */
const keptPath: EntryBody = {
  kind: 'pin',
  name: 'Large hives of good apiaries',
  path: {
    entity: 'field.hive',
    conditions: [
      { via: [], column: 'frames', is: 'more', value: '10' },
      { via: [step('field.hive(apiary_id)', 'from')], column: 'name', is: 'contains', value: 'a' },
      { via: [], column: 'retired_on', is: 'empty', value: '' },
    ],
    steps: [step('field.inspection(hive_id)', 'to'), step('field.inspection(keeper_no)', 'from')],
  },
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
    ;({ m, model } = await emitted(readFileSync('demo/schema.sql', 'utf8'), [keptPath]))
    pool = m['db'].connect({ connectionString: own.url })
  })
  afterAll(async () => {
    await pool.end()
    await own.drop()
  })
  const store = (name: string, on: pg.Pool = pool) => new m[`${name}Store`](on)
  const first = async (name: string, n: number) => {
    const s = store(name)
    return s.list({ limit: n })
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
      for await (const one of store(e.name).stream({ limit: 97 })) keys.push(JSON.stringify(m[e.name].key.map((k: string) => String(one[k]))))
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
    expect(await store('Hive').list({ after: 999999 })).toEqual([])
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
    expect(c.sent[1]?.text).toBe(
      'UPDATE field.hive t SET "frames" = $1, "retired_on" = $2 WHERE t.id = $3 RETURNING t.id, t.apiary_id, t.hive_no, t.queen_id, t.box_kind, t.frames, t.retired_on, t.created_at, t.created_by, t.changed_at',
    )
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

  it('asks for what holds, all of it, and leaves out what is not asked', async () => {
    const hives = store('Hive')
    const n = async (where: string) => ((await rowsOf(own.name, `select count(*)::int as n from field.hive where ${where}`)) as { n: number }[])[0]?.n
    const boxes = ['dadant', 'warre']
    expect(await hives.count([['boxKind', 'one of', boxes]])).toBe(await n("box_kind in ('dadant', 'warre')"))
    expect(await hives.count([['retiredOn', 'empty'], undefined, ['frames', 'more', 9]])).toBe(await n('retired_on is null and frames > 9'))
    expect(
      await hives.count([
        ['createdByNo', 'filled'],
        ['boxKind', 'other', 'national'],
      ]),
    ).toBe(await n("created_by is not null and box_kind <> 'national'"))
    expect(await store('Apiary').count([['name', 'contains', 'A']])).toBeGreaterThan(0)
    expect(await store('Apiary').count([['name', 'contains', '%']])).toBe(0)
    await expect(hives.count([['nothingSuch', 'filled']])).rejects.toThrow('no property nothingSuch')
    const some = await hives.list({ where: [['frames', 'more', 9]], limit: 5 })
    const more = await hives.list({ where: [['frames', 'more', 9]], limit: 5, after: some.at(-1).id })
    expect([some.length, more.length, more[0].id > some.at(-1).id, [...some, ...more].every((h) => h.frames > 9)]).toEqual([5, 5, true, true])
  })

  it('reads what it leads to in the same statement, each row once', async () => {
    const c = counting(pool)
    const hives = await store('Hive', c.on).list({ limit: 300, join: ['apiary', 'queen', 'overview'] })
    expect(c.sent.length).toBe(1)
    const plain = await store('Hive').list({ limit: 300 })
    await store('Hive').loadApiary(plain)
    await store('Hive').loadQueen(plain)
    expect(hives.map((h: Module) => [h['id'], h['apiary'].name, h['queen']?.id ?? null])).toEqual(
      plain.map((h: Module) => [h['id'], h['apiary'].name, h['queen']?.id ?? null]),
    )
    expect(new Set(hives.map((h: Module) => h['apiary'])).size).toBe(new Set(plain.map((h: Module) => h['apiary'].id)).size)
    expect((await store('Hive').get(hives[0].id, { join: ['apiary'] })).apiary.id).toBe(hives[0].apiaryId)
  })

  it('links rows of a join table both ways, once', async () => {
    const [apiary] = await first('Apiary', 1)
    await store('Apiary').loadForageSites([apiary])
    const site = (await first('ForageSite', 200)).find((s: Module) => ![...apiary.forageSites].some((o: Module) => o['id'] === s['id']))
    await store('ForageSite').loadApiaries([site])
    expect(await store('Apiary').linkForageSites(apiary, site)).toBe(true)
    expect(await store('ForageSite').linkApiaries(site, apiary)).toBe(false)
    expect([apiary.forageSites.has(site), site.apiaries.has(apiary)]).toEqual([true, true])
    // Linked to several, it is one object.
    const several = await first('Apiary', 40)
    await store('Apiary').loadForageSites(several)
    const linked = several.flatMap((a: Module) => [...a['forageSites']])
    expect(new Set(linked).size).toBe(new Set(linked.map((f: Module) => f['id'])).size)
    await store('ForageSite').loadApiaries([site])
    expect([...site.apiaries].some((a: Module) => a['id'] === apiary.id)).toBe(true)
    expect(await store('ForageSite').unlinkApiaries(site, apiary)).toBe(true)
    expect(await store('Apiary').unlinkForageSites(apiary, site)).toBe(false)
  })

  it('saves: what has its key from the database by its class, what brings its key by asking', async () => {
    const [keeper] = await first('Keeper', 1)
    const made = await store('Apiary').save({ name: 'Saved', keeper })
    expect([made.keeper, made.keeperNo]).toEqual([keeper, keeper.keeperNo])
    made.name = 'Saved again'
    expect(await store('Apiary').save(made)).toBe(made)
    expect((await store('Apiary').get(made.id)).name).toBe('Saved again')
    await store('Apiary').delete(made.id)
    const seasons = store('Season')
    const season = await seasons.save(new m['Season']({ year: 1950, openedOn: '1950-04-01', closedOn: null }))
    expect(season.closedOn).toBeNull()
    // The same key once more: it takes the place of what is stored.
    await seasons.save({ year: 1950, openedOn: '1950-04-02' })
    season.closedOn = '1950-10-01'
    await seasons.save(season)
    expect(await seasons.get(1950)).toMatchObject({ openedOn: '1950-04-02', closedOn: '1950-10-01' })
    expect(await seasons.delete(1950)).toBe(true)
  })

  it('a unit of work stores each after what it refers to, in a circle too, and removes in the other order', async () => {
    const [keeper] = await first('Keeper', 1)
    const before = await Promise.all(['Apiary', 'Hive', 'Queen'].map((name) => store(name).count()))
    const work = new m['Work']()
    const hive = work.insert(m['HiveStore'], { hiveNo: 1, apiary: work.insert(m['ApiaryStore'], { name: 'Of a work', keeper }) })
    const queen = work.insert(m['QueenStore'], { breed: { code: 'none such' }, bornOn: '2026-05-01', hive })
    work.fill(m['HiveStore'], hive, { queen })
    await expect(work.commit(pool)).rejects.toThrow(/foreign key|too long/)
    expect(() => hive.stored).toThrow('not stored yet')
    const [breed] = await first('Breed', 1)
    work.fill(m['QueenStore'], queen, { breed })
    const c = counting(pool)
    await work.commit({ connect: async () => ({ query: c.on.query.bind(c.on), release: () => {} }) })
    const [h, q] = [hive.stored, queen.stored]
    expect(c.sent.map((s) => (s.text ?? String(s)).split(' ').slice(0, 3).join(' '))).toEqual([
      'BEGIN',
      'INSERT INTO field.apiary',
      'INSERT INTO field.hive',
      'INSERT INTO field.queen',
      'UPDATE field.hive t',
      'COMMIT',
    ])
    expect([h.apiary.name, h.queen, q.hive, h.queenId, q.hiveId]).toEqual(['Of a work', q, h, q.id, h.id])
    // They refer to each other, and to an apiary: it goes last.
    const gone = new m['Work']()
    gone.delete(m['ApiaryStore'], h.apiary)
    gone.delete(m['QueenStore'], q)
    gone.delete(m['HiveStore'], h)
    await gone.commit(pool)
    expect(await Promise.all(['Apiary', 'Hive', 'Queen'].map((name) => store(name).count()))).toEqual(before)
  })

  it('what a unit of work could not do leaves everything in memory as it was', async () => {
    const [hive] = await first('Hive', 1)
    const [frames, text] = [hive.frames, JSON.stringify(await store('Hive').get(hive.id))]
    hive.frames += 1
    const work = new m['Work']()
    work.update(m['HiveStore'], hive)
    work.insert(m['ApiaryStore'], { name: 'No keeper', keeperNo: 'nobody' })
    work.step(async () => {
      throw new Error('not after all')
    })
    await expect(work.commit(pool)).rejects.toThrow()
    expect([hive.frames, JSON.stringify(await store('Hive').get(hive.id))]).toEqual([frames + 1, text])
    hive.frames = frames
    const c = counting(pool)
    await store('Hive', c.on).update(hive)
    expect(c.sent).toEqual([])
  })

  it('calls functions and procedures with values of their types', async () => {
    expect(await m['colourOf'](pool, 2026)).toBe('white')
    expect(await m['owedBy'](pool, 'nobody')).toBe('0')
    const c = counting(pool)
    await m['closeSeason'](c.on, 1900)
    expect(c.sent).toMatchObject([{ text: 'CALL coop.close_season($1::smallint)', values: ['1900'] }])
  })

  it('a path kept in Trial is a method, with what was typed there where nothing else is given', async () => {
    const found = await store('Hive').largeHivesOfGoodApiaries()
    const where = "h.frames > 10 and h.retired_on is null and a.name ilike '%a%'"
    const [{ n } = { n: 0 }] = (await rowsOf(
      own.name,
      `select count(*)::int as n from field.hive h join field.apiary a on a.id = h.apiary_id where ${where}`,
    )) as { n: number }[]
    expect([found.length, n > 3]).toEqual([n, true])
    const inspections = found.flatMap((h: Module) => [...h['inspections']])
    expect([inspections.length > 3, inspections.every((i: Module) => i['keeper'].keeperNo === i['keeperNo'])]).toEqual([true, true])
    expect((await store('Hive').largeHivesOfGoodApiaries({ frames: 1000 })).length).toBe(0)
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
      CREATE TABLE crate (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, bay_label varchar(9), at timestamptz);
      CREATE TABLE hook (id integer PRIMARY KEY, eye_id integer NOT NULL);
      CREATE TABLE eye (id integer PRIMARY KEY, hook_id integer NOT NULL REFERENCES hook (id));
      ALTER TABLE hook ADD FOREIGN KEY (eye_id) REFERENCES eye (id);`
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
      // Neither can be first, and neither may wait.
      const work = new m['Work']()
      const hook = work.insert(m['HookStore'], { id: 1, eyeId: 1 })
      work.fill(m['HookStore'], hook, { eye: work.insert(m['EyeStore'], { id: 1, hook }) })
      await expect(work.commit(pool)).rejects.toThrow('these refer to each other in a circle, and none of their references may be empty: HookStore, EyeStore')
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
