// Findings about structure on real schemas: where each topic fires, and tables that look like it and are none. The counts are printed.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { emitTypeScript } from '../../src/core/emit/typescript/index.ts'
import { infer } from '../../src/core/infer/index.ts'
import { listedValues, type StructureTopic, topics } from '../../src/core/infer/structure/index.ts'
import { decodeEntry, derive, rejecting } from '../../src/core/model/index.ts'
import { choiceLabel } from '../../src/core/review/choices.ts'
import { detailOf, notationText, readNotationOf, reviewBase, reviewWith } from '../../src/core/review/index.ts'

const revision = { snapshot: '' as never, evidence: null, ledger: 0, inference: 0 }
const read = (text: string, dialect = 'postgresql'): Catalog => {
  const choice = parseDialect(dialect)
  if (!choice) throw new Error(dialect)
  return readScript([{ name: 'a.sql', text }], semanticsOf(choice)).catalog
}
const folder = '../shared/corpus'
const schemas = [
  ...readdirSync(folder)
    .filter((d) => existsSync(`${folder}/${d}/schema.sql`))
    .map((name) => ({ name, catalog: read(readFileSync(`${folder}/${name}/schema.sql`, 'utf8'), readFileSync(`${folder}/${name}/dialect`, 'utf8').trim()) })),
  ...['a', 'b', 'c', 'd'].map((name) => ({ name, catalog: read(readFileSync(`../shared/large/${name}.sql`, 'utf8')) })),
  ...['postgresql', 'mariadb', 'sqlite'].map((d) => ({ name: `everything, ${d}`, catalog: read(readFileSync(`tests/scripts/torture.${d}.sql`, 'utf8'), d) })),
]
const topicsOf = (c: Catalog) => infer(c).findings.flatMap((f) => (f.kind === 'structure' && f.alternatives[0].key !== 'no' ? [f.topic as StructureTopic] : []))
const found = schemas.map((s) => ({ name: s.name, topics: topicsOf(s.catalog) }))

