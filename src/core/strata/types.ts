// The strata map as values: what is drawn, and where. Lengths are in map units, which are CSS pixels at zoom 1; x to the right, y down.
import type { RelationshipState } from '../model/index.ts'

export interface PlateInput {
  readonly id: string
  readonly name: string
  /** The database's name for it. */
  readonly table: string
  readonly rows: number | null
  readonly readOnly: boolean
}

/** A reference: the child holds the columns and stands to the right of the parent. */
export interface LineInput {
  readonly id: string
  readonly child: string
  readonly parent: string
  /** How many children one parent has, written at the child: n, 0–1. And the reverse: 1, 0–1. */
  readonly childMark: string
  readonly parentMark: string
  /** The parent may be absent: such a reference can be filled in later, so a knot is cut here. */
  readonly optional: boolean
  readonly state: RelationshipState
}

/** A join table drawn on the line between two plates. */
export interface BeadInput {
  readonly id: string
  readonly first: string
  readonly second: string
  readonly label: string
  /** Has columns of its own. */
  readonly filled: boolean
  readonly state: RelationshipState
}

export interface MapInput {
  readonly plates: readonly PlateInput[]
  readonly lines: readonly LineInput[]
  readonly beads: readonly BeadInput[]
  /** Area of each plate by id; a plate without one stands in the strip of isolated tables. */
  readonly areas: ReadonlyMap<string, string>
}

export interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export interface Plate extends Box {
  readonly id: string
  /** The name, broken at its words where it is too long for one line. */
  readonly nameLines: readonly string[]
  readonly table: string
  readonly rows: number | null
  readonly readOnly: boolean
  readonly area: string | null
  readonly rank: number | null
}

export interface Mark {
  readonly x: number
  readonly y: number
  readonly text: string
  readonly anchor: 'start' | 'end'
}

export interface Line {
  readonly id: string
  readonly child: string
  readonly parent: string
  /** SVG path data, from the parent's right side to the child's left side; a self-reference is a loop. */
  readonly path: string
  readonly marks: readonly Mark[]
  readonly state: RelationshipState
  readonly shape: 'line' | 'loop'
  readonly crossesBands: boolean
}

export interface Bead {
  readonly id: string
  readonly first: string
  readonly second: string
  readonly x: number
  readonly y: number
  /** Lines of the name below the bead; narrow enough for where it stands. */
  readonly labelLines: readonly string[]
  /** Stands between two plates, where its name has little room. */
  readonly tight: boolean
  readonly filled: boolean
  readonly path: string
  readonly marks: readonly Mark[]
  readonly state: RelationshipState
  readonly crossesBands: boolean
}

export interface Band extends Box {
  readonly area: string
  readonly count: number
}

export interface Knot extends Box {
  readonly members: readonly string[]
  readonly label: string
}

export interface Scene {
  readonly width: number
  readonly height: number
  readonly ranks: readonly { readonly x: number; readonly width: number }[]
  readonly bands: readonly Band[]
  /** Isolated tables, below the bands; null where there are none. */
  readonly strip: Band | null
  readonly plates: readonly Plate[]
  readonly lines: readonly Line[]
  readonly beads: readonly Bead[]
  readonly knots: readonly Knot[]
}
