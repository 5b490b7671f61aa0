// Rows as evidence: the demo without any of its foreign keys, on PostgreSQL and as an SQLite file; every key is found again, and
// counts are those of SQL written by hand.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog, Relation } from '../../src/core/catalog/index.ts'
import { infer, rowQuestions } from '../../src/core/infer/index.ts'
import type { Finding } from '../../src/core/model/index.ts'
import { type Inclusion, inclusionKey, type RowEvidence } from '../../src/core/rows/index.ts'
import { profile } from '../../src/engines/postgres/index.ts'
import { profileSqlite, surveySqlite } from '../../src/engines/sqlite/index.ts'
import { admin, cli, loadScript, makeDatabase, rowsOf, surveyOf } from '../support/server.ts'

type Db = Awaited<ReturnType<typeof makeDatabase>>
const at = '2026-01-01T00:00:00.000Z'
const quoted = (name: string) => `"${name.replaceAll('"', '""')}"`
const pair = (child: string, columns: readonly string[], parent: string, targets: readonly string[]) =>
  `${child}|${parent}|${columns
    .map((c, i) => `${c}>${targets[i]}`)
    .toSorted()
    .join()}`

let db: Db
let dir: string
let file: string
let truth: ReadonlySet<string>
let tables: readonly Relation[]

const isTable = (r: Relation) => r.kind === 'table' || r.kind === 'partitioned table'

beforeAll(async () => {
  db = await makeDatabase()
  loadScript(db.url, 'demo/schema.sql')
  loadScript(db.url, 'demo/rows.sql')
  const { structure } = await surveyOf(db.location)
  tables = structure.relations.filter(isTable)
  truth = new Set(tables.flatMap((r) => r.foreignKeys.map((k) => pair(r.name, k.columns, k.target.table, k.target.columns))))
  await admin(
    db.name,
    ...tables.flatMap((r) => r.foreignKeys.map((k) => `alter table ${quoted(r.schema)}.${quoted(r.name)} drop constraint ${quoted(k.name)}`)),
  )
  dir = mkdtempSync(join(tmpdir(), 'pelvok-rows-'))
  file = join(dir, 'co-op.db')
  await copyToSqlite()
}, 120_000)
afterAll(async () => {
  await db.drop()
  rmSync(dir, { recursive: true, force: true })
})

/** Tables with their keys and rows, types as an SQLite user would write them. */
async function copyToSqlite(): Promise<void> {
  const statements: string[] = ['begin']
  for (const r of tables) {
    const columns = r.columns.map(
      (c) => `${quoted(c.name)} ${c.type.replace(/^.*\./, '').replace('[]', '').replace('character varying', 'varchar')}${c.nullable ? '' : ' not null'}`,
    )
    const keys = [r.primaryKey, ...r.uniques].flatMap((k, i) => (k ? [`${i === 0 ? 'primary key' : 'unique'} (${k.columns.map(quoted).join(', ')})`] : []))
    statements.push(`create table ${quoted(r.name)} (${[...columns, ...keys].join(', ')})`)
    const list = r.columns.map((c) => `${quoted(c.name)}::text`).join(', ')
    const values = await rowsOf<Record<string, string | null>>(db.name, `select ${list} from ${quoted(r.schema)}.${quoted(r.name)}`)
    for (const v of values) statements.push(`insert into ${quoted(r.name)} values (${r.columns.map((c) => literal(c.type, v[c.name] ?? null)).join(', ')})`)
  }
  statements.push('commit')
  execFileSync('sqlite3', [file], { input: `${statements.join(';\n')};\n` })
}
const literal = (type: string, v: string | null) => (v === null ? 'null' : /^(integer|smallint|bigint)/.test(type) ? v : `'${v.replaceAll("'", "''")}'`)