/** Tables that look as if a topic were about them, and are not. */
const lookAlikes: Readonly<Record<StructureTopic, readonly [string, string, string]>> = {
  type: ['create table t (id int primary key, n text)', 'create table t (id int primary key, d interval)', 'create table t (id uuid primary key, ok boolean)'],
  'no key': [
    'create table t (id int primary key)',
    'create table t (a int, b int, primary key (a, b))',
    'create table t (id int primary key); create view v as select id from t',
  ],
  'assigned key': [
    'create table t (id int generated always as identity primary key)',
    'create table t (id serial primary key)',
    'create table p (id serial primary key); create table t (id int primary key references p (id))',
  ],
  'repeated columns': [
    'create table a (id serial primary key, x int, y int); create table b (id serial primary key, x int, y int)',
    'create table a (id serial primary key, x int); create table b (id serial primary key, x int); create table c (id serial primary key, x int)',
    'create table a (id serial primary key, x int, y text); create table b (id serial primary key, x text, y int); create table c (id serial primary key, x date, y date)',
  ],
  'change time': [
    'create table t (id serial primary key, created_at timestamp default now())',
    'create table t (id serial primary key, changed_by int)',
    'create function f() returns trigger language plpgsql as $$ begin new.changed_at = now(); return new; end $$; create table t (id serial primary key, changed_at timestamp); create trigger g before update on t for each row execute function f()',
  ],
  'soft delete': [
    'create table t (id serial primary key, deleted_by int)',
    'create table t (id serial primary key, deleted_rows_of_the_last_run int)',
    'create table t (id serial primary key, deleted text)',
  ],
  version: [
    'create table t (id serial primary key, version text)',
    'create table t (version int primary key)',
    'create table v (id serial primary key); create table t (id serial primary key, version int references v (id))',
  ],
  tenant: [
    'create table bay (id serial primary key); create table a (id serial primary key, bay_id int references bay (id))',
    `create table bay (id serial primary key); ${[1, 2, 3, 4, 5, 6, 7].map((n) => `create table t${n} (id serial primary key, bay_id int references bay (id))`).join(';')}`,
    `create table bay (id serial primary key); ${[1, 2, 3, 4, 5, 6, 7].map((n) => `create table t${n} (id serial primary key, made_by int not null references bay (id))`).join(';')}`,
  ],
  tree: [
    'create table t (id serial primary key, parent_name text)',
    'create table p (id serial primary key); create table t (id serial primary key, parent_id int references p (id))',
    'create table t (id serial primary key, level int, path text)',
  ],
  ordering: [
    'create table t (id serial primary key, position text)',
    'create table t (seq int generated always as identity primary key)',
    'create table p (id serial primary key); create table t (id serial primary key, rank int references p (id))',
  ],
  values: [
    `create table t (id serial primary key, s text check (s <> ''))`,
    `create table t (id serial primary key, s text check (s in ('Y', 'N')))`,
    `create table t (id serial primary key, n int check (n in (1, 2, 3)))`,
  ],
  flag: [
    `create table t (id serial primary key, s char(1) check (s in ('a', 'b')))`,
    'create table t (id serial primary key, ok boolean)',
    `create table t (id serial primary key, s char(1) default 'x')`,
  ],
  'lookup table': [
    'create table t (id serial primary key, label text)',
    'create table p (id serial primary key); create table t (id serial primary key, label text, p_id int references p (id)); create table c (id serial primary key, t_id int references t (id))',
    'create table t (id serial primary key, a text, b text, c text, d text, e text); create table c (id serial primary key, t_id int references t (id))',
  ],
  'key and value': [
    'create table t (id serial primary key, name text, height int)',
    'create table t (id serial primary key, name int, value text)',
    'create table t (id serial primary key, name text, value text, a int, b int, c int, d int)',
  ],
  history: [
    'create table log (id serial primary key, line text)',
    'create table bay (id serial primary key, a int, b int, c int); create table bay_log (id serial primary key, at timestamp, line text)',
    'create table bay_history (id serial primary key, a int, b int, c int)',
  ],
  'reference without index': [
    'create table p (id serial primary key); create table t (id serial primary key, p_id int references p (id)); create index on t (p_id)',
    'create table p (id serial primary key); create table t (p_id int references p (id), n int, primary key (p_id, n))',
    'create table p (id serial primary key); create table t (id serial primary key, p_id int references p (id) unique)',
  ],
  'type mismatch': [
    'create table p (id int primary key); create table t (id serial primary key, p_id int references p (id))',
    'create table p (a int, b text, primary key (a, b)); create table t (id serial primary key, x int, y text, foreign key (x, y) references p (a, b))',
    'create table p (id int primary key); create table t (id serial primary key, p_id bigint)',
  ],
  'duplicate index': [
    'create table t (id serial primary key, a int, b int); create index on t (a, b); create index on t (b)',
    'create table t (id serial primary key, a int); create index on t (a); create index on t (a) where a > 0',
    'create table t (id serial primary key, a int, b int); create unique index on t (a); create index on t (a, b)',
  ],
  'duplicate constraint': [
    'create table p (id int primary key); create table t (id serial primary key, x int references p (id), y int references p (id))',
    'create table t (id serial primary key, a int, b int, unique (a), unique (a, b))',
    'create table p (id int primary key); create table q (id int primary key); create table t (id serial primary key, x int references p (id), constraint k foreign key (x) references q (id))',
  ],
  'nullable unique': [
    'create table t (id serial primary key, a int not null unique)',
    'create table t (id serial primary key, a int unique nulls not distinct)',
    'create table t (id serial primary key, a int); create index on t (a)',
  ],
  'zero date': [
    `create table t (id serial primary key, d date default '1970-01-01')`,
    'create table t (id serial primary key, d timestamp default now())',
    `create table t (id serial primary key, d text default '0')`,
  ],
  prefix: [
    'create table zx_a (id int primary key); create table zx_b (id int primary key)',
    'create table log_bay (id int primary key); create table log_lane (id int primary key); create table log_lid (id int primary key)',
    'create table zx_bay (id int primary key); create table zx_lane (id int primary key); create table zx_lid (id int primary key); create table bay (id int primary key); create table lane (id int primary key); create table lid (id int primary key)',
  ],
  'names alike': [
    'create table bay (id int primary key); create table bay_lid (id int primary key)',
    'create schema z; create table z.bay (id int primary key); create table z_bay (id int primary key)',
    'create table bay (id int primary key); create table bay2 (id int primary key)',
  ],
}

