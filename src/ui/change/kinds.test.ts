import { describe, expect, it } from 'vitest'
import type { ChangeChoices, Thing } from '../../core/change/index.ts'
import { type EditKindName, editKinds, filled, kindsFor } from './kinds.ts'

const edit = (kind: EditKindName, values: Readonly<Record<string, string>>) => editKinds[kind].edit(values)

describe('the forms of schema edits', () => {
  const bay = { schema: 'depot', name: 'bay' }
  it.each<readonly [EditKindName, Readonly<Record<string, string>>, unknown]>([
    [
      'declare reference',
      { table: 'depot.bay', columns: ' lid_id , size', target: 'depot.lid', targetColumns: 'id,size', onDelete: 'cascade' },
      {
        do: 'declare reference',
        table: bay,
        columns: ['lid_id', 'size'],
        target: { schema: 'depot', name: 'lid' },
        targetColumns: ['id', 'size'],
        name: 'bay_lid_id_size_fkey',
        onDelete: 'cascade',
        onUpdate: 'no action',
      },
    ],
    ['drop reference', { table: 'depot.bay', name: 'bay_fk' }, { do: 'drop reference', table: bay, name: 'bay_fk' }],
    ['add index', { table: 'depot.bay', columns: 'a,b' }, { do: 'add index', table: bay, columns: ['a', 'b'], name: 'bay_a_b_idx' }],
    ['make unique', { table: 'depot.bay', columns: 'a', name: 'own' }, { do: 'make unique', table: bay, columns: ['a'], name: 'own' }],
    ['set key', { table: 'depot.bay', columns: 'a,b' }, { do: 'set key', table: bay, columns: ['a', 'b'], name: 'bay_pkey' }],
    ['require', { table: 'depot.bay', column: ' a ' }, { do: 'require', table: bay, column: 'a' }],
    ['set default', { table: 'depot.bay', column: 'a', expression: '' }, { do: 'set default', table: bay, column: 'a', expression: null }],
    ['set type', { table: 'depot.bay', column: 'a', type: 'bigint' }, { do: 'set type', table: bay, column: 'a', type: 'bigint' }],
    [
      'make enumerated',
      { table: 'depot.bay', column: 'a', enum: 'depot.size', labels: 'small, large' },
      { do: 'make enumerated', table: bay, column: 'a', type: { schema: 'depot', name: 'size' }, labels: ['small', 'large'] },
    ],
    ['make boolean', { table: 'depot.bay', column: 'a', yes: 'Y', no: 'N' }, { do: 'make boolean', table: bay, column: 'a', yes: 'Y', no: 'N' }],
    [
      'add column',
      { table: 'depot.bay', column: 'a', type: 'text', required: 'yes', expression: "''" },
      { do: 'add column', table: bay, column: { name: 'a', type: 'text', nullable: false, default: "''", counted: false } },
    ],
    [
      'add table',
      { table: 'depot.bay', key: 'id' },
      { do: 'add table', table: bay, columns: [{ name: 'id', type: 'bigint', nullable: false, default: null, counted: true }], key: ['id'] },
    ],
    ['rename table', { table: 'depot.bay', to: 'depot.bin' }, { do: 'rename table', table: bay, to: { schema: 'depot', name: 'bin' } }],
    [
      'set comment',
      { table: 'depot.bay', column: '', text: 'Where crates stand' },
      { do: 'set comment', table: bay, column: null, text: 'Where crates stand' },
    ],
  ])('%s comes to the edit it says', (kind, values, expected) => expect(edit(kind, values)).toEqual(expected))

  it.each<readonly [string, EditKindName, Readonly<Record<string, string>>]>([
    ['a table without a schema', 'drop table', { table: 'bay' }],
    ['no table', 'drop table', {}],
    ['a column in the place of a table', 'drop table', { table: 'depot.bay(a)' }],
    ['no columns', 'add index', { table: 'depot.bay', columns: ' , ' }],
    ['no column', 'require', { table: 'depot.bay', column: ' ' }],
    ['one word for both', 'make boolean', { table: 'depot.bay', column: 'a', yes: 'Y', no: 'Y' }],
    ['no values', 'make enumerated', { table: 'depot.bay', column: 'a', enum: 'depot.size', labels: '' }],
    ['nothing that is referred to', 'declare reference', { table: 'depot.bay', columns: 'a', target: 'depot.lid', targetColumns: '' }],
  ])('with %s there is no edit', (_, kind, values) => expect(edit(kind, values)).toBeNull())

  it('make up no name that is longer than names are', () => {
    const made = edit('make unique', { table: `depot.${'long_'.repeat(10)}`, columns: 'some_column_of_the_table' })
    expect(made && 'name' in made && made.name?.length).toBe(63)
  })

  it('has a label and fields for every kind, each field with a name of its own', () => {
    for (const [kind, { label, fields }] of Object.entries(editKinds)) {
      expect(label, kind).toMatch(/^[A-Z]/)
      expect(new Set(fields.map((f) => f.name)).size, kind).toBe(fields.length)
    }
  })
})

