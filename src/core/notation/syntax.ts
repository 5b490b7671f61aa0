// What the notation says, line by line, each with its place. What a file does not state is null. See docs/formats/notation.md.
import type { Dialect, ReferentialAction, RelationAddress, RelationKind } from '../catalog/index.ts'
import type { Comparison, End, Flag, JsonShape, RelationshipState, TypescriptSettings, TypeTarget } from '../model/index.ts'
import type { CaseStyle } from '../names/index.ts'

/** Offsets count UTF-16 code units from 0, `to` exclusive. */
export interface Place {
  readonly file: string
  readonly from: number
  readonly to: number
}

/** Something said, and where. */
export interface Said<T> {
  readonly value: T
  readonly at: Place
}

/** A type as the engine spells it, or as no engine does. */
export interface TypeText {
  readonly kind: 'native' | 'neutral'
  readonly text: string
}

export interface PropertyLine {
  readonly kind: 'property'
  readonly at: Place
  readonly name: Said<string>
  readonly column: Said<string>
  /** With a type it is said as well whether null is accepted. */
  readonly type: Said<TypeText> | null
  readonly optional: boolean
  readonly counted: Said<'always' | 'by default'> | null
  /** The expression; null inside for none. */
  readonly default: Said<string | null> | null
  readonly computed: Said<{ readonly expression: string; readonly kept: 'stored' | 'virtual' }> | null
  readonly values: Said<readonly string[] | null> | null
  readonly flag: Said<Flag | null> | null
  readonly role: Said<'version' | 'audit' | null> | null
  readonly held: Said<TypeTarget | null> | null
  readonly shape: Said<JsonShape | null> | null
  readonly note: Said<string> | null
}

/** Where the columns are that hold the relationship. */
export type Over =
  /** In this table; `to` are the columns of the other, null for its key. */
  | { readonly kind: 'own'; readonly columns: Said<readonly string[]>; readonly to: Said<readonly string[]> | null }
  /** In the table of the other entity. */
  | { readonly kind: 'other'; readonly columns: Said<readonly string[]> }
  /** In a join table: the columns that refer to this entity. */
  | { readonly kind: 'through'; readonly table: Said<RelationAddress>; readonly columns: Said<readonly string[]> }

export interface EndLine {
  readonly kind: 'end'
  readonly at: Place
  readonly name: Said<string>
  readonly leadsTo: Said<End['leadsTo']>
  /** The class it leads to. */
  readonly target: Said<string>
  readonly over: Over
  /** The constraint's name goes with `enforced` and `declared`. */
  readonly state: Said<{ readonly is: RelationshipState; readonly constraint: string | null }> | null
  readonly onDelete: Said<ReferentialAction> | null
  readonly onUpdate: Said<ReferentialAction> | null
  /** Of a reference of a join table that hides: what its other end would be called. */
  readonly there: Said<string> | null
  /** Said of an end that somebody claims and nothing in the database guards; it tells, and changes nothing. */
  readonly unguarded: boolean
}

/** One column says of which table the other is a row. */
export interface KindLine {
  readonly kind: 'kind'
  readonly at: Place
  readonly kindColumn: Said<string>
  readonly idColumn: Said<string>
  readonly targets: readonly { readonly value: string; readonly target: Said<string>; readonly columns: readonly string[] }[]
}

export interface KeyLine {
  readonly kind: 'key'
  readonly at: Place
  /** Null inside: no key. */
  readonly key: { readonly name: string | null; readonly columns: Said<readonly string[]> } | null
}
/** Of a table without a primary key: what tells its rows apart in the model alone. */
export interface KnownLine {
  readonly kind: 'known'
  readonly at: Place
  readonly columns: Said<readonly string[]>
}
export interface UniqueLine {
  readonly kind: 'unique'
  readonly at: Place
  readonly name: string | null
  readonly index: boolean
  readonly columns: Said<readonly string[]>
}
export interface IndexLine {
  readonly kind: 'index'
  readonly at: Place
  readonly name: string | null
  readonly columns: Said<readonly string[]>
  /** It goes on with what is no plain column. */
  readonly more: boolean
}
export interface NoteLine {
  readonly kind: 'note'
  readonly at: Place
  /** Null: none. */
  readonly text: string | null
}
export interface NowhereLine {
  readonly kind: 'nowhere'
  readonly at: Place
  readonly columns: Said<readonly string[]>
}
export interface QueryLines {
  readonly kind: 'definition'
  readonly at: Place
  readonly text: string
}
export type EntityLine = PropertyLine | EndLine | KindLine | KeyLine | KnownLine | UniqueLine | IndexLine | NoteLine | NowhereLine | QueryLines

