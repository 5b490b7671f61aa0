// Emitted classes as people use them: both ends kept in step in memory, values exactly there and back on a server, inputs refused.
import { existsSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { SnapshotHash } from '../../src/core/catalog/index.ts'
import { conventionRemarks, emitTypeScript, valueTypes } from '../../src/core/emit/typescript/index.ts'
import { decodeEntry, type EntryBody } from '../../src/core/model/index.ts'
import { review } from '../../src/core/review/index.ts'
import { inCodeFolder, writeFiles } from '../support/compile.ts'
import { postgres } from '../support/plans.ts'
import { loadScript, makeDatabase } from '../support/server.ts'

// biome-ignore lint/suspicious/noExplicitAny: what is emitted is known to the compiler of the one who uses it, not to ours
type Module = Readonly<Record<string, any>>

/** The emitted files of a script, compiled and loaded. */
async function emitted(sql: string, ...bodies: readonly EntryBody[]): Promise<{ readonly code: Module; readonly values: Module }> {
  const entries = bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: 'x', by: 'Ada' }))
  const { model, revision } = review(postgres(sql), '0'.repeat(64) as SnapshotHash, entries)
  return inCodeFolder(async (dir) => {
    writeFiles(dir, emitTypeScript(model, revision))
    const load = async (name: string): Promise<Module> => {
      const outfile = resolve(dir, `${name.replace('/', '-')}.mjs`)
      await build({ entryPoints: [join(dir, `${name}.ts`)], bundle: true, format: 'esm', platform: 'node', packages: 'external', outfile, logLevel: 'error' })
      return import(pathToFileURL(outfile).href)
    }
    return { code: await load('index'), values: existsSync(join(dir, 'base/values.ts')) ? await load('base/values') : {} }
  })
}

