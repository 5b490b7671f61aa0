import { describe, expect, it } from 'vitest'
import { index, key, table } from '../../../tests/support/catalogs.ts'
import { indexOver, nullableAmong, uniqueOver } from './keys.ts'

const t = table('t', ['a', 'b?', 'c'], ['a'], {
  uniques: [key('u', ['b', 'c'])],
  indexes: [
    index('partial', ['c'], { unique: true, predicate: { written: 'a > 0', canonical: 'a > 0' } }),
    index('broken', ['b'], { unique: true, valid: false }),
    index('plain', ['c', 'a']),
  ],
})

describe('keys', () => {
  it('a key over some of the columns makes all of them unique', () => {
    expect(uniqueOver(t, ['a'])?.kind).toBe('primary key')
    expect(uniqueOver(t, ['a', 'b'])?.name).toBe('t_pkey')
    expect(uniqueOver(t, ['c', 'b'])?.name).toBe('u')
  })
  it('partial and invalid unique indexes promise nothing', () => {
    expect(uniqueOver(t, ['c'])).toBeNull()
    expect(uniqueOver(t, ['b'])).toBeNull()
  })
  it('an index helps where its first columns are these, in any order', () => {
    expect(indexOver(t, ['a', 'c'])).toBe('plain')
    expect(indexOver(t, ['c'])).toBe('plain')
    expect(indexOver(t, ['b'])).toBe('u')
    expect(indexOver(t, ['a', 'b'])).toBeNull()
  })
  it('tells which columns accept null', () => expect(nullableAmong(t, ['a', 'b'], (c) => c.nullable)).toEqual(['b']))
})
