import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import { strongComponents } from '../graph/components.ts'
import { infer } from '../infer/index.ts'
import { derive } from '../model/index.ts'
import { orderAreas } from './areaOrder.ts'
import { proposeAreas } from './areas.ts'
import { arrange, type Content, placeBlock } from './block.ts'
import { layoutMap } from './layout.ts'
import { mapInput } from './mapInput.ts'
import { placeColumn } from './order.ts'
import { extentOfPacking, packBlocks, stackPacking } from './packing.ts'
import { rankPlates } from './ranks.ts'
import { breakName, emWidth } from './size.ts'
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
  it('a knot is cut at an optional reference', () => {
    const { knots, rankOf } = rankPlates(['crate', 'token'], [line('crate', 'token', true), line('token', 'crate')])
    expect(knots).toEqual([['crate', 'token']])
    expect(rankOf.get('crate')).toBe(0)
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
  it('no column is higher than there is room, unless its boxes are', () => {
    expect(placeColumn([{ height: 10, wish: 95 }], 5, 60)).toEqual([50])
    expect(
      placeColumn(
        [
          { height: 40, wish: 0 },
          { height: 40, wish: 90 },
        ],
        5,
        60,
      ),
    ).toEqual([0, 45])
  })
})

describe('blocks', () => {
  const content = (ids: readonly string[], lines: readonly LineInput[]): Content => ({
    ids,
    lines,
    beads: [],
    heightOf: () => 30,
    widthOf: () => 100,
    above: () => 0,
  })
  const fan = Array.from({ length: 12 }, (_, i) => `leaf${String(i).padStart(2, '0')}`)

  it('a wide fan of leaves becomes a grid, and its lines leave as one trunk', () => {
    const c = content(
      ['site', ...fan],
      fan.map((f) => line(f, 'site')),
    )
    const wide = arrange(c, 30 * 4 + 7 * 3)
    expect(wide.keys.map((keys) => keys.filter((k) => !k.includes('\n')).length)).toEqual([1, 3, 3, 3, 3])
    expect(wide.keys.slice(1, 4).every((keys) => keys.filter((k) => k.includes('\n')).length === 1)).toBe(true)
    const high = arrange(c, 1000)
    expect(high.keys.map((keys) => keys.length)).toEqual([1, 12])
  })
  it('a lookup moves next to what uses it', () => {
    const c = content(['a', 'b', 'c', 'kind'], [line('b', 'a'), line('c', 'b'), line('c', 'kind')])
    expect(arrange(c, 1000).keys.findIndex((keys) => keys.includes('kind'))).toBe(1)
  })
  it('what is linked to nothing fills up what is left', () => {
    const c = content(['a', 'b', 'x', 'y'], [line('b', 'a')])
    expect(arrange(c, 70).keys.map((keys) => keys.length)).toEqual([2, 2])
  })
  it('a line that goes moves nothing; a line that comes moves its child and what depends on it', () => {
    const ids = ['a', 'b', 'c', 'd', 'e']
    const base = arrange(content(ids, [line('b', 'a'), line('c', 'b'), line('e', 'a')]), 400)
    const columns = (lines: readonly LineInput[]) => [...placeBlock(content(ids, lines), base, { width: 600, height: 400 }).rankOf].sort()
    const before = new Map(columns([line('b', 'a'), line('c', 'b'), line('e', 'a')]))
    expect(columns([line('b', 'a'), line('c', 'b')])).toEqual([...before])
    const after = new Map(columns([line('b', 'a'), line('c', 'b'), line('e', 'a'), line('b', 'e')]))
    expect(ids.filter((id) => after.get(id) !== before.get(id))).toEqual(['b', 'c'])
  })
})

