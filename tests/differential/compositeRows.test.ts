// Natural keys of several columns, handed down over levels, declared nowhere: what names find of them, and what rows settle.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { infer, rowQuestions } from '../../src/core/infer/index.ts'
import type { RowEvidence } from '../../src/core/rows/index.ts'
import { profileSqlite, surveySqlite } from '../../src/engines/sqlite/index.ts'

type Row = readonly (string | number | null)[]
interface Table {
  readonly columns: string
  readonly key: string
  readonly rows: readonly Row[]
}

const range = (n: number) => Array.from({ length: n }, (_, i) => i + 1)
const waters = ['Ash', 'Bow', 'Cam', 'Dove', 'Exe', 'Frome'].flatMap((name, i) => range(2).map((d) => [`d${d}`, name, 20 + i * 7 + d] as const))
const locks = waters.flatMap(([district, water], i) => range(3 + (i % 4)).map((n) => [district, water, n, n * 3] as const))
const gates = locks.flatMap(([d, w, n], i) => (i % 5 === 0 ? ['up'] : ['up', 'down']).map((side) => [d, w, n, side, i % 2 ? 'oak' : 'iron'] as const))
const flags = ['nl', 'be', 'de', 'fr']
const boats = range(60).map((n) => [flags[n % 4] as string, `B${100 + n}`, `Boat ${n}`, 12 + (n % 20)] as const)
const skippers = range(40).map((n) => [flags[n % 4] as string, `S${n}`, `Skipper ${n}`] as const)
const tariffs = range(5).flatMap((k) => [2019, 2020, 2021].map((year) => [`T${k}`, year, k * 10 + year - 2000] as const))
const at = <T>(list: readonly T[], i: number): T => list[(i * 7) % list.length] as T
const passages = range(300).map((i) => {
  const [d, w, n] = at(locks, i)
  const [flag, number] = at(boats, i)
  const [land, paper] = at(skippers, i + 3)
  const [tariff, year] = at(tariffs, i)
  return [d, w, n, i, flag, number, land, paper, tariff, year] as const
})

/** Name → table; the last columns of some are called otherwise than the key they refer to, so that only rows can tell. */
const tables: Readonly<Record<string, Table>> = {
  district: {
    columns: 'district text, title text',
    key: 'district',
    rows: [
      ['d1', 'North'],
      ['d2', 'South'],
    ],
  },
  waterway: { columns: 'district text, water text, km integer', key: 'district, water', rows: waters },
  lock: { columns: 'district text, water text, lock_no integer, rise integer', key: 'district, water, lock_no', rows: locks },
  gate: { columns: 'district text, water text, lock_no integer, side text, made_of text', key: 'district, water, lock_no, side', rows: gates },
  gate_repair: {
    columns: 'repair integer, district text, water text, lock_no integer, side text, cost integer',
    key: 'repair',
    rows: range(80).map((i) => [i, ...at(gates, i).slice(0, 4), i * 13]),
  },
  boat: { columns: 'flag text, number text, title text, metres integer', key: 'flag, number', rows: boats },
  skipper: { columns: 'land text, paper text, title text', key: 'land, paper', rows: skippers },
  skipper_course: {
    columns: 'skipper_land text, skipper_paper text, held text',
    key: 'skipper_land, skipper_paper, held',
    rows: skippers.map(([l, p], i) => [l, p, `20${10 + (i % 9)}`]),
  },
  tariff: { columns: 'letter text, year integer, cents integer', key: 'letter, year', rows: tariffs },
  passage: {
    columns:
      'district text, water text, lock_no integer, turn integer, boat_flag text, boat_number text, skip_land text, skip_paper text, tariff_letter text, tariff_year integer',
    key: 'district, water, lock_no, turn',
    rows: passages,
  },
  passage_remark: {
    columns: 'remark integer, district text, water text, lock_no integer, turn integer, body text',
    key: 'remark',
    rows: range(60).map((i) => [i, ...at(passages, i).slice(0, 4), `seen ${i}`]),
  },
  mooring: {
    columns: 'mooring integer, waterway_district text, waterway_water text, tied_flag text, tied_number text',
    key: 'mooring',
    rows: range(90).map((i) => [i, ...at(waters, i).slice(0, 2), ...at(boats, i + 1).slice(0, 2)]),
  },
  inspection: {
    columns: 'inspection integer, flag text, hull text, seen_in text, district text',
    key: 'inspection',
    rows: range(70).map((i) => [i, ...at(boats, i + 2).slice(0, 2), at(waters, i)[1], at(waters, i)[0]]),
  },
  escort: {
    columns: 'escort integer, first_flag text, first_number text, second_flag text, second_number text',
    key: 'escort',
    rows: range(50).map((i) => [i, ...at(boats, i).slice(0, 2), ...at(boats, i + 5).slice(0, 2)]),
  },
}