describe('both ends in memory', () => {
  let m: Module
  beforeAll(async () => {
    ;({ code: m } = await emitted(`
      CREATE TABLE bay (id integer PRIMARY KEY);
      CREATE TABLE lid (id integer PRIMARY KEY);
      CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer NOT NULL REFERENCES bay, old_bay_id bigint REFERENCES bay, lid_id integer UNIQUE REFERENCES lid);
      CREATE TABLE mark (id integer PRIMARY KEY, word text NOT NULL);
      CREATE TABLE crate_mark (crate_id integer REFERENCES crate, mark_id integer REFERENCES mark, PRIMARY KEY (crate_id, mark_id));
      CREATE TABLE part (crate_id integer REFERENCES crate, no integer, PRIMARY KEY (crate_id, no));
      CREATE TABLE floor (hall integer, no integer, PRIMARY KEY (hall, no));
      CREATE TABLE hall (id integer PRIMARY KEY);
      CREATE TABLE lamp (id integer PRIMARY KEY, hall integer NOT NULL REFERENCES hall, floor_no integer, FOREIGN KEY (hall, floor_no) REFERENCES floor (hall, no));`))
  })
  const bay = (id: number) => new m['Bay']({ id })
  const crate = (id: number, bayId = 1) => new m['Crate']({ id, bayId, oldBayId: null, lidId: null })

  const byColumn = (name: string, values: Readonly<Record<string, number>>) =>
    new m[name](Object.fromEntries(Object.entries(m[name].columns as Record<string, string>).map(([p, column]) => [p, values[column] ?? null])))

  it('the end with the columns changes them, and moves among the members of the other', () => {
    const [a, b, c] = [bay(1), bay(2), crate(10)]
    a.loadCrates([c])
    b.loadCrates([])
    expect(c.bay).toBe(a)
    c.bay = b
    expect([c.bayId, c.bay === b, a.crates.has(c), b.crates.has(c)]).toEqual([2, true, false, true])
    a.crates.add(c)
    expect([c.bayId, [...a.crates], [...b.crates]]).toEqual([1, [c], []])
    // One cannot be without: there is nothing to take it away by.
    expect(a.crates.delete).toBeUndefined()
  })

  it('what is not loaded stays undefined, and loading changes no column', () => {
    const c = crate(10, 7)
    expect([c.bay, bay(1).crates]).toEqual([undefined, undefined])
    c.loadBay(bay(1))
    expect(c.bayId).toBe(7)
  })

  it('an optional end is emptied from either side, and a number becomes a bigint where the column is one', () => {
    const [a, c] = [bay(1), crate(10)]
    const ends = Object.getOwnPropertyNames(Object.getPrototypeOf(m['Bay'].prototype))
    const old = ends.find((n) => /^(?!load).*old/i.test(n)) as string
    a[`load${old.charAt(0).toUpperCase()}${old.slice(1)}`]([])
    a[old].add(c)
    expect([c.oldBayId, c.oldBay === a]).toEqual([1n, true])
    expect(a[old].delete(c)).toBe(true)
    expect([c.oldBayId, c.oldBay, a[old].size, a[old].delete(c)]).toEqual([null, null, 0, false])
  })

  it('of a one-to-one each has one partner: who had it before has none', () => {
    const [lid, first, second] = [new m['Lid']({ id: 5 }), crate(1), crate(2)]
    first.lid = lid
    expect([first.lidId, lid.crate === first]).toEqual([5, true])
    lid.crate = second
    expect([second.lidId, second.lid === lid, lid.crate === second, first.lidId, first.lid]).toEqual([5, true, true, null, null])
    lid.crate = null
    expect([second.lidId, second.lid, lid.crate]).toEqual([null, null, null])
  })

  it('a many-to-many is added to and taken from on both sides', () => {
    const [c, mark] = [crate(1), new m['Mark']({ id: 9, word: 'x' })]
    c.loadMarks([])
    mark.loadCrates([])
    c.marks.add(mark)
    expect([...mark.crates]).toEqual([c])
    mark.crates.delete(c)
    expect([...c.marks]).toEqual([])
  })

  it('a key is not given another row, and a column that another end writes must agree', () => {
    const part = new m['Part']({ crateId: 1, no: 1 })
    expect(Object.getOwnPropertyDescriptor(m['Part'].prototype, 'crate')?.set).toBeUndefined()
    const c = crate(1)
    c.loadParts([part])
    expect([part.crate === c, c.parts.add]).toEqual([true, undefined])
    const lamp = byColumn('Lamp', { id: 1, hall: 3 })
    const descriptor = Object.getOwnPropertyNames(Object.getPrototypeOf(m['Lamp'].prototype)).find((n) => /^floor/.test(n)) as string
    lamp[descriptor] = byColumn('Floor', { hall: 3, no: 4 })
    expect(lamp.floorNo).toBe(4)
    expect(() => {
      lamp[descriptor] = byColumn('Floor', { hall: 8, no: 4 })
    }).toThrow(/is of another hall/)
    expect(lamp.floorNo).toBe(4)
  })
})

