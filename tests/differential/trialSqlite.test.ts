// The same trial on an SQLite file, asked as the browser asks it: results equal those of the sqlite3 program.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { readSqliteFile } from '../../src/core/dialect/sqlite/crossCheck.ts'
import { infer } from '../../src/core/infer/index.ts'
import { derive, type EntityModel, type TrialPath } from '../../src/core/model/index.ts'
import { type Ask, compareWays, resolve, runTrial, sqliteText, stepsFrom, Writer } from '../../src/core/trial/index.ts'
import { type FileDatabase, factsOf, openDatabase } from '../../src/workers/sqliteDatabase.ts'

const dir = mkdtempSync(join(tmpdir(), 'pelvok-trial-'))
const file = join(dir, 'a.db')
let db: FileDatabase
let catalog: Catalog
let model: EntityModel

const cli = (sql: string): string => {
  const { stdout, stderr } = spawnSync('sqlite3', ['-batch', '-noheader', '-nullvalue', '∅', file], { input: sql, encoding: 'utf8' })
  if (stderr) throw new Error(stderr)
  return stdout.trim()
}

beforeAll(async () => {
  cli(`
    create table bay (id integer primary key, label text not null, big integer, part real, raw blob);
    create table crate (id integer primary key, bay_id integer references bay, code text, kind);
    create table porter (name text primary key) without rowid;
    create table crate_porter (crate_id integer not null references crate, porter_name text not null references porter, primary key (crate_id, porter_name));
    create table spot (lane integer, place text, crate_id integer references crate, primary key (lane, place));
    insert into bay values (1, 'first', 9223372036854775807, 0.1, x'00ff'), (2, 'second', -9223372036854775808, 3.0, null), (3, 'third', null, 1e300, x'');
    with recursive n(i) as (select 1 union all select i + 1 from n where i < 500) insert into crate select i, case when i % 50 = 0 then null when i % 49 = 0 then 99 else i % 3 + 1 end, 'c' || i, i from n;
    insert into porter values ('Ada'), ('Bo');
    insert into crate_porter select id, 'Ada' from crate where id < 20 union all select id, 'Bo' from crate where id < 5;
    insert into spot select i.value % 7, 'p' || i.value, i.value from json_each('[1,2,3,4,5,6,7,8,9,10,11,12,13]') i;
  `)
  db = await openDatabase(new Uint8Array(readFileSync(file)).buffer)
  catalog = readSqliteFile('a.db', factsOf(db)).catalog
  model = derive(catalog, infer(catalog).findings, [])
})
afterAll(() => {
  db?.close()
  rmSync(dir, { recursive: true, force: true })
})

let sent = 0
const ask: Ask = async (s) => {
  sent += 1
  return { rows: db.asked(s.sql, s.values as readonly (string | null)[]).map((r) => r.map(sqliteText)), milliseconds: 0 }
}
const step = (entity: string, property: string) => {
  const s = stepsFrom(model, entity).find((x) => x.property === property)
  if (!s) throw new Error(`${entity}: ${stepsFrom(model, entity).map((x) => x.property)}`)
  return { relationship: s.relationship, end: s.end }
}
const trialOf = (p: TrialPath) => {
  const found = resolve(model, p)
  if (!found.ok) throw new Error(found.problem)
  return found.trial
}
const run = (p: TrialPath, limit = 20, after: readonly string[] | null = null) => runTrial(trialOf(p), new Writer(catalog), ask, { limit, after })

describe('a trial on an SQLite file', () => {
  it('values arrive exactly', async () => {
    const { levels } = await run({ entity: 'bay', conditions: [], steps: [] })
    expect(levels[0]?.rows.map((r) => r.values)).toEqual([
      ['1', 'first', '9223372036854775807', '0.1', "x'00ff'"],
      ['2', 'second', '-9223372036854775808', '3.0', null],
      ['3', 'third', null, '1e+300', "x''"],
    ])
  })
  it('steps find what joins by the sqlite3 program find, many-to-many and orphans too', async () => {
    const bays = await run({ entity: 'bay', conditions: [], steps: [step('bay', 'crates')] })
    expect(bays.levels[1]?.rows.length).toBe(Number(cli('select count(*) from crate c join bay b on b.id = c.bay_id')))
    const crates = await run({ entity: 'crate', conditions: [], steps: [step('crate', 'porters'), step('porter', 'crates')] }, 200)
    expect(crates.levels[1]?.rows.length).toBe(Number(cli('select count(*) from crate_porter')))
    expect(crates.levels[1]?.rows.every((r) => !r.twice)).toBe(true)
    const up = await run({ entity: 'crate', conditions: [], steps: [step('crate', 'bay')] }, 200)
    expect(up.levels[1]?.orphans.length).toBe(
      Number(cli('select count(*) from (select * from crate order by id limit 200) c where bay_id is not null and bay_id not in (select id from bay)')),
    )
    expect(up.levels[1]?.orphans.length).toBeGreaterThan(2)
  })
  it('portions and conditions go by values of the column’s type, with composite keys', async () => {
    const seen: string[] = []
    let after: readonly string[] | null = null
    do {
      const t = await run({ entity: 'spot', conditions: [], steps: [] }, 4, after)
      seen.push(...(t.levels[0]?.rows ?? []).map((r) => `${r.values[0]}|${r.values[1]}`))
      after = t.next
    } while (after !== null)
    expect(seen.join('\n')).toBe(cli('select lane, place from spot order by lane, place'))
    const t = await run({
      entity: 'crate',
      conditions: [
        { via: [], column: 'id', is: 'more', value: '99' },
        { via: [step('crate', 'bay')], column: 'label', is: 'contains', value: 'IR' },
        { via: [], column: 'code', is: 'contains', value: '_' },
      ],
      steps: [],
    })
    expect(t.counts).toEqual([
      500,
      Number(cli('select count(*) from crate where id > 99')),
      Number(cli(`select count(*) from crate c where id > 99 and exists (select 1 from bay b where b.id = c.bay_id and b.label like '%ir%')`)),
      0,
    ])
  })
  it('as many statements are sent as are said', async () => {
    const t = trialOf({ entity: 'bay', conditions: [], steps: [step('bay', 'crates')] })
    const w = new Writer(catalog)
    const portion = { limit: 20, after: null }
    const trial = await runTrial(t, w, ask, portion)
    sent = 0
    const { ways } = await compareWays(t, trial, w, ask, portion)
    expect(ways.map((x) => [x.way, x.statements])).toEqual([
      ['row by row', 4],
      ['batched', 2],
      ['joined', 1],
    ])
    expect(sent).toBe(4 + 1)
    expect(ways[0].rows).toBe(ways[1].rows)
  })
})
