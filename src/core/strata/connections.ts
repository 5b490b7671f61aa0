// What is drawn between two plates, from left to right, before anything has coordinates.
import { compareText } from '../catalog/index.ts'
import type { BeadInput, LineInput } from './types.ts'

/** One drawn connection, before coordinates: a reference, or a join table between two entities. */
export interface Connection {
  readonly id: string
  readonly left: string
  readonly right: string
  readonly leftMark: string
  readonly rightMark: string
  readonly of: { readonly kind: 'line'; readonly line: LineInput } | { readonly kind: 'bead'; readonly bead: BeadInput }
}

/**
 * References and beads as connections from left to right; `rankOf` gives the column of every plate they lead between. The cut line of a knot is
 * drawn like the others, its ends swapped. In order of id.
 */
export function connect(lines: readonly LineInput[], beads: readonly BeadInput[], rankOf: ReadonlyMap<string, number>): readonly Connection[] {
  const on = (id: string) => rankOf.has(id)
  const before = (a: string, b: string) => (rankOf.get(a) as number) < (rankOf.get(b) as number)
  const references = lines
    .filter((l) => l.child !== l.parent && on(l.child) && on(l.parent))
    .map((l): Connection => {
      const swapped = before(l.child, l.parent)
      return {
        id: l.id,
        left: swapped ? l.child : l.parent,
        right: swapped ? l.parent : l.child,
        leftMark: swapped ? l.childMark : l.parentMark,
        rightMark: swapped ? l.parentMark : l.childMark,
        of: { kind: 'line', line: l },
      }
    })
  const joins = beads
    .filter((b) => on(b.first) && on(b.second))
    .map((b): Connection => {
      const swapped = before(b.second, b.first)
      return { id: b.id, left: swapped ? b.second : b.first, right: swapped ? b.first : b.second, leftMark: 'n', rightMark: 'n', of: { kind: 'bead', bead: b } }
    })
  return [...references, ...joins].sort((a, b) => compareText(a.id, b.id))
}

/** What leaves a plate with the same multiplicity leaves as one trunk and parts where it arrives; a bead has a line of its own. */
export const trunkOf = (c: Connection): string => (c.of.kind === 'bead' ? c.id : `${c.left}\n${c.leftMark}`)

export const passingKey = (trunk: string, column: number) => `${trunk}\n${column}`
/** Columns strictly between the two ends, where the line needs a slot. Ends in one column meet in the gutter to its right. */
export const passingColumns = (c: Connection, rankOf: ReadonlyMap<string, number>) => {
  const from = rankOf.get(c.left) as number
  return Array.from({ length: Math.max(0, (rankOf.get(c.right) as number) - from - 1) }, (_, i) => from + 1 + i)
}

/** A bead on a long line sits in the last column the line passes, where there is room for its name; null where it passes none. */
export const beadColumn = (c: Connection, rankOf: ReadonlyMap<string, number>) => (c.of.kind === 'bead' ? (passingColumns(c, rankOf).at(-1) ?? null) : null)
