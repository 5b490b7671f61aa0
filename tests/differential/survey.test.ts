// The survey against the server's own catalog.
import { describe, expect, it } from 'vitest'
import { canonicalText, decodeCatalog, nullTest } from '../../src/core/catalog/index.ts'
import { countedElsewhere, objectClasses } from '../../src/engines/postgres/census.ts'
import { connect } from '../../src/engines/postgres/connect.ts'
import { survey, surveyClient } from '../../src/engines/postgres/survey.ts'
import { randomScript } from '../support/random.ts'
import { admin, adminLocation, makeDatabase, rowsOf, surveyOf } from '../support/server.ts'
import { eventually } from '../support/wait.ts'

/** One of nearly everything PostgreSQL has, modelled or not. */
const everything = `
  create schema s;
  create extension citext;
  create extension file_fdw;
  create extension dblink;
  create extension tablefunc schema s;
  create type s.e as enum ('a'); create type s.c as (x int); create type s.r as range (subtype = float8); create domain s.d as int;
  create sequence s.q;
  create table s.t (id int primary key, e s.e, n citext default 'x', g int generated always as (1) stored, v tsvector, check (id > 0), unique (n));
  create table s.ex (r int4range, exclude using gist (r with &&));
  create table s.child () inherits (s.t);
  create table s.of of s.c;
  create table s.p (a int) partition by range (a); create table s.p1 partition of s.p default; create index on s.p (a);
  create view s.v as select id from s.t; create materialized view s.m as select id from s.t;
  create function s.f() returns trigger language plpgsql as 'begin return new; end';
  create function s.agg_state(int, int) returns int language sql as 'select 1';
  create aggregate s.total (int) (sfunc = s.agg_state, stype = int);
  create aggregate s.middle (float8 order by anyelement) (sfunc = ordered_set_transition, stype = internal, finalfunc = percentile_disc_final, finalfunc_extra);
  create procedure s.p() language sql as '';
  create trigger tr before update on s.t for each row execute function s.f();
  create rule ru as on delete to s.t do instead nothing;
  create policy po on s.t;
  create statistics s.st on id, e from s.t;
  create collation s.co (locale = 'C');
  create conversion s.cv for 'UTF8' to 'LATIN1' from utf8_to_iso8859_1;
  create operator s.=== (leftarg = int, rightarg = int, function = int4eq);
  create operator family s.fam using btree;
  create operator class s.cls for type s.c using hash as operator 1 = (record, record);
  create text search configuration s.tc (copy = english); create text search dictionary s.td (template = simple);
  create cast (s.c as text) with inout;
  create event trigger et on ddl_command_start execute function pg_catalog.test_nothing();
  create server sv foreign data wrapper file_fdw; create foreign table s.ft (a int) server sv options (filename '/dev/null');
  create publication pu for table s.t;
  alter default privileges in schema s grant select on tables to public;
`

describe('census', () => {
  it('read + reported = counted, over every object class', async () => {
    const db = await makeDatabase()
    try {
      await admin(db.name, `create function pg_catalog.test_nothing() returns event_trigger language plpgsql as 'begin end'`).catch(() => {})
      for (const statement of everything.split(/;\s*\n/).flatMap((l) => (l.includes("'begin") ? [l] : l.split(/;\s+(?=create|alter)/)))) {
        if (statement.trim() === '' || statement.includes('test_nothing')) continue
        await admin(db.name, statement)
      }
      const { reading, structure } = await surveyOf(db.location)
      const wrong = reading.census.filter((l) => l.read + l.reported !== l.counted)
      expect(wrong).toEqual([])
      expect(reading.census.length).toBeGreaterThan(20)
      expect(new Set(structure.unmodelled.map((u) => u.kind))).toEqual(new Set(['default acl']))
      const kinds = new Set<string>(structure.objects.map((o) => o.kind))
      for (const kind of [
        'statistics object',
        'collation',
        'conversion',
        'operator',
        'operator class',
        'operator family',
        'text search configuration',
        'text search dictionary',
        'cast',
        'server',
        'publication',
      ])
        expect([...kinds], kind).toContain(kind)
      // Nothing of an extension is the user's own.
      expect(structure.routines.some((r) => r.name.includes('citext'))).toBe(false)
      expect(structure.composites.map((c) => c.name)).toEqual(['c'])
    } finally {
      await db.drop()
    }
  })

  it('has a line, or a reason for none, for every catalog with object ids on this server', async () => {
    const rows = await rowsOf<{ name: string }>(
      'postgres',
      `select c.relname::text as name from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attname = 'oid' and a.attnum > 0 where c.relnamespace = 'pg_catalog'::regnamespace and c.relkind = 'r' order by 1`,
    )
    const known = new Set([...objectClasses.map((c) => c.catalog), ...Object.keys(countedElsewhere)])
    expect(rows.map((r) => r.name).filter((n) => !known.has(n))).toEqual([])
  })
})

