import { describe, expect, it } from 'vitest'
import { planBetween, postgres, stepsOf } from '../../../tests/support/plans.ts'
import { makes, type SchemaEdit, schemaEdit, schemaEditKey, schemaEditText, touches, withSchemaEdits } from './index.ts'

const c = postgres(`
  CREATE TABLE bay (id integer PRIMARY KEY, code varchar(8) NOT NULL UNIQUE);
  CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer, kind varchar(10) DEFAULT 'box' CHECK (kind IN ('box', 'bag')), open char(1) DEFAULT 'Y' CHECK (open IN ('Y', 'N')));
  CREATE INDEX crate_kind_idx ON crate (kind);
  CREATE VIEW crates AS SELECT id, kind FROM crate;
  CREATE TABLE part (at integer NOT NULL) PARTITION BY RANGE (at);
  CREATE TABLE part_a PARTITION OF part FOR VALUES FROM (0) TO (9);`)
const bay = { schema: 'public', name: 'bay' }
const crate = { schema: 'public', name: 'crate' }
const part = { schema: 'public', name: 'part' }
const declare: SchemaEdit = {
  do: 'declare reference',
  table: crate,
  columns: ['bay_id'],
  target: bay,
  targetColumns: ['id'],
  name: 'crate_bay',
  onDelete: 'restrict',
  onUpdate: 'no action',
}

/** Each kind with what it is in words, and what its plan does. */
const kinds: readonly (readonly [SchemaEdit, string, readonly string[]])[] = [
  [
    declare,
    'public.crate(bay_id) is declared to refer to public.bay(id), on delete restrict',
    ['foreign key crate_bay of public.crate', 'foreign key crate_bay of public.crate'],
  ],
  [
    { do: 'add index', table: crate, columns: ['bay_id'], name: 'crate_bay_idx' },
    'public.crate gets the index crate_bay_idx over bay_id',
    ['index public.crate_bay_idx'],
  ],
  [{ do: 'drop index', table: crate, name: 'crate_kind_idx' }, 'the index crate_kind_idx of public.crate is dropped', ['index public.crate_kind_idx']],
  [
    { do: 'make unique', table: crate, columns: ['kind'], name: 'crate_kind_key' },
    'kind of public.crate is made unique',
    ['unique constraint crate_kind_key of public.crate', 'unique constraint crate_kind_key of public.crate'],
  ],
  [{ do: 'drop unique', table: bay, name: 'bay_code_key' }, 'the rule bay_code_key of public.bay is dropped', ['unique constraint bay_code_key of public.bay']],
  [{ do: 'require', table: crate, column: 'bay_id' }, 'public.crate(bay_id) accepts null no more', Array(3).fill('column public.crate.bay_id')],
  [{ do: 'allow null', table: bay, column: 'code' }, 'public.bay(code) accepts null', ['column public.bay.code']],
  [
    { do: 'set default', table: crate, column: 'bay_id', expression: '3' },
    'public.crate(bay_id) is 3 where nothing is said',
    ['default of public.crate.bay_id'],
  ],
  [{ do: 'set default', table: crate, column: 'kind', expression: null }, 'public.crate(kind) has no default any more', ['default of public.crate.kind']],
  [{ do: 'set type', table: bay, column: 'code', type: 'text' }, 'public.bay(code) becomes text', ['column public.bay.code']],
  [
    { do: 'add column', table: bay, column: { name: 'width', type: 'integer', nullable: true, default: null, counted: false } },
    'public.bay gets the column width of type integer',
    ['column public.bay.width'],
  ],
  [{ do: 'drop column', table: crate, column: 'bay_id' }, 'the column bay_id of public.crate is dropped', ['column public.crate.bay_id']],
  [{ do: 'rename table', table: bay, to: { schema: 'public', name: 'lane' } }, 'public.bay is called public.lane in the database', ['table public.bay']],
  [{ do: 'rename column', table: bay, column: 'code', to: 'sign' }, 'public.bay(code) is called sign in the database', ['column public.bay.code']],
  [{ do: 'set comment', table: bay, column: null, text: 'Where crates stand' }, 'the comment on public.bay is "Where crates stand"', ['table public.bay']],
  [{ do: 'drop table', table: part }, 'the table public.part is dropped', ['table public.part_a', 'table public.part']],
  [
    {
      do: 'add table',
      table: { schema: 'public', name: 'lane' },
      columns: [{ name: 'id', type: 'bigint', nullable: false, default: null, counted: true }],
      key: ['id'],
    },
    'the table public.lane is made',
    ['table public.lane'],
  ],
  [
    { do: 'add index', table: part, columns: ['at'], name: 'part_at_idx' },
    'public.part gets the index part_at_idx over at',
    ['index public.part_a_at_idx', 'index public.part_at_idx'],
  ],
]

const planOf = (edits: readonly SchemaEdit[]) => {
  const wished = withSchemaEdits(c, edits)
  return { wished, plan: planBetween(c, wished.catalog, { renames: wished.renames, conversions: wished.conversions }).plan }
}

