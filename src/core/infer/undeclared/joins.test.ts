import { describe, expect, it } from 'vitest'
import { catalogOf, table } from '../../../../tests/support/catalogs.ts'
import type { Relation } from '../../catalog/index.ts'
import { guessReferences } from './index.ts'
import { joinedPairs } from './joins.ts'

const bay = table('bay', ['id', 'code', 'crate'], ['id'])
const crate = table('crate', ['id', 'spot', 'code'], ['id'])
const view = (written: string): Relation => ({ ...table('v', ['x'], []), kind: 'view', primaryKey: null, definition: { written, canonical: null } })
const pairs = (sql: string) =>
  joinedPairs(catalogOf(bay, crate, view(sql)), [bay, crate]).map((p) => `${p.left.table}.${p.left.column} ${p.right.table}.${p.right.column}`)

describe('columns that queries join by', () => {
  it.each([
    ['tables by their own names', 'select 1 from bay join crate on crate.spot = bay.id'],
    ['other names', 'select 1 from bay b join crate as c on c.spot = b.id'],
    ['the schema said', 'select 1 from s.bay join s.crate on s.crate.spot = s.bay.id'],
    ['a comma and WHERE', 'SELECT * FROM bay b, crate c WHERE (c.spot = b.id) AND b.code > 1'],
    ['brackets and casts, as a server prints them', 'SELECT c.id FROM (s.crate c JOIN s.bay b ON (((c.spot)::text = (b.id)::text)))'],
    ['quoted names', 'select 1 from "bay" b join `crate` c on c."spot" = b.`id`'],
    ['a subquery', 'select (select b.code from bay b where c.spot = b.id) from crate c'],
    ['a routine’s text', 'begin update crate set code = 1 from bay where crate.spot = bay.id; end'],
  ])('%s', (_, sql) => {
    expect(pairs(sql)).toEqual(['s.crate.spot s.bay.id'])
  })
  it('USING names the column of both', () => {
    expect(pairs('select 1 from bay join crate using (code)')).toEqual(['s.crate.code s.bay.code'])
  })
  it.each([
    ['strings', "select 1 from bay b, crate c where c.code = 'c.spot = b.id'"],
    ['comments', 'select 1 from bay b, crate c -- where c.spot = b.id\n/* c.spot = b.id */'],
    ['names of no table', 'select 1 from lane l join shelf s on l.a = s.b'],
    ['columns that are not there', 'select 1 from bay b join crate c on c.nothing = b.id'],
    ['a column and itself', 'select 1 from bay where bay.id = bay.id'],
    ['texts that end anywhere', 'select 1 from bay b join crate c on c.'],
  ])('nothing is read in %s', (_, sql) => {
    expect(pairs(sql)).toEqual([])
  })
  it('a join speaks for a reference that the name does not tell', () => {
    const found = (sql: string) => guessReferences(catalogOf(bay, crate, view(sql)), [bay, crate]).find((g) => g.subject === 's.crate(spot)')?.answers[0]
    expect(found('select 1')).toBeUndefined()
    const a = found('select 1 from bay b join crate c on c.spot = b.id')
    expect(a?.parent.name).toBe('bay')
    expect(a?.evidence.find((e) => e.kind === 'joined by')?.says).toBe('views or routines join s.crate and s.bay by spot = id')
  })
})
