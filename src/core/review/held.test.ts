// How values are held in the code: by a rule for their type, by an exception of a column, under a name of the project's own, as yes or no.
import { describe, expect, it } from 'vitest'
import { catalogOf, column, index, table } from '../../../tests/support/catalogs.ts'
import type { Catalog, Dialect } from '../catalog/index.ts'
import { readScript } from '../ddl/index.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { emitTypeScript } from '../emit/typescript/index.ts'
import { waysOf } from '../infer/index.ts'
import { decodeEntry, type Edit, type EntryBody, type LedgerEntry } from '../model/index.ts'
import { checkRename, detailOf, editOfName, entryText, heldEntry, review, reviewBase, sheetOf } from './index.ts'
import { namingProblem } from './rename.ts'

const listed = (name: string, expression: string) => ({
  name,
  expression: { written: expression, canonical: null },
  validated: true,
  inheritable: true,
  inherited: false,
  comment: null,
})
const catalog: Catalog = {
  ...catalogOf(
    table(
      'bay',
      ['id', column('weight', { type: 'numeric(8,2)' }), column('height', { type: 'numeric(8,2)', nullable: true }), column('extra', { type: 'jsonb' })],
      ['id'],
    ),
    table(
      'crate',
      [column('id', { type: 'bigint' }), column('load', { type: 's.load' }), column('bits', { type: 'bit(8)' }), column('span', { type: 'int4range' })],
      ['id'],
      {
        indexes: [index('i', ['load'])],
      },
    ),
    table(
      'lane',
      ['id', column('open', { type: 'character(1)' }), column('wet', { type: 'character(1)', default: { written: "'N'::bpchar", canonical: null } })],
      ['id'],
      {
        checks: [listed('lane_open_check', "open in ('n', 'y')")] as never,
      },
    ),
  ),
  domains: [{ schema: 's', name: 'load', type: 'numeric(9,3)', nullable: true, default: null, collation: null, checks: [], comment: null, dependsOn: [] }],
}
const entriesOf = (...bodies: readonly EntryBody[]): readonly LedgerEntry[] =>
  bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: '2026-01-01T00:00:00.000Z', by: 'Ada' }))
const set = (edit: Edit): EntryBody => ({ kind: 'edit', edit, note: null }) as EntryBody
const held = (type: string, value: 'number' | 'string' | 'bigint' | null) => set({ facet: 'type.target', subject: `type:${type}`, value })
const named = (type: string, value: string | null) => set({ facet: 'type.name', subject: `type:${type}`, value })
const at = (...bodies: readonly EntryBody[]) => review(catalog, 'ab'.repeat(32) as never, entriesOf(...bodies))
const code = (...bodies: readonly EntryBody[]) => {
  const r = at(...bodies)
  return Object.fromEntries(
    emitTypeScript(r.model, r.revision)
      .filter((f) => f.own === null)
      .map((f) => [f.path.replace('base/', ''), f.text]),
  )
}

