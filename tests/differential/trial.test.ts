// Real rows through the model, on a real server: results equal SQL written by hand, the server's own count of statements equals ours, and
// all of them only read.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { infer } from '../../src/core/infer/index.ts'
import { derive, type EntityModel } from '../../src/core/model/index.ts'
import {
  type Condition,
  compareWays,
  countedTo,
  type Resolved,
  resolve,
  runTrial,
  stepsFrom,
  type Trial,
  type TrialPath,
  type TrialStep,
  Writer,
} from '../../src/core/trial/index.ts'
import { readRows } from '../../src/engines/postgres/index.ts'
import { admin, demoDatabase, type makeDatabase, rowsOf, surveyOf } from '../support/server.ts'
import { eventually } from '../support/wait.ts'

let db: Awaited<ReturnType<typeof makeDatabase>>
let catalog: Catalog
let model: EntityModel

beforeAll(async () => {
  ;({ db, catalog, model } = await demoDatabase(
    'create extension pg_stat_statements',
    `create table field.odd ("Id" bigint primary key, "select" numeric(30,10), at timestamp, day date, list text[], doc jsonb, raw bytea, code char(4), real8 float8)`,
    `insert into field.odd values (9007199254740993, 12345678901234567890.0123456789, '2024-03-31 02:30:00.123456', '0001-01-01', '{"a,b",NULL,"c\\"d"}', '{"b":1,"a":1.10}', '\\x00ff', 'ab', 0.1), (-9223372036854775808, null, 'infinity', 'infinity', '{}', 'null', '', null, 'NaN')`,
    'create table field.twin_a (id int primary key)',
    'create table field.twin_b (id int primary key)',
    'create table field.twin (a_id int not null references field.twin_a, b_id int not null references field.twin_b)',
    'insert into field.twin_a values (1), (2)',
    'insert into field.twin_b values (7), (8)',
    'insert into field.twin values (1, 7), (1, 7), (1, 8), (2, 7)',
  ))
}, 120_000)
afterAll(() => db.drop())

const step = (entity: string, property: string): TrialStep => {
  const found = stepsFrom(model, entity).find((s) => s.property === property)
  if (!found) throw new Error(`${entity} has no ${property}: ${stepsFrom(model, entity).map((s) => s.property)}`)
  return { relationship: found.relationship, end: found.end }
}
const path = (entity: string, steps: readonly TrialStep[] = [], conditions: readonly Condition[] = []): Resolved => {
  const wanted: TrialPath = { entity, steps: [...steps], conditions: [...conditions] }
  const found = resolve(model, wanted)
  if (!found.ok) throw new Error(found.problem)
  return found.trial
}
const run = (t: Resolved, limit = 20, after: readonly string[] | null = null): Promise<Trial> =>
  readRows(db.location, null, (ask) => runTrial(t, new Writer(catalog), ask, { limit, after }))
const own = (column: string, is: Condition['is'], value = ''): Condition => ({ via: [], column, is, value })
const at = (trial: Trial, level: number, column: string) => {
  const l = trial.levels[level]
  const place = l?.columns.findIndex((c) => c.column === column) ?? -1
  return l?.rows.map((r) => r.values[place] ?? null) ?? []
}

