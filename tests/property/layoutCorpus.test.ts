// The map of real schemas: how it fills a pane, and its lines against plain layers of the same graph; figures are printed.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { infer } from '../../src/core/infer/index.ts'
import { decodeEntry, derive, noAreaRulings } from '../../src/core/model/index.ts'
import { mapInput, mapOf, nearestShape, type Scene, sceneSvg, wholeMap } from '../../src/core/strata/index.ts'
import { crossings, lineLength, linesOf, overlap, throughBlocks, throughPlates } from '../support/geometry.ts'
import { legacyScript } from '../support/legacy.ts'
import { plainLayout } from '../support/plainLayout.ts'

const read = (text: string, dialect: string): Catalog => {
  const choice = parseDialect(dialect)
  if (!choice) throw new Error(dialect)
  return readScript([{ name: 'a.sql', text }], semanticsOf(choice)).catalog
}
const panes = [
  { width: 640, height: 660 },
  { width: 1500, height: 1200 },
]

function mapped(catalog: Catalog) {
  const { findings } = infer(catalog)
  const model = derive(catalog, findings, [])
  const scenes = panes.map((p) => mapOf(catalog, findings, model, null, noAreaRulings, wholeMap, nearestShape(p.width, p.height)))
  return { findings, model, scenes, input: mapInput(catalog, findings, model, null) }
}

const median = (list: readonly number[]) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)] as number
const scaleAtFit = (s: Scene, p: (typeof panes)[number]) => Math.min(p.width / s.width, p.height / s.height)
const covered = (s: Scene) => s.plates.reduce((n, p) => n + p.width * p.height, 0) / (s.width * s.height)

/** Lines within areas: ours, the same lines in plain layers of the whole graph, and in plain layers of each area alone. */
function against(catalog: Catalog) {
  const { scenes, input } = mapped(catalog)
  const scene = scenes[0] as Scene
  const plate = { width: median(scene.plates.map((p) => p.width)), height: median(scene.plates.map((p) => p.height)) }
  const blockOf = new Map(scene.plates.map((p) => [p.id, p.block]))
  const links = [...input.lines.filter((l) => l.child !== l.parent).map((l) => [l.parent, l.child]), ...input.beads.map((b) => [b.first, b.second])]
  const whole = plainLayout(input, plate).filter((_, i) => blockOf.get(links[i]?.[0] as string) === blockOf.get(links[i]?.[1] as string))
  const alone = scene.blocks
    .filter((b) => b.kind === 'area')
    .map((b) => {
      const here = (id: string) => blockOf.get(id) === b.key
      const part = {
        plates: input.plates.filter((p) => here(p.id)),
        lines: input.lines.filter((l) => here(l.child) && here(l.parent)),
        beads: input.beads.filter((x) => here(x.first) && here(x.second)),
      }
      return part.lines.length + part.beads.length === 0 ? [] : plainLayout({ ...input, ...part }, plate)
    })
  const figures = (groups: readonly ReturnType<typeof linesOf>[]) => ({
    crossings: groups.reduce((n, g) => n + crossings(g), 0),
    length: Math.round(groups.reduce((n, g) => n + lineLength(g), 0)),
  })
  return { ours: figures([linesOf(scene)]), plain: figures([whole]), alone: figures(alone) }
}

const corpus = '../shared/corpus'
const large = ['a', 'b', 'c', 'd'].map((name) => ({ name, catalog: read(readFileSync(`../shared/large/${name}.sql`, 'utf8'), 'postgresql') }))
const real = readdirSync(corpus)
  .filter((d) => existsSync(`${corpus}/${d}/normalized.sql`))
  .map((name) => ({ name, catalog: read(readFileSync(`${corpus}/${name}/normalized.sql`, 'utf8'), readFileSync(`${corpus}/${name}/dialect`, 'utf8').trim()) }))