describe('how values are held', () => {
  it('a rule goes for all columns of a type, an exception for one, whatever was said first', () => {
    expect(code()['Bay.ts']).toMatch(/weight: Decimal\n[\s\S]*height: Decimal \| null\n[\s\S]*extra: JsonValue\n/)
    expect(code(held('numeric(8,2)', 'number'))['Bay.ts']).toMatch(/weight: number\n[\s\S]*height: number \| null\n/)
    const exception = heldEntry('s.bay(height)', 'string')
    for (const order of [
      [held('numeric(8,2)', 'number'), exception],
      [exception, held('numeric(8,2)', 'number')],
    ])
      expect(code(...order)['Bay.ts']).toMatch(/weight: number\n[\s\S]*height: Decimal \| null\n/)
    expect(code(held('numeric(8,2)', 'number'), exception, heldEntry('s.bay(height)', null))['Bay.ts']).toMatch(/height: number \| null\n/)
  })

  it('a rule for a domain stands where the domain is declared; an exception leaves its name out', () => {
    expect(code()['types.ts']).toContain('export type Load = Decimal\n')
    const ruled = code(held('s.load', 'number'))
    expect([ruled['types.ts'], ruled['Crate.ts']]).toEqual([expect.stringContaining('export type Load = number\n'), expect.stringContaining('load: Load\n')])
    expect(code(held('s.load', 'number'), heldEntry('s.crate(load)', 'string'))['Crate.ts']).toContain('load: Decimal\n')
  })

  it('a native type may have a name of the project’s own, once declared and used in every column of it', () => {
    const out = code(named('numeric(8,2)', 'Kilograms'), held('numeric(8,2)', 'number'))
    expect(out['types.ts']).toContain('/** Values of the type numeric(8,2). */\nexport type Kilograms = number\n')
    expect(out['Bay.ts']).toContain("import type { JsonValue, Kilograms } from './types.js'\n")
    expect(out['Bay.ts']).toMatch(/weight: Kilograms\n[\s\S]*height: Kilograms \| null\n/)
    expect(code(named('numeric(8,2)', 'Kilograms'), named('numeric(8,2)', null))['Bay.ts']).toContain('weight: Decimal\n')
  })

  it('that name is checked as a class’s is, against classes too, and an alias of ours makes way for it', () => {
    const [name] = detailOf('structure:type:numeric(8,2)', catalog, at(), [])?.names ?? []
    if (!name) throw new Error('no name')
    const base = reviewBase(catalog, [])
    const check = (wanted: string) => checkRename(base, 'x' as never, [], name, wanted)
    expect(check('Crate').problem).toMatch(/already/)
    expect(check('kilograms')).toMatchObject({ problem: expect.stringMatching(/capital/), proposal: 'Kilograms' })
    expect(check('Kilograms')).toEqual({ problem: null, remark: null, proposal: null, touches: ['base/Bay.ts', 'base/types.ts'] })
    expect(namingProblem(base, 'x' as never, [], [editOfName(name, 'Crate')])).toMatch(/already/)
    expect(namingProblem(base, 'x' as never, [], [named('numeric(8,2)', null)])).toBeNull()
    expect(code(named('bigint', 'Decimal'))['types.ts']).toMatch(/export type Decimal = bigint\n[\s\S]*export type DecimalValue = string\n/)
  })

  it('two words for yes and no make a boolean, and the class says which they are', () => {
    const out = code()['Lane.ts'] ?? ''
    expect(out).toContain("      open: v.required(row, 'open', v.flag('y', 'n')),\n      wet: v.required(row, 'wet', v.flag('Y', 'N')),\n")
    expect(out).toContain("Kept as 'y' and 'n'. */\n  open: boolean\n")
    const flag = at().findings.find((f) => f.topic === 'flag' && f.subject === 's.lane(open)')
    const detail = detailOf(flag?.id ?? '', catalog, at(), [])
    const [, no] = detail?.choices ?? []
    expect([no?.label, no?.changes]).toEqual([
      'its words as they are',
      ['In the model: 1 property is held otherwise.', 'Lane.open: boolean becomes string.', 'In the code: 4 files change.', 'No schema change.'],
    ])
    const rejected = code(no?.entry as EntryBody)['Lane.ts']
    expect(rejected).toContain('open: string\n')
    expect(at(no?.entry as EntryBody).statuses.get(flag?.id ?? '')).toBe('rejected')
  })

  it('each other way to hold a type tells what it would change before it is chosen', () => {
    const detail = detailOf('structure:type:numeric(8,2)', catalog, at(), [])
    expect(detail?.choices.map((c) => [c.key, c.taken, c.changes[1]])).toEqual([
      ['string', true, undefined],
      ['number', false, 'Bay.weight: Decimal becomes number; Bay.height: Decimal becomes number.'],
    ])
    const chosen = at(detail?.choices[1]?.entry as EntryBody)
    expect(detailOf('structure:type:numeric(8,2)', catalog, chosen, [])?.says).toMatch(/held as number/)
  })

  it('types that are printed say what is lost, also where there is no other way', () => {
    const ways = (type: string, dialect: Dialect = 'postgresql') => waysOf({ ...catalog, dialect }, type).map((w) => w.target)
    expect(ways('money')).toEqual(['string', 'number'])
    expect(ways('bit(8)')).toEqual(['string', 'bigint', 'number'])
    expect(ways('s.load')).toEqual(['string', 'number'])
    for (const type of ['int4range', 'datemultirange', 'point', 'public.geometry(Point,4326)']) expect([type, ways(type)]).toEqual([type, ['string']])
    for (const type of ['text', 'integer', 'uuid', 'boolean', 'character varying(20)', 'interval', 'orange', 's.mood'])
      expect([type, ways(type)]).toEqual([type, []])
    expect(ways('bit(1)', 'mysql')).toEqual([])
    const subjects = at().findings.flatMap((f) => (f.topic === 'type' ? [[f.subject, f.alternatives.length]] : []))
    expect(subjects).toContainEqual(['type:int4range', 1])
    expect(code(held('bit(8)', 'bigint'))['Crate.ts']).toContain('bits: bigint\n')
  })

  it('the sheet has the choice beside each column, and says who gives the key', () => {
    const sheet = sheetOf('s.bay', catalog, catalog, at(held('numeric(8,2)', 'number'), heldEntry('s.bay(height)', 'string')))
    expect(sheet?.columns.map((c) => [c.name, c.held?.own ?? null, c.held?.rule ?? null])).toEqual([
      ['id', null, null],
      ['weight', null, 'number'],
      ['height', 'string', 'number'],
      ['extra', null, 'JsonValue'],
    ])
    expect(entriesOf(heldEntry('s.bay(height)', 'string'), heldEntry('s.bay(height)', null), named('money', 'Coins')).map(entryText)).toEqual([
      'said that s.bay(height) is held as string',
      'left s.bay(height) as its type says',
      'called the type money Coins',
    ])
  })
})

describe('the key of a sheet', () => {
  const keys = readScript(
    [
      {
        name: 'a.sql',
        text: `create schema s; set search_path = s;
          create table a (id int generated always as identity primary key); create table b (id serial primary key);
          create table c (id uuid primary key default gen_random_uuid()); create table d (code text primary key);
          create table e (id int primary key references a (id)); create table f (a_id int, n int, primary key (a_id, n)); create table g (n int);`,
      },
    ],
    postgresScript,
  ).catalog
  it.each([
    ['a', 'id, counted up by the database (identity)'],
    ['b', "id, counted up by the database (nextval('s.b_id_seq'::regclass))"],
    ['c', 'id, a UUID made by the database (gen_random_uuid())'],
    ['d', 'code, assigned: whoever inserts a row must give it'],
    ['e', 'id, taken from a'],
    ['f', 'a_id, n together'],
    ['g', 'no key: a row cannot be named'],
  ])('%s: %s', (name, says) => expect(sheetOf(`s.${name}`, keys, keys, review(keys, 'x' as never, []))?.key).toBe(says))
})
