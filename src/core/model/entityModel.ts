// What the classes will be: the reviewed reading of a catalog, in terms of no particular language.
import type { Brand, Dialect, ReferentialAction, RelationAddress, RelationKind } from '../catalog/index.ts'
import type { CaseStyle } from '../names/index.ts'
import type { FindingId, Flag, TypeTarget } from './edit.ts'
import type { JsonShape } from './jsonShape.ts'
import type { CalledRoutine } from './routines.ts'
import type { TypescriptSettings } from './targetSettings.ts'
import type { TrialPath } from './trialPath.ts'

/** Address text of the relation an entity comes from. */
export type EntityId = Brand<string, 'EntityId'>

export interface Property {
  readonly name: string
  readonly column: string
  /** The engine's own spelling of the type. */
  readonly type: string
  readonly nullable: boolean
  /** Who gives the value: the writer, the database where the writer gives none, or only the database. */
  readonly written: 'always' | 'has default' | 'never'
  /** The words it holds, and no others; null for any value of its type. */
  readonly values: readonly string[] | null
  /** The words it says yes and no by, where the code has a boolean. */
  readonly flag: Flag | null
  /** What it is kept for beside what it says. */
  readonly role: 'version' | 'audit' | null
  /** The shape of the JSON it holds, where somebody said it. */
  readonly shape: JsonShape | null
  /** How its values are held, where that is not as its type says. */
  readonly target: TypeTarget | null
  readonly comment: string | null
}

export type Identity =
  | {
      readonly kind: 'primary key'
      readonly columns: readonly string[]
      readonly generated: boolean
      /** The unique rule that stands for a primary key, in the model alone. */
      readonly rule?: string
    }
  /** Columns of a view that tell its rows apart, by the tables it reads. */
  | { readonly kind: 'view key'; readonly columns: readonly string[] }
  | { readonly kind: 'none' }

export interface Entity {
  readonly id: EntityId
  readonly name: string
  readonly relation: RelationAddress
  readonly kind: RelationKind
  /** In column order. */
  readonly properties: readonly Property[]
  readonly identity: Identity
  /** Columns whose values no two rows share, beside the key; rules for some rows only are not among them. */
  readonly uniques: readonly { readonly name: string; readonly columns: readonly string[] }[]
  /** Columns that come first in an index of all rows, other than those of the key and of unique rules. */
  readonly indexed: readonly string[]
  readonly readOnly: boolean
  readonly comment: string | null
}

export interface Enumeration {
  readonly schema: string
  readonly name: string
  readonly typeName: string
  readonly labels: readonly string[]
}

/** A type with a name of its own over another one: a domain. */
export interface NamedType {
  readonly schema: string
  readonly name: string
  readonly typeName: string
  readonly type: string
  readonly nullable: boolean
}

export interface Composite {
  readonly schema: string
  readonly name: string
  readonly typeName: string
  readonly attributes: readonly { readonly name: string; readonly type: string }[]
}

/** Columns that stand together in several entities, of one type each: one type in the code. */
export interface ColumnGroup {
  readonly typeName: string
  readonly columns: readonly string[]
  readonly entities: readonly EntityId[]
}

export type RelationshipState = 'enforced' | 'declared' | 'model' | 'guessed'

/** One side of a relationship: the entity that has the property, and how many it leads to. */
export interface End {
  readonly entity: EntityId
  readonly property: string
  /** Columns of this entity's table that take part, in key order. */
  readonly columns: readonly string[]
  /** How many of the other entity one of this has. */
  readonly leadsTo: 'exactly one' | 'at most one' | 'any number'
  /** Why: the columns that accept null, or the rule that makes it one. */
  readonly because: string
  /** Somebody says how many, and nothing in the database keeps it so. */
  readonly claimed: boolean
}

export interface Relationship {
  readonly id: FindingId
  readonly kind: 'many-to-one' | 'one-to-one' | 'many-to-many'
  readonly state: RelationshipState
  readonly confidence: number
  /** The end that holds the columns; for many-to-many the target of the join table's first reference. */
  readonly from: End
  readonly to: End
  readonly through: {
    readonly table: RelationAddress
    readonly fromColumns: readonly string[]
    readonly toColumns: readonly string[]
    readonly payload: readonly string[]
    readonly parts: readonly [FindingId, FindingId]
    /** The join table is an entity as well: this is a way to read, and rows are written there. */
    readonly shortcut: boolean
  } | null
  /** Columns of `from` that another relationship writes: this one only reads them. */
  readonly shared: readonly { readonly column: string; readonly writtenBy: FindingId }[]
  readonly constraint: string | null
  readonly onDelete: ReferentialAction | null
  readonly onUpdate: ReferentialAction | null
}

