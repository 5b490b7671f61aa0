import { describe, expect, it } from 'vitest'
import { postgres } from '../../../tests/support/plans.ts'
import { changeChoices, isChangeable, thingAt, thingOf, withSchemaEdits } from './index.ts'

const c = postgres(`
  CREATE TYPE size AS ENUM ('small', 'large');
  CREATE TABLE lid (house integer, no integer, PRIMARY KEY (house, no));
  CREATE TABLE bay (id integer PRIMARY KEY, code varchar(8) DEFAULT 'x' UNIQUE, house integer, lid integer, FOREIGN KEY (house, lid) REFERENCES lid);
  CREATE INDEX bay_upper_idx ON bay (upper(code), id);
  CREATE VIEW bays AS SELECT id FROM bay;`)
const at = (name: string, columns: readonly string[] = []) => thingAt(c, { schema: 'public', name, columns })

describe('things that a plan can change', () => {
  it('are tables and their columns, and only those that are there', () => {
    expect(at('bay', ['code', 'gone'])).toEqual({ table: 'public.bay', columns: ['code'], part: null })
    expect(at('bays')).toBeNull()
    expect(at('gone')).toBeNull()
  })

  it('are none where no plans are written for the engine', () => {
    const [table] = c.relations.filter((r) => r.name === 'bay')
    expect(isChangeable(c, table)).toBe(true)
    expect(isChangeable({ dialect: 'mysql' }, table)).toBe(false)
  })

  it('are what an edit was about, as it is called after it', () => {
    const bay = { schema: 'public', name: 'bay' }
    const rename = { do: 'rename table', table: bay, to: { schema: 'public', name: 'bin' } } as const
    expect(thingOf(withSchemaEdits(c, [rename]).catalog, rename)).toEqual({ table: 'public.bin', columns: [], part: null })
    const drop = { do: 'drop table', table: { schema: 'public', name: 'tray' } } as const
    expect(thingOf(withSchemaEdits(postgres('CREATE TABLE tray (id integer);'), [drop]).catalog, drop)).toBeNull()
    expect(thingOf(c, { do: 'clean rows', check: 'x', sql: 'select 1', says: '' })).toBeNull()
  })
})

describe('what there is to choose from', () => {
  it('schemas, tables with their keys, types, and the parts of the table in question', () => {
    const { of, ...rest } = changeChoices(c, 'public.bay', 7)
    expect(rest).toMatchObject({
      head: 7,
      schemas: ['public'],
      tables: [
        { name: 'public.bay', key: ['id'] },
        { name: 'public.lid', key: ['house', 'no'] },
      ],
    })
    expect(rest.types.slice(0, 1)).toEqual(['public.size'])
    expect(rest.types).toContain('timestamp with time zone')
    expect(of).toMatchObject({
      table: 'public.bay',
      key: ['id'],
      references: [{ says: 'house, lid → public.lid' }],
      indexes: [{ name: 'bay_upper_idx', says: 'an expression, id' }],
      uniques: [{ name: 'bay_code_key', says: 'code' }],
    })
    expect(of?.columns[1]).toEqual({ name: 'code', type: 'character varying(8)', nullable: true, default: "'x'", comment: null })
  })

  it('no parts of what is a view or not there', () => {
    expect(changeChoices(c, 'public.bays', 0).of).toBeNull()
    expect(changeChoices(c, null, 0).of).toBeNull()
  })
})
