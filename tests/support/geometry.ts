// What can be measured of a scene: crossings, lengths, what covers what.
import type { Box, Scene } from '../../src/core/strata/index.ts'

export interface Point {
  readonly x: number
  readonly y: number
}

export const overlap = (a: Box, b: Box): boolean => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height
export const inside = (p: Point, b: Box): boolean => p.x > b.x + 0.5 && p.x < b.x + b.width - 0.5 && p.y > b.y + 0.5 && p.y < b.y + b.height - 0.5

/** Points along a path of M, C and L commands, `steps` to a command: twenty are close enough to notice a plate. */
export function pointsOf(path: string, steps = 20): readonly Point[] {
  const points: Point[] = []
  let at = { x: 0, y: 0 }
  for (const m of path.matchAll(/([MCL])([^MCL]*)/g)) {
    const n = (m[2] as string).trim().split(/\s+/).map(Number)
    const end = { x: n.at(-2) as number, y: n.at(-1) as number }
    if (m[1] === 'M') points.push(end)
    for (let t = 1; t <= steps && m[1] !== 'M'; t += 1) {
      const s = t / steps
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

export const holds = (a: Box, b: Box): boolean => a.x <= b.x && a.y <= b.y && a.x + a.width >= b.x + b.width && a.y + a.height >= b.y + b.height

/** What is drawn without being asked for: lines between blocks are in their bundles. */
const drawnOf = (scene: Scene) => [...scene.lines.filter((l) => l.shape === 'line'), ...scene.beads].filter((d) => d.bundle === null)

/** Keys of blocks that a path runs through. */
export const throughBlocks = (scene: Scene, path: string): readonly string[] => {
  const points = pointsOf(path)
  return scene.blocks.filter((b) => points.some((p) => inside(p, { x: b.x + 1, y: b.y + 1, width: b.width - 2, height: b.height - 2 }))).map((b) => b.key)
}

/** Ids of lines that run through a plate. */
export const throughPlates = (scene: Scene): readonly string[] =>
  drawnOf(scene).flatMap((d) => {
    const near = scene.plates.filter((p) => overlap(p, { x: d.box.x - 1, y: d.box.y - 1, width: d.box.width + 2, height: d.box.height + 2 }))
    return pointsOf(d.path).some((pt) => near.some((b) => inside(pt, b))) ? [d.id] : []
  })

const side = (a: Point, b: Point, c: Point) => Math.sign((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x))
const cross = (a: Point, b: Point, c: Point, d: Point) => side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0

/** How often two lines cross; lines that meet at a port do not. */
export function crossings(lines: readonly (readonly Point[])[]): number {
  const boxed = lines.map((points) => {
    const [xs, ys] = [points.map((p) => p.x), points.map((p) => p.y)]
    const [x, y] = [Math.min(...xs), Math.min(...ys)]
    return { points, box: { x, y, width: Math.max(0.1, Math.max(...xs) - x), height: Math.max(0.1, Math.max(...ys) - y) } }
  })
  let n = 0
  for (const [i, a] of boxed.entries()) {
    for (const b of boxed.slice(i + 1)) {
      if (!overlap(a.box, b.box)) continue
      for (let p = 1; p < a.points.length; p += 1)
        for (let q = 1; q < b.points.length; q += 1)
          if (cross(a.points[p - 1] as Point, a.points[p] as Point, b.points[q - 1] as Point, b.points[q] as Point)) n += 1
    }
  }
  return n
}

/** Of all lines together, in map units. */
export const lineLength = (lines: readonly (readonly Point[])[]): number =>
  lines.reduce((sum, points) => sum + points.slice(1).reduce((s, p, i) => s + Math.hypot(p.x - (points[i] as Point).x, p.y - (points[i] as Point).y), 0), 0)

/** Every drawn connection of a scene, a few points to a curve. */
export const linesOf = (scene: Scene): readonly (readonly Point[])[] => drawnOf(scene).map((d) => pointsOf(d.path, 6))
