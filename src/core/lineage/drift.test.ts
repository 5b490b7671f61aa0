import { describe, expect, it } from 'vitest'
import { postgres } from '../../../tests/support/plans.ts'
import { driftItems, renameDoubts } from './index.ts'

const base = 'CREATE TABLE bay (id integer PRIMARY KEY, label text, width integer); CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer);'

describe('drift', () => {
  it('is told in both directions, each with its remedy', () => {
    const items = driftItems(
      postgres(base),
      postgres(base.replace(', width integer', '').replace('label text', 'label varchar(9)').concat('CREATE TABLE more (id integer);')),
    )
    expect(items.map((i) => [i.where, i.object, i.field, i.was, i.is === null ? null : i.is.slice(0, 22)])).toEqual([
      ['different in the database', 'relation public.bay', 'columns[label].type', '"text"', '"character varying(9)"'],
      ['missing in the database', 'relation public.bay', 'columns[width]', expect.stringContaining('"width"'), null],
      ['only in the database', 'relation public.more', '', null, '{"kind":"table","schem'],
    ])
    expect(new Set(items.map((i) => i.remedy)).size).toBe(3)
  })
  it('is none in the order of columns, or where nothing differs', () => {
    expect(driftItems(postgres(base), postgres(base.replace('label text, width integer', 'width integer, label text')))).toEqual([])
    expect(driftItems(postgres(base), postgres(base))).toEqual([])
  })
})

describe('a drop and a make that look like a rename', () => {
  it('are asked about, tables and columns', () => {
    expect(renameDoubts(postgres(base), postgres(base.replace('bay (', 'bay_place (').replace('bay_id', 'bay_no')))).toMatchObject([
      { from: 'public.bay', to: 'public.bay_place' },
      { from: 'public.crate(bay_id)', to: 'public.crate(bay_no)' },
    ])
  })
  it('are asked about where the name alone is another one: sequences, indexes, values of enumerated types', () => {
    const named = (sequence: string, index: string, label: string) =>
      postgres(`CREATE SEQUENCE public.${sequence} START 7; CREATE TYPE public.mood AS ENUM ('low', '${label}', 'high');
        CREATE TABLE public.bay (id integer PRIMARY KEY, width integer); CREATE INDEX ${index} ON public.bay (width);`)
    expect(renameDoubts(named('a_seq', 'a_idx', 'mid'), named('b_seq', 'b_idx', 'middling'))).toMatchObject([
      { from: 'public.a_seq', to: 'public.b_seq' },
      { from: 'public.a_idx', to: 'public.b_idx' },
      { from: 'public.mood(mid)', to: 'public.mood(middling)' },
    ])
    const owned = (name: string) => postgres(`CREATE TABLE public.bay (id integer NOT NULL); CREATE SEQUENCE public.${name} OWNED BY public.bay.id;`)
    expect(renameDoubts(owned('a_seq'), owned('b_seq'))).toEqual([])
    const moved = postgres(`CREATE TYPE public.mood AS ENUM ('high', 'low')`)
    expect(renameDoubts(postgres(`CREATE TYPE public.mood AS ENUM ('low', 'high')`), moved)).toEqual([])
  })
  it('are not where they are little alike', () => {
    expect(renameDoubts(postgres(base), postgres('CREATE TABLE other (x text, y text); CREATE TABLE crate (id integer PRIMARY KEY);'))).toEqual([])
  })
})