describe.each(topics)('%s', (topic) => {
  it('fires on three schemas or more', () => {
    const where = found.filter((s) => s.topics.includes(topic))
    console.log(`${topic}: ${where.reduce((n, s) => n + s.topics.filter((t) => t === topic).length, 0)} in ${where.length} of ${schemas.length} schemas`)
    expect(where.length).toBeGreaterThanOrEqual(3)
  })
  it.each(lookAlikes[topic])('stays silent on %s', (sql) => expect(topicsOf(read(sql))).not.toContain(topic))
})

describe('words that a check lists', () => {
  it.each([
    [`s IN ('a', 'b')`, ['a', 'b']],
    [`((s)::text = ANY ((ARRAY['open'::character varying, 'it''s'::character varying])::text[]))`, ['open', "it's"]],
    [`(s = ANY (ARRAY['a'::text, 'b'::text]))`, ['a', 'b']],
    [`((s = 'a'::bpchar) OR (s = 'b'::bpchar))`, ['a', 'b']],
    [`CHECK (s in ('x'))`, ['x']],
    [`s <> ''`, null],
    [`other IN ('a', 'b')`, null],
    [`s IN ('a', 'b') AND n > 0`, null],
    [`length(s) > 2`, null],
  ])('%s', (expression, values) => expect(listedValues(expression, 's')).toEqual(values))
})