describe('values on a server', () => {
  let db: Awaited<ReturnType<typeof makeDatabase>>
  let c: pg.Client
  beforeAll(async () => {
    db = await makeDatabase()
    c = new pg.Client({ connectionString: db.url, types: { getTypeParser: () => (text: string) => text } as never })
    await c.connect()
  })
  afterAll(async () => {
    await c.end()
    await db.drop()
  })

  const schema = `
    CREATE TYPE mood AS ENUM ('calm', 'it''s "odd", \\ or {so}');
    CREATE TYPE spot AS (x integer, label text, moods mood[]);
    CREATE DOMAIN amount AS numeric(12,3);
    CREATE TABLE every (id integer PRIMARY KEY, a smallint, b integer, c bigint, d numeric, e amount, f real, g double precision, h text, i varchar(40), j char(5),
      k boolean, l date, m time, n timetz, o timestamp, p timestamptz, q interval, r bytea, s uuid, t jsonb, u json, v text[], w bigint[], x mood, y spot, z spot[],
      aa inet, ab int4range, ac money, ad bit(5), ae timestamptz[], af bytea[]);`
  const boundary: Readonly<Record<string, readonly string[]>> = {
    a: ['-32768', '32767'],
    b: ['-2147483648', '2147483647'],
    c: ['-9223372036854775808', '9223372036854775807', '9007199254740993'],
    d: ['0', '-0.000000000000000000001', '123456789012345678901234567890.123456789', 'NaN', '1.10', 'Infinity'],
    e: ['-999999999.999', '0.001'],
    f: ['3.4028235e+38', '1e-45', 'NaN', '-Infinity', '0.1'],
    g: ['1.7976931348623157e+308', '5e-324', '-0', '0.1'],
    h: ['', ' ', 'NULL', 'a\\b"c\'d', 'line\nline', '💛 ü', '{}', '()'],
    i: ['x'],
    j: ['ab   '],
    k: ['t', 'f'],
    l: ['0001-01-01', '9999-12-31', '4713-01-01 BC', 'infinity'],
    m: ['00:00:00', '24:00:00', '12:34:56.789012'],
    n: ['12:34:56.789012+05:30'],
    o: ['2026-01-02 03:04:05.678901', 'infinity'],
    p: [
      '2026-01-02 03:04:05.678901+00',
      '0001-01-01 00:00:00+00',
      '0044-03-15 12:00:00+00 BC',
      '1969-12-31 23:59:59.999999+00',
      '9999-12-31 23:59:59.999999+00',
      '12026-01-01 00:00:00+00',
    ],
    q: ['1 year 2 mons 3 days 04:05:06.7', '-178000000 years'],
    r: ['\\x', '\\x00ff5c22'],
    s: ['a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11'],
    t: ['{"a": [1, "b", null, {"c": true}]}', '"x"'],
    u: ['[1,2]'],
    v: ['{}', '{a,NULL,"NULL","","a\\\\b","c\\"d","e,f",{}}'.replace(',{}', ''), '[2:3]={x,y}'],
    w: ['{9223372036854775807,-1}'],
    x: ['calm', 'it\'s "odd", \\ or {so}'],
    y: ['(1,"a ""b"", c",{calm})', '(,,)', '(,"",)'],
    z: ['{"(1,x,)",NULL}'],
    aa: ['10.0.0.0/8'],
    ab: ['[1,10)', 'empty'],
    ac: ['$1,234.56'],
    ad: ['00101'],
    ae: ['{"2026-01-02 03:04:05.678901+00"}'],
    af: ['{"\\\\x00ff"}'],
  }

  it('of every type are what they were, read and written back', async () => {
    await c.query(schema)
    const { code, values } = await emitted(schema)
    await c.query(values['sessionSettings'])
    const Every = code['Every']
    const columns = Object.values(Every.columns) as string[]
    expect(columns.filter((name) => name !== 'id' && !boundary[name])).toEqual([])
    const { model } = review(postgres(schema), '' as SnapshotHash, [])
    const entity = model.entities.find((e) => e.name === 'Every')
    const types = valueTypes(model)
    let n = 0
    for (const [column, texts] of Object.entries(boundary)) {
      const property = entity?.properties.find((p) => p.column === column)
      if (!property) throw new Error(column)
      // The expression that the class itself reads by.
      const of = new Function('v', `return ${types.ofProperty(property).value}`)(values)
      for (const text of texts) {
        n += 1
        await c.query(`insert into every (id, ${column}) values ($1, $2)`, [n, text])
        const row = (await c.query(`select * from every where id = $1`, [n])).rows[0]
        const was = row[column]
        const value = Every.fromRow(row)[property.name]
        expect(value, `${column} ${text}`).not.toBeNull()
        await c.query(`update every set ${column} = $2 where id = $1`, [n, of.write(value)])
        const is = (await c.query(`select ${column} as v from every where id = $1`, [n])).rows[0].v
        // Where an array begins to count is lost, as its finding says.
        expect(is, `${column} ${text}`).toBe(was.replace(/^\[2:3\]=/, ''))
      }
    }
    expect(n).toBeGreaterThan(70)
  })

  it('that the code cannot hold are refused when read, not changed', async () => {
    const { code, values } = await emitted(schema, { kind: 'edit', edit: { facet: 'type.target', subject: 'type:bigint', value: 'number' }, note: null })
    const row = (text: Readonly<Record<string, string>>) => ({
      ...Object.fromEntries(Object.values(code['Every'].columns).map((k) => [k, null])),
      id: '1',
      ...text,
    })
    expect(code['Every'].fromRow(row({ c: '12' })).c).toBe(12)
    expect(() => code['Every'].fromRow(row({ c: '9007199254740993' }))).toThrow(/beyond what a number holds/)
    expect(() => code['Every'].fromRow(row({ p: 'infinity' }))).toThrow(/no point in time/)
    expect(() => code['Every'].fromRow(row({ x: 'new word' }))).toThrow(/is none of calm/)
    expect(() => code['Every'].fromRow(row({ v: '{{a},{b}}' }))).toThrow(/more than one dimension/)
    expect(() => code['Every'].fromRow({ ...row({}), id: null })).toThrow('id has no value')
    expect(() => code['Every'].fromRow({ id: '1' })).toThrow('a was not read')
    expect(values['instant'].read('2026-01-02 03:04:05.678901+00').micros).toBe(901)
  })

  it('of JSON are typed by the shape that was said, and inputs are held to it', async () => {
    const shape = {
      type: 'object',
      properties: { tags: { type: 'array', items: { type: 'string' } }, level: { enum: ['low', 'high'] } },
      required: ['tags'],
    } as const
    const said: EntryBody = { kind: 'edit', edit: { facet: 'json.schema', subject: 'public.bay(flags)', value: shape as never }, note: null }
    const sql = 'CREATE TABLE bay (id integer PRIMARY KEY, flags jsonb NOT NULL)'
    const { code } = await emitted(sql, said)
    expect(code['bayInput'].safeParse({ id: 1, flags: { tags: ['a'], level: 'low' } }).success).toBe(true)
    expect(code['bayInput'].safeParse({ id: 1, flags: { tags: [1] } }).success).toBe(false)
    expect(code['bayInput'].safeParse({ id: 1, flags: { tags: [], level: 'middle' } }).success).toBe(false)
    expect(code['Bay'].fromRow({ id: '1', flags: '{"tags": ["x"]}' }).flags).toEqual({ tags: ['x'] })
    const { model, revision } = review(postgres(sql), '0'.repeat(64) as SnapshotHash, [decodeEntry({ ...said, seq: 1, at: 'x', by: 'Ada' })])
    const files = Object.fromEntries(emitTypeScript(model, revision).map((f) => [f.path, f.text]))
    expect(files['base/types.ts']).toContain("export type BayFlags = { tags: string[]; level?: 'low' | 'high' }")
    expect(files['base/Bay.ts']).toContain('flags: BayFlags\n')
  })

  it('of every row of the demo are what they were, through each class', async () => {
    const own = await makeDatabase()
    const d = new pg.Client({ connectionString: own.url, types: { getTypeParser: () => (text: string) => text } as never })
    try {
      loadScript(own.url, 'demo/schema.sql')
      loadScript(own.url, 'demo/rows.sql')
      const sql = readFileSync('demo/schema.sql', 'utf8')
      const { code, values } = await emitted(sql)
      const { model } = review(postgres(sql), '0'.repeat(64) as SnapshotHash, [])
      const types = valueTypes(model)
      await d.connect()
      await d.query(values['sessionSettings'])
      let rows = 0
      for (const e of model.entities) {
        const of = e.properties.map((p) => ({ p, value: new Function('v', `return ${types.ofProperty(p).value}`)(values) }))
        const wrong: string[] = []
        for (const row of (await d.query(`select * from "${e.relation.schema}"."${e.relation.name}" limit 2000`)).rows) {
          rows += 1
          const made = code[e.name].fromRow(row)
          for (const { p, value } of of) {
            const text = made[p.name] === null ? null : value.write(made[p.name])
            if (text !== row[p.column] && !(await same(d, p.type, text, row[p.column]))) wrong.push(`${e.name}.${p.name}: ${row[p.column]} became ${text}`)
          }
        }
        expect(wrong).toEqual([])
      }
      expect(rows).toBeGreaterThan(3000)
    } finally {
      await d.end()
      await own.drop()
    }
  })
})