/** One half of a join table that is read as a many-to-many: a fact of the schema, not a property of a class. */
export interface JoinHalf {
  readonly id: FindingId
  readonly partOf: FindingId
  readonly table: RelationAddress
  readonly columns: readonly string[]
  readonly target: EntityId
  readonly targetColumns: readonly string[]
  readonly ownName: string
  readonly inverseName: string
  readonly state: RelationshipState
  readonly confidence: number
}

export type ModelDiagnostic =
  | { readonly code: 'name-taken'; readonly entity: EntityId; readonly wanted: string; readonly got: string }
  | { readonly code: 'target-gone'; readonly subject: string; readonly target: string }
  | { readonly code: 'subject-gone'; readonly subject: string; readonly facet: string }
  | { readonly code: 'join-broken'; readonly table: EntityId; readonly missing: string }
  /** Somebody says that there is at most one, and no unique rule keeps it so. */
  | {
      readonly code: 'claimed-one'
      readonly relation: EntityId
      readonly columns: readonly string[]
      /** Rows that were counted, and the most that share one partner; not there where nobody counted. */
      readonly rows?: number
      readonly most?: number
    }
  /** Somebody says that there always is one, and a column accepts null. */
  | { readonly code: 'claimed-always'; readonly relation: EntityId; readonly columns: readonly string[] }
  /** The target is there, and left out of the scope. */
  | { readonly code: 'left-out'; readonly relation: EntityId; readonly constraint: string; readonly target: string }
  | { readonly code: 'outside'; readonly relation: EntityId; readonly constraint: string; readonly target: string }

export interface EntityModel {
  /** Whose spelling the types of properties have. */
  readonly dialect: Dialect
  readonly entities: readonly Entity[]
  readonly enumerations: readonly Enumeration[]
  readonly namedTypes: readonly NamedType[]
  readonly composites: readonly Composite[]
  readonly groups: readonly ColumnGroup[]
  readonly relationships: readonly Relationship[]
  readonly joinHalves: readonly JoinHalf[]
  readonly routines: readonly CalledRoutine[]
  /** Ways through the rows that somebody kept under a name. */
  readonly kept: readonly { readonly name: string; readonly path: TrialPath }[]
  /** How values of native types are held in the code, where there is a choice. */
  readonly typeTargets: Readonly<Record<string, TypeTarget>>
  /** Names of the project's own for native types. */
  readonly typeNames: Readonly<Record<string, string>>
  /** Letter case of emitted files. */
  readonly fileCase: CaseStyle
  /** How the TypeScript files are laid out. */
  readonly settings: TypescriptSettings
  readonly diagnostics: readonly ModelDiagnostic[]
}

export function describeModelDiagnostic(d: ModelDiagnostic): string {
  switch (d.code) {
    case 'name-taken':
      return `"${d.wanted}" is taken in ${d.entity}; "${d.got}" is used`
    case 'target-gone':
      return `${d.subject} is said to refer to ${d.target}, which is not in this snapshot`
    case 'subject-gone':
      return `a ruling sets ${d.facet} of ${d.subject}, which is not in this snapshot`
    case 'join-broken':
      return `${d.table} cannot be read as a many-to-many without its reference ${d.missing}; it is an entity`
    case 'claimed-one':
      return `${d.relation}(${d.columns.join(', ')}) is said to be one-to-one, and no unique rule keeps it so: ${
        d.most === undefined
          ? 'a second row would be lost when it is read'
          : d.most > 1
            ? `up to ${d.most} rows share a partner, of which all but one are lost when they are read`
            : `of ${d.rows} ${d.rows === 1 ? 'row' : 'rows'} no two share a partner, and nothing keeps a second one out`
      }`
    case 'claimed-always':
      return `${d.relation}(${d.columns.join(', ')}) is said to have a partner always, and the database accepts rows without one: such a row could not be read as it is said to be`
    case 'left-out':
      return `foreign key "${d.constraint}" of ${d.relation} refers to ${d.target}, which is left out of the scope`
    case 'outside':
      return `foreign key "${d.constraint}" of ${d.relation} refers to ${d.target}, which was not surveyed`
    default:
      return unreachable(d)
  }
}

function unreachable(d: never): never {
  throw new Error(`a diagnostic of no known code: ${JSON.stringify(d)}`)
}
