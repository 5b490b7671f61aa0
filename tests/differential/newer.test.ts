// What newer servers brought and the format does not say yet: told by name, left out whole, and the rest is proven. Each case names its version.
import { describe, expect, it } from 'vitest'
import { baselinePlan, describePlanProblem } from '../../src/core/change/index.ts'
import { rehearse } from '../../src/engines/postgres/index.ts'
import { adminLocation, makeDatabase, surveyOf, versionOf } from '../support/server.ts'

interface Case {
  readonly since: number
  readonly sql: string
  /** What is told, as `kind identity`; nothing where all of it is read. */
  readonly told: readonly string[]
}

const cases: Readonly<Record<string, Case>> = {
  'a not-null constraint with a name of its own': {
    since: 18,
    sql: 'create table t (a int constraint a_is_there not null, b int not null, id int primary key)',
    told: ['not-null constraint (its name) a_is_there on public.t'],
  },
  'not-null constraints that are not inherited, or not valid': {
    since: 18,
    sql: 'create table t (a int, b int, constraint t_a_not_null not null a no inherit); alter table t add constraint t_b_not_null not null b not valid',
    told: ['not-null constraint (not inherited) t_a_not_null on public.t', 'not-null constraint (not valid) t_b_not_null on public.t'],
  },
  'a domain whose not-null rule has a name': {
    since: 18,
    sql: 'create domain d as int constraint there not null',
    told: ['not-null constraint (its name) there on public.d'],
  },
  'constraints that are not enforced': {
    since: 18,
    sql: 'create table p (a int primary key); create table t (a int references p not enforced, b int check (b > 0) not enforced)',
    told: ['constraint (not enforced) t_a_fkey on public.t', 'constraint (not enforced) t_b_check on public.t'],
  },
  'temporal keys and references': {
    since: 18,
    sql: `create extension btree_gist; create table p (id int, at daterange, primary key (id, at without overlaps)); create table q (id int, at daterange, unique (id, at without overlaps));
      create table t (id int, at daterange, foreign key (id, period at) references p (id, period at))`,
    told: [
      'constraint (temporal) p_pkey on public.p',
      'constraint (temporal) q_id_at_key on public.q',
      'constraint (temporal) t_id_at_fkey on public.t',
      'index of a constraint (temporal) p_pkey on public.p',
      'index of a constraint (temporal) q_id_at_key on public.q',
    ],
  },
  'virtual generated columns': {
    since: 18,
    sql: 'create table t (a int, b int generated always as (a * 2) virtual, c int generated always as (a * 3) stored)',
    told: [],
  },
  'publications with generated columns': {
    since: 18,
    sql: 'create table t (a int primary key); create publication p for table t with (publish_generated_columns = stored)',
    told: [],
  },
  'exclusion constraints of partitioned tables': {
    since: 17,
    sql: 'create extension btree_gist; create table t (a int, b int4range, exclude using gist (b with &&, a with =)) partition by range (a)',
    told: [],
  },
  'identity columns of partitioned tables': {
    since: 17,
    sql: 'create table t (a int generated always as identity, b int) partition by range (b); create table t1 partition of t default',
    told: [],
  },
  'a builtin locale provider': { since: 17, sql: `create collation c (provider = builtin, locale = 'C.UTF-8')`, told: [] },
  'rules of a collation': { since: 16, sql: `create collation c (provider = icu, locale = 'und', rules = '&V << w <<< W')`, told: [] },
  'unique keys that take nulls for equal': { since: 15, sql: 'create table t (a int unique nulls not distinct)', told: [] },
  'generated and identity columns': {
    since: 13,
    sql: 'create table t (a int generated always as identity, b int generated always as (a * 2) stored)',
    told: [],
  },
  multiranges: { since: 14, sql: 'create type r as range (subtype = float8, multirange_type_name = many)', told: [] },
}

const version = await versionOf()

describe(`on version ${version}`, () => {
  it.each(Object.entries(cases).filter(([, c]) => c.since <= version))('%s', async (_, c) => {
    const db = await makeDatabase(c.sql)
    try {
      const { structure, reading } = await surveyOf(db.location)
      expect(structure.unmodelled.map((u) => `${u.kind} ${u.identity}`)).toEqual(c.told)
      expect(reading.census.filter((l) => l.read + l.reported !== l.counted)).toEqual([])
      const made = baselinePlan(structure)
      if (!made.ok) throw new Error(describePlanProblem(made.problem))
      const r = await rehearse(made.plan, structure, adminLocation(), {})
      expect([r.failure, r.phases.flatMap((p) => p.differences), r.notSupported.length]).toEqual([null, [], c.told.length])
    } finally {
      await db.drop()
    }
  })
})
