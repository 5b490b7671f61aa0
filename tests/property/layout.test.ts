// The map's geometry over seeded random catalogs: nothing overlaps, no line runs through a plate, the same input gives the same picture.
import { describe, expect, it } from 'vitest'
import { infer } from '../../src/core/infer/index.ts'
import { decodeEntry, derive } from '../../src/core/model/index.ts'
import { type Box, layoutMap, mapInput, type Scene } from '../../src/core/strata/index.ts'
import { randomCatalog, shuffled } from '../support/random.ts'

const overlap = (a: Box, b: Box) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/** Points along a path of M, C and L commands, close enough to notice a plate. */
function pointsOf(path: string): readonly { readonly x: number; readonly y: number }[] {
  const points: { x: number; y: number }[] = []
  let at = { x: 0, y: 0 }
  for (const m of path.matchAll(/([MCL])([^MCL]*)/g)) {
    const n = (m[2] as string).trim().split(/\s+/).map(Number)
    const end = { x: n.at(-2) as number, y: n.at(-1) as number }
    for (let t = 1; t <= 20 && m[1] !== 'M'; t += 1) {
      const s = t / 20
      const bezier = (a: number, b: number, c: number, d: number) => a * (1 - s) ** 3 + 3 * b * s * (1 - s) ** 2 + 3 * c * s * s * (1 - s) + d * s ** 3
      points.push(
        m[1] === 'L'
          ? { x: at.x + (end.x - at.x) * s, y: at.y + (end.y - at.y) * s }
          : { x: bezier(at.x, n[0] as number, n[2] as number, end.x), y: bezier(at.y, n[1] as number, n[3] as number, end.y) },
      )
    }
    at = end
  }
  return points
}

const inside = (p: { x: number; y: number }, b: Box) => p.x > b.x + 0.5 && p.x < b.x + b.width - 0.5 && p.y > b.y + 0.5 && p.y < b.y + b.height - 0.5

function expectReadable(scene: Scene): void {
  const { plates } = scene
  for (const [i, a] of plates.entries()) for (const b of plates.slice(i + 1)) expect(overlap(a, b), `${a.id} over ${b.id}`).toBe(false)
  for (const [i, a] of scene.bands.entries()) for (const b of scene.bands.slice(i + 1)) expect(overlap(a, b), `${a.area} over ${b.area}`).toBe(false)
  for (const p of plates.filter((q) => q.area !== null)) {
    const band = scene.bands.find((b) => b.area === p.area) as Box
    expect(p.y).toBeGreaterThanOrEqual(band.y)
    expect(p.y + p.height).toBeLessThanOrEqual(band.y + band.height)
  }
  for (const drawn of [...scene.lines.filter((l) => l.shape === 'line'), ...scene.beads]) {
    const through = pointsOf(drawn.path).flatMap((pt) => plates.filter((b) => inside(pt, b)).map((b) => b.id))
    expect(new Set(through), `${drawn.id} runs through`).toEqual(new Set())
  }
}

describe.each(Array.from({ length: 30 }, (_, i) => i + 1))('random catalog, seed %i', (seed) => {
  const catalog = randomCatalog(seed)
  const { findings } = infer(catalog)
  const sceneOf = (c: typeof catalog, f: typeof findings) => layoutMap(mapInput(c, f, derive(c, f, []), null))

  it('no plate overlaps another, bands hold their plates, no line runs through a plate', () => expectReadable(sceneOf(catalog, findings)))

  it('the order of input changes nothing', () => {
    expect(sceneOf({ ...catalog, relations: shuffled(catalog.relations, seed) }, shuffled(findings, seed))).toEqual(sceneOf(catalog, findings))
  })

  it('a rejected reference moves nothing to another band', () => {
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
    const before = new Map(sceneOf(catalog, findings).plates.map((p) => [p.id, p.area]))
    const after = layoutMap(mapInput(catalog, findings, derive(catalog, findings, [entry]), null))
    for (const p of after.plates) if (before.has(p.id)) expect(p.area).toBe(before.get(p.id))
  })
})
