// The map's geometry over seeded random catalogs: nothing overlaps, no line runs through a plate, the same input gives the same picture.
import { describe, expect, it } from 'vitest'
import { infer } from '../../src/core/infer/index.ts'
import { decodeEntry, derive, noAreaRulings } from '../../src/core/model/index.ts'
import { type Box, labelOf, mapOf, type Scene, wholeMap } from '../../src/core/strata/index.ts'
import { holds, overlap, throughBlocks, throughPlates } from '../support/geometry.ts'
import { randomCatalog, shuffled } from '../support/random.ts'

function expectReadable(scene: Scene): void {
  const { plates, blocks } = scene
  for (const [i, a] of plates.entries()) for (const b of plates.slice(i + 1)) expect(overlap(a, b), `${a.id} over ${b.id}`).toBe(false)
  for (const [i, a] of blocks.entries()) for (const b of blocks.slice(i + 1)) expect(overlap(a, b), `${a.key} over ${b.key}`).toBe(false)
  for (const p of plates) {
    const block = blocks.find((b) => b.key === p.block) as Box
    expect(holds(block, p), `${p.id} leaves its block`).toBe(true)
  }
  expect(throughPlates(scene)).toEqual([])
  for (const b of scene.bundles) expect(throughBlocks(scene, b.path), `the bundle ${b.key} runs through a block`).toEqual([])
  for (const l of scene.lines) if (l.bundle !== null) expect(scene.bundles.some((b) => b.key === l.bundle)).toBe(true)
}

describe.each(Array.from({ length: 30 }, (_, i) => i + 1))('random catalog, seed %i', (seed) => {
  const catalog = randomCatalog(seed)
  const { findings } = infer(catalog)
  const sceneOf = (c: typeof catalog, f: typeof findings) => mapOf(c, f, derive(c, f, []), null)

  it('no plate or block overlaps another, blocks hold their plates, no line runs through a plate and no bundle through a block', () =>
    expectReadable(sceneOf(catalog, findings)))

  it('the order of input changes nothing', () => {
    expect(sceneOf({ ...catalog, relations: shuffled(catalog.relations, seed) }, shuffled(findings, seed))).toEqual(sceneOf(catalog, findings))
  })

  it('a rejected reference moves no block, nothing to another one, and to another column only what depended on it', () => {
    const reference = findings.find((f) => f.kind === 'reference')
    if (!reference) return
    const entry = decodeEntry({
      seq: 1,
      at: 'x',
      by: 'Ada',
      kind: 'edit',
      edit: { facet: 'reference.target', subject: reference.subject, value: null },
      note: null,
    })
    const scene = sceneOf(catalog, findings)
    const before = new Map(scene.plates.map((p) => [p.id, p]))
    const after = mapOf(catalog, findings, derive(catalog, findings, [entry]), null)
    const moved = after.plates.filter((p) => before.has(p.id) && p.rank !== before.get(p.id)?.rank).map((p) => p.id)
    const child = scene.lines.find((l) => l.id === reference.id)?.child
    const dependent = new Set(child === undefined ? [] : [child])
    for (const id of dependent) for (const l of scene.lines) if (l.parent === id) dependent.add(l.child)
    // Where the reference was half of a join table, its plates and lines are others; what is drawn for the first time has no rank before.
    if (child !== undefined) expect(moved.filter((id) => !dependent.has(id))).toEqual([])
    for (const p of after.plates) if (before.has(p.id)) expect(p.block).toBe(before.get(p.id)?.block)
    const blocks = new Map(scene.blocks.map((b) => [b.key, [b.x, b.y, b.width, b.height]]))
    for (const b of after.blocks) if (blocks.has(b.key)) expect([b.x, b.y, b.width, b.height], `${b.key} moved`).toEqual(blocks.get(b.key))
    expectReadable(after)
  })

  it('every label stands in its block, none over a plate, at any zoom', () => {
    const scene = sceneOf(catalog, findings)
    for (const k of [0.05, 0.2, 0.35, 0.5, 0.8, 1.4, 4]) {
      for (const b of scene.blocks) {
        const label = labelOf(b, { name: b.name, short: null, count: String(b.count), open: '12 open' }, k, k >= 0.45)
        for (const line of label?.lines ?? []) {
          const box = { x: line.x, y: line.y - (label?.font ?? 0), width: 1, height: (label?.font ?? 0) * 1.2 }
          expect(holds(b, box), `${b.name} at ${k}`).toBe(true)
          if (!label?.cover)
            expect(
              scene.plates.some((p) => overlap(p, box)),
              `${b.name} covers a plate at ${k}`,
            ).toBe(false)
        }
      }
    }
  })

  it('the focus on any entity has it in the middle, what it refers to left, what refers to it right, nothing over anything', () => {
    const model = derive(catalog, findings, [])
    for (const e of model.entities.slice(0, 6)) {
      const scene = mapOf(catalog, findings, model, null, noAreaRulings, { ...wholeMap, focus: { ids: [e.id], depth: 1 } })
      const own = scene.plates.find((p) => p.id === e.id)
      if (!own) continue
      for (const [i, a] of scene.plates.entries()) for (const b of scene.plates.slice(i + 1)) expect(overlap(a, b), `${a.id} over ${b.id}`).toBe(false)
      for (const l of scene.lines.filter((x) => x.shape === 'line')) {
        const other = scene.plates.find((p) => p.id === (l.child === e.id ? l.parent : l.child)) as Box
        if (l.child === e.id) expect(other.x + other.width).toBeLessThanOrEqual(own.x)
        else if (!scene.lines.some((x) => x.child === e.id && x.parent === l.child)) expect(other.x).toBeGreaterThanOrEqual(own.x + own.width)
      }
      expect(throughPlates(scene)).toEqual([])
    }
  })
})
