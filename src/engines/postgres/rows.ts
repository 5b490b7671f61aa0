// Rows as the catalog queries return them, aliased to these fields; object ids live here and nowhere else.
import type { DefinedKind } from '../../core/catalog/index.ts'

export type Oid = number

export interface SchemaRow {
  readonly oid: Oid
  readonly name: string
  readonly granted: boolean
}
export interface CommentRow {
  readonly catalog: string
  readonly oid: Oid
  readonly part: number
  readonly comment: string
}
export interface RelationRow {
  readonly oid: Oid
  readonly schema: string
  readonly name: string
  readonly kind: 'r' | 'p' | 'v' | 'm' | 'c' | 'f'
  readonly isPartition: boolean
  readonly rowType: Oid | null
  readonly persistence: string
  readonly options: readonly string[] | null
  readonly partitionKey: string | null
  readonly bound: string | null
  readonly definition: string | null
  readonly replica: string
  readonly replicaIndex: string | null
  readonly rowSecurity: boolean
  readonly forceRowSecurity: boolean
  readonly ofType: Oid | null
  readonly accessMethod: string | null
  readonly server: string | null
  readonly foreignOptions: readonly string[] | null
  readonly rows: number
  readonly pages: number
  readonly granted: boolean
  readonly readable: boolean
}
/** A parent of a table or partition. */
export interface ParentRow {
  readonly relation: Oid
  readonly schema: string
  readonly name: string
}
export interface ColumnRow {
  readonly relation: Oid
  readonly number: number
  readonly name: string
  readonly type: Oid
  readonly modifier: number
  readonly nullable: boolean
  /** Null where all of it is as the type says, or as nothing was said. */
  readonly rest: ColumnRest | null
}
export interface ColumnRest {
  readonly identity: string
  readonly generated: string
  /** 0 where the type has none. */
  readonly collation: Oid
  readonly storage: string
  readonly compression: string
  readonly statistics: number
  readonly local: boolean
  readonly options: readonly string[] | null
  readonly foreignOptions: readonly string[] | null
}
/** A type as some column has it. */
export interface TypeRow {
  readonly type: Oid
  readonly modifier: number
  readonly text: string
  readonly collation: Oid
  readonly storage: string
}
export interface DefaultRow {
  readonly oid: Oid
  readonly relation: Oid
  readonly number: number
  readonly expression: string
}
/** Numbers separated by spaces, as PostgreSQL prints its vectors; the driver's own reading of arrays is slow. */
export type NumberList = string
export interface ConstraintRow {
  readonly oid: Oid
  readonly name: string
  readonly kind: 'p' | 'u' | 'f' | 'c' | 'x'
  readonly relation: Oid
  readonly index: Oid
  readonly columns: NumberList | null
  /** Of a foreign key, as what follows. */
  readonly target: Oid | null
  readonly targetColumns: NumberList | null
  /** The letters for update and delete. */
  readonly actions: string | null
  readonly targetSchema: string | null
  readonly targetName: string | null
  readonly expression: string | null
  /** Null where all of it is as where nothing was said. */
  readonly rest: ConstraintRest | null
}
export interface ConstraintRest {
  readonly domain: Oid
  readonly parent: Oid
  readonly deferrable: boolean
  readonly deferred: boolean
  readonly validated: boolean
  readonly local: boolean
  /** NOT ENFORCED. */
  readonly notEnforced: boolean
  /** Of a temporal key or reference: WITHOUT OVERLAPS, PERIOD. */
  readonly period: boolean
  readonly noInherit: boolean
  readonly match: string
  readonly onDeleteColumns: NumberList | null
  readonly disabled: boolean
  /** Of an exclusion constraint, `schema.operator` each. */
  readonly operators: readonly string[] | null
}
export interface IndexRow {
  readonly oid: Oid
  readonly relation: Oid
  readonly name: string
  readonly method: string
  readonly unique: boolean
  readonly keyColumns: number
  readonly columns: NumberList
  readonly constraint: Oid | null
  readonly constraintKind: 'p' | 'u' | 'x' | null
  /** Null where it is valid, plain and complete, over columns in their usual order and collation by their types' own operator classes. */
  readonly rest: IndexRest | null
}
export interface IndexRest {
  readonly flags: NumberList
  readonly valid: boolean
  readonly clustered: boolean
  readonly nullsNotDistinct: boolean
  readonly options: readonly string[] | null
  readonly predicate: string | null
  readonly classes: NumberList
  readonly collations: NumberList
  readonly attachedTo: string | null
  readonly expressions: readonly (string | null)[] | null
}
export interface NamedRow {
  readonly catalog: string
  readonly oid: Oid
  readonly schema: string
  readonly name: string
}
export interface DefinitionRow {
  readonly oid: Oid
  readonly relation: Oid
  readonly name: string
  /** Null for the rule of a view itself. */
  readonly definition: string | null
  readonly fires: string
}
export interface PolicyRow {
  readonly oid: Oid
  readonly relation: Oid
  readonly name: string
  readonly command: string
  readonly permissive: boolean
  readonly roles: readonly string[]
  readonly using: string | null
  readonly check: string | null
}
export interface RangeRow {
  readonly oid: Oid
  readonly schema: string
  readonly name: string
  readonly granted: boolean
  readonly subtype: string
  readonly multirange: Oid
  readonly multirangeSchema: string | null
  readonly multirangeName: string | null
  readonly operatorClass: Oid
  readonly collation: Oid
  readonly canonicalSchema: string | null
  readonly canonicalName: string | null
  readonly differenceSchema: string | null
  readonly differenceName: string | null
}
export interface ObjectRow {
  readonly catalog: string
  readonly kind: DefinedKind
  readonly oid: Oid
  readonly schema: string
  readonly name: string
  readonly definition: readonly string[]
}
export interface EnumRow {
  readonly oid: Oid
  readonly schema: string
  readonly name: string
  readonly labels: readonly string[]
  readonly granted: boolean
}
export interface DomainRow {
  readonly oid: Oid
  readonly schema: string
  readonly name: string
  readonly type: string
  readonly nullable: boolean
  readonly expression: string | null
  readonly granted: boolean
  /** 0 where the type has none. */
  readonly collation: Oid
  readonly typeCollation: Oid
}
export interface SequenceRow {
  readonly oid: Oid
  readonly schema: string
  readonly name: string
  readonly persistence: string
  readonly type: string
  readonly granted: boolean
  readonly start: string
  readonly increment: string
  readonly minimum: string
  readonly maximum: string
  readonly cache: string
  readonly cycle: boolean
  readonly ownerKind: 'a' | 'i' | null
  readonly ownerRelation: Oid | null
  readonly ownerColumn: number | null
}
export interface RoutineRow {
  readonly oid: Oid
  readonly schema: string
  readonly name: string
  readonly kind: 'f' | 'p' | 'w' | 'a'
  readonly argumentTypes: string
  readonly arguments: string
  readonly returns: string | null
  readonly language: string
  readonly granted: boolean
  /** Input arguments as DROP takes them, ORDER BY of an ordered-set aggregate included. */
  readonly identity: string
  readonly definition: string | null
  /** `name=value` of settings that nobody can have said; null where there are none. */
  readonly ownSettings: readonly string[] | null
}
export interface AggregateRow {
  readonly oid: Oid
  readonly kind: string
  readonly transition: string
  readonly stateType: string
  readonly space: number
  readonly initial: string | null
  readonly final: string | null
  readonly finalExtra: boolean
  readonly finalModify: string
  readonly combine: string | null
  readonly serial: string | null
  readonly deserial: string | null
  readonly movingTransition: string | null
  readonly movingInverse: string | null
  readonly movingType: string | null
  readonly movingSpace: number
  readonly movingFinal: string | null
  readonly movingFinalExtra: boolean
  readonly movingFinalModify: string
  readonly movingInitial: string | null
  readonly sort: string | null
  readonly parallel: string
}
export interface ExtensionRow {
  readonly oid: Oid
  readonly name: string
  readonly schema: string
  readonly version: string
}
export interface DependencyRow {
  readonly catalog: string
  readonly oid: Oid
  readonly part: number
  readonly targetCatalog: string
  readonly targetPart: number
  readonly target: Oid
  readonly extension: string | null
}
export interface CensusRow {
  readonly class: string
  readonly n: number
}
export interface ReportRow {
  readonly class: string
  readonly kind: string
  readonly identity: string
}
export interface PropertyRow {
  readonly kind: string
  readonly identity: string
}
export interface ServerRow {
  readonly version: string
  readonly number: number
  readonly database: string
  readonly user: string
  readonly at: string
}

