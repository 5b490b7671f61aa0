// What a plan says of values that do not fit another type, against the server: each value is put into a table of its own, and the type is changed.
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { misfit } from '../../src/core/change/fits.ts'
import * as dialect from '../../src/core/dialect/postgres/index.ts'
import { postgres } from '../support/plans.ts'
import { makeDatabase } from '../support/server.ts'

let db: Awaited<ReturnType<typeof makeDatabase>>
let client: pg.Client
beforeAll(async () => {
  db = await makeDatabase('select 1')
  client = new pg.Client({ connectionString: db.url })
  await client.connect()
})
afterAll(async () => {
  await client.end()
  await db.drop()
})

const wholes = ['0', '-1', '32767', '32768', '-32769', '2147483647', '2147483648', '-2147483649', '9223372036854775807']
const fractions = ['0', '1.5', '-0.25', '0.125', '99.994', '99.995', '999999.99', '32767.4', '32768', '12345678901234567890', 'NaN']
const floats = ['0', '1.5', '-2', '0.1', '32768', '3e9', '1e15', '1234567890123456789', '9.3e18', 'NaN']
const words = ['', ' ', '7', ' 12 ', '+3', '32768', '3000000000', '1.5', '1e3', '.5', '5.', '1e', 'seven', '99999999999999999999', 'NO', 'of', 'maybe', 't']
const ids = [
  'a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11',
  '{a0eebc999c0b4ef8bb6d6bb9bd380a11}',
  'a0ee-bc99-9c0b-4ef8-bb6d-6bb9-bd38-0a11',
  '{a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11',
  'a0eebc99',
  '',
]

const cases: readonly (readonly [from: string, to: string, values: readonly string[]])[] = [
  ['bigint', 'integer', wholes],
  ['bigint', 'smallint', wholes],
  ['integer', 'smallint', wholes.filter((v) => Math.abs(Number(v)) < 2147483648)],
  ['smallint', 'bigint', ['0', '-32768', '32767']],
  ['integer', 'numeric(10,0)', ['0', '2147483647', '-2147483648']],
  ['integer', 'numeric(8,2)', ['0', '999999', '1000000', '-1000000']],
  ['numeric(8,2)', 'numeric(10,2)', ['999999.99', '-0.01']],
  ['numeric(8,2)', 'numeric(8,4)', ['9999.99', '10000', '-10000']],
  ['numeric(8,2)', 'numeric(8,1)', ['0.25', '0.3', '999999.9']],
  ['numeric', 'numeric(8,2)', fractions],
  ['numeric', 'integer', fractions],
  ['numeric', 'bigint', fractions],
  ['numeric(5,0)', 'smallint', ['32767', '32768', '99999']],
  ['double precision', 'smallint', floats],
  ['double precision', 'bigint', floats],
  ['real', 'integer', ['0', '1.5', '16777216', '3e9']],
  ['text', 'smallint', words],
  ['text', 'integer', words],
  ['text', 'bigint', words],
  ['character varying(20)', 'numeric(6,2)', words],
  ['text', 'numeric', words],
  ['text', 'double precision', words],
  ['text', 'boolean', words],
  ['text', 'uuid', ids],
  ['character(40)', 'uuid', ids],
  ['character(5)', 'integer', ['7', '12345', 'a']],
  ['text', 'character varying(3)', ['', 'abc', 'abcd', 'äöü', 'äöüß']],
  ['character varying(3)', 'character varying(8)', ['', 'abc']],
  ['character(4)', 'character varying(3)', ['abc', 'abcd']],
  ['integer', 'character varying(11)', ['0', '-2147483648']],
  ['integer', 'character varying(3)', ['0', '999', '1000', '-10', '-100']],
  ['boolean', 'character varying(5)', ['true', 'false']],
  ['uuid', 'text', ids.slice(0, 1)],
  ['bigint[]', 'integer[]', ['{}', '{1,2}', '{1,3000000000}', '{NULL}']],
  ['text[]', 'character varying(3)[]', ['{}', '{abc}', '{ab,abcd}']],
]

/** Texts may be written otherwise than the number they say; numbers and lists have to come back as they were. */
function lossOf(from: string, to: string): string {
  if (from.endsWith('[]') || !/^(text|char|boolean|uuid)/.test(from)) return `v::${from} is distinct from old::${from}`
  return to.startsWith('numeric') ? 'v <> old::numeric' : 'false'
}

/** Which values the server refuses, or gives back otherwise than it took them. */
async function refused(from: string, to: string, value: string): Promise<boolean> {
  const catalog = (type: string) => {
    const column = postgres(`create table fit (v ${type});`).relations[0]?.columns[0]
    if (!column) throw new Error(`no column of type ${type}`)
    return column
  }
  const [was, is] = [catalog(from), catalog(to)]
  await client.query(`drop table if exists fit; create table fit (v ${from}, old text)`)
  await client.query('insert into fit values ($1, $2)', [value, value])
  try {
    await client.query(dialect.columnType({ schema: 'public', name: 'fit' }, is, dialect.conversion(was, is)))
  } catch (error) {
    expect((error as pg.DatabaseError).code).toMatch(/^(22...|0A000)$/)
    return true
  }
  const { rows } = await client.query<{ lost: boolean }>(`select ${lossOf(from, to)} as lost from fit`)
  return rows[0]?.lost === true
}

describe('values that do not fit', () => {
  it.each(cases)('%s into %s', async (from, to, values) => {
    const found = misfit(from, to, 't.v', null)
    const said: string[] = []
    const met: string[] = []
    for (const value of values) {
      if (found?.when) {
        await client.query(`drop table if exists fit; create table fit (v ${from})`)
        await client.query('insert into fit values ($1)', [value])
        const { rows } = await client.query(`select 1 from fit t where ${found.when}`)
        if (rows.length > 0) said.push(value)
      }
      if (await refused(from, to, value)) met.push(value)
    }
    expect(said).toEqual(met)
    expect(found === null).toBe(met.length === 0)
  })

  it('what becomes coarser is said, and refused by nobody', () => {
    const says = (from: string, to: string) => misfit(from, to, 't.v', null)
    expect(says('timestamp without time zone', 'date')).toEqual({ when: null, says: 'the time of day is given up' })
    expect(says('timestamp with time zone', 'time without time zone')).toEqual({ when: null, says: 'the day is given up' })
    expect(says('timestamp without time zone', 'timestamp(0) without time zone')).toEqual({ when: null, says: 'seconds are rounded' })
    expect(says('timestamp(0) without time zone', 'timestamp with time zone')).toBeNull()
    expect(says('date', 'timestamp without time zone')).toBeNull()
    expect(says('double precision', 'real')).toEqual({ when: null, says: 'digits behind the 6th are not kept' })
    expect(says('bigint', 'double precision')?.when).toBeNull()
    expect(says('integer', 'double precision')).toBeNull()
    expect(says('real', 'double precision')).toBeNull()
    expect(says('integer', 'boolean')).toEqual({ when: null, says: 'every number but 0 becomes true' })
    expect(misfit('text', 'mood', 't.v', ['low', "d'Or"])?.when).toBe("t.v::text not in ('low', 'd''Or')")
    // Nobody can say beforehand.
    expect(says('text', 'date')).toBeNull()
    expect(says('text', 'jsonb')).toBeNull()
    expect(says('integer', 'integer[]')).toBeNull()
  })
})
