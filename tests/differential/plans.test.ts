// What a plan says of its steps against what the server does: locks from pg_locks, rewrites from relfilenode, on filled tables.
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { changePlan, type LockMode, type Plan } from '../../src/core/change/index.ts'
import { rehearse } from '../../src/engines/postgres/index.ts'
import { adminLocation, makeDatabase, surveyOf } from '../support/server.ts'

const setUp = `
  create type mood as enum ('low', 'high');
  create table bay (id integer primary key, code varchar(8) not null unique, width integer, note text, big bigint);
  create table crate (id integer primary key, bay_id integer, kind varchar(10) default 'box', open char(1) default 'Y' check (open in ('Y', 'N')), is_mood mood, weight numeric(10,2), tag text);
  create table child (id integer primary key, crate_id integer references crate (id));
  create index crate_kind_idx on crate (kind);
  create index crate_kind_again_idx on crate (kind);
  create view crates as select id, kind from crate;
  create function touch() returns trigger language plpgsql as 'begin return new; end';
  create table part (id integer not null, at integer not null, primary key (id, at)) partition by range (at);
  create table part_a partition of part for values from (0) to (500);
  create table part_b partition of part for values from (500) to (1000);
  insert into bay select i, 'B' || i, i, 'n', i from generate_series(0, 999) i;
  insert into crate select i, 1 + i % 300, case when i % 2 = 0 then 'box' else 'bag' end, case when i % 3 = 0 then 'N' else 'Y' end, 'low', i, 't' from generate_series(1, 900) i;
  insert into child select i, i from generate_series(1, 500) i;
  insert into part select i, i from generate_series(0, 999) i;
  analyze`

interface Case {
  readonly kind: string
  /** What the schema becomes; the first way has the hazard, the second has not, where there is one. */
  readonly to: string
  /** Tables whose rows are written anew. */
  readonly rewrites?: readonly string[]
  readonly loses?: boolean
}

const cases: readonly Case[] = [
  { kind: 'declare a reference', to: 'alter table crate add constraint crate_bay foreign key (bay_id) references bay (id) on delete set null' },
  { kind: 'declare a reference on a partitioned table', to: 'alter table part add constraint part_bay foreign key (id) references bay (id)' },
  { kind: 'index it', to: 'create index crate_bay_idx on crate (bay_id)' },
  { kind: 'index a partitioned table', to: 'create index part_id_idx on part (id)' },
  { kind: 'make a pair unique', to: 'alter table crate add constraint crate_pair_key unique (id, bay_id)' },
  { kind: 'set not null', to: 'alter table crate alter bay_id set not null' },
  { kind: 'add a column to a partitioned table', to: 'alter table part add column more integer' },
  { kind: 'add a check to a partitioned table', to: 'alter table part add constraint part_at check (at >= 0)' },
  { kind: 'drop not null', to: 'alter table bay alter code drop not null' },
  { kind: 'set a default', to: 'alter table crate alter bay_id set default 3' },
  { kind: 'drop a default', to: 'alter table crate alter kind drop default' },
  { kind: 'widen a type', to: 'drop view crates; alter table crate alter kind type varchar(30); create view crates as select id, kind from crate' },
  { kind: 'change a type that is stored otherwise', to: 'alter table bay alter width type bigint', rewrites: ['public.bay'] },
  { kind: 'narrow a type', to: 'alter table bay alter big type integer', rewrites: ['public.bay'] },
  { kind: 'more digits of a number', to: 'alter table crate alter weight type numeric(12,2)' },
  { kind: 'any text', to: 'alter table bay alter code type text' },
  {
    kind: 'change the type of a key that is referred to',
    to: 'alter table child drop constraint child_crate_id_fkey; drop view crates; alter table crate alter id type bigint; create view crates as select id, kind from crate; alter table child add constraint child_crate_id_fkey foreign key (crate_id) references crate (id)',
    rewrites: ['public.crate'],
  },
  {
    kind: 'a check into an enumerated type',
    to: `create type yes_no as enum ('Y', 'N'); alter table crate drop constraint crate_open_check; alter table crate alter open drop default; alter table crate alter open type yes_no using open::text::yes_no; alter table crate alter open set default 'Y'`,
    rewrites: ['public.crate'],
  },
  { kind: 'a value more of an enumerated type', to: `alter type mood add value 'mid' before 'high'` },
  {
    kind: 'a value less of an enumerated type',
    to: `alter table crate drop is_mood; drop type mood; create type mood as enum ('low'); alter table crate add is_mood mood`,
    rewrites: ['public.crate'],
  },
  { kind: 'give a table a key', to: 'alter table child drop constraint child_pkey; alter table child add constraint child_pkey primary key (id, crate_id)' },
  { kind: 'drop a redundant index', to: 'drop index crate_kind_again_idx' },
  { kind: 'add a column', to: 'alter table bay add column depth integer' },
  { kind: 'add a column with a constant', to: `alter table bay add column depth integer not null default 3` },
  { kind: 'add a column that is worked out for each row', to: `alter table bay add column mark uuid default gen_random_uuid()`, rewrites: ['public.bay'] },
  { kind: 'add a counted column', to: 'alter table bay add column n integer generated always as identity', rewrites: ['public.bay'] },
  { kind: 'drop a column', to: 'alter table bay drop column note', loses: true },
  { kind: 'add a table', to: 'create table lane (id integer primary key, bay_id integer references bay (id))' },
  { kind: 'drop a table', to: 'drop table child', loses: true },
  {
    kind: 'add a join table',
    to: 'create table bay_crate (bay_id integer references bay (id), crate_id integer references crate (id), primary key (bay_id, crate_id))',
  },
  { kind: 'add a check', to: 'alter table bay add constraint bay_width check (width >= 0)' },
  { kind: 'drop a check', to: 'alter table crate drop constraint crate_open_check' },
  { kind: 'drop a reference', to: 'alter table child drop constraint child_crate_id_fkey' },
  { kind: 'add a trigger', to: 'create trigger t before update on crate for each row execute function touch()' },
  { kind: 'change a view', to: 'create or replace view crates as select id, kind from crate where id > 3' },
  { kind: 'row security', to: 'alter table bay enable row level security; create policy p on bay using (id > 0)' },
  { kind: 'log a table otherwise', to: 'alter table child set unlogged', rewrites: ['public.child'] },
  { kind: 'a comment', to: `comment on column bay.code is 'painted on it'` },
  { kind: 'storage parameters', to: 'alter table bay set (fillfactor = 80)' },
  { kind: 'identity of a column', to: 'alter table bay alter id add generated by default as identity' },
  { kind: 'a partition more', to: 'create table part_c partition of part for values from (1000) to (2000)' },
  { kind: 'a partition less', to: 'drop table part_b', loses: true },
]