const pair = (child: string, columns: string, parent: string, targets: string) => {
  const [c, t] = [columns.split(', '), targets.split(', ')]
  return `${child}|${parent}|${c
    .map((x, i) => `${x}>${t[i]}`)
    .toSorted()
    .join()}`
}
const lockKey = 'district, water, lock_no'
const truth: ReadonlySet<string> = new Set([
  pair('waterway', 'district', 'district', 'district'),
  pair('lock', 'district, water', 'waterway', 'district, water'),
  pair('gate', lockKey, 'lock', lockKey),
  pair('gate_repair', `${lockKey}, side`, 'gate', `${lockKey}, side`),
  pair('skipper_course', 'skipper_land, skipper_paper', 'skipper', 'land, paper'),
  pair('passage', lockKey, 'lock', lockKey),
  pair('passage', 'boat_flag, boat_number', 'boat', 'flag, number'),
  pair('passage', 'skip_land, skip_paper', 'skipper', 'land, paper'),
  pair('passage', 'tariff_letter, tariff_year', 'tariff', 'letter, year'),
  pair('passage_remark', `${lockKey}, turn`, 'passage', `${lockKey}, turn`),
  pair('mooring', 'waterway_district, waterway_water', 'waterway', 'district, water'),
  pair('mooring', 'tied_flag, tied_number', 'boat', 'flag, number'),
  pair('inspection', 'flag, hull', 'boat', 'flag, number'),
  pair('inspection', 'district, seen_in', 'waterway', 'district, water'),
  pair('escort', 'first_flag, first_number', 'boat', 'flag, number'),
  pair('escort', 'second_flag, second_number', 'boat', 'flag, number'),
])
/** Follows from longer ones: neither wanted nor wrong. */
const isImplied = (key: string) => /^(lock|gate|gate_repair|passage|passage_remark|mooring|inspection)\|(district|waterway|lock)\|/.test(key)

let dir: string
let catalog: Catalog
let rows: RowEvidence

beforeAll(async () => {
  dir = mkdtempSync(join(tmpdir(), 'pelvok-keys-'))
  const file = join(dir, 'locks.db')
  const value = (v: string | number | null) => (v === null ? 'null' : typeof v === 'number' ? String(v) : `'${v}'`)
  const statements = Object.entries(tables).flatMap(([name, t]) => [
    `create table ${name} (${t.columns}, primary key (${t.key}))`,
    ...t.rows.map((r) => `insert into ${name} values (${r.map(value).join(', ')})`),
  ])
  execFileSync('sqlite3', [file], { input: `begin;\n${statements.join(';\n')};\ncommit;\n` })
  const answer = await surveySqlite(file)
  if (!answer.ok) throw new Error(answer.failure.kind)
  catalog = answer.reading.catalog
  rows = await profileSqlite(file, rowQuestions(catalog), { at: '2026-01-01T00:00:00.000Z' })
}, 120_000)
afterAll(() => rmSync(dir, { recursive: true, force: true }))

/** How sure the likeliest answer to each question is, by pair. */
function said(evidence: RowEvidence | null): ReadonlyMap<string, number> {
  const found = new Map<string, number>()
  for (const f of infer(catalog, evidence).findings)
    for (const a of f.kind === 'reference' ? f.alternatives : [])
      for (const e of a.edits)
        if (e.facet === 'reference.target' && e.value)
          found.set(pair(f.subject.replace(/\(.*/, ''), e.value.columns.join(', '), e.value.table, e.value.targetColumns.join(', ')), a.confidence)
  return found
}

describe('keys of several columns', () => {
  it('are found by rows where names fall short, and none is false', () => {
    const found = said(rows)
    expect([...truth].filter((key) => (found.get(key) ?? 0) < 0.5)).toEqual([])
    expect([...found].filter(([key, p]) => p >= 0.5 && !truth.has(key) && !isImplied(key))).toEqual([])
  })

  it('most of them by names alone', () => {
    const found = said(null)
    expect([...truth].filter((key) => (found.get(key) ?? 0) >= 0.5).length).toBeGreaterThanOrEqual(11)
    expect([...found].filter(([key, p]) => p >= 0.5 && !truth.has(key) && !isImplied(key))).toEqual([])
  })

  it('are proven where every one of many values is there, whatever they are called', () => {
    const found = said(rows)
    expect(found.get(pair('mooring', 'tied_flag, tied_number', 'boat', 'flag, number'))).toBeGreaterThanOrEqual(0.9)
    const f = infer(catalog, rows).findings.find((x) => x.subject === 'mooring(tied_flag,tied_number)')
    expect(f?.alternatives[0].evidence.map((e) => e.kind)).toContain('values all there')
  })
})
