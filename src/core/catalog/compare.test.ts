import { describe, expect, it } from 'vitest'
import { catalogOf, column, index, key, reference, table } from '../../../tests/support/catalogs.ts'
import { compareCatalogs } from './compare.ts'

const base = catalogOf(table('a', ['id', 'b?'], ['id'], { indexes: [index('i', ['b'])] }), table('b', ['id'], ['id']))
const fields = (other: typeof base) => compareCatalogs(base, other).map((d) => `${d.object} ${d.field}`)

describe('comparison', () => {
  it('finds nothing between equal structures', () => expect(compareCatalogs(base, structuredClone(base))).toEqual([]))

  it.each([
    ['a missing relation', catalogOf(...base.relations.slice(1)), ['relation s.a ']],
    [
      'a column’s type',
      catalogOf(table('a', ['id', column('b', { nullable: true, type: 'text' })], ['id'], { indexes: [index('i', ['b'])] }), base.relations[1] as never),
      ['relation s.a columns[b].type'],
    ],
    ['a missing column', catalogOf(table('a', ['id'], ['id'], { indexes: [index('i', ['b'])] }), base.relations[1] as never), ['relation s.a columns[b]']],
    [
      'the order of columns',
      catalogOf(table('a', ['b?', 'id'], ['id'], { indexes: [index('i', ['b'])] }), base.relations[1] as never),
      ['relation s.a columns order'],
    ],
    [
      'an index’s direction',
      catalogOf(table('a', ['id', 'b?'], ['id'], { indexes: [index('i', ['b'], { unique: true })] }), base.relations[1] as never),
      ['relation s.a indexes[i].unique'],
    ],
    [
      'a new key',
      catalogOf(table('a', ['id', 'b?'], ['id'], { indexes: [index('i', ['b'])], uniques: [key('u', ['b'])] }), base.relations[1] as never),
      ['relation s.a uniques[u]'],
    ],
    [
      'a new reference',
      catalogOf(
        table('a', ['id', 'b?'], ['id'], { indexes: [index('i', ['b'])], foreignKeys: [reference('f', ['b'], 'b', ['id'])] }),
        base.relations[1] as never,
      ),
      ['relation s.a foreignKeys[f]'],
    ],
  ])('names %s', (_, other, expected) => expect(fields(other)).toEqual(expected))

  it('compares expressions by what the server prints, where both sides have it', () => {
    const withDefault = (written: string, canonical: string | null) => catalogOf(table('t', [column('x', { default: { written, canonical } })], []))
    expect(compareCatalogs(withDefault('NOW()', 'now()'), withDefault('now( )', 'now()'))).toEqual([])
    expect(compareCatalogs(withDefault('now()', null), withDefault('now()', 'now()'))).toEqual([])
    expect(compareCatalogs(withDefault('now()', 'now()'), withDefault('now()', 'clock()'))).toHaveLength(1)
  })
})