export interface EntityBlock {
  readonly kind: 'entity'
  readonly at: Place
  /** Null: a join table that hides behind a many-to-many. */
  readonly name: Said<string> | null
  readonly of: Exclude<RelationKind, 'partition'>
  readonly relation: Said<RelationAddress>
  readonly lines: readonly EntityLine[]
}

export interface EnumerationBlock {
  readonly kind: 'enumeration'
  readonly at: Place
  readonly type: Said<RelationAddress>
  readonly labels: readonly string[]
}
export interface DomainBlock {
  readonly kind: 'domain'
  readonly at: Place
  readonly type: Said<RelationAddress>
  readonly over: Said<TypeText>
  readonly optional: boolean
}
export interface CompositeBlock {
  readonly kind: 'composite'
  readonly at: Place
  readonly type: Said<RelationAddress>
  readonly attributes: readonly { readonly name: string; readonly type: Said<TypeText> }[]
}
/** Of a type without a block of its own: a name in the code, and how its values are held. */
export interface TypeBlock {
  readonly kind: 'type'
  readonly at: Place
  readonly type: Said<TypeText>
  readonly called: Said<string | null> | null
  readonly held: Said<TypeTarget | null> | null
}
/** A type that something else makes: an extension. */
export interface ElsewhereBlock {
  readonly kind: 'elsewhere'
  readonly at: Place
  readonly type: string
}
export interface GroupBlock {
  readonly kind: 'group'
  readonly at: Place
  /** Null: no group of these columns. */
  readonly name: Said<string> | null
  readonly columns: Said<readonly string[]>
}

/** Names of ends, one after the other, then a property. */
export interface WhereLine {
  readonly at: Place
  readonly path: readonly Said<string>[]
  readonly is: Comparison
  readonly value: string
}
export interface QueryBlock {
  readonly kind: 'query'
  readonly at: Place
  readonly name: Said<string>
  readonly from: Said<string>
  readonly where: readonly WhereLine[]
  /** Names of ends, one after the other. */
  readonly steps: readonly Said<string>[]
}
export interface RoutineBlock {
  readonly kind: 'routine'
  readonly at: Place
  readonly of: 'function' | 'procedure' | 'aggregate' | 'window function'
  readonly routine: Said<RelationAddress>
  /** As the server prints them (pg_get_function_arguments); the types alone tell overloads apart. */
  readonly takes: string
  readonly types: string
  readonly gives: string | null
  readonly note: string | null
}
export interface LayoutBlock {
  readonly kind: 'layout'
  readonly at: Place
  readonly files: CaseStyle | null
  readonly settings: TypescriptSettings | null
}

export type Block =
  | EntityBlock
  | EnumerationBlock
  | DomainBlock
  | CompositeBlock
  | TypeBlock
  | ElsewhereBlock
  | GroupBlock
  | QueryBlock
  | RoutineBlock
  | LayoutBlock

export interface Notation {
  /** Null where no file could be read so far. */
  readonly dialect: Dialect | null
  readonly blocks: readonly Block[]
}

/** The lines of one kind in a block. */
export const linesOf = <K extends EntityLine['kind']>(b: EntityBlock, kind: K): readonly Extract<EntityLine, { kind: K }>[] =>
  b.lines.filter((l): l is Extract<EntityLine, { kind: K }> => l.kind === kind)

/** Of what is made from a model rather than read: it stands nowhere. */
export const nowhere: Place = { file: '', from: 0, to: 0 }
export const said = <T>(value: T): Said<T> => ({ value, at: nowhere })