/** Are two texts one value of a type, printed alike by the server? */
const known = new Map<string, boolean>()
async function same(c: pg.Client, type: string, a: string | null, b: string | null): Promise<boolean> {
  const key = `${type}\n${a}\n${b}`
  const before = known.get(key)
  if (before !== undefined) return before
  const { rows } = await c.query(`select ($1::${type})::text is not distinct from ($2::${type})::text as same`, [a, b])
  known.set(key, rows[0].same === 't')
  return rows[0].same === 't'
}

describe('what the columns lack', () => {
  it('is told before anything is written', () => {
    const { model } = review(
      postgres(`CREATE TABLE bay (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, version integer NOT NULL DEFAULT 1); CREATE TABLE loose (word text);
        CREATE TABLE part (bay_id bigint REFERENCES bay, no integer, PRIMARY KEY (bay_id, no));`),
      '' as SnapshotHash,
      [],
    )
    expect(conventionRemarks(model).map((r) => [r.says.split(/[:,]/)[0], r.about])).toEqual([
      ['One table has no key', ['Loose']],
      ['One reference cannot be given another row', ['Part.bay']],
      ['One entity has no column that counts changes', ['Part']],
      ['One entity has a key that whoever makes a new one gives.', ['Part']],
      ['2 entities have 64-bit integers', ['Bay', 'Part']],
    ])
  })
})

