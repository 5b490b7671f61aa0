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
  /** The columns that hold it, and the names of its ends: from the child to the parent, and back. */
  readonly columns: string
  readonly childEnd: string
  readonly parentEnd: string
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

/** References of one plate to a hub, or a join table between them: a mark on the plate, and no line. */
export interface HubMarkInput {
  readonly plate: string
  readonly hub: string
  readonly text: string
  /** Relationships it stands for, in order of id. */
  readonly ids: readonly string[]
}

export interface MapInput {
  readonly plates: readonly PlateInput[]
  readonly lines: readonly LineInput[]
  readonly beads: readonly BeadInput[]
  /** Area of each plate by id; a plate without one stands in the strip of isolated tables. */
  readonly areas: ReadonlyMap<string, string>
  /** Areas from top to bottom. */
  readonly order: readonly string[]
  /** Plates that so much refers to that they stand at the edge, the busiest first. */
  readonly hubs: readonly string[]
  readonly marks: readonly HubMarkInput[]
  /** The earliest rank of plates that stand next to what uses them; 0 for all others. */
  readonly starts: ReadonlyMap<string, number>
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
  /** Null for a table that stands alone. */
  readonly area: string | null
  /** Null where it stands in no rank: at the edge, or in the strip. */
  readonly rank: number | null
  readonly place: 'band' | 'edge' | 'strip'
  /** How many plates refer to it, where it is a hub. */
  readonly fans: number | null
  /** Key columns at the ports where references arrive: `y` is the port, from the top of the map. */
  readonly keys: readonly { readonly y: number; readonly text: string }[]
  /** Hubs it refers to, each a line at its foot. */
  readonly marks: readonly HubMark[]
}

export interface HubMark {
  readonly hub: string
  readonly ids: readonly string[]
  readonly text: string
  /** Baseline of the text; it begins `size.inset` from the left edge of the plate. */
  readonly y: number
}

export interface Mark {
  readonly x: number
  readonly y: number
  readonly text: string
  /** Another line that leaves at the same port has it already. */
  readonly shared: boolean
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
  /** What leads from the child to the parent, and from the parent to the child; and where each can be written. */
  readonly ends: readonly [EndName, EndName]
  readonly box: Box
}

/** The name of an end, beside the plate it leads from. */
export interface EndName {
  readonly text: string
  readonly x: number
  readonly y: number
  readonly anchor: 'start' | 'end'
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
  readonly box: Box
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
  /** Hubs, above the bands; null where there are none. */
  readonly edge: Band | null
  /** Isolated tables, below the bands; null where there are none. */
  readonly strip: Band | null
  readonly plates: readonly Plate[]
  readonly lines: readonly Line[]
  readonly beads: readonly Bead[]
  readonly knots: readonly Knot[]
}