/** Proposals and how sure they are, by pair. */
function proposals(catalog: Catalog, rows: RowEvidence): ReadonlyMap<string, { readonly sure: number; readonly finding: Finding }> {
  const found = new Map<string, { sure: number; finding: Finding }>()
  for (const f of infer(catalog, rows).findings) {
    for (const a of f.kind === 'reference' && f.alternatives[0].key !== 'lineage' ? f.alternatives : [])
      for (const e of a.edits)
        if (e.facet === 'reference.target' && e.value)
          found.set(pair(f.subject.replace(/\(.*/, '').replace(/^.*\./, ''), e.value.columns, e.value.table, e.value.targetColumns), {
            sure: a.confidence,
            finding: f,
          })
  }
  return found
}

/** What refers in the demo although its script declares nothing: legacy levies, copies of tables that are left over, codes, and who made a row. */
const undeclared: ReadonlySet<string> = new Set([
  pair('bk_levy', ['keeper_no'], 'bk_keeper', ['keeper_no']),
  pair('bk_levy_2019', ['keeper_no'], 'bk_keeper', ['keeper_no']),
  pair('bk_levy_2019', ['levy_id'], 'bk_levy', ['levy_id']),
  pair('bk_keeper_bak', ['keeper_no'], 'bk_keeper', ['keeper_no']),
  pair('inspection_observation', ['code'], 'observation_code', ['code']),
])
const isTrue = (key: string) => truth.has(key) || undeclared.has(key) || key.endsWith('|bk_keeper|created_by>keeper_no')

describe.each(['PostgreSQL', 'SQLite'] as const)('rows of %s', (engine) => {
  let catalog: Catalog
  let rows: RowEvidence
  beforeAll(async () => {
    if (engine === 'PostgreSQL') {
      catalog = (await surveyOf(db.location)).structure
      rows = await profile(db.location, rowQuestions(catalog), { at })
    } else {
      const answer = await surveySqlite(file)
      if (!answer.ok) throw new Error(answer.failure.kind)
      catalog = answer.reading.catalog
      rows = await profileSqlite(file, rowQuestions(catalog), { at })
    }
  }, 120_000)

  it('are read whole, nothing in silence', () => {
    expect(rows.unread).toEqual([])
    expect(rows.inclusions.length).toBeGreaterThan(truth.size)
    expect(new Set(rows.inclusions.map((i) => inclusionKey(i.child, i.parent))).size).toBe(rows.inclusions.length)
  })

  it('every true reference is found', () => {
    const found = proposals(catalog, rows)
    expect([...truth].filter((key) => (found.get(key)?.sure ?? 0) < 0.5)).toEqual([])
  })

  it('none is false', () => {
    const found = proposals(catalog, rows)
    expect([...found].filter(([key, f]) => f.sure >= 0.5 && !isTrue(key)).map(([key, f]) => `${key} ${f.sure}`)).toEqual([])
  })

  it('a kind and an id lead to the tables its words name', () => {
    const f = infer(catalog, rows).findings.find((x) => x.kind === 'polymorphic')
    const [edit] = f?.alternatives[0].edits ?? []
    expect(edit?.facet === 'reference.kinds' ? edit.value?.targets.map((t) => `${t.value} ${t.table}`).toSorted() : null).toEqual([
      'hive hive',
      'inspection inspection',
      'queen queen',
    ])
    expect(f?.alternatives[0].confidence).toBeGreaterThan(0.9)
  })

  it('orphans are exact', async () => {
    const of = (i: Inclusion) => i.child.table === 'bk_levy' && i.parent.table === 'bk_keeper' && i.child.columns[0] === 'keeper_no'
    const byHand = await rowsOf<{ orphans: number; rows: number }>(
      db.name,
      `select count(*)::int as rows, (count(*) filter (where not exists (select from coop.bk_keeper k where k.keeper_no = l.keeper_no)))::int as orphans
         from coop.bk_levy l where l.keeper_no is not null`,
    )
    expect(rows.inclusions.filter(of).map((i) => ({ rows: i.rows, orphans: i.orphans }))).toEqual(byHand)
    expect(byHand[0]?.orphans).toBeGreaterThan(0)
  })

  it('every number keeps its query, and it gives the same again', async () => {
    const f = proposals(catalog, rows).get(pair('hive', ['apiary_id'], 'apiary', ['id']))?.finding
    const [e] = f?.alternatives[0].evidence.filter((x) => x.query !== undefined) ?? []
    expect(e?.says).toMatch(
      /^every value of apiary_id is one of .*apiary\(id\): \d+ rows with \d+ values, \d+ of \d+ rows referred to, \d+ to \d+ each, median \d+$/,
    )
    if (engine === 'PostgreSQL') expect(await rowsOf(db.name, e?.query ?? '')).toHaveLength(1)
  })

  it('the command line reads them on request', () => {
    const source = engine === 'PostgreSQL' ? db.url : file
    const answer = JSON.parse(cli(['relate', source, '--rows', '--json', '--min-confidence', '0.5']).out) as {
      revision: string
      relationships: readonly { id: string }[]
    }
    expect(answer.revision).toMatch(/, rows [0-9a-f]{12},/)
    expect(answer.relationships.length).toBeGreaterThan(40)
  })
})

describe('rows that cannot be read', () => {
  it('are listed with what the server said, and the rest is read', async () => {
    const own = await makeDatabase(
      'create table bay (id int primary key)',
      'create table crate (id int primary key, bay_id int)',
      'create table lane (id int primary key, bay_id int)',
      'insert into bay values (1)',
      'insert into crate values (1, 1)',
    )
    try {
      const { structure } = await surveyOf(own.location)
      await admin(own.name, 'drop table lane')
      const rows = await profile(own.location, rowQuestions(structure), { at })
      expect(rows.inclusions.map((i) => [i.child.table, i.orphans])).toEqual([['crate', 0]])
      expect(rows.unread.map((u) => [u.child.table, u.because])).toEqual([['lane', 'relation "public.lane" does not exist']])
    } finally {
      await own.drop()
    }
  })
  it('nulls and pairs that come twice are counted, a key of another type by itself, and what was asked gives the same again', async () => {
    const own = await makeDatabase(
      'create table bay (id int primary key)',
      'create table porter (id int primary key)',
      'create table shelf (bay_id text primary key)',
      'create table helper (bay_id int not null, porter_id int not null)',
      'create table crate (id int primary key, bay_id int)',
      'insert into bay values (1), (2)',
      'insert into porter values (7)',
      'insert into helper values (1, 7), (1, 7), (2, 7)',
      'insert into crate values (1, 1), (2, null), (3, null), (4, 9)',
    )
    try {
      const { structure } = await surveyOf(own.location)
      const rows = await profile(own.location, rowQuestions(structure), { at })
      const of = rows.inclusions.find((i) => i.child.table === 'crate' && i.parent.table === 'bay')
      expect(of).toMatchObject({ rows: 2, nulls: 2, values: 2, orphans: 1, missing: 1, parents: 1, parentRows: 2, sampled: false })
      expect(rows.partners).toMatchObject([{ table: { table: 'helper' }, rows: 3, pairs: 2, repeated: 1, most: 2 }])
      expect(await rowsOf(own.name, of?.query ?? '')).toMatchObject([{ rows: '2', nulls: '2', orphans: '1' }])
      expect(await rowsOf(own.name, rows.partners[0]?.query ?? '')).toMatchObject([{ rows: '3', pairs: '2', repeated: '1' }])
      const finding = infer(structure, rows).findings.find((f) => f.id === 'join-table:public.helper')
      expect(finding?.alternatives[0].key).toBe('entity')
    } finally {
      await own.drop()
    }
  })

  it('what is likely in a sample is read whole, what is not stays a sample', async () => {
    const own = await makeDatabase(
      'create table bay (id int primary key)',
      'create table lane (id int primary key)',
      'create table crate (id int primary key, bay_id int, lane_id int)',
      'insert into bay select generate_series(1, 300)',
      'insert into lane select generate_series(1, 3)',
      'insert into crate select n, n % 300 + 1, n from generate_series(1, 12000) n',
    )
    try {
      const { structure } = await surveyOf(own.location)
      const rows = await profile(own.location, rowQuestions(structure), { at })
      expect(rows.inclusions.map((i) => [i.child.columns[0], i.parent.table, i.sampled, i.rows]).sort()).toEqual([
        ['bay_id', 'bay', false, 12000],
        ['lane_id', 'lane', true, 10000],
      ])
    } finally {
      await own.drop()
    }
  })

  it('statements that the server counted tell what is joined, without their values', async () => {
    const own = await makeDatabase(
      'create extension pg_stat_statements',
      'create table bay (id int primary key)',
      'create table crate (id int primary key, spot int)',
    )
    try {
      await rowsOf(own.name, 'select b.id from crate c join bay b on b.id = c.spot where b.id <> 4711')
      const { structure } = await surveyOf(own.location)
      const rows = await profile(own.location, rowQuestions(structure), { at })
      expect(rows.statements).toBeGreaterThan(0)
      expect(rows.joins).toEqual([{ left: { table: 'public.bay', column: 'id' }, right: { table: 'public.crate', column: 'spot' }, statements: 1 }])
      expect(JSON.stringify(rows)).not.toContain('4711')
    } finally {
      await own.drop()
    }
  })

  it('statements in a folder do too', () => {
    const folder = mkdtempSync(join(tmpdir(), 'pelvok-queries-'))
    try {
      writeFileSync(join(folder, 'schema.sql'), 'create table bay (id int primary key); create table crate (id int primary key, spot int);')
      writeFileSync(join(folder, 'reports.sql'), 'select 1;\nselect * from crate c join bay b on b.id = c.spot;\n')
      const with_ = cli(['relate', join(folder, 'schema.sql'), '--dialect', 'postgresql', '--queries', join(folder, 'reports.sql'), '--json'])
      expect(with_.err).toContain('2 statements of the application: 1 pair of columns is joined')
      expect((JSON.parse(with_.out) as { relationships: readonly { id: string }[] }).relationships.map((r) => r.id)).toEqual(['reference:public.crate(spot)'])
      expect(cli(['relate', join(folder, 'schema.sql'), '--queries', join(folder, 'gone')])).toMatchObject({
        status: 2,
        err: expect.stringContaining('there is no file or folder'),
      })
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  })

  it('classes may be made by them', () => {
    const out = mkdtempSync(join(tmpdir(), 'pelvok-emit-'))
    try {
      const manifest = (...more: readonly string[]) => {
        expect(cli(['emit', file, ...more, '--target', 'typescript', '--take', '--out', out, '--overwrite']).status).toBe(0)
        return readFileSync(join(out, 'pelvok.manifest.json'), 'utf8')
      }
      // The revision names the reading of rows.
      expect(manifest('--rows')).not.toBe(manifest())
    } finally {
      rmSync(out, { recursive: true, force: true })
    }
  })
  it('the order of rows has each table once, after what it refers to', () => {
    const answer = JSON.parse(cli(['relate', 'demo/schema.sql', '--order', '--json']).out) as { readonly portions: readonly (readonly string[])[] }
    const order = answer.portions.flat()
    expect(new Set(order).size).toBe(order.length)
    const at = (name: string) => answer.portions.findIndex((p) => p.includes(name))
    expect(at('coop.bk_keeper')).toBeLessThan(at('field.apiary'))
    expect(at('field.apiary')).toBeLessThan(at('field.hive'))
    expect(cli(['relate', 'demo/schema.sql', '--order']).out).toContain('Rows are deleted from the last portion to the first.')
  })
  it('a script has none', () => {
    const r = cli(['relate', 'demo/schema.sql', '--rows'])
    expect(r.status).toBe(2)
    expect(r.err).toContain('holds no rows that can be read')
  })
  it('reading stops when it is told to', async () => {
    const { structure } = await surveyOf(db.location)
    const stop = new AbortController()
    const reading = profile(db.location, rowQuestions(structure), { at, signal: stop.signal, onProgress: () => stop.abort() })
    await expect(reading).rejects.toThrow()
  })
})
