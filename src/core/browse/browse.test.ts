import { describe, expect, it } from 'vitest'
import { catalogOf, column, index, key, reference, table } from '../../../tests/support/catalogs.ts'
import type { Catalog } from '../catalog/index.ts'
import { review } from '../review/index.ts'
import { columnNames, matchesObject, objectDetail, objectRows, occurrencesOf, overviewOf } from './index.ts'

const bay = table('bay', ['id', column('label', { type: 'text', nullable: true, comment: 'What stands on it' })], ['id'], { comment: 'A place for goods' })
const crate = table('crate', ['id', 'bay_id', column('weight', { default: { written: '1', canonical: '1' } })], ['id'], {
  foreignKeys: [reference('crate_bay', ['bay_id'], 'bay', ['id'], { onDelete: 'cascade' })],
  uniques: [key('crate_place', ['bay_id', 'weight'])],
  indexes: [index('crate_by_bay', ['bay_id'])],
  checks: [
    { name: 'crate_light', expression: { written: 'weight < 9', canonical: null }, validated: true, inheritable: true, inherited: false, comment: null },
  ],
})
const routine = (name: string, argumentTypes: string, dependsOn: Catalog['routines'][number]['dependsOn'] = []): Catalog['routines'][number] => ({
  kind: 'function',
  schema: 's',
  name,
  argumentTypes,
  arguments: argumentTypes,
  returns: 'integer',
  language: 'sql',
  definition: { written: `CREATE FUNCTION s.${name}(${argumentTypes}) …`, canonical: null },
  comment: null,
  dependsOn,
})
const c: Catalog = {
  ...catalogOf(bay, crate),
  enums: [{ schema: 's', name: 'grade', labels: ['low', 'high'], comment: null }],
  routines: [routine('area', 'integer', [{ kind: 'relation', schema: 's', name: 'bay' }]), routine('area', 'text')],
  unmodelled: [{ kind: 'large object', identity: '16401' }],
}
const { model } = review(c, 'a'.repeat(64) as never, [])
const detail = (id: string) => objectDetail(c, model, id)

describe('the list of objects', () => {
  it('has everything, in order of schema and name, each under an id of its own', () => {
    const rows = objectRows(c)
    expect(rows.map((r) => r.id)).toEqual([
      'large object 16401',
      'schema s',
      'routine s.area(integer)',
      'routine s.area(text)',
      's.bay',
      's.crate',
      'enumerated type s.grade',
    ])
    expect(new Set(rows.map((r) => r.id)).size).toBe(rows.length)
  })
  it.each([
    ['bay', ['s.bay']],
    ['s.cr', ['s.crate']],
    ['goods', ['s.bay']],
    ['function area', ['routine s.area(integer)', 'routine s.area(text)']],
    ['nothing', []],
  ])('is searched for “%s”', (search, expected) =>
    expect(
      objectRows(c)
        .filter((r) => matchesObject(r, search))
        .map((r) => r.id),
    ).toEqual(expected),
  )
})

describe('one object', () => {
  it('of a table shows columns beside the properties, what hangs on it, and its definition', () => {
    const d = detail('s.crate')
    expect(d?.columns.map((x) => [x.name, x.property, x.value])).toEqual([
      ['id', 'id', null],
      ['bay_id', 'bayId', null],
      ['weight', 'weight', '1'],
    ])
    expect(d?.parts.map((p) => `${p.what} ${p.name} ${p.says}`)).toEqual([
      'primary key crate_pkey (id)',
      'unique crate_place (bay_id, weight)',
      'foreign key crate_bay (bay_id) → s.bay (id), on delete cascade',
      'check crate_light weight < 9',
      'index crate_by_bay btree (bay_id)',
    ])
    expect(d?.entity).toEqual({ name: 'Crate', ends: ['Each crate has exactly one bay. A bay has any number of crates.'] })
    for (const part of ['CREATE TABLE s.crate (', 'CREATE INDEX crate_by_bay', 'ADD CONSTRAINT crate_bay FOREIGN KEY']) expect(d?.definition).toContain(part)
  })
  it('tells what needs it: by a key, by a body', () => expect(detail('s.bay')?.neededBy).toEqual(['s.crate', 'routine s.area(integer)']))
  it('of a routine is one of its overloads', () =>
    expect(detail('routine s.area(text)')).toMatchObject({ definition: 'CREATE FUNCTION s.area(text) …', needs: [] }))
  it('of a type is its statement', () => expect(detail('enumerated type s.grade')?.definition).toBe(`CREATE TYPE s.grade AS ENUM ('low', 'high');`))
  it('that is not there is none', () => expect(detail('s.gone')).toBeNull())
})

describe('where a column occurs', () => {
  const many = catalogOf(
    bay,
    crate,
    table('lane', ['id', column('bay_id', { type: 'bigint' })], ['id']),
    table('slot', ['bay_id', 'place'], ['bay_id', 'place'], { foreignKeys: [reference('slot_bay', ['bay_id'], 'bay', ['id'])] }),
    table('note', ['id', column('BayId', { nullable: true })], ['id']),
    table('odd', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('odd_lane', ['bay_id'], 'lane', ['id'])] }),
  )
  it('is told with type and keys, and what does not fit the others is marked', () => {
    const o = occurrencesOf(many, 'bay_id')
    expect(o.list.map((x) => [x.relation, x.keys, x.mismatches])).toEqual([
      ['s.crate', ['part 1 of unique (bay_id, weight)', 'refers to s.bay (id)', 'index crate_by_bay'], []],
      ['s.lane', [], ['its type is bigint, most are integer', 'it refers to nothing, most refer to s.bay']],
      ['s.odd', ['refers to s.lane (id)'], ['it refers to s.lane, most refer to s.bay']],
      ['s.slot', ['part 1 of primary key (bay_id, place)', 'refers to s.bay (id)'], []],
    ])
    expect(o.types).toEqual([
      ['integer', 3],
      ['bigint', 1],
    ])
    expect(o.alike).toEqual(['BayId'])
  })
  it('marks nothing where no answer is the usual one', () => {
    const two = catalogOf(bay, table('lane', ['id', column('label', { type: 'varchar(9)' })], ['id']))
    expect(occurrencesOf(two, 'label').list.flatMap((x) => x.mismatches)).toEqual([])
  })
  it('takes other spellings where the name itself does not occur', () => expect(occurrencesOf(many, 'bayid').list.map((x) => x.column)).toContain('BayId'))
  it('counts names for the palette', () =>
    expect(columnNames(many).slice(0, 2)).toEqual([
      ['id', 5],
      ['bay_id', 4],
    ]))
})

describe('a snapshot at a glance', () => {
  const alone = table('note', ['text'], [])
  const overview = overviewOf({ ...c, relations: [...c.relations, { ...alone, primaryKey: null }] })
  it('says what stands in which schema, and what stands out', () => {
    expect(overview.schemas.find((x) => x.name === 's')).toMatchObject({ tables: 3, routines: c.routines.length })
    expect(overview.referred).toEqual([['s.bay', 1]])
    expect(overview.widest[0]).toEqual(['s.crate', 3])
    expect(overview.columns[0]).toEqual(['id', 2])
    expect(overview.keyless).toEqual({ n: 1, first: ['s.note'] })
    expect(overview.alone).toEqual({ n: 1, first: ['s.note'] })
  })
  it('lists no more than asked for, and counts all', () => {
    const { widest, alone: others } = overviewOf({ ...c, relations: [...c.relations, alone, { ...alone, name: 'memo' }] }, 1)
    expect([widest.length, others.n, others.first]).toEqual([1, 2, ['s.memo']])
  })
})
