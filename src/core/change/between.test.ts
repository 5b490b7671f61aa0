import { describe, expect, it } from 'vitest'
import { apart, planBetween, postgres, sqlOf, stepsOf } from '../../../tests/support/plans.ts'
import { changePlan, decodePlan, downScript, parseRename, parseScript, renameProblem, sessionSettings, upScript } from './index.ts'

const base = `
  CREATE TABLE bay (id integer PRIMARY KEY, label varchar(20) NOT NULL);
  CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer, kind text DEFAULT 'box', CONSTRAINT crate_kind_check CHECK (kind <> ''));
  CREATE VIEW crates AS SELECT id, kind FROM crate;`

describe('a plan between two catalogs', () => {
  it('has no step where nothing differs', () => {
    const made = planBetween(base, base)
    expect(made.plan.steps).toEqual([])
    expect(made.plan.from).toBe(made.plan.to)
  })

  it('declares a reference for new rows first, and checks the old ones in a transaction of their own', () => {
    const { plan } = planBetween(base, `${base} ALTER TABLE crate ADD CONSTRAINT crate_bay FOREIGN KEY (bay_id) REFERENCES bay (id);`)
    expect(stepsOf(plan)).toEqual([
      'foreign key crate_bay of public.crate: is made, for rows from now on [1]',
      'foreign key crate_bay of public.crate: rows that are there already are checked [2]',
    ])
    expect(plan.steps[0]?.up).toEqual(['ALTER TABLE ONLY public.crate ADD CONSTRAINT crate_bay FOREIGN KEY (bay_id) REFERENCES public.bay(id) NOT VALID;'])
    expect(plan.steps[0]?.preChecks[0]).toMatchObject({
      count: 'select pg_catalog.count(*) from public.crate t where (t.bay_id is not null) and not exists (select from public.bay r where r.id = t.bay_id)',
      cleaning: expect.stringContaining('SET bay_id = NULL'),
    })
    expect(plan.steps[1]?.locks).toEqual([
      { relation: 'public.crate', mode: 'share update exclusive' },
      { relation: 'public.bay', mode: 'row share' },
    ])
  })

  it('changes the type, the options and the default of one column in an order that exists', () => {
    const of = (type: string, distinct: number, value: string) =>
      `CREATE TABLE t (a ${type} DEFAULT ${value}); ALTER TABLE t ALTER COLUMN a SET (n_distinct = ${distinct}), ALTER COLUMN a SET STATISTICS ${distinct};`
    const { plan } = planBetween(of('integer', 5, '7'), of('text', 6, "'x'"))
    expect(plan.steps.flatMap((s) => s.up)).toEqual([
      'ALTER TABLE ONLY public.t ALTER COLUMN a DROP DEFAULT;',
      'ALTER TABLE public.t ALTER COLUMN a TYPE text USING a::text;',
      'ALTER TABLE ONLY public.t ALTER COLUMN a SET STATISTICS 6;',
      'ALTER TABLE ONLY public.t ALTER COLUMN a SET (n_distinct=6);',
      "ALTER TABLE ONLY public.t ALTER COLUMN a SET DEFAULT 'x';",
    ])
  })

  it('builds indexes outside of transactions, keys upon them, and what is in a new table at once', () => {
    const { plan } = planBetween(
      base,
      `${base} CREATE INDEX crate_kind_idx ON crate (kind); ALTER TABLE bay ADD CONSTRAINT bay_label_key UNIQUE (label);
       CREATE TABLE lane (id integer PRIMARY KEY, bay_id integer REFERENCES bay (id)); CREATE INDEX lane_bay_idx ON lane (bay_id);`,
    )
    expect(stepsOf(plan)).toEqual([
      'table public.lane: is made [1]',
      'index public.lane_bay_idx: is made [1]',
      'foreign key lane_bay_id_fkey of public.lane: is made [1]',
      'unique constraint bay_label_key of public.bay: its index is built while others read and write [outside]',
      'unique constraint bay_label_key of public.bay: is made [2]',
      'index public.crate_kind_idx: is made [outside]',
    ])
    expect(plan.steps.filter((s) => s.transaction === null).map((s) => [s.probe !== null, s.up[0]?.includes('CONCURRENTLY')])).toEqual([
      [true, true],
      [true, true],
    ])
  })

  it('takes a view out of the way of a type, and brings it back in the same transaction', () => {
    const { plan, reaches } = planBetween(base, base.replace('kind text', 'kind varchar(30)'))
    expect(stepsOf(plan)).toEqual([
      'default of public.crate.kind: is dropped and made again: public.crate.kind gets another type [1]',
      expect.stringMatching(/^view public.crates: is dropped and made again/),
      'column public.crate.kind: type text becomes character varying(30) [1]',
      'default of public.crate.kind: is made again [1]',
      'view public.crates: is made again [1]',
    ])
    expect(plan.steps.flatMap((s) => s.hazards.map((h) => h.code))).toEqual(['made-anew', 'rewrites', 'narrows'])
    expect(plan.steps[2]?.preChecks.map((c) => c.count)).toEqual(['select pg_catalog.count(*) from public.crate t where pg_catalog.length(t.kind::text) > 30'])
    expect(apart(postgres(base.replace('kind text', 'kind varchar(30)')), reaches)).toEqual([])
  })

  it('requires a value by a check that is validated while others go on', () => {
    const { plan } = planBetween(base, base.replace('bay_id integer', 'bay_id integer NOT NULL'))
    expect(stepsOf(plan)).toEqual([
      'column public.crate.bay_id: no new nulls: a check that does not look at the rows there are [1]',
      'column public.crate.bay_id: rows that are there already are checked for null [2]',
      'column public.crate.bay_id: accepts null no more [3]',
    ])
    expect(plan.steps[2]?.up).toEqual([
      'ALTER TABLE public.crate ALTER COLUMN bay_id SET NOT NULL;',
      'ALTER TABLE public.crate DROP CONSTRAINT pelvok_bay_id_is_there;',
    ])
  })

  it('adds a value to an enumerated type alone, and takes one away by a type made anew', () => {
    const mood = (labels: string) => `CREATE TYPE mood AS ENUM (${labels}); CREATE TABLE bay (id integer PRIMARY KEY, mind mood DEFAULT 'low');`
    const more = planBetween(mood("'low', 'high'"), mood("'low', 'mid', 'high'")).plan
    expect(stepsOf(more)).toEqual(["type public.mood: gets the value 'mid' [1]"])
    expect(more.steps[0]).toMatchObject({
      up: ["ALTER TYPE public.mood ADD VALUE IF NOT EXISTS 'mid' AFTER 'low';"],
      down: [],
      hazards: [{ code: 'no-way-back' }],
    })
    const less = planBetween(mood("'low', 'mid', 'high'"), mood("'low', 'high'")).plan
    expect(stepsOf(less).map((s) => s.replace(/ \[1\]$/, ''))).toEqual([
      'default of public.bay.mind: is dropped and made again: public.bay.mind gets another type',
      'type public.mood: is set aside as public.mood_before',
      'type public.mood: is made again',
      'column public.bay.mind: type public.mood_before becomes public.mood',
      'default of public.bay.mind: is made again',
      'type public.mood_before: is dropped: no column has it any more',
    ])
  })

  it('goes back in the reverse order, and says where it cannot', () => {
    const { plan } = planBetween(
      base,
      base
        .replace('label varchar(20) NOT NULL', 'label varchar(20) NOT NULL, width integer DEFAULT 3')
        .replace(/CONSTRAINT crate_kind_check.*'\)/, 'UNIQUE (kind)'),
    )
    expect(downScript(plan, null)).toMatch(/DROP CONSTRAINT crate_kind_key[\s\S]*DROP COLUMN width[\s\S]*ADD CONSTRAINT crate_kind_check/)
    const gone = planBetween(base, base.replace(', label varchar(20) NOT NULL', '')).plan
    expect(gone.steps[0]?.hazards.map((h) => h.code)).toEqual(['loses-data', 'no-way-back'])
    expect(gone.steps[0]?.down).toEqual(['ALTER TABLE public.bay ADD COLUMN label character varying(20);'])
  })

  it('drops what refers before what is referred to, in a knot as well', () => {
    const knot = `CREATE TABLE bay (id integer PRIMARY KEY, crate_id integer); CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer REFERENCES bay (id));
      ALTER TABLE bay ADD FOREIGN KEY (crate_id) REFERENCES crate (id);`
    const { plan } = planBetween(knot, 'SELECT 1;')
    expect(plan.steps.map((s) => s.kind)).toEqual(['reference', 'reference', 'table', 'table'])
    expect(plan.steps.slice(2).every((s) => s.hazards.some((h) => h.code === 'loses-data'))).toBe(true)
  })

  it('carries a rename that is given, and guesses none', () => {
    const now = base.replaceAll('bay', 'lane')
    const guessed = planBetween(base, now).plan
    expect(guessed.steps.some((s) => s.kind === 'rename')).toBe(false)
    expect(guessed.steps.filter((s) => s.kind === 'table').map((s) => s.says)).toEqual(['is made', 'is dropped'])
    const renames = ['public.bay=public.lane', 'public.crate(bay_id)=public.crate(lane_id)'].map(
      (t) => parseRename(t) as NonNullable<ReturnType<typeof parseRename>>,
    )
    const asked = planBetween(base, now, { renames }).plan
    expect(sqlOf(asked).slice(0, 2)).toEqual(['ALTER TABLE public.bay RENAME TO lane;', 'ALTER TABLE public.crate RENAME COLUMN bay_id TO lane_id;'])
    expect(asked.steps.some((s) => s.kind === 'table')).toBe(false)
    expect(renameProblem(postgres(base), { of: 'relation', from: { schema: 'public', name: 'lane' }, to: { schema: 'public', name: 'x' } })).toBe(
      'there is no public.lane',
    )
  })

  it('asks rows by the names they have before the plan runs', () => {
    const now = base.replaceAll('bay', 'lane').replace('label varchar(20) NOT NULL', 'sign varchar(20) NOT NULL UNIQUE')
    const renames = ['public.bay=public.lane', 'public.lane(label)=public.lane(sign)', 'public.crate(bay_id)=public.crate(lane_id)'].map(
      (t) => parseRename(t) as NonNullable<ReturnType<typeof parseRename>>,
    )
    expect(planBetween(base, now, { renames }).plan.steps.flatMap((s) => s.preChecks.map((c) => c.count))).toEqual([
      'select pg_catalog.count(*) from (select 1 from public.bay t where t.label is not null group by t.label having pg_catalog.count(*) > 1) d',
    ])
  })

  it('tells what no statement does: the order of columns', () => {
    const { plan } = planBetween(base, base.replace('id integer PRIMARY KEY, label', 'width integer, id integer PRIMARY KEY, label'))
    expect(plan.leaves).toEqual([expect.stringMatching(/^relation public.bay: its columns stand in the order/)])
  })

  it('copies a table that is partitioned otherwise, and says why', () => {
    const { plan } = planBetween(
      'CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY, at integer NOT NULL, label text); CREATE INDEX bay_at_idx ON bay (at); CREATE VIEW bays AS SELECT id FROM bay;',
      'CREATE TABLE bay (id integer NOT NULL, at integer NOT NULL, label varchar(9)) PARTITION BY RANGE (at); CREATE TABLE bay_a PARTITION OF bay FOR VALUES FROM (0) TO (9); CREATE VIEW bays AS SELECT id FROM bay;',
    )
    expect(plan.steps.map((s) => `${s.object} ${s.says}`.replace(/: .*/, ''))).toEqual([
      'view public.bays is dropped and made again',
      'index public.bay_at_idx is dropped',
      'table public.bay is set aside as public.bay_before',
      'table public.bay is made',
      'table public.bay_a is made',
      'table public.bay_a becomes a partition of public.bay',
      'table public.bay its rows are copied',
      'view public.bays is made again',
      'table public.bay is dropped as public.bay_before',
    ])
    expect(plan.steps.flatMap((s) => s.up)).toEqual(
      expect.arrayContaining([
        'ALTER TABLE ONLY public.bay ALTER COLUMN id DROP IDENTITY;',
        'ALTER TABLE public.bay RENAME TO bay_before;',
        'INSERT INTO public.bay (id, at, label) OVERRIDING SYSTEM VALUE SELECT id, at, label FROM public.bay_before;',
        'DROP TABLE public.bay_before;',
      ]),
    )
    expect(plan.steps.find((s) => s.kind === 'rows')?.hazards.map((h) => h.code)).toEqual(['rewrites', 'made-anew', 'narrows'])
  })

  it('asks beforehand what a copied table demands of its rows for the first time, and nothing that it did before', () => {
    const { plan } = planBetween(
      `CREATE TABLE rack (id integer PRIMARY KEY); CREATE TABLE bay (id integer NOT NULL, at integer NOT NULL, label text, rack_id integer REFERENCES rack, lane_id integer, CHECK (at > 0));`,
      `CREATE TABLE rack (id integer PRIMARY KEY); CREATE TABLE lane (id integer PRIMARY KEY);
       CREATE TABLE bay (id integer NOT NULL, at integer NOT NULL, label text NOT NULL, rack_id integer REFERENCES rack, lane_id integer REFERENCES lane, CHECK (at > 0), CONSTRAINT short CHECK (label <> ''), PRIMARY KEY (id, at)) PARTITION BY RANGE (at);
       CREATE TABLE bay_a PARTITION OF bay FOR VALUES FROM (0) TO (9);`,
    )
    expect(plan.steps.flatMap((s) => s.preChecks.map((c) => c.id)).toSorted()).toEqual([
      'check public.bay short',
      'duplicates public.bay bay_pkey',
      'null public.bay.label',
      'orphans public.bay bay_lane_id_fkey',
    ])
    // No lane is there before the plan makes the table: whatever refers to one is in the way.
    expect(plan.steps.flatMap((s) => s.preChecks).find((c) => c.id.startsWith('orphans'))?.count).toBe(
      'select pg_catalog.count(*) from public.bay t where (t.lane_id is not null)',
    )
  })

  it('requires a value of a composite type plainly: a check of it would ask about its parts', () => {
    const type = 'CREATE TYPE spot AS (x integer, y integer); '
    const { plan } = planBetween(`${type}CREATE TABLE bay (at spot);`, `${type}CREATE TABLE bay (at spot NOT NULL);`)
    expect(sqlOf(plan)).toEqual(['ALTER TABLE public.bay ALTER COLUMN at SET NOT NULL;'])
    expect(plan.steps[0]?.hazards.map((h) => h.code)).toEqual(['reads-all'])
    expect(plan.steps[0]?.preChecks.map((c) => c.count)).toEqual(['select pg_catalog.count(*) from public.bay t where t.at is not distinct from null'])
  })

  it('changes the type and NOT NULL of a partitioned column once, at the top', () => {
    const of = (column: string) =>
      `CREATE TABLE bay (at integer NOT NULL, ${column}) PARTITION BY RANGE (at); CREATE TABLE bay_a PARTITION OF bay FOR VALUES FROM (0) TO (9);`
    const { plan } = planBetween(of('mark text NOT NULL'), of('mark uuid'))
    expect(plan.steps.map((s) => s.object)).toEqual(['column public.bay.mark', 'column public.bay.mark'])
  })

  it('refuses to copy what has children by INHERITS', () => {
    const child = 'CREATE TABLE crate (kind text) INHERITS (bay);'
    const from = postgres(`CREATE TABLE bay (id integer); ${child}`)
    const to = postgres('CREATE TABLE bay (id integer) PARTITION BY RANGE (id); CREATE TABLE crate (id integer, kind text);')
    expect(changePlan(from, to, { title: 'x' })).toMatchObject({ ok: false, problem: { code: 'rebuild', tables: [{ object: 'table public.bay' }] } })
  })

  it('is for PostgreSQL', () => {
    const other = { ...postgres(base), dialect: 'sqlite' as const }
    expect(changePlan(other, other, { title: 'x' })).toMatchObject({ ok: false, problem: { code: 'dialect' } })
  })
})

describe('a plan as files', () => {
  const { plan } = planBetween(base, `${base} CREATE INDEX crate_kind_idx ON crate (kind); ALTER TABLE bay ADD COLUMN width integer;`)
  it('is read back as it was', () => expect(decodePlan(JSON.parse(JSON.stringify({ ...plan, revision: null }))).plan).toEqual(JSON.parse(JSON.stringify(plan))))

  it('runs what is outside of transactions between COMMIT and BEGIN', () => {
    expect(upScript(plan, null)).toMatch(
      /BEGIN;\n\n-- 1\. column[\s\S]*COMMIT;\n\n-- 2\. index public\.crate_kind_idx\n[\s\S]*CREATE INDEX CONCURRENTLY[^;]*;\n$/,
    )
  })

  it('gives each step its statements back when they were edited, and refuses a step taken out or there twice', () => {
    const script = upScript(plan, null)
    const parse = (text: string) => parseScript(text, plan.steps, sessionSettings(plan))
    expect(parse(script)).toMatchObject({ ok: true })
    expect(parseScript(downScript(plan, null), plan.steps.toReversed(), sessionSettings(plan))).toMatchObject({ ok: true })
    const edited = parse(script.replace('ADD COLUMN width integer;', 'ADD COLUMN width integer;\nUPDATE public.bay SET width = 1;'))
    expect(edited.ok && [...edited.statements]).toEqual([
      [1, ['ALTER TABLE public.bay ADD COLUMN width integer;', 'UPDATE public.bay SET width = 1;']],
      [2, plan.steps[1]?.up],
    ])
    const lineOf = (text: string, part: string) => text.slice(0, text.indexOf(part)).split('\n').length
    expect(parse(script.replace(/^-- 2\..*$/m, ''))).toMatchObject({ ok: false, problem: expect.stringContaining('-- 2. is missing') })
    expect(parse(`${script}\n-- 1. again\n`)).toMatchObject({ ok: false, problem: 'step 1 is there twice', line: script.split('\n').length + 1 })
    expect(parse(`${script}\n-- 9. more\n`)).toMatchObject({ ok: false, problem: 'the plan has no step 9' })
    const early = script.replace('BEGIN;', 'DELETE FROM public.crate;\n\nBEGIN;')
    expect(parse(early)).toEqual({ ok: false, line: lineOf(early, 'DELETE'), problem: expect.stringMatching(/where BEGIN; belongs: before the first step/) })
    expect(parse(script.replace('SET standard_conforming_strings = on;\n', ''))).toMatchObject({ problem: 'SET standard_conforming_strings = on; is missing' })
    expect(parse(script.replace('COMMIT;', ''))).toMatchObject({
      problem: "step 2 stands where COMMIT; belongs; the order and the transactions are the plan's",
    })
    const twice = script.replace('ADD COLUMN width integer;', 'ADD COLUMN width integer;\nROLLBACK;')
    expect(parse(twice)).toMatchObject({ line: lineOf(twice, 'ROLLBACK'), problem: expect.stringContaining('ROLLBACK; stands where COMMIT; belongs') })
  })

  it('reads the SQL of one step by itself, which has no transaction', () => {
    const [step] = plan.steps
    if (!step) throw new Error('no step')
    const parse = (text: string) => parseScript(`-- 1. x\n${text}`, [step], null)
    expect(parse('')).toEqual({ ok: true, statements: new Map([[1, []]]) })
    expect(parse("SELECT ';' -- a note; nothing\n;DO $$ begin perform 1; end $$")).toEqual({
      ok: true,
      statements: new Map([[1, ["SELECT ';';", 'DO $$ begin perform 1; end $$;']]]),
    })
    expect(parse('ALTER TABLE nonsense FROB; SELECT 2')).toMatchObject({ statements: new Map([[1, ['ALTER TABLE nonsense FROB;', 'SELECT 2;']]]) })
    expect(parse('/* ; */ SELECT 1; -- x\nCOPY bay FROM stdin;\n1\n\\.\n')).toMatchObject({ ok: false, line: 3, problem: expect.stringContaining('COPY') })
    expect(parse('SELECT 1;\n\\echo hello')).toMatchObject({ ok: false, line: 3 })
    expect(parse('SELECT 1;\ncommit;')).toMatchObject({ ok: false, line: 3 })
  })
})

describe('rows that are cleaned', () => {
  it('come before the step that they would stop, which asks no more', () => {
    const now = `${base} ALTER TABLE crate ADD CONSTRAINT crate_bay FOREIGN KEY (bay_id) REFERENCES bay (id);`
    const check = planBetween(base, now).plan.steps[0]?.preChecks[0]?.id as string
    const { plan } = planBetween(base, now, { cleanings: [{ check, sql: 'DELETE FROM public.crate;', says: 'all go' }] })
    expect(plan.steps.map((s) => [s.kind, s.preChecks.length])).toEqual([
      ['rows', 0],
      ['reference', 0],
      ['validate', 0],
    ])
    expect(plan.steps[0]).toMatchObject({ up: ['DELETE FROM public.crate;'], down: [], transaction: 1, hazards: [{ code: 'no-way-back' }] })
  })
})
