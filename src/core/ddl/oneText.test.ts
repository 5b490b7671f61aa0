import { describe, expect, it } from 'vitest'
import { withSchemaEdits } from '../change/index.ts'
import { lexisOf } from '../dialect/lexis.ts'
import { postgresLexis } from '../dialect/postgres/lexis.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { notationSource } from '../notation/index.ts'
import { refuseExpression, refuseQuery, refuseType } from './oneText.ts'
import { readScript } from './script.ts'

describe('one expression', () => {
  it.each([
    '0',
    "'a; b -- c'",
    'now()',
    "nextval('s'::regclass)",
    'a IS NOT NULL AND NOT b',
    '(a > 0) OR (b IS NULL)',
    "CASE WHEN a THEN 'x' ELSE 'y' END",
    "'{}'::character varying[]",
    "ARRAY['a', 'b']",
    'coalesce(a, b) COLLATE "C"',
    't.check + 1',
    '$$a;b$$',
    "E'it\\'s'",
  ])('%s is', (text) => expect(refuseExpression(text, postgresLexis)).toBeNull())

  it.each([
    ['0; drop table bay', 1],
    ['0, drop column kind', 1],
    ['0) , drop column kind', 1],
    ['0 NOT NULL', 2],
    ['0 CHECK (a > 0)', 2],
    ['0 REFERENCES other (id)', 2],
    ['0 -- the rest', 2],
    ['0 /* the rest', 2],
    ['0 /* a comment */ + 1', 2],
    ['0 PRIMARY KEY', 2],
    ['', 0],
    [')', 0],
    ['(a', 2],
    ["'open", 0],
    ['a\u0000b', 1],
  ])('%j is not, told at %i', (text, at) => expect(refuseExpression(text, postgresLexis)?.at).toBe(at))

  it('a # is a comment in MySQL alone', () => {
    expect(refuseExpression('1 # 2', lexisOf('mysql'))?.at).toBe(2)
    expect(refuseExpression('1 # 2', postgresLexis)).toBeNull()
  })
})

describe('one type', () => {
  it.each(['integer', 'varchar(10)', 'numeric(10, 2)[]', 'timestamp(3) with time zone', 'public."Odd Type"', 'double precision', 'character varying(20)'])(
    '%s is',
    (text) => expect(refuseType(text, postgresLexis)).toBeNull(),
  )
  it.each([
    ['varchar(10), drop column kind', 11],
    ['integer; drop table t', 7],
    ['integer -- x', 8],
    ['integer USING 1', 8],
    ['integer NOT NULL', 8],
    ['integer default 1', 8],
  ])('%s is not, told at %i', (text, at) => expect(refuseType(text, postgresLexis)?.at).toBe(at))
})

describe('one query', () => {
  it.each(['select 1', 'with a as (select 1) select * from a', "select ';'"])('%s is', (text) => expect(refuseQuery(text, postgresLexis)).toBeNull())
  it.each(['select 1; drop table t', 'select 1 -- x'])('%s is not', (text) => expect(refuseQuery(text, postgresLexis)).not.toBeNull())
})

describe('what is typed', () => {
  const { catalog } = readScript([{ name: 'a.sql', text: 'create table t (id int primary key, a varchar(9));' }], postgresScript)
  const table = { schema: 'public', name: 't' }
  it.each([
    [{ do: 'set type', table, column: 'a', type: 'varchar(10), drop column id' }, /the type .* at character 12, the type ends before ", drop column id"/],
    [{ do: 'set default', table, column: 'a', expression: "'x'; drop table t" }, /the default .* at character 4, the expression ends before/],
    [
      { do: 'add column', table, column: { name: 'b', type: 'integer', nullable: true, default: '0 -- x', counted: false } },
      /the default .* a comment may hide what follows/,
    ],
  ] as const)('as an edit is refused where it says more: %o', (edit, because) => {
    const { outcomes, catalog: after } = withSchemaEdits(catalog, [edit])
    expect(outcomes[0]).toMatchObject({ is: 'refused', because: expect.stringMatching(because) })
    expect(after).toBe(catalog)
  })

  it('in a notation is refused with its place', () => {
    const text = [
      'notation 1 for postgresql',
      '',
      'entity Bay = table public.bay',
      '  key bay_pkey (id)',
      '  id : integer, default `0; drop table bay`',
      '',
    ].join('\n')
    const source = notationSource([{ file: 'a.pelvok', text }])
    expect(source.ok ? [] : source.problems.map((p) => [p.code, text.slice(p.at.from, p.at.from + 6)])).toContainEqual(['bad-value', '; drop'])
  })
})
