import { describe, expect, it } from 'vitest'
import { catalogOf, column, table } from '../../../tests/support/catalogs.ts'
import { randomCatalog, shuffled } from '../../../tests/support/random.ts'
import { canonicalText, decodeCatalog, emptyCatalog, hashText, sortCatalog } from './canonical.ts'

describe('canonical bytes', () => {
  it.each([1, 2, 3, 4, 5])('do not depend on the order of relations or of keys within objects, seed %i', (seed) => {
    const c = randomCatalog(seed)
    const backwards = (o: object): object => Object.fromEntries(Object.entries(o).reverse())
    const other = decodeCatalog({ ...backwards(c), relations: shuffled(c.relations, seed).map(backwards) })
    expect(canonicalText(other)).toBe(canonicalText(c))
  })

  it('keep the order of columns, which is data', () => {
    const a = catalogOf(table('t', ['x', 'y'], ['x']))
    const b = catalogOf(table('t', ['y', 'x'], ['x']))
    expect(canonicalText(a)).not.toBe(canonicalText(b))
  })

  it('read back as the same catalog', () => {
    const c = catalogOf(table('t', [column('x', { comment: 'a "b"\u0000 c' })], ['x']))
    expect(decodeCatalog(JSON.parse(canonicalText(c)))).toEqual(c)
  })

  it('have a SHA-256 hash', () => {
    expect(hashText('')).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855')
  })

  it('are refused with a path where something is missing or unknown', () => {
    expect(() => decodeCatalog({ ...emptyCatalog('postgresql'), relations: [{ name: 'x' }] })).toThrow(/relations/)
    expect(() => decodeCatalog({ ...emptyCatalog('postgresql'), more: 1 })).toThrow(/more/)
  })

  it('sorting changes nothing that is sorted already', () => {
    const c = randomCatalog(9)
    expect(sortCatalog(c)).toEqual(c)
  })
})