describe('a trial', () => {
  it('every step of every entity runs, and finds what a join by hand finds', async () => {
    const wrong: string[] = []
    let steps = 0
    for (const e of model.entities)
      for (const s of stepsFrom(model, e.id)) {
        steps += 1
        const t = path(e.id, [s])
        const trial = await run(t, 50).catch((error: unknown) => wrong.push(`${e.id} ${s.property}: ${String(error)}`))
        if (typeof trial === 'number') continue
        const [leg] = t.legs
        const [first, second] = trial.levels
        if (!leg || !first || !second || second.more) continue
        const key = first.columns.filter((c) => c.key).map((c) => c.column)
        if (key.length === 0) continue
        const order = key.map((k) => `r."${k}"`).join(', ')
        const on = (a: string, left: readonly string[], b: string, right: readonly string[]) =>
          left.map((c, i) => `${a}."${c}" = ${b}."${right[i]}"`).join(' and ')
        const join = leg.through
          ? `join "${leg.through.schema}"."${leg.through.name}" j on ${on('j', leg.through.own, 'r', leg.ownColumns)} join "${leg.other.relation.schema}"."${leg.other.relation.name}" t on ${on('t', leg.otherColumns, 'j', leg.through.other)}`
          : `join "${leg.other.relation.schema}"."${leg.other.relation.name}" t on ${on('t', leg.otherColumns, 'r', leg.ownColumns)}`
        const [hand] = await rowsOf<{ n: string }>(
          db.name,
          `select count(*) as n from (select * from "${e.relation.schema}"."${e.relation.name}" r order by ${order} limit 50) r ${join}`,
        )
        if (Number(hand?.n) !== second.rows.length) wrong.push(`${e.id} ${s.property}: ${second.rows.length}, by hand ${hand?.n}`)
      }
    expect(steps).toBeGreaterThan(80)
    expect(wrong).toEqual([])
  })

  it('three steps deep gives the rows that nested queries by hand give, each under its own', async () => {
    const t = path('field.apiary', [step('field.apiary', 'hives'), step('field.hive', 'inspections'), step('field.inspection', 'observations')])
    const trial = await run(t, 3)
    const [apiaries, hives, inspections, observations] = trial.levels
    expect(apiaries?.rows).toHaveLength(3)
    const n = async (sql: string) => Number((await rowsOf<{ n: string }>(db.name, sql))[0]?.n)
    const three = 'select id from field.apiary order by id limit 3'
    expect(hives?.rows.length).toBe(await n(`select count(*) as n from field.hive where apiary_id in (${three})`))
    expect(
      inspections?.more ||
        inspections?.rows.length ===
          (await n(`select count(*) as n from field.inspection i join field.hive h on h.id = i.hive_id where h.apiary_id in (${three})`)),
    ).toBe(true)
    for (const [i, r] of (hives?.rows ?? []).entries()) expect(at(trial, 1, 'apiary_id')[i]).toBe(at(trial, 0, 'id')[r.of ?? -1])
    for (const [i, r] of (inspections?.rows ?? []).entries()) expect(at(trial, 2, 'hive_id')[i]).toBe(at(trial, 1, 'id')[r.of ?? -1])
    for (const [i, r] of (observations?.rows ?? []).entries()) expect(at(trial, 3, 'inspection_id')[i]).toBe(at(trial, 2, 'id')[r.of ?? -1])
    expect(observations?.rows.length).toBeGreaterThan(10)
  })

  it('portions go by the key, miss nothing and repeat nothing, with composite keys and without', async () => {
    for (const entity of ['field.hive', 'field.treatment', 'field.rota']) {
      const t = path(entity)
      const key = new Writer(catalog).keyOf(t.entity)
      const seen: string[] = []
      let after: readonly string[] | null = null
      for (let turn = 0; turn < 200; turn += 1) {
        const trial: Trial = await run(t, 37, after)
        seen.push(...(trial.levels[0]?.rows ?? []).map((r) => JSON.stringify(key.map((c) => r.values[t.entity.properties.findIndex((p) => p.column === c)]))))
        after = trial.next
        if (after === null) break
      }
      const [hand] = await rowsOf<{ n: string }>(db.name, `select count(*) as n from ${entity}`)
      expect([entity, new Set(seen).size, seen.length]).toEqual([entity, Math.min(Number(hand?.n), 200 * 37), Math.min(Number(hand?.n), 200 * 37)])
    }
    const keyless = model.entities.find((e) => e.identity.kind === 'none' && e.kind === 'table')
    expect((await run(path(keyless?.id ?? ''), 5)).next).toBeNull()
  })

  it('each condition says what it leaves, its own and over a relationship, as SQL by hand counts it', async () => {
    const via = [step('field.hive', 'apiary')]
    const conditions: readonly Condition[] = [
      own('hive_no', 'less', '4'),
      own('queen_id', 'filled'),
      { via, column: 'name', is: 'contains', value: 'a' },
      own('box_kind', 'other', 'dadant'),
      { via: [step('field.hive', 'inspections')], column: 'comment', is: 'empty', value: '' },
    ]
    const sql = [
      'hive_no < 4',
      'queen_id is not null',
      `exists (select 1 from field.apiary a where a.id = h.apiary_id and a.name ilike '%a%')`,
      `box_kind <> 'dadant'`,
      'exists (select 1 from field.inspection i where i.hive_id = h.id and i.comment is null)',
    ]
    const trial = await run(path('field.hive', [], conditions))
    const by: number[] = []
    for (let i = 0; i <= sql.length; i += 1)
      by.push(
        Number((await rowsOf<{ n: string }>(db.name, `select count(*) as n from field.hive h where ${['true', ...sql.slice(0, i)].join(' and ')}`))[0]?.n),
      )
    expect(trial.counts).toEqual(by)
    expect(new Set(by).size).toBeGreaterThan(3)
    expect(trial.levels[0]?.rows.length).toBe(Math.min(20, by.at(-1) ?? 0))
    const wild = await run(path('field.apiary', [], [own('name', 'contains', '%')]))
    expect(wild.counts[1]).toBe(0)
  })

  it('values arrive exactly as the server prints them', async () => {
    const trial = await run(path('field.odd'))
    expect(trial.levels[0]?.rows.map((r) => r.values)).toEqual([
      ['-9223372036854775808', null, 'infinity', 'infinity', '{}', 'null', '\\x', null, 'NaN'],
      [
        '9007199254740993',
        '12345678901234567890.0123456789',
        '2024-03-31 02:30:00.123456',
        '0001-01-01',
        '{"a,b",NULL,"c\\"d"}',
        '{"a": 1.10, "b": 1}',
        '\\x00ff',
        'ab  ',
        '0.1',
      ],
    ])
    const found = await run(path('field.odd', [], [own('Id', 'equal', '9007199254740993'), own('select', 'more', '12345678901234567890.0123456788')]))
    expect(found.counts).toEqual([2, 1, 1])
  })

  it('rows that point nowhere, and partners that come twice, stand out', async () => {
    let orphans = 0
    for (const guessed of model.relationships.filter((r) => r.state === 'guessed' && r.through === null)) {
      const [column] = guessed.from.columns
      const [hand] = await rowsOf<{ n: string }>(
        db.name,
        `select count(*) as n from ${guessed.from.entity} l where l.${column} is not null and not exists (select 1 from ${guessed.to.entity} p where p.${guessed.to.columns[0]} = l.${column})`,
      )
      const step = { relationship: guessed.id, end: 'from' } as const
      if (new Writer(catalog).keyOf(path(guessed.from.entity).entity).length === 0) continue
      let found = 0
      let after: readonly string[] | null = null
      do {
        const trial: Trial = await run(path(guessed.from.entity, [step], [own(column ?? '', 'filled')]), 200, after)
        found += trial.levels[1]?.orphans.length ?? 0
        after = trial.next
      } while (after !== null)
      expect([guessed.id, found]).toEqual([guessed.id, Number(hand?.n)])
      orphans += found
    }
    expect(orphans).toBeGreaterThan(0)
    const many = model.relationships.find((r) => r.through?.table.name === 'twin')
    const t = many
      ? path(many.from.entity, [{ relationship: many.id, end: 'from' }])
      : path('field.twin_a', [
          step('field.twin_a', 'twins'),
          step('field.twin', stepsFrom(model, 'field.twin').find((s) => s.other === 'TwinB')?.property ?? ''),
        ])
    const trial = await run(t)
    if (many)
      expect(trial.levels[1]?.rows.map((r) => [r.of, r.values[0], r.twice])).toEqual(
        many.from.entity === 'field.twin_a'
          ? [
              [0, '7', false],
              [0, '7', true],
              [0, '8', false],
              [1, '7', false],
            ]
          : [
              [0, '1', false],
              [0, '1', true],
              [0, '2', false],
              [1, '1', false],
            ],
      )
    else expect(trial.levels[2]?.rows).toHaveLength(4)
  })

  it('three ways read the same rows, and the server counts as many statements as we say', async () => {
    const t = path('field.hive', [step('field.hive', 'inspections')])
    const w = new Writer(catalog)
    await admin(db.name, 'select pg_stat_statements_reset()')
    const portion = { limit: 12, after: null }
    const { trial, compared } = await readRows(db.location, null, async (ask) => {
      const done = await runTrial(t, w, ask, portion)
      return { trial: done, compared: await compareWays(t, done, w, ask, portion) }
    })
    const log = await rowsOf<{ query: string; calls: string }>(
      db.name,
      "select query, calls::text as calls from pg_stat_statements s join pg_database d on d.oid = s.dbid where d.datname = current_database() and query not like '%pg_stat_statements%'",
    )
    const calls = (has: string) => log.filter((l) => l.query.includes(has)).reduce((n, l) => n + Number(l.calls), 0)
    const [rowByRow, batched, joined] = compared.ways
    expect(rowByRow.statements).toBe(1 + 12)
    expect(calls('where t.hive_id = ')).toBe(12)
    expect([batched.statements, calls('with ordinality')]).toEqual([2, 1])
    expect([joined.statements, calls('left join')]).toEqual([1, 1])
    expect(rowByRow.rows).toBe(batched.rows)
    const under = trial.levels[1]?.rows.length ?? 0
    const empty = 12 - new Set(trial.levels[1]?.rows.map((r) => r.of)).size
    expect(joined.rows).toBe(under + empty)
    expect(compared.advice).toMatch(/^Batched: 2 statements in the place of 13/)
    // Reads, and what begins and ends a transaction that can do nothing else.
    expect(log.map((l) => l.query).filter((q) => !/^\s*(select|with|begin|set local|set |rollback|commit|deallocate|show)/i.test(q))).toEqual([])
  })

  it('a large table costs no more than a small one, and what is cancelled ends on the server', async () => {
    await admin(
      db.name,
      'create table field.big as select n as id, n % 7 as of from generate_series(1, 1000000) n',
      'alter table field.big add primary key (id)',
      'analyze field.big',
    )
    const whole = (await surveyOf(db.location)).structure
    const large = derive(whole, infer(whole).findings, [])
    const found = resolve(large, { entity: 'field.big', conditions: [own('of', 'equal', '3')], steps: [] })
    if (!found.ok) throw new Error(found.problem)
    const w = new Writer(whole)
    const trial = await readRows(db.location, null, (ask) => runTrial(found.trial, w, ask, { limit: 20, after: ['900000'] }))
    expect(trial.counts).toEqual([countedTo + 1, countedTo + 1])
    const plan = await rowsOf<{ 'QUERY PLAN': string }>(
      db.name,
      `explain ${w.portion(path0(found.trial), 20, ['900000']).sql.replace('$1::integer', '900000')}`,
    )
    expect(plan.map((p) => p['QUERY PLAN']).join('\n')).toMatch(/Index (Only )?Scan/)
    const controller = new AbortController()
    const slow = readRows(db.location, controller.signal, (ask) => ask({ sql: 'select pg_sleep(60)', values: [] }))
    const sleeping = () =>
      rowsOf(
        db.name,
        "select 1 from pg_stat_activity where datname = current_database() and state = 'active' and query like '%pg_sleep(60)%' and pid <> pg_backend_pid()",
      )
    await eventually('the statement', async () => (await sleeping()).length > 0)
    controller.abort()
    await expect(slow).rejects.toThrow()
    // It would sleep for a minute more: it is ended.
    expect(await sleeping()).toEqual([])
  })
})

/** The trial without its conditions. */
const path0 = (t: Resolved): Resolved => ({ ...t, conditions: [] })
