import { describe, expect, it } from 'vitest'
import { index, table } from '../../../../tests/support/catalogs.ts'
import { quoteIdent, quoteLiteral } from './quote.ts'
import { asReadBack, reparsable } from './reparse.ts'
import { createIndex } from './tableDdl.ts'
import { neutralType } from './types.ts'

describe('quoting', () => {
  it.each([
    ['crate', 'crate'],
    ['Crate', '"Crate"'],
    ['a"b', '"a""b"'],
    ['user', '"user"'],
    ['order', '"order"'],
    ['x y', '"x y"'],
    ['1st', '"1st"'],
    ['a$1', 'a$1'],
    ['name', 'name'],
    ['ünder', '"ünder"'],
    ['bay\u202e\\x', 'U&"bay\\202E\\\\x"'],
  ])('%s is written %s', (name, sql) => expect(quoteIdent(name)).toBe(sql))
  it('texts double their quotes', () => expect(quoteLiteral("it's \\ here")).toBe("'it''s \\ here'"))
})

describe('expressions that read back as they were printed', () => {
  it.each([
    [
      "((a)::text = ANY ((ARRAY['x'::character varying, 'y]'::character varying])::text[]))",
      "((a)::text = ANY (ARRAY['x'::character varying, 'y]'::character varying]))",
    ],
    ["((a)::text <> ALL ((ARRAY['x'::character varying])::text[]))", "((a)::text <> ALL (ARRAY['x'::character varying]))"],
    ["('ANY ((ARRAY[''x''])::text[])')", "('ANY ((ARRAY[''x''])::text[])')"],
    ['(a = ANY ((ARRAY[1, 2])::bigint[]))', '(a = ANY ((ARRAY[1, 2])::bigint[]))'],
    ["f((ARRAY['x'::character varying])::text[])", "f((ARRAY['x'::character varying])::text[])"],
    [
      "(a = ANY ((ARRAY['x'::character varying])::text[])) OR (b = ANY ((ARRAY['y'::character varying])::text[]))",
      "(a = ANY (ARRAY['x'::character varying])) OR (b = ANY (ARRAY['y'::character varying]))",
    ],
    ["(a = ANY ((ARRAY[E'\\\\\\'x'::character varying])::text[]))", "(a = ANY (ARRAY[E'\\\\\\'x'::character varying]))"],
  ])('%s', (printed, written) => expect(reparsable(printed)).toBe(written))

  it.each([
    [
      "((a)::text = ANY ((ARRAY['x'::character varying, 'y, z'::character varying])::text[]))",
      "((a)::text = ANY (ARRAY[('x'::character varying)::text, ('y, z'::character varying)::text]))",
    ],
    ["(a = ALL ((ARRAY[f(b, c), ARRAY['d', 'e'][1]])::text[]))", "(a = ALL (ARRAY[(f(b, c))::text, (ARRAY['d', 'e'][1])::text]))"],
    ["(a = ANY (ARRAY['x'::text]))", "(a = ANY (ARRAY['x'::text]))"],
  ])('%s is printed another way once it was read', (printed, again) => {
    expect(asReadBack(printed)).toBe(again)
    expect(asReadBack(again)).toBe(again)
  })

  it('takes time in proportion to the text', () => {
    const long = `a = ANY ((ARRAY[${"E'x'::character varying, ".repeat(20_000)}'y'])::text[])`
    expect(asReadBack(long).length).toBeGreaterThan(long.length)
  })
})

describe('indexes', () => {
  const t = table('t', ['a', 'b'], ['a'])
  it.each([
    [index('i', ['a']), 'CREATE INDEX i ON s.t USING btree (a);'],
    [index('i', ['a'], { unique: true, include: ['b'] }), 'CREATE UNIQUE INDEX i ON s.t USING btree (a) INCLUDE (b);'],
    [index('i', ['a'], { predicate: { written: '(b > 0)', canonical: null } }), 'CREATE INDEX i ON s.t USING btree (a) WHERE (b > 0);'],
    [index('i', ['a'], { options: ['fillfactor=70'] }), 'CREATE INDEX i ON s.t USING btree (a) WITH (fillfactor=70);'],
    [
      index('i', [], {
        columns: [
          {
            column: null,
            expression: { written: 'lower(a)', canonical: null },
            collation: { schema: 'pg_catalog', name: 'C' },
            operatorClass: { schema: 'pg_catalog', name: 'text_pattern_ops' },
            operatorClassOptions: [],
            descending: true,
            nullsFirst: false,
          },
        ],
      }),
      'CREATE INDEX i ON s.t USING btree ((lower(a)) COLLATE pg_catalog."C" pg_catalog.text_pattern_ops DESC NULLS LAST);',
    ],
  ])('%#', (x, sql) => expect(createIndex(t, x)[0]).toBe(sql))
})

describe('types', () => {
  const named = (t: { schema: string; name: string }) => t.schema === 'field' && t.name === 'Mood of day'
  it.each([
    ['integer', { kind: 'integer' }],
    ['bigint', { kind: 'bigint' }],
    ['numeric(10,2)', { kind: 'decimal' }],
    ['numeric(3,-2)', { kind: 'decimal' }],
    ['character varying(20)', { kind: 'text' }],
    ['timestamp(3) with time zone', { kind: 'instant' }],
    ['timestamp without time zone', { kind: 'local datetime' }],
    ['interval day to second(3)', { kind: 'interval' }],
    ['integer[]', { kind: 'list', of: { kind: 'integer' } }],
    ['"char"', { kind: 'text' }],
    ['field."Mood of day"', { kind: 'named', schema: 'field', name: 'Mood of day' }],
    ['field."Mood of day"[]', { kind: 'list', of: { kind: 'named', schema: 'field', name: 'Mood of day' } }],
    ['public.citext', { kind: 'other', type: 'public.citext' }],
    ['tsvector', { kind: 'other', type: 'tsvector' }],
  ])('%s', (type, neutral) => expect(neutralType(type, named)).toEqual(neutral))
})
