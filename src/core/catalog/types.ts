// The types of a Catalog, read off its schema, and the ids made at its boundary.
import type { z } from 'zod'
import type * as s from './schema.ts'

type DeepReadonly<T> = T extends (infer U)[] ? readonly DeepReadonly<U>[] : T extends object ? { readonly [K in keyof T]: DeepReadonly<T[K]> } : T
type Of<S extends z.ZodType> = DeepReadonly<z.infer<S>>

declare const brand: unique symbol
export type Brand<T, B extends string> = T & { readonly [brand]: B }
/** Hash of a catalog's canonical bytes: 64 lower-case hex digits of SHA-256. */
export type SnapshotHash = Brand<string, 'SnapshotHash'>

export type RelationAddress = Of<typeof s.relationAddress>
export type Expression = Of<typeof s.expression>
export type Dependency = Of<typeof s.dependency>
export type SequenceOptions = Of<typeof s.sequenceOptions>
export type Column = Of<typeof s.column>
export type KeyConstraint = Of<typeof s.keyConstraint>
export type ForeignKey = Of<typeof s.foreignKey>
export type ReferentialAction = Of<typeof s.referentialAction>
export type CheckConstraint = Of<typeof s.checkConstraint>
export type Index = Of<typeof s.index>
export type IndexColumn = Of<typeof s.indexColumn>
export type Exclusion = Of<typeof s.exclusion>
export type Policy = Of<typeof s.policy>
export type Trigger = Of<typeof s.trigger>
export type RewriteRule = Of<typeof s.rewriteRule>
export type RelationKind = Of<typeof s.relationKind>
export type Relation = Of<typeof s.relation>
export type EnumeratedType = Of<typeof s.enumeratedType>
export type Domain = Of<typeof s.domain>
export type CompositeType = Of<typeof s.compositeType>
export type RangeType = Of<typeof s.rangeType>
export type Sequence = Of<typeof s.sequence>
export type Routine = Of<typeof s.routine>
export type DefinedKind = Of<typeof s.definedKind>
/** An object kept as the text that makes it. */
export type DefinedObject = Of<typeof s.definedObject>
export type Extension = Of<typeof s.extension>
export type Unmodelled = Of<typeof s.unmodelled>
/** The structure of a database: hashed, compared, kept as the snapshot. */
export type Catalog = Of<typeof s.catalog>
export type Dialect = Catalog['dialect']

/** Figures that change while the structure does not; never hashed. Rows are estimates, null where the engine never counted. */
export interface Statistics {
  readonly at: string
  readonly relations: readonly { readonly schema: string; readonly name: string; readonly rows: number | null; readonly pages: number }[]
  /** Decimal text; null where the sequence was never used or may not be read. */
  readonly sequences: readonly { readonly schema: string; readonly name: string; readonly position: string | null }[]
}

/** How one catalog class of the server was accounted for: `counted` = `read` + `reported`. */
export interface CensusLine {
  /** The server's own catalog and the letter of the kind in it: `pg_class r`. */
  readonly class: string
  readonly counted: number
  readonly read: number
  readonly reported: number
}

/** Circumstances of a survey; never hashed. */
export interface Reading {
  readonly server: string
  readonly serverVersion: number
  readonly database: string
  readonly user: string
  readonly at: string
  readonly census: readonly CensusLine[]
  /** Relations whose rows this user may not read. */
  readonly notReadable: readonly RelationAddress[]
  /** Objects with privileges of their own; owners and grants are not modelled. */
  readonly withGrants: number
  /** Options that the server keeps for itself, by name: no structure. Absent in readings from before they were told. */
  readonly ownOptions?: readonly OwnOption[]
  /** How far a script was understood; absent where a server was read. */
  readonly script?: ScriptReading
}

/** An option that nobody can have set, on `count` objects of this kind. */
export interface OwnOption {
  readonly kind: string
  readonly name: string
  readonly count: number
}

export interface ScriptReading {
  /** What spoke for the dialect. */
  readonly because: string
  readonly understood: number
  readonly structural: number
  /** Statements about rows, rights and settings. */
  readonly ignored: number
  /** `file:line:column: severity: text`, the first ones. */
  readonly diagnostics: readonly string[]
  readonly diagnosticCount: number
}

/** One survey: three parts that never mix. */
export interface Survey {
  readonly structure: Catalog
  readonly statistics: Statistics
  readonly reading: Reading
}
