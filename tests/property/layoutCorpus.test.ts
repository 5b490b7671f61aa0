// The map of real schemas against plain layers of the same graph, and of a generated one of 300 tables: figures are printed.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { infer } from '../../src/core/infer/index.ts'
import { derive } from '../../src/core/model/index.ts'
import { layoutMap, mapInput, sceneSvg, wholeMap } from '../../src/core/strata/index.ts'
import { crossings, lineLength, linesOf, overlap, throughPlates } from '../support/geometry.ts'
import { legacyScript } from '../support/legacy.ts'
import { plainLayout } from '../support/plainLayout.ts'

const folder = '../shared/corpus'
const read = (text: string, dialect: string): Catalog => {
  const choice = parseDialect(dialect)
  if (!choice) throw new Error(dialect)
  return readScript([{ name: 'a.sql', text }], semanticsOf(choice)).catalog
}
const mapped = (catalog: Catalog) => {
  const { findings } = infer(catalog)
  const model = derive(catalog, findings, [])
  const inputOf = (hubLines: boolean) => mapInput(catalog, findings, model, null, new Map(), { ...wholeMap, hubLines })
  const [ours, among] = [layoutMap(inputOf(false)), layoutMap(inputOf(true))]
  const heights = ours.plates.map((p) => p.height).sort((a, b) => a - b)
  const plate = { width: ours.plates[0]?.width ?? 0, height: heights[Math.floor(heights.length / 2)] ?? 0 }
  return { ours, among, plain: plainLayout(inputOf(true), plate) }
}
const median = (list: readonly number[]) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)] as number

const large = readdirSync(folder)
  .filter((d) => existsSync(`${folder}/${d}/normalized.sql`))
  .map((name) => ({ name, catalog: read(readFileSync(`${folder}/${name}/normalized.sql`, 'utf8'), readFileSync(`${folder}/${name}/dialect`, 'utf8').trim()) }))
  .filter((s) => s.catalog.relations.length >= 50)

describe('maps of 50 tables and more', () => {
  const measured = large.map(({ name, catalog }) => {
    const { ours, among, plain } = mapped(catalog)
    const figures = (lines: ReturnType<typeof linesOf>) => ({ crossings: crossings(lines), length: lineLength(lines) })
    return { name, ours, o: figures(linesOf(ours)), a: figures(linesOf(among)), p: figures(plain) }
  })
  it('lines cross less and are shorter than in plain layers of the same graph', () => {
    const ratio = (of: 'o' | 'a', what: 'crossings' | 'length') => measured.map((m) => m[of][what] / Math.max(1, m.p[what]))
    for (const m of measured)
      console.log(
        `${m.name.padEnd(22)} crossings ${m.o.crossings}, with hub lines ${m.a.crossings}, plain ${m.p.crossings}; length ${Math.round(m.o.length)}, ${Math.round(m.a.length)}, ${Math.round(m.p.length)}`,
      )
    const [c, l] = [median(ratio('o', 'crossings')), median(ratio('o', 'length'))]
    console.log(
      `medians against plain layers: crossings ${c.toFixed(2)} (0.8), length ${l.toFixed(2)} (0.9); with hub lines ${median(ratio('a', 'crossings')).toFixed(2)}, ${median(ratio('a', 'length')).toFixed(2)}`,
    )
    expect(measured.length).toBeGreaterThan(5)
    expect(c).toBeLessThanOrEqual(0.8)
    expect(l).toBeLessThanOrEqual(0.9)
  })
  it.each(measured)('$name: no line runs through a plate', ({ ours }) => expect(throughPlates(ours)).toEqual([]))
})

describe('a map of 300 tables', () => {
  const { ours } = mapped(read(legacyScript(300), 'postgresql'))
  it('no line runs through a plate, and no plate covers another', () => {
    expect(ours.plates.length).toBeGreaterThan(250)
    expect(throughPlates(ours)).toEqual([])
    const sorted = ours.plates.toSorted((a, b) => a.y - b.y)
    expect(sorted.filter((a, i) => sorted.slice(i + 1).some((b) => overlap(a, b))).map((p) => p.id)).toEqual([])
  })
  it('as SVG it is one well-formed document with every plate', () => {
    const svg = sceneSvg(ours, { paper: '#fff', card: '#fff', band: '#eee', ink: '#000', soft: '#555', rule: '#ccc' }, 'a & b <c>')
    expect(svg.match(/<g class="plate/g)).toHaveLength(ours.plates.length)
    expect(svg).toContain('<title>a &amp; b &lt;c&gt;</title>')
    const open = [...svg.matchAll(/<(\/?)(svg|g|text|title|style)\b[^>]*?(\/?)>/g)].reduce((n, m) => n + (m[1] === '/' ? -1 : m[3] === '/' ? 0 : 1), 0)
    expect(open).toBe(0)
  })
})