/** Everything one survey fetched, before it is linked. */
export interface Fetched {
  readonly server: ServerRow
  readonly schemas: readonly SchemaRow[]
  readonly comments: readonly CommentRow[]
  readonly relations: readonly RelationRow[]
  readonly columns: readonly ColumnRow[]
  readonly types: readonly TypeRow[]
  readonly constraints: readonly ConstraintRow[]
  readonly indexes: readonly IndexRow[]
  readonly parents: readonly ParentRow[]
  readonly names: readonly NamedRow[]
  readonly triggers: readonly DefinitionRow[]
  readonly rules: readonly DefinitionRow[]
  readonly policies: readonly PolicyRow[]
  readonly ranges: readonly RangeRow[]
  readonly objects: readonly ObjectRow[]
  readonly enums: readonly EnumRow[]
  readonly domains: readonly DomainRow[]
  readonly sequences: readonly SequenceRow[]
  readonly routines: readonly RoutineRow[]
  readonly aggregates: readonly AggregateRow[]
  readonly extensions: readonly ExtensionRow[]
  readonly dependencies: readonly DependencyRow[]
  readonly defaults: readonly DefaultRow[]
}

/** The count over all classes of the server, fetched while the rest is being linked. */
export interface Counted {
  readonly census: readonly CensusRow[]
  readonly reported: readonly ReportRow[]
  readonly properties: readonly PropertyRow[]
  readonly positions: readonly { readonly oid: Oid; readonly position: string | null }[]
  readonly options: readonly OptionRow[]
}
/** How often an option occurs, by what it hangs on. */
export interface OptionRow {
  readonly kind: 'column' | 'table' | 'partitioned table' | 'view' | 'index' | 'operator class'
  /** The access method of an index; empty for all others. */
  readonly method: string
  readonly name: string
  readonly n: number
}