describe('inputs', () => {
  let m: Module
  beforeAll(async () => {
    ;({ code: m } = await emitted(`
      CREATE TYPE mood AS ENUM ('calm', 'odd');
      CREATE TABLE crate (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label varchar(4) NOT NULL, weight numeric(5,2), mood mood NOT NULL DEFAULT 'calm',
        kind text NOT NULL CHECK (kind IN ('box', 'bag')), twice integer GENERATED ALWAYS AS (2) STORED, created_at timestamptz NOT NULL DEFAULT now(), created_by text,
        version integer NOT NULL DEFAULT 1, packed_on date, sizes smallint[]);
      CREATE TABLE code (word varchar(8) PRIMARY KEY, says text NOT NULL);`))
  })
  const crate = { label: 'a', kind: 'box' }
  const refused = (schema: string, value: object) =>
    m[schema].safeParse(value).error?.issues.map((i: { path: string[]; message: string }) => `${i.path.join('.')}: ${i.message}`)

  it('take what is required and allowed, and no more', () => {
    expect(m['crateInput'].parse({ ...crate, weight: '123.45', sizes: [1, null], packedOn: '2026-02-03' })).toMatchObject({ label: 'a' })
    expect(refused('crateInput', { kind: 'box' })).toEqual([expect.stringMatching(/^label: /)])
    for (const more of [{ id: 1 }, { twice: 2 }, { createdAt: new Date() }, { createdBy: 'x' }, { version: 3 }, { nobody: 1 }])
      expect(refused('crateInput', { ...crate, ...more }), JSON.stringify(more)).toHaveLength(1)
    expect(m['codeInput'].parse({ word: 'x', says: 'y' })).toEqual({ word: 'x', says: 'y' })
    expect(refused('codeChange', { word: 'x' })).toHaveLength(1)
    expect(m['codeChange'].parse({ says: 'z' })).toEqual({ says: 'z' })
    expect(m['crateChange'].parse({})).toEqual({})
  })

  it.each([
    [{ label: 'abcde' }, /at most 4 characters/],
    [{ kind: 'barrel' }, /^kind/],
    [{ mood: 'glad' }, /^mood/],
    [{ weight: '1234.5' }, /at most 3 digits before the point and 2 behind it/],
    [{ weight: '1,5' }, /a decimal such as/],
    [{ sizes: [70000] }, /^sizes/],
    [{ packedOn: '3.2.2026' }, /a day, YYYY-MM-DD/],
    [{ label: null }, /^label/],
  ])('refuse %j', (wrong, says) => expect(refused('crateInput', { ...crate, ...wrong })?.join()).toMatch(says))

  it('count characters as the database does', () => expect(m['crateInput'].safeParse({ ...crate, label: '💛💛💛💛' }).success).toBe(true))
})
