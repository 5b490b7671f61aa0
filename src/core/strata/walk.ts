// From plate to line to plate, as keys walk over the map.
import { compareText } from '../catalog/index.ts'
import type { Scene } from './types.ts'

export type Direction = 'left' | 'right' | 'up' | 'down'

interface Link {
  /** Finding to select. */
  readonly id: string
  /** What is referred to stands left; of a join table the end that was created first. */
  readonly left: string
  readonly right: string
  readonly y: number
}

function linksOf(scene: Scene): readonly Link[] {
  const x = new Map(scene.plates.map((p) => [p.id, p.x]))
  const marks = scene.plates.flatMap((p) => p.marks.flatMap((m) => m.ids.map((id): Link => ({ id, left: m.hub, right: p.id, y: m.y }))))
  const lines = scene.lines.map((l): Link => ({ id: l.id, left: l.parent, right: l.child, y: l.marks[1]?.y ?? 0 }))
  const beads = scene.beads.map((b): Link => {
    const [left, right] = (x.get(b.first) ?? 0) <= (x.get(b.second) ?? 0) ? [b.first, b.second] : [b.second, b.first]
    return { id: b.filled ? `entity:${b.id}` : b.id, left, right, y: b.y }
  })
  return [...lines, ...beads, ...marks].sort((a, b) => a.y - b.y || compareText(a.id, b.id))
}

/**
 * The finding a step leads to; null where there is nothing that way. From a plate left to what it refers to and right to what refers to it, by
 * the line between; from a line to the plate at that end; up and down among the plates of a column, and among the lines of the plate on the left.
 */
export function stepOnMap(scene: Scene, selected: string | null, direction: Direction): string | null {
  if (selected === null) return null
  const links = linksOf(scene)
  const link = links.find((l) => l.id === selected)
  if (link) {
    if (direction === 'left' || direction === 'right') return `entity:${link[direction]}`
    const fromLeft = links.filter((l) => l.left === link.left)
    const list = fromLeft.length > 1 ? fromLeft : links.filter((l) => l.right === link.right)
    return list[list.indexOf(link) + (direction === 'up' ? -1 : 1)]?.id ?? null
  }
  const plate = scene.plates.find((p) => `entity:${p.id}` === selected)
  if (!plate) return null
  if (direction === 'left') return links.find((l) => l.right === plate.id)?.id ?? null
  if (direction === 'right') return links.find((l) => l.left === plate.id)?.id ?? null
  const column = scene.plates.filter((p) => p.x === plate.x).sort((a, b) => a.y - b.y)
  const next = column[column.indexOf(plate) + (direction === 'up' ? -1 : 1)]
  return next ? `entity:${next.id}` : null
}
