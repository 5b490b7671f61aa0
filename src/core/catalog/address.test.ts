import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { columnsText, compareParts, parseAddress, relationText } from './address.ts'

describe('addresses', () => {
  it.each([
    [{ schema: 'field', name: 'crate' }, 'field.crate'],
    [{ schema: '', name: 'crate' }, 'crate'],
    [{ schema: 'a.b', name: 'x(y)' }, 'a%2Eb.x%28y%29'],
    [{ schema: 's', name: "it's" }, 's.it%27s'],
  ])('%j is written %s', (address, text) => expect(relationText(address)).toBe(text))

  it('any names come back from their text, seed 11', () => {
    const name = fc.string({ minLength: 1, unit: 'grapheme' })
    fc.assert(
      fc.property(name, name, fc.array(name, { maxLength: 4 }), (schema, table, columns) => {
        expect(parseAddress(columnsText({ schema, name: table }, columns))).toEqual({ schema, name: table, columns })
      }),
      { seed: 11 },
    )
  })

  it('different addresses have different texts', () => {
    const texts = [
      relationText({ schema: 'a', name: 'b.c' }),
      relationText({ schema: 'a.b', name: 'c' }),
      columnsText({ schema: 'a', name: 'b' }, ['c,d']),
      columnsText({ schema: 'a', name: 'b' }, ['c', 'd']),
    ]
    expect(new Set(texts).size).toBe(4)
  })

  it('refuses what is no address', () => {
    for (const text of ['', 'a.b.c', 'a(', 'a(b', '%']) expect(parseAddress(text)).toBeNull()
  })

  it('orders by code units, part by part', () => {
    expect([['b'], ['a', 'z'], ['a'], ['B']].sort(compareParts)).toEqual([['B'], ['a'], ['a', 'z'], ['b']])
  })
})