describe('Catalog′', () => {
  it.each(kinds)('%j', (edit, says, objects) => {
    expect(schemaEdit.parse(edit)).toEqual(edit)
    expect(schemaEditText(edit)).toBe(says)
    const { wished, plan } = planOf([edit])
    expect(wished.outcomes).toEqual([{ is: 'planned' }])
    expect(plan.steps.map((s) => s.object)).toEqual(objects)
    // Asked for again, it is there.
    expect(withSchemaEdits(wished.catalog, [edit]).outcomes).toEqual([{ is: 'there' }])
  })

  it('makes a type of a list of words, and a boolean of two: their checks go, their defaults turn along', () => {
    const { plan, wished } = planOf([
      { do: 'make enumerated', table: crate, column: 'kind', type: { schema: 'public', name: 'crate_kind' }, labels: ['box', 'bag'] },
      { do: 'make boolean', table: crate, column: 'open', yes: 'Y', no: 'N' },
    ])
    expect(wished.catalog.relations.find((r) => r.name === 'crate')?.checks).toEqual([])
    expect(plan.steps.flatMap((s) => s.up)).toEqual(
      expect.arrayContaining([
        "CREATE TYPE public.crate_kind AS ENUM ('box', 'bag');",
        // One statement: its rows are written once.
        "ALTER TABLE public.crate ALTER COLUMN kind TYPE public.crate_kind USING kind::text::public.crate_kind, ALTER COLUMN open TYPE boolean USING CASE open::text WHEN 'Y' THEN true WHEN 'N' THEN false END;",
        "ALTER TABLE ONLY public.crate ALTER COLUMN kind SET DEFAULT 'box'::public.crate_kind;",
        'ALTER TABLE ONLY public.crate ALTER COLUMN open SET DEFAULT true;',
      ]),
    )
    expect(plan.steps.flatMap((s) => s.down).join('\n')).toContain(
      "ALTER COLUMN open TYPE character(1) USING CASE WHEN open THEN 'Y' WHEN NOT open THEN 'N' END::character(1);",
    )
    expect(plan.steps.flatMap((s) => s.preChecks.map((k) => k.count))).toEqual(
      expect.arrayContaining([expect.stringContaining("not in ('box', 'bag')"), expect.stringContaining("not in ('Y', 'N')")]),
    )
  })

  it.each<readonly [SchemaEdit, string]>([
    [{ ...declare, targetColumns: ['gone'] }, 'public.bay has no column gone'],
    [{ ...declare, target: { schema: 'public', name: 'gone' } }, 'there is no public.gone'],
    [{ ...declare, target: crate, targetColumns: ['kind'] }, 'nothing makes (kind) of public.crate unique; make it unique first'],
    [{ do: 'drop column', table: crate, column: 'kind' }, 'view public.crates needs it; change that first'],
    [{ do: 'drop table', table: crate }, 'public.crates needs it; change that first'],
    [{ do: 'allow null', table: bay, column: 'id' }, 'id is part of the primary key'],
    [{ do: 'set type', table: part, column: 'at', type: 'bigint' }, 'at is in the partition key'],
    [{ do: 'add index', table: crate, columns: ['open'], name: 'crate_kind_idx' }, 'the name crate_kind_idx is taken in public'],
    [{ do: 'make boolean', table: crate, column: 'open', yes: 'J', no: 'N' }, "the default 'Y' is neither J nor N"],
    [{ do: 'set key', table: bay, columns: ['code'], name: 'k' }, 'public.bay has the key bay_pkey already'],
    [{ do: 'require', table: { schema: 'public', name: 'crates' }, column: 'id' }, 'public.crates is a view'],
    [{ do: 'rename table', table: bay, to: crate }, 'there is a public.crate already'],
    [
      { do: 'add column', table: bay, column: { name: 'code', type: 'integer', nullable: true, default: null, counted: false } },
      'public.bay has a column code of type character varying(8) already',
    ],
  ])('refuses %j', (edit, because) => {
    const wished = withSchemaEdits(c, [edit])
    expect(wished.outcomes).toEqual([{ is: 'refused', because }])
    expect(wished.catalog).toBe(c)
  })

  it('carries several out in their order, and leaves out only what is refused', () => {
    const wished = withSchemaEdits(c, [
      { do: 'rename table', table: bay, to: { schema: 'public', name: 'lane' } },
      declare,
      { ...declare, target: { schema: 'public', name: 'lane' } },
    ])
    expect(wished.outcomes.map((o) => o.is)).toEqual(['planned', 'refused', 'planned'])
    const { plan } = planBetween(c, wished.catalog, { renames: wished.renames })
    expect(stepsOf(plan)[0]).toBe('table public.bay: becomes public.lane; rows stay [1]')
    expect(plan.steps[1]?.up[0]).toContain('REFERENCES public.lane(id)')
  })
})

describe('two schema edits', () => {
  it('say the same thing where they share a key', () => {
    expect(schemaEditKey({ do: 'require', table: bay, column: 'code' })).toBe(schemaEditKey({ do: 'allow null', table: bay, column: 'code' }))
    expect(schemaEditKey({ do: 'set type', table: bay, column: 'code', type: 'text' })).toBe(
      schemaEditKey({ do: 'make boolean', table: bay, column: 'code', yes: 'Y', no: 'N' }),
    )
    expect(schemaEditKey(declare)).not.toBe(schemaEditKey({ ...declare, name: 'other' }))
  })
  it('build on each other where one is about what the other makes', () => {
    const made = makes({ do: 'rename column', table: bay, column: 'code', to: 'sign' })
    expect(touches({ do: 'require', table: bay, column: 'sign' }).some((t) => made.includes(t))).toBe(true)
    expect(touches({ do: 'require', table: bay, column: 'code' }).some((t) => made.includes(t))).toBe(false)
  })
})