describe('a survey', () => {
  it('reports what a newer server marks with letters it does not know, and maps none of them', async () => {
    const db = await makeDatabase(
      'create table t (id int primary key, parent int references t, note text, doubled int generated always as (id * 2) stored)',
      `create function f() returns trigger language plpgsql as 'begin return new; end'`,
      'create trigger tr before update on t for each row execute function f()',
      'create policy po on t',
      'create operator === (leftarg = int, rightarg = int, function = int4eq, negator = !==)',
      'set allow_system_table_mods = on',
      `update pg_constraint set confdeltype = 'q' where contype = 'f'`,
      `update pg_class set relreplident = 'q' where relname = 't'`,
      `update pg_attribute set attstorage = 'q' where attname = 'note' and attrelid = 't'::regclass`,
      `update pg_attribute set attgenerated = 'q' where attname = 'doubled' and attrelid = 't'::regclass`,
      `update pg_trigger set tgenabled = 'q' where tgname = 'tr'`,
      `update pg_policy set polcmd = 'q'`,
    )
    try {
      const { structure, reading } = await surveyOf(db.location)
      expect(structure.unmodelled).toEqual([
        { kind: 'foreign key (its delete action is marked "q", which this version does not know)', identity: 't_parent_fkey on public.t' },
        { kind: 'generated column marked "q"', identity: 'public.t.doubled' },
        { kind: 'operator', identity: 'public.!==(integer,integer)' },
        { kind: 'policy (its command is marked "q", which this version does not know)', identity: 'po on public.t' },
        { kind: 'replica identity marked "q"', identity: 'public.t' },
        { kind: 'storage of a column marked "q"', identity: 'public.t.note' },
        { kind: 'trigger (when it fires is marked "q", which this version does not know)', identity: 'tr on public.t' },
      ])
      const t = structure.relations.find((r) => r.name === 't')
      expect([t?.foreignKeys, t?.triggers, t?.policies, t?.replicaIdentity]).toEqual([[], [], [], { kind: 'unknown' }])
      expect(reading.census.filter((l) => l.read + l.reported !== l.counted)).toEqual([])
    } finally {
      await db.drop()
    }
  })

  it.each([101, 102])('is byte-identical under other session settings and after ANALYZE, seed %i', async (seed) => {
    const db = await makeDatabase(randomScript(seed))
    try {
      const first = canonicalText((await surveyOf(db.location)).structure)
      await admin(
        db.name,
        'analyze',
        `alter database ${db.name} set search_path = third, public`,
        `alter database ${db.name} set timezone = 'Asia/Tokyo'`,
        `alter database ${db.name} set datestyle = 'German'`,
        `alter database ${db.name} set intervalstyle = 'sql_standard'`,
        `alter database ${db.name} set quote_all_identifiers = on`,
        `alter database ${db.name} set bytea_output = 'escape'`,
        `alter database ${db.name} set standard_conforming_strings = off`,
        `alter database ${db.name} set extra_float_digits = 0`,
      )
      const second = await surveyOf(db.location)
      expect(canonicalText(second.structure)).toBe(first)
      expect(second.statistics.relations.length).toBeGreaterThan(5)
      // The survey builds objects in the canonical order of keys by itself.
      expect(canonicalText(decodeCatalog(JSON.parse(first)))).toBe(first)
    } finally {
      await db.drop()
    }
  })

  it('uses a constant number of queries, at most 30, all of them reads', async () => {
    const counts: number[] = []
    for (const tables of [1, 40]) {
      const db = await makeDatabase(...Array.from({ length: tables }, (_, i) => `create table t${i} (id int primary key, a int)`))
      const client = await connect(db.location)
      const statements: string[] = []
      const query = client.query.bind(client) as (...args: unknown[]) => Promise<unknown>
      client.query = ((...args: unknown[]) => {
        statements.push(String(args[0]))
        return query(...args)
      }) as typeof client.query
      await surveyClient(client, { schemas: null })
      await client.end()
      await db.drop()
      counts.push(statements.length)
      expect(statements[0]).toContain('read only')
    }
    expect(counts[0]).toBe(counts[1])
    expect(counts[0]).toBeLessThanOrEqual(30)
  })

  it('of one schema reads that schema, and refuses one that is not there', async () => {
    const db = await makeDatabase('create schema a', 'create schema b', 'create table a.t ()', 'create table b.t ()')
    try {
      const one = await survey(db.location, { schemas: ['a'] })
      expect(one.structure.relations.map((r) => r.schema)).toEqual(['a'])
      expect(one.reading.census.every((l) => l.read + l.reported === l.counted)).toBe(true)
      await expect(survey(db.location, { schemas: ['nope'] })).rejects.toThrow(/no schema "nope"/)
    } finally {
      await db.drop()
    }
  })

  it('by a user who may read little says what it could not see', async () => {
    const db = await makeDatabase('create table secret (id int primary key)', 'create table open (id int)', 'grant select on open to public')
    const role = `${db.name}_reader`
    await admin('postgres', `create role ${role} login password 'weak'`)
    try {
      const found = await survey({ ...db.location, user: role, password: 'weak' }, { schemas: null })
      expect(found.structure.relations.map((r) => r.name)).toEqual(['open', 'secret'])
      expect(found.reading.notReadable).toEqual([{ schema: 'public', name: 'secret' }])
      expect(found.reading.user).toBe(role)
    } finally {
      await db.drop()
      await admin('postgres', `drop role ${role}`)
    }
  })

  it('whose signal is aborted leaves no statement on the server', async () => {
    const db = await makeDatabase('create table t (id int)')
    try {
      const abort = new AbortController()
      const locker = await connect(db.location)
      await locker.query('begin; lock table pg_catalog.pg_description in access exclusive mode')
      const running = survey(db.location, { schemas: null, signal: abort.signal })
      await eventually('a statement that waits for the lock', async () =>
        rowsOf('postgres', `select 1 from pg_stat_activity where application_name = 'pelvok' and datname = $1 and wait_event_type = 'Lock'`, [db.name]).then(
          (r) => r.length > 0,
        ),
      )
      abort.abort(new Error('cancelled'))
      await expect(running).rejects.toThrow('cancelled')
      const left = await rowsOf<{ n: number }>(
        'postgres',
        `select count(*)::int as n from pg_stat_activity where application_name = 'pelvok' and datname = $1 and state <> 'idle in transaction'`,
        [db.name],
      )
      expect(left[0]?.n).toBe(0)
      await locker.end()
    } finally {
      await db.drop()
    }
  })

  it('agrees with the information schema on tables, columns and keys', async () => {
    const db = await makeDatabase(randomScript(7))
    try {
      const { structure } = await surveyOf(db.location)
      const columns = await rowsOf<{ c: string }>(
        db.name,
        `select table_schema || '.' || table_name || '.' || column_name || ' ' || is_nullable as c from information_schema.columns where table_schema not in ('pg_catalog', 'information_schema') order by 1`,
      )
      const acceptsNull = nullTest(structure)
      const ours = structure.relations
        .filter((r) => r.kind !== 'materialized view')
        .flatMap((r) => r.columns.map((c) => `${r.schema}.${r.name}.${c.name} ${acceptsNull(c) ? 'YES' : 'NO'}`))
      expect(new Set(ours)).toEqual(new Set(columns.map((r) => r.c)))
      const keys = await rowsOf<{ kind: string; n: number }>(
        db.name,
        `select constraint_type as kind, count(*)::int as n from information_schema.table_constraints where constraint_type in ('PRIMARY KEY', 'UNIQUE', 'FOREIGN KEY') and table_schema not in ('pg_catalog', 'information_schema') group by 1`,
      )
      const count = (kind: string) => keys.find((k) => k.kind === kind)?.n ?? 0
      expect(structure.relations.filter((r) => r.primaryKey).length).toBe(count('PRIMARY KEY'))
      expect(structure.relations.reduce((n, r) => n + r.foreignKeys.length, 0)).toBe(count('FOREIGN KEY'))
    } finally {
      await db.drop()
    }
  })
})

describe('connecting', () => {
  const base = adminLocation()
  it.each([
    ['a wrong port', { port: 1 }, 'port refused'],
    ['an unknown host', { host: 'no-such-host.invalid' }, 'host unknown'],
    ['a wrong password', { password: 'wrong' }, 'password wrong'],
    ['no password', { password: null }, 'password missing'],
    ['an unknown user', { user: 'nobody_here', password: 'x' }, 'password wrong'],
    ['TLS where there is none', { tls: 'require' }, 'TLS refused'],
  ] as const)('with %s says so', async (_, change, kind) => {
    await expect(connect({ ...base, ...change })).rejects.toMatchObject({ failure: { kind } })
  })

  it('to an unknown database lists those that exist', async () => {
    const db = await makeDatabase()
    await expect(connect({ ...base, database: 'no_such' })).rejects.toMatchObject({
      failure: { kind: 'database unknown', existing: expect.arrayContaining([db.name, 'postgres']) },
    })
    await db.drop()
  })

  it('prefers TLS and does without', async () => {
    const client = await connect({ ...base, tls: 'prefer' })
    expect((await client.query('select 1 as x')).rows).toEqual([{ x: 1 }])
    await client.end()
  })
})
