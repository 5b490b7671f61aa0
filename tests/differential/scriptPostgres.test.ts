// What a script means to PostgreSQL: the survey of a database it was run in against our reading, for the demo, our own
// script of everything, and every script of the corpus. Only what `allowedDifference` lists may differ.
import { execFileSync } from 'node:child_process'
import { describe, expect, it } from 'vitest'
import { compareCatalogs } from '../../src/core/catalog/index.ts'
import { baselinePlan, describePlanProblem } from '../../src/core/change/index.ts'
import { allowedDifference, readScript, scriptDiagnosticLine } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { rehearse } from '../../src/engines/postgres/index.ts'
import { corpusPath, corpusScripts, readFileScript, tortureOf } from '../support/scripts.ts'
import { adminLocation, makeDatabase, surveyOf, versionOf } from '../support/server.ts'

const version = await versionOf()
/** Our script of everything has what came with 15. */
const torture = version >= 15 ? [tortureOf('postgresql')] : []

/** Ends psql at once where it is not run by the server itself, and uses a name that a template engine fills in: psql runs neither. */
const notRun = /^pgagent-pg\/schema|^slony-pg\/schema/

describe('a script means the same to PostgreSQL', () => {
  const scripts = [
    'demo/schema.sql',
    ...torture,
    ...corpusScripts('pg')
      .filter((s) => !notRun.test(s))
      .map(corpusPath),
  ]
  it.each(scripts)('%s', async (path) => {
    const db = await makeDatabase()
    try {
      execFileSync('psql', ['-X', '-q', '-f', path, db.url], { stdio: ['ignore', 'ignore', 'ignore'] })
      const server = (await surveyOf(db.location)).structure
      const ours = readFileScript(path, postgresScript)
      expect(ours.understood).toBe(ours.structural)
      expect(ours.diagnostics.map(scriptDiagnosticLine)).toEqual([])
      const views = new Set(server.relations.filter((r) => r.kind.includes('view')).map((r) => `relation ${r.schema}.${r.name}`))
      const differences = compareCatalogs(ours.catalog, server)
      const wrong = differences.filter((d) => allowedDifference(d, (object) => views.has(object)) === null)
      console.log(`${path}: ${differences.length - wrong.length} allowed differences`)
      expect(wrong).toEqual([])
    } finally {
      await db.drop()
    }
  })
})

describe('a plan made from a script', () => {
  const scripts = [
    'demo/schema.sql',
    ...torture,
    ...corpusScripts('pg')
      .filter((s) => /^(biosql|kea|tt-rss|osm|roundcube)/.test(s))
      .map(corpusPath),
  ]
  it.each(scripts)('%s is proven by a rehearsal', async (path) => {
    const { catalog } = readFileScript(path, postgresScript)
    const plan = baselinePlan(catalog)
    if (!plan.ok) throw new Error(describePlanProblem(plan.problem))
    const r = await rehearse(plan.plan, catalog, adminLocation(), {})
    expect(r.failure).toBeNull()
    expect(r.phases.flatMap((p) => p.differences)).toEqual([])
    expect(r.ok).toBe(true)
    if (path === 'demo/schema.sql') expect(r.phases[0]?.allowed).toBeGreaterThan(0)
  })
})

describe('a plan made from a server', () => {
  it('makes one of everything PostgreSQL has, and takes it away again', async () => {
    const db = await makeDatabase()
    try {
      execFileSync('psql', ['-X', '-q', '-f', tortureOf('postgresql'), db.url], { stdio: ['ignore', 'ignore', 'ignore'] })
      const { structure, reading } = await surveyOf(db.location)
      expect(structure.unmodelled).toEqual([])
      expect(reading.census.filter((l) => l.read + l.reported !== l.counted)).toEqual([])
      expect(new Set(structure.objects.map((o) => o.kind)).size).toBeGreaterThan(12)
      const plan = baselinePlan(structure)
      if (!plan.ok) throw new Error(describePlanProblem(plan.problem))
      const r = await rehearse(plan.plan, structure, adminLocation(), {})
      expect(r.failure).toBeNull()
      expect(r.phases.flatMap((p) => p.differences)).toEqual([])
      expect(r.skipped).toEqual([])
      expect(r.ok).toBe(true)
    } finally {
      await db.drop()
    }
  })
})