describe('packing', () => {
  const forms = (area: number) => [60, 90, 130, 200, 300].map((height) => ({ height, width: Math.ceil(area / height) + 40 }))
  const blocks = [9000, 24000, 4000, 30000, 12000, 2500, 16000, 8000].map((area, i) => ({ key: `b${i}`, forms: forms(area) }))
  it.each([0.5, 0.97, 1.2, 2.4])('fills a pane of the shape %f', (shape) => {
    const { width, height } = extentOfPacking(packBlocks(blocks, shape))
    expect(width / height / shape).toBeGreaterThan(0.75)
    expect(width / height / shape).toBeLessThan(1.35)
  })
  it('holds every block once, with the room it needs and none over another', () => {
    const packing = packBlocks(blocks, 1)
    const { places } = stackPacking(packing, () => ({ width: 0, height: 0 }))
    expect([...places.keys()].sort()).toEqual(blocks.map((b) => b.key))
    const list = [...places.values()]
    for (const [i, a] of list.entries())
      for (const b of list.slice(i + 1)) expect(a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y).toBe(true)
  })
  it('a block that outgrows its room moves only what is right of it or below', () => {
    const packing = packBlocks(blocks, 1)
    const before = stackPacking(packing, () => ({ width: 0, height: 0 })).places
    const grown = packing.rows[1]?.cells[0]?.blocks[0]?.key as string
    const after = stackPacking(packing, (key) => (key === grown ? { width: 5000, height: 10 } : { width: 0, height: 0 })).places
    const moved = [...before].filter(([key, at]) => after.get(key)?.x !== at.x || after.get(key)?.y !== at.y).map(([key]) => key)
    expect(moved.every((key) => before.get(key)?.row === 1 && (before.get(key)?.cell ?? 0) > 0)).toBe(true)
  })
})

describe('the order of areas', () => {
  it('what is referred to comes before what refers to it', () => {
    const weights = [
      { from: 'base', to: 'order', weight: 5 },
      { from: 'order', to: 'log', weight: 3 },
      { from: 'base', to: 'log', weight: 1 },
    ]
    expect(orderAreas(['log', 'order', 'base'], weights)).toEqual(['base', 'order', 'log'])
  })
})

describe('names', () => {
  it('break between words, and a long word in pieces of the same length; nothing is lost', () => {
    expect(breakName('SampleResultLine', 14)).toEqual(['SampleResult', 'Line'])
    expect(breakName('counterrevolutionary', 14)).toEqual(['counterrev', 'olutionary'])
    expect(breakName('a', 14)).toEqual(['a'])
  })
  it('East Asian letters take a square', () => expect(emWidth('蜂箱')).toBeGreaterThan(emWidth('ab') * 1.8))
})

describe('areas', () => {
  const node = (id: string) => ({ id, schema: 's', words: [id], plural: `${id}s`, vocabulary: [] })
  const cluster = (names: string[]) => names.flatMap((a, i) => names.slice(i + 1).map((b) => ({ from: a, to: b })))
  it('two clusters with one bridge are two areas; a table without links has none', () => {
    const nodes = ['a1', 'a2', 'a3', 'b1', 'b2', 'b3', 'alone'].map(node)
    const areas = proposeAreas(nodes, [...cluster(['a1', 'a2', 'a3']), ...cluster(['b1', 'b2', 'b3']), { from: 'a1', to: 'b1' }])
    expect(new Set(['a1', 'a2', 'a3'].map((id) => areas.get(id))).size).toBe(1)
    expect(areas.get('a1')).not.toBe(areas.get('b1'))
    expect(areas.has('alone')).toBe(false)
  })
  it.each([
    ['the word that most tables share', ['crate', 'crate log', 'crate kind', 'lid'], [], 'Crates'],
    ['a word that stands only before others stays as it is', ['billing run', 'billing cycle', 'billing note'], [], 'Billing'],
    ['spelled out where a column spells it out', ['wh', 'wh bay', 'wh lane'], ['warehouse'], 'Warehouses'],
    ['else its most linked table', ['crate', 'lid', 'token'], [], 'Crates'],
    ['never a prefix', ['v crate', 'v lid', 'v token'], [], 'Crates'],
  ])('are called by %s', (_, names, vocabulary, expected) => {
    const nodes = names.map((n, i) => ({ id: `${i}`, schema: 's', words: n.split(' '), plural: `${n}s`, vocabulary }))
    expect(
      proposeAreas(
        nodes,
        names.slice(1).map((_n, i) => ({ from: `${i + 1}`, to: '0' })),
      ).get('0'),
    ).toBe(expected)
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
    expect(scene.plates.map((p) => p.id)).toEqual(['s.bay', 's.log', 's.site'])
  })
  it('draws a self-reference as a loop, isolated tables in a strip, and rows on plates', () => {
    expect(scene.lines.map((l) => l.shape)).toEqual(['loop'])
    expect(scene.blocks.find((b) => b.kind === 'alone')).toMatchObject({ count: 1 })
    expect(scene.plates.map((p) => p.rows)).toEqual([37, null, null])
  })
})