/** Locks that keep somebody else out. */
const strong: ReadonlySet<LockMode> = new Set(['share update exclusive', 'share', 'share row exclusive', 'exclusive', 'access exclusive'])

let from: Awaited<ReturnType<typeof makeDatabase>>
let base: Awaited<ReturnType<typeof surveyOf>>['structure']
beforeAll(async () => {
  from = await makeDatabase(setUp)
  base = (await surveyOf(from.location)).structure
})
afterAll(() => from.drop())

async function planTo(sql: string): Promise<{ readonly plan: Plan; readonly reaches: typeof base }> {
  const to = await makeDatabase(setUp.replace(/\n {2}insert[\s\S]*/, ''), sql)
  try {
    const result = changePlan(base, (await surveyOf(to.location)).structure, { title: 'case' })
    if (!result.ok) throw new Error(JSON.stringify(result.problem))
    return result.changed
  } finally {
    await to.drop()
  }
}

async function rowsFor(tables: readonly string[]) {
  const client = new pg.Client({ connectionString: from.url })
  await client.connect()
  try {
    return await Promise.all(
      tables.map(async (name) => {
        const r = base.relations.find((x) => x.name === name)
        if (!r) throw new Error(name)
        const list = await client.query({ text: `select ${r.columns.map((c) => `"${c.name}"::text`).join(', ')} from ${name}`, rowMode: 'array' })
        return { relation: { schema: 'public', name }, columns: r.columns.map((c) => ({ name: c.name, type: c.type })), rows: list.rows as (string | null)[][] }
      }),
    )
  } finally {
    await client.end()
  }
}

describe('each kind of change, on filled tables', () => {
  it.each(cases)('$kind', async ({ to, rewrites, loses }) => {
    const { plan, reaches } = await planTo(to)
    expect(plan.steps.length).toBeGreaterThan(0)
    const sample = { tables: await rowsFor(['bay', 'crate', 'child', 'part']), cut: [] }
    const seen = await rehearse(plan, reaches, adminLocation(), { base, sample })
    expect(seen.failure).toBeNull()
    expect(seen).toMatchObject({ ok: true, rows: 3400 })
    const before = new Set(base.relations.map((r) => `public.${r.name}`))
    for (const s of plan.steps) {
      const did = seen.steps.find((x) => x.step === s.number)
      // Of a step outside of transactions the locks are gone when it ends.
      if (!did?.locks) continue
      const found = did.locks.filter((l) => strong.has(l.mode) && before.has(l.relation)).map((l) => `${l.relation} ${l.mode}`)
      const said = s.locks.filter((l) => strong.has(l.mode) && before.has(l.relation)).map((l) => `${l.relation} ${l.mode}`)
      expect(found.toSorted(), `step ${s.number}: ${s.object} ${s.says}\n${s.up.join('\n')}`).toEqual(said.toSorted())
    }
    const tables = (list: readonly string[]) => [...new Set(list.filter((r) => before.has(r)))].toSorted()
    expect(tables(seen.steps.flatMap((s) => s.rewritten))).toEqual([...(rewrites ?? [])])
    expect(tables(plan.steps.flatMap((s) => s.hazards.flatMap((h) => (h.code === 'rewrites' ? [h.object] : []))))).toEqual([...(rewrites ?? [])])
    expect(plan.steps.some((s) => s.hazards.some((h) => h.code === 'loses-data'))).toBe(loses ?? false)
  })
})
