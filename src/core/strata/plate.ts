// A plate where it stands, with what is written on it.
import { keptWith } from '../memo/memo.ts'
import type { Measure } from './frame.ts'
import { emWidth, nameLeading, size } from './size.ts'
import type { Box, MapInput, Plate, PlateInput } from './types.ts'

interface Place {
  readonly box: Box
  /** Key of its block, and its column there. */
  readonly block: string
  readonly rank: number
  readonly scale?: number
  readonly keys: Plate['keys']
  /** The one that a focus is on. */
  readonly central?: boolean
}

/** Makes the plates of an input. */
export function plateMaker(input: MapInput, m: Measure): (p: PlateInput, at: Place) => Plate {
  const fans = new Map<string, Set<string>>()
  for (const mark of input.marks) fans.set(mark.hub, (fans.get(mark.hub) ?? new Set()).add(mark.plate))
  const hubs = new Set(input.hubs)
  return (p, { box, block, rank, keys, scale = 1, central = false }) => {
    const nameLines = m.names.get(p.id) as readonly string[]
    return {
      // Each by its name: a spread before so many others costs ten times as much (V8).
      x: box.x,
      y: box.y,
      width: box.width,
      height: box.height,
      id: p.id,
      nameLines,
      scale,
      nameFont: nameFont(nameLines, { width: box.width / scale, height: box.height / scale }),
      table: p.table,
      rows: p.rows,
      readOnly: p.readOnly,
      area: input.areas.get(p.id) ?? null,
      rank,
      block,
      central,
      fans: hubs.has(p.id) ? (fans.get(p.id)?.size ?? 0) : null,
      keys,
      marks: m.marksOf(p.id).map((h, i) => ({ hub: h.hub, ids: h.ids, text: h.text, y: box.y + (m.marksAt(p.id) + (i + 1) * size.markLine - 3) * scale })),
    }
  }
}

const largestName = 20

const widestOf = keptWith((lines: readonly string[]) => Math.max(...lines.map(emWidth)))

function nameFont(lines: readonly string[], box: Pick<Box, 'width' | 'height'>): number {
  const widest = widestOf(lines)
  return Math.round(Math.min(largestName, (box.width - 8) / widest, (box.height - 5) / (lines.length * nameLeading)) * 10) / 10
}

/**
 * A plate at its usual size with its corner at 0, 0, and the transformation (SVG) that puts it where it stands; the plate itself and none where it
 * is of its usual size.
 */
export function atUsualSize(p: Plate): { readonly plate: Plate; readonly transform: string | undefined } {
  if (p.scale === 1) return { plate: p, transform: undefined }
  const down = (y: number) => (y - p.y) / p.scale
  return {
    plate: {
      ...p,
      x: 0,
      y: 0,
      width: p.width / p.scale,
      height: p.height / p.scale,
      keys: p.keys.map((k) => ({ ...k, y: down(k.y) })),
      marks: p.marks.map((m) => ({ ...m, y: down(m.y) })),
    },
    transform: `translate(${p.x} ${p.y}) scale(${p.scale})`,
  }
}
