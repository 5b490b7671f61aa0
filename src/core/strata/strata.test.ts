import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import { strongComponents } from '../graph/components.ts'
import { infer } from '../infer/index.ts'
import { derive } from '../model/index.ts'
import { proposeAreas } from './areas.ts'
import { layoutMap } from './layout.ts'
import { mapInput } from './mapInput.ts'
import { orderBands, placeColumn } from './order.ts'
import { lateRanks, rankPlates } from './ranks.ts'
import type { LineInput } from './types.ts'

const line = (child: string, parent: string, optional = false): LineInput => ({
  id: `${child}>${parent}`,
  child,
  parent,
  childMark: 'n',
  parentMark: '1',
  optional,
  state: 'enforced',
  columns: `${parent}_id`,
  childEnd: parent,
  parentEnd: `${child}s`,
})

describe('ranks', () => {
  it('a table stands to the right of all it refers to', () => {
    const { rankOf } = rankPlates(['a', 'b', 'c'], [line('b', 'a'), line('c', 'b'), line('c', 'a')])
    expect([...rankOf]).toEqual([
      ['a', 0],
      ['b', 1],
      ['c', 2],
    ])
  })
  it('a lookup moves next to what uses it', () => {
    const late = lateRanks(['a', 'b', 'c', 'kind'], [line('b', 'a'), line('c', 'b'), line('c', 'kind')])
    expect([...late]).toEqual([['kind', 1]])
    expect(rankPlates(['c', 'kind'], [line('c', 'kind')], late).rankOf).toEqual(
      new Map([
        ['c', 2],
        ['kind', 1],
      ]),
    )
  })
  it('a knot is cut at an optional reference', () => {
    const { knots, cut, rankOf } = rankPlates(['crate', 'token'], [line('crate', 'token', true), line('token', 'crate')])
    expect(knots).toEqual([['crate', 'token']])
    expect([...cut]).toEqual(['crate>token'])
    expect(rankOf.get('token')).toBe(1)
  })
  it('components come in topological order', () => {
    const next: Record<string, string[]> = { a: ['b'], b: ['c'], c: ['b', 'd'], d: [] }
    expect(strongComponents(['d', 'c', 'b', 'a'], (id) => next[id] ?? [])).toEqual([['a'], ['c', 'b'], ['d']])
  })
})

describe('slots', () => {
  it('boxes come as near to their wishes as order and gap allow', () => {
    expect(
      placeColumn(
        [
          { height: 10, wish: 50 },
          { height: 10, wish: 20 },
        ],
        5,
      ),
    ).toEqual([22.5, 37.5])
    expect(
      placeColumn(
        [
          { height: 10, wish: 5 },
          { height: 10, wish: 105 },
        ],
        5,
      ),
    ).toEqual([0, 100])
    expect(placeColumn([{ height: 10, wish: -50 }], 5)).toEqual([0])
  })
  it('linked bands stand together', () => {
    const weight = (a: string, b: string) => (['ac', 'ca'].includes(a + b) ? 5 : ['bd', 'db'].includes(a + b) ? 4 : ['cb', 'bc'].includes(a + b) ? 1 : 0)
    const order = orderBands(['a', 'b', 'c', 'd'], weight).join('')
    expect(['acbd', 'dbca']).toContain(order)
  })
})

describe('areas', () => {
  const node = (id: string) => ({ id, schema: 's', words: [id], plural: `${id}s` })
  const cluster = (names: string[]) => names.flatMap((a, i) => names.slice(i + 1).map((b) => ({ from: a, to: b })))
  it('two clusters with one bridge are two areas; a table without links has none', () => {
    const nodes = ['a1', 'a2', 'a3', 'b1', 'b2', 'b3', 'alone'].map(node)
    const areas = proposeAreas(nodes, [...cluster(['a1', 'a2', 'a3']), ...cluster(['b1', 'b2', 'b3']), { from: 'a1', to: 'b1' }])
    expect(new Set(['a1', 'a2', 'a3'].map((id) => areas.get(id))).size).toBe(1)
    expect(areas.get('a1')).not.toBe(areas.get('b1'))
    expect(areas.has('alone')).toBe(false)
  })
  it('do not depend on the order of nodes and links', () => {
    const nodes = ['a1', 'a2', 'a3', 'b1', 'b2', 'b3'].map(node)
    const links = [...cluster(['a1', 'a2', 'a3']), ...cluster(['b1', 'b2', 'b3']), { from: 'a3', to: 'b1' }]
    expect([...proposeAreas(nodes.toReversed(), links.toReversed())].sort()).toEqual([...proposeAreas(nodes, links)].sort())
  })
})

describe('the map of a model', () => {
  const catalog = catalogOf(
    table('bay', ['id'], ['id']),
    table('site', ['id', 'next_id?'], ['id'], { foreignKeys: [reference('n', ['next_id'], 'site', ['id'])] }),
    table('bay_site', ['bay_id', 'site_id'], ['bay_id', 'site_id'], {
      foreignKeys: [reference('a', ['bay_id'], 'bay', ['id']), reference('b', ['site_id'], 'site', ['id'])],
    }),
    table('visit', ['bay_id', 'site_id', 'length'], ['bay_id', 'site_id'], {
      foreignKeys: [reference('va', ['bay_id'], 'bay', ['id']), reference('vb', ['site_id'], 'site', ['id'])],
    }),
    table('log', ['at'], []),
  )
  const { findings } = infer(catalog)
  const scene = layoutMap(
    mapInput(catalog, findings, derive(catalog, findings, []), { at: '', relations: [{ schema: 's', name: 'bay', rows: 37, pages: 1 }], sequences: [] }),
  )

  it('draws join tables as beads: hollow when pure, filled with columns of their own', () => {
    expect(scene.beads.map((b) => [b.labelLines.join(''), b.filled])).toEqual([
      ['bay_site', false],
      ['Visit', true],
    ])
    expect(scene.plates.map((p) => p.id)).toEqual(['s.bay', 's.site', 's.log'])
  })
  it('draws a self-reference as a loop, isolated tables in a strip, and rows on plates', () => {
    expect(scene.lines.map((l) => l.shape)).toEqual(['loop'])
    expect(scene.strip).toMatchObject({ count: 1 })
    expect(scene.plates.map((p) => p.rows)).toEqual([37, null, null])
  })
})