describe('what a ruling changes', () => {
  it('a listed text is one of its words in the code, and any text again when rejected; a type is held as chosen', () => {
    const catalog = read(`create table lane (id bigint primary key, s text not null check (s in ('open', 'shut')))`)
    const { findings } = infer(catalog)
    const emitted = (...entries: Parameters<typeof derive>[2]) =>
      emitTypeScript(derive(catalog, findings, entries), revision).find((f) => f.path === 'base/Lane.ts')?.text ?? ''
    expect(emitted()).toContain(`s: 'open' | 'shut'\n`)
    expect(emitted()).toContain('id: bigint\n')
    const edit = (body: object) => decodeEntry({ seq: 1, at: 'x', by: 'Ada', kind: 'edit', note: null, edit: body })
    const values = findings.find((f) => f.topic === 'values')
    expect(values && rejecting(values)).toEqual([{ facet: 'column.values', subject: values?.subject, value: null }])
    expect(emitted(edit({ facet: 'column.values', subject: values?.subject, value: null }))).toContain('s: string\n')
    expect(emitted(edit({ facet: 'type.target', subject: 'type:bigint', value: 'string' }))).toContain('id: string\n')
  })

  it('a prefix that is left out is kept when that is rejected, in all classes', () => {
    const catalog = read(['bay', 'lane', 'lid'].map((n) => `create table zx_${n} (id int primary key);`).join(' '))
    const { findings } = infer(catalog)
    const names = (edits: ReturnType<typeof rejecting>) =>
      derive(
        catalog,
        findings,
        (edits ?? []).map((edit, i) => decodeEntry({ seq: i + 1, at: 'x', by: 'Ada', kind: 'edit', note: null, edit })),
      ).entities.map((e) => e.name)
    const prefix = findings.find((f) => f.topic === 'prefix')
    expect(names(null)).toEqual(['Bay', 'Lane', 'Lid'])
    expect(prefix?.alternatives.map((a) => a.evidence.map((e) => e.says).join())).toEqual([
      '"zx" begins the names of 3 tables of public and is left out: Bay, Lane, Lid',
      'with it they are ZxBay, ZxLane, ZxLid',
    ])
    expect(names(prefix ? rejecting(prefix) : null)).toEqual(['ZxBay', 'ZxLane', 'ZxLid'])
  })

  it('of two that would be called alike each answer names both', () => {
    const catalog = read('create schema a; create schema b; create table a.bay (id int primary key); create table b.bay (id int primary key)')
    const { findings } = infer(catalog)
    const alike = findings.find((f) => f.topic === 'names alike')
    expect(alike?.alternatives.map((a) => [a.key, a.edits.map((e) => e.value).join(' ')])).toEqual([
      ['apart', 'ABay BBay'],
      ['plain a.bay', 'Bay BBay'],
      ['plain b.bay', 'ABay Bay'],
    ])
    expect(alike && choiceLabel(alike, 'plain a.bay')).toBe('a.bay is Bay, b.bay is BBay')
    expect(alike && rejecting(alike)).toBeNull()
    expect(alike?.alternatives[0].evidence[0]?.says).toBe('a.bay and b.bay would both be called Bay')
    // Another pair has other names: no one answer goes for both.
    const r = reviewWith(reviewBase(catalog, []), 'x' as never, [])
    expect(detailOf(alike?.id ?? '', catalog, r, [])).toMatchObject({ alike: null, question: 'Which of the tables should be called Bay?' })
  })

  it('a table without a primary key is known by a unique rule, in the model alone', () => {
    const catalog = read('create table lane (code text not null unique, n int); create table lid (code text unique, n int)')
    const base = reviewBase(catalog, [])
    const [lane, lid] = ['lane', 'lid'].map((name) => base.findings.find((f) => f.id === `structure:no key:public.${name}`))
    expect([lane, lid].map((f) => f?.alternatives.map((a) => a.key))).toEqual([
      ['yes', 'by code'],
      ['yes', 'no'],
    ])
    expect(lane && choiceLabel(lane, 'by code')).toBe('by code, in the model alone')
    const offered = detailOf(lane?.id ?? '', catalog, reviewWith(base, 'x' as never, []), [])?.choices[1]
    expect([offered?.changes[0], offered?.evidence.length]).toEqual(['In the model: 1 class can be written that was only read.', 1])
    const edit = lane?.alternatives[1]?.edits[0]
    const entries = [decodeEntry({ seq: 1, at: 'x', by: 'Ada', kind: 'edit', note: null, edit })]
    const store = (r: ReturnType<typeof reviewWith>) =>
      emitTypeScript(r.model, revision).find((f) => f.path.endsWith('LaneStore.ts') && f.path.startsWith('base/'))?.text ?? ''
    const [before, after] = [reviewWith(base, 'x' as never, []), reviewWith(reviewBase(catalog, entries, base), 'x' as never, entries)]
    expect([before, after].map((r) => r.model.entities[0]?.readOnly)).toEqual([true, false])
    expect([store(before).includes('async update('), store(after).includes('async update(')]).toEqual([false, true])
    const text = notationText(base, after)
    expect(text).toContain('known by (code)')
    const back = readNotationOf({ whole: catalog, hash: 'x' as never, entries: [], known: null, now: null }, [{ file: 'a', text }])
    expect([back.problems, back.changes.map((c) => c.is)]).toEqual([[], [{ kind: 'edit', edit }]])
    const wrong = readNotationOf({ whole: catalog, hash: 'x' as never, entries: [], known: null, now: null }, [
      { file: 'a', text: text.replace('known by (code)', 'known by (n)') },
    ])
    expect(wrong.problems.length).toBe(1)
  })
})