describe.each([...large, ...real.filter((s) => s.catalog.relations.length >= 20)])('the map of $name', ({ name, catalog }) => {
  const { scenes } = mapped(catalog)
  it.each(panes.map((p, i) => ({ ...p, i })))('has the shape of a pane of $width × $height, and plates cover a quarter of it', ({ i, ...pane }) => {
    const scene = scenes[i] as Scene
    const shape = scene.width / scene.height / (pane.width / pane.height)
    const scale = scaleAtFit(scene, pane)
    console.log(
      `${name.padEnd(16)} ${pane.width}×${pane.height}: ${scene.plates.length} plates, shape ${shape.toFixed(2)}, at Fit ${scale.toFixed(2)}, plates cover ${covered(scene).toFixed(2)}`,
    )
    expect(shape).toBeGreaterThan(0.75)
    expect(shape).toBeLessThan(1.35)
    if (catalog.relations.length >= 100) expect(covered(scene)).toBeGreaterThanOrEqual(0.25)
    if (i === 0 && name === 'b') expect(scale).toBeGreaterThanOrEqual(0.42)
    if (i === 0 && name === 'd') expect(scale).toBeGreaterThanOrEqual(0.3)
  })
  it('no line runs through a plate, no bundle through a block', () => {
    for (const scene of scenes) {
      expect(throughPlates(scene)).toEqual([])
      for (const b of scene.bundles) expect(throughBlocks(scene, b.path)).toEqual([])
    }
  })
})

describe('lines within areas', () => {
  it('cross less and are shorter than in plain layers', () => {
    const measured = [...large, ...real.filter((s) => s.catalog.relations.length >= 50)].map((s) => ({ name: s.name, ...against(s.catalog) }))
    for (const { name, ours, plain, alone } of measured)
      console.log(
        `${name.padEnd(16)} crossings ${ours.crossings}, plain layers ${plain.crossings}, of each area alone ${alone.crossings}; length ${ours.length}, ${plain.length}, ${alone.length}`,
      )
    for (const what of ['crossings', 'length'] as const) {
      const ratios = measured.map((m) => m.ours[what] / Math.max(1, m.plain[what]))
      console.log(`${what} against plain layers: median ${median(ratios).toFixed(2)}, most ${Math.max(...ratios).toFixed(2)}`)
      const most = what === 'crossings' ? 0.8 : 0.9
      expect(median(ratios)).toBeLessThanOrEqual(most)
      // Of the large ones each.
      for (const r of ratios.slice(0, large.length)) expect(r).toBeLessThanOrEqual(most)
    }
  })
})

describe('most bundles between areas', () => {
  it('lead to the right or down', () => {
    const bundles = large.flatMap(({ catalog }) => mapped(catalog).scenes.flatMap((s) => s.bundles))
    expect(bundles.filter((b) => b.forward).length / bundles.length).toBeGreaterThan(0.7)
  })
})

describe('rulings on a large schema', () => {
  const catalog = (large[1] as (typeof large)[number]).catalog
  const { findings, scenes } = mapped(catalog)
  const before = new Map((scenes[0] as Scene).blocks.map((b) => [b.key, b]))
  const some = findings.filter((f) => f.kind === 'reference' || f.kind === 'join-table').filter((_, i) => i % 12 === 0)
  it('move no block', () => {
    for (const f of some) {
      const edits = f.kind === 'join-table' ? (f.alternatives[1]?.edits ?? []) : [{ facet: 'reference.target', subject: f.subject, value: null }]
      const entries = edits.map((edit, i) => decodeEntry({ seq: i + 1, at: 'x', by: 'Ada', kind: 'edit', edit, note: null }))
      const after = mapOf(catalog, findings, derive(catalog, findings, entries), null, noAreaRulings, wholeMap, nearestShape(640, 660))
      for (const b of after.blocks)
        expect([f.id, b.x, b.y, b.width, b.height]).toEqual([
          f.id,
          before.get(b.key)?.x,
          before.get(b.key)?.y,
          before.get(b.key)?.width,
          before.get(b.key)?.height,
        ])
    }
  })
})

describe('a map of 300 tables', () => {
  const { scenes } = mapped(read(legacyScript(300), 'postgresql'))
  const ours = scenes[0] as Scene
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
