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

/** What stands together on the map: an area, what everything refers to, what stands alone, or the views of an area. */
export type BlockKind = 'area' | 'hubs' | 'alone' | 'views'

export interface MapInput {
  readonly plates: readonly PlateInput[]
  readonly lines: readonly LineInput[]
  readonly beads: readonly BeadInput[]
  /** Area of each plate by id; a plate without one stands alone. */
  readonly areas: ReadonlyMap<string, string>
  /** Areas from the first to the last: what is referred to comes before what refers to it. */
  readonly order: readonly string[]
  /** Plates that so much refers to that they stand in a block of their own, the busiest first. */
  readonly hubs: readonly string[]
  readonly marks: readonly HubMarkInput[]
  /** Views that are not drawn one by one: how many, by area; those that read nothing that is drawn under null. */
  readonly folded: ReadonlyMap<string | null, number>
  /** Name that the block of an area goes by, where it is another one: that of the area before it was renamed. */
  readonly keys: ReadonlyMap<string, string>
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
  /** Of what is written on it; 1 but in a block that holds more than it has room for. */
  readonly scale: number
  /** The largest size its name can have where nothing else is written on it, before it is scaled. */
  readonly nameFont: number
  readonly table: string
  readonly rows: number | null
  readonly readOnly: boolean
  /** Null for a table that stands alone. */
  readonly area: string | null
  /** Its column in its block, from 0. */
  readonly rank: number
  /** Key of the block it stands in. */
  readonly block: string
  /** A focus is on it: what holds its references is written large. */
  readonly central: boolean
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
  /** Another line at the same port has it already, or one so near that both would lie over each other: it is written when its line is looked at. */
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
  /** Key of the bundle it is drawn in unless it is looked at; null for a line within a block. */
  readonly bundle: string | null
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
  /** There is no room for it: it is written when its line is looked at. */
  readonly crowded?: true
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
  readonly bundle: string | null
  readonly box: Box
}

export interface Block extends Box {
  readonly key: string
  readonly kind: BlockKind
  readonly name: string
  /** Plates and filled beads in it. */
  readonly count: number
  /** Views of the area that are not drawn one by one. */
  readonly folded: Folded | null
}

/** The views of an area as one shape. */
export interface Folded extends Box {
  readonly area: string | null
  readonly count: number
}

/** All lines and beads between two blocks. */
export interface Bundle {
  readonly key: string
  /** Block that most of them are referred to in, and block that refers. */
  readonly from: string
  readonly to: string
  readonly count: number
  /** How many of them lead the other way. */
  readonly back: number
  readonly path: string
  /** Where it arrives, at the left edge of a block; the room its count has below and right of it. */
  readonly tip: { readonly x: number; readonly y: number }
  readonly room: { readonly width: number; readonly height: number }
  /** Leads to the right or down. */
  readonly forward: boolean
}

export interface Knot {
  readonly members: readonly string[]
  /** Around all members, or around each where others stand between them. */
  readonly boxes: readonly Box[]
  readonly label: string
}

export interface Scene {
  readonly width: number
  readonly height: number
  readonly blocks: readonly Block[]
  readonly bundles: readonly Bundle[]
  readonly plates: readonly Plate[]
  readonly lines: readonly Line[]
  readonly beads: readonly Bead[]
  readonly knots: readonly Knot[]
}
