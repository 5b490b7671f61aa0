// What is drawn between two plates, from left to right, before anything has coordinates.
import { compareText } from '../catalog/index.ts'
import type { BeadInput, LineInput, MapInput } from './types.ts'

/** One drawn connection between ranks, before coordinates: a reference, or a join table between two entities. */
export interface Connection {
  readonly id: string
  readonly left: string
  readonly right: string
  readonly leftMark: string
  readonly rightMark: string
  readonly of: { readonly kind: 'line'; readonly line: LineInput } | { readonly kind: 'bead'; readonly bead: BeadInput }
}

/** References and beads as connections from left to right. The cut line of a knot is drawn like the others, its ends swapped. */
export function connect(input: MapInput, rankOf: ReadonlyMap<string, number>, cut: ReadonlySet<string>): readonly Connection[] {
  const on = (id: string) => rankOf.has(id)
  const lines = input.lines
    .filter((l) => l.child !== l.parent && on(l.child) && on(l.parent))
    .map((l): Connection => {
      const swapped = cut.has(l.id) && (rankOf.get(l.child) as number) < (rankOf.get(l.parent) as number)
      return {
        id: l.id,
        left: swapped ? l.child : l.parent,
        right: swapped ? l.parent : l.child,
        leftMark: swapped ? l.childMark : l.parentMark,
        rightMark: swapped ? l.parentMark : l.childMark,
        of: { kind: 'line', line: l },
      }
    })
  const beads = input.beads
    .filter((b) => on(b.first) && on(b.second))
    .map((b): Connection => {
      const swapped = (rankOf.get(b.first) as number) > (rankOf.get(b.second) as number)
      return { id: b.id, left: swapped ? b.second : b.first, right: swapped ? b.first : b.second, leftMark: 'n', rightMark: 'n', of: { kind: 'bead', bead: b } }
    })
  return [...lines, ...beads].sort((a, b) => compareText(a.id, b.id))
}

export const passingKey = (id: string, rank: number) => `${id}\n${rank}`
/** Ranks strictly between the two ends, where the line needs a slot. Ends in one rank meet in the gutter to its right. */
export const passingRanks = (c: Connection, rankOf: ReadonlyMap<string, number>) => {
  const from = rankOf.get(c.left) as number
  return Array.from({ length: Math.max(0, (rankOf.get(c.right) as number) - from - 1) }, (_, i) => from + 1 + i)
}

/** A bead on a long line sits in the last rank the line passes, where there is room for its name; null where it passes none. */
export const beadRank = (c: Connection, rankOf: ReadonlyMap<string, number>) => (c.of.kind === 'bead' ? (passingRanks(c, rankOf).at(-1) ?? null) : null)
