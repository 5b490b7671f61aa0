// The map's geometry over seeded random catalogs: nothing overlaps, no line runs through a plate, the same input gives the same picture.
import { describe, expect, it } from 'vitest'
import { infer } from '../../src/core/infer/index.ts'
import { decodeEntry, derive } from '../../src/core/model/index.ts'
import { type Box, layoutMap, mapInput, type Scene } from '../../src/core/strata/index.ts'
import { overlap, throughPlates } from '../support/geometry.ts'
import { randomCatalog, shuffled } from '../support/random.ts'

function expectReadable(scene: Scene): void {
  const { plates } = scene
  for (const [i, a] of plates.entries()) for (const b of plates.slice(i + 1)) expect(overlap(a, b), `${a.id} over ${b.id}`).toBe(false)
  for (const [i, a] of scene.bands.entries()) for (const b of scene.bands.slice(i + 1)) expect(overlap(a, b), `${a.area} over ${b.area}`).toBe(false)
  for (const p of plates.filter((q) => q.place === 'band')) {
    const band = scene.bands.find((b) => b.area === p.area) as Box
    expect(p.y).toBeGreaterThanOrEqual(band.y)
    expect(p.y + p.height).toBeLessThanOrEqual(band.y + band.height)
  }
  expect(throughPlates(scene)).toEqual([])
}

describe.each(Array.from({ length: 30 }, (_, i) => i + 1))('random catalog, seed %i', (seed) => {
  const catalog = randomCatalog(seed)
  const { findings } = infer(catalog)
  const sceneOf = (c: typeof catalog, f: typeof findings) => layoutMap(mapInput(c, f, derive(c, f, []), null))

  it('no plate overlaps another, bands hold their plates, no line runs through a plate', () => expectReadable(sceneOf(catalog, findings)))

  it('the order of input changes nothing', () => {
    expect(sceneOf({ ...catalog, relations: shuffled(catalog.relations, seed) }, shuffled(findings, seed))).toEqual(sceneOf(catalog, findings))
  })

  it('a rejected reference moves nothing to another band, and to another rank only what depended on it', () => {
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
    const after = layoutMap(mapInput(catalog, findings, derive(catalog, findings, [entry]), null))
    const moved = after.plates.filter((p) => before.has(p.id) && p.rank !== before.get(p.id)?.rank).map((p) => p.id)
    const child = scene.lines.find((l) => l.id === reference.id)?.child
    const dependent = new Set(child === undefined ? [] : [child])
    for (const id of dependent) for (const l of scene.lines) if (l.parent === id) dependent.add(l.child)
    // Where the reference was half of a join table, its plates and lines are others; what is drawn for the first time has no rank before.
    if (child !== undefined) expect(moved.filter((id) => !dependent.has(id))).toEqual([])
    for (const p of after.plates) if (before.has(p.id)) expect(p.area).toBe(before.get(p.id)?.area)
  })
})