const choices: ChangeChoices = {
  head: 4,
  schemas: ['depot'],
  tables: [
    { name: 'depot.bay', key: ['id'] },
    { name: 'depot.lid', key: ['house', 'id'] },
  ],
  types: ['bigint'],
  of: {
    table: 'depot.bay',
    comment: 'Where crates stand',
    key: ['id'],
    columns: [
      { name: 'id', type: 'bigint', nullable: false, default: null, comment: null },
      { name: 'size', type: 'text', nullable: true, default: "'small'", comment: 'as it is ordered' },
    ],
    references: [{ name: 'bay_lid_fk', says: 'lid_id → depot.lid' }],
    indexes: [],
    uniques: [],
  },
}
const bay: Thing = { table: 'depot.bay', columns: [], part: null }

describe('what a thing can be changed by', () => {
  it('a table: all but what it has nothing of, and a key where it has one', () => {
    const kinds = kindsFor(bay, choices.of)
    expect(kinds).toEqual(expect.arrayContaining(['declare reference', 'drop reference', 'add column', 'drop table', 'require']))
    for (const absent of ['drop index', 'drop unique', 'set key', 'add table'] as const) expect(kinds).not.toContain(absent)
  })

  it('a column: what fits how it is now, and nothing about the whole table but another column', () => {
    const kinds = kindsFor({ ...bay, columns: ['size'] }, choices.of)
    expect(kinds).toContain('require')
    for (const absent of ['allow null', 'drop table', 'rename table', 'set comment'] as const) expect(kinds).not.toContain(absent)
    expect(kindsFor({ ...bay, columns: ['id'] }, choices.of)).not.toContain('allow null')
  })

  it('a part: that it is dropped', () => {
    expect(kindsFor({ ...bay, part: 'bay_lid_fk' }, choices.of)).toEqual(['drop reference'])
    expect(kindsFor({ ...bay, part: 'gone' }, choices.of)).toEqual([])
  })

  it('nothing that is there: a new table; a table that is gone: nothing', () => {
    expect(kindsFor({ table: null, columns: [], part: null }, null)).toEqual(['add table'])
    expect(kindsFor(bay, null)).toEqual([])
  })
})

describe('what stands in the fields', () => {
  const size: Thing = { ...bay, columns: ['size'] }
  it.each<readonly [EditKindName, Readonly<Record<string, string>>]>([
    ['set type', { column: 'size', type: 'text' }],
    ['set default', { column: 'size', expression: "'small'" }],
    ['set column comment', { column: 'size', text: 'as it is ordered' }],
    ['rename column', { column: 'size', to: 'size' }],
    ['make enumerated', { column: 'size', enum: 'depot.size_kind' }],
    ['add index', { columns: 'size' }],
  ])('%s begins with what there is', (kind, expected) => expect(filled(kind, {}, size, choices)).toEqual({ table: 'depot.bay', ...expected }))

  it('another column brings what it has', () => {
    expect(filled('set type', { table: 'depot.bay', column: 'id', type: 'text' }, size, choices)['type']).toBe('bigint')
  })

  it('a target brings its key, and what was typed of it stays until it is one', () => {
    expect(filled('declare reference', { target: 'depot.lid' }, size, choices)['targetColumns']).toBe('house, id')
    expect(filled('declare reference', { target: 'depot.li', targetColumns: 'own' }, size, choices)['targetColumns']).toBe('own')
  })
})