describe('what tables have from their parents', () => {
  const path = 'tests/scripts/inherited.postgresql.sql'
  /** As the server's own dump says it, where that program is not older than the server. */
  const canDump = Number(/\d+/.exec(execFileSync('pg_dump', ['--version'], { encoding: 'utf8' }))?.[0]) >= version
  it('is read from a script and from its dump as from the server, and made again', async () => {
    const db = await makeDatabase()
    try {
      execFileSync('psql', ['-X', '-q', '-v', 'ON_ERROR_STOP=1', '-f', path, db.url], { stdio: 'pipe' })
      const server = (await surveyOf(db.location)).structure
      expect(server.unmodelled).toEqual([{ kind: 'trigger of a partition', identity: 'rt on depot.load_a' }])
      const dump = canDump ? execFileSync('pg_dump', ['-s', db.url], { encoding: 'utf8' }) : ''
      for (const read of [readFileScript(path, postgresScript), ...(canDump ? [readScript([{ name: 'dump', text: dump }], postgresScript)] : [])]) {
        expect(read.diagnostics.map(scriptDiagnosticLine)).toEqual([])
        expect(compareCatalogs(read.catalog, server).filter((d) => allowedDifference(d, () => false) === null)).toEqual([])
      }
      const plan = baselinePlan(server)
      if (!plan.ok) throw new Error(describePlanProblem(plan.problem))
      const r = await rehearse(plan.plan, server, adminLocation(), {})
      expect([r.failure, r.phases.flatMap((p) => p.differences)]).toEqual([null, []])
    } finally {
      await db.drop()
    }
  })

  // From 16 on a partition's generated column may have an expression of its own.
  if (version >= 16)
    it('is the partition’s own where it says so', async () => {
      const script = `create table load (day date not null, kilos int not null, pounds int generated always as (kilos * 2) stored) partition by range (day);
      create table load_a partition of load (pounds generated always as (kilos * 4) stored) for values from ('2020-01-01') to ('2021-01-01');
      create table load_b (day date not null, kilos int not null, pounds int generated always as (kilos * 3) stored);
      alter table load attach partition load_b for values from ('2021-01-01') to ('2022-01-01');`
      const db = await makeDatabase(script)
      try {
        const server = (await surveyOf(db.location)).structure
        const read = readScript([{ name: 'f', text: script }], postgresScript)
        expect(compareCatalogs(read.catalog, server).filter((d) => allowedDifference(d, () => false) === null)).toEqual([])
        const plan = baselinePlan(server)
        if (!plan.ok) throw new Error(describePlanProblem(plan.problem))
        expect((await rehearse(plan.plan, server, adminLocation(), {})).ok).toBe(true)
      } finally {
        await db.drop()
      }
    })
})

describe('names of view columns are the server’s', () => {
  const tables = 'create table bay (id int, label varchar(9), grade numeric, tags text[], at timestamptz); create table crate (id bigint, bay_id int)'
  it.each([
    'select id + 1, id::text, 1::integer, cast(label as text), cast(null as timestamp with time zone), grade::numeric(8,2) from bay',
    'select (id), cast(1 as text), 2::double precision from bay',
    'select case when id > 1 then label end, case when id > 1 then $$x$$ else label end from bay',
    'select coalesce(label, label), greatest(id, 1) as g, nullif(id, 1) as n, lower(label) as l, upper(label) from bay',
    'select count(*), max(id) as m, sum(grade) filter (where id > 1), row_number() over (partition by label) from bay group by grade, label, id',
    'select (select max(id) from crate), exists (select 1), label collate "C", tags[1], array[1, 2] from bay',
    'select id is null, label like $$a%$$ as has, not true as n, true as t, at at time zone $$UTC$$ as z from bay',
    'select current_date, now(), 1 as one from bay',
    // Called date_part before 14.
    ...(version >= 14 ? ['select extract(year from at) from bay'] : []),
    'select b.*, c.bay_id from bay b left join crate c on c.bay_id = b.id where b.id > 0',
    'with a as (select id as k, label from bay), b (p, q) as (select 1, 2) select a.*, b.q from a cross join b',
    'select x.n, y.* from (select id as n from bay) x join (select bay_id, count(*) as many from crate group by 1) as y on y.bay_id = x.n',
  ])('%s', async (query) => {
    const db = await makeDatabase(tables, `create view v as ${query}`)
    try {
      const server = (await surveyOf(db.location)).structure.relations.find((r) => r.name === 'v')
      const ours = readScript([{ name: 'f', text: `${tables}; create view v as ${query};` }], postgresScript).catalog.relations.find((r) => r.name === 'v')
      expect(ours?.columns.map((c) => c.name)).toEqual(server?.columns.map((c) => c.name))
    } finally {
      await db.drop()
    }
  })
})
