// Names, types and constraints as statements write them.

/** A possibly qualified name. The schema is null where none is written; MySQL's `database.table` has one too. */
export interface Name {
  readonly schema: string | null
  readonly name: string
}

/** A type as it is written. */
export interface TypeName extends Name {
  /** Words of a type with several: `double precision`; else the name, folded. */
  readonly quoted: boolean
  /** In brackets after the name, as text: `10`, `2`, `'a'`. */
  readonly parameters: readonly string[]
  /** What follows the brackets: `with time zone`, `unsigned zerofill`, `day to second`. */
  readonly suffix: string
  readonly array: boolean
  /** All of it, white space collapsed. */
  readonly written: string
}

export type Action = 'no action' | 'restrict' | 'cascade' | 'set null' | 'set default'
export type Deferrable = 'no' | 'initially immediate' | 'initially deferred'

/** One column or expression of a key or an index. */
export interface KeyPart {
  readonly column: string | null
  readonly expression: string | null
  readonly collation: Name | null
  readonly operatorClass: Name | null
  readonly operatorClassOptions: readonly string[]
  readonly descending: boolean
  readonly nulls: 'first' | 'last' | null
  /** A prefix of the column, in characters (MySQL). */
  readonly length: number | null
}

interface Common {
  readonly name: string | null
  readonly deferrable: Deferrable
}
export interface KeyDefinition extends Common {
  readonly kind: 'primary key' | 'unique'
  readonly parts: readonly KeyPart[]
  readonly include: readonly string[]
  readonly options: readonly string[]
  readonly nullsNotDistinct: boolean
  /** ADD PRIMARY KEY USING INDEX. */
  readonly usingIndex: string | null
  readonly comment: string | null
  readonly method: string | null
}
export interface ReferenceDefinition extends Common {
  readonly kind: 'foreign key'
  readonly columns: readonly string[]
  readonly target: Name
  /** Empty where the target's primary key is meant. */
  readonly targetColumns: readonly string[]
  readonly onUpdate: Action
  readonly onDelete: Action
  readonly onDeleteColumns: readonly string[]
  readonly match: 'simple' | 'full' | 'partial'
  readonly notValid: boolean
  /** Written at a column: some servers read that and make nothing of it. */
  readonly inline: boolean
  /** The name in FOREIGN KEY name (…), which MySQL gives the index. */
  readonly indexName: string | null
}
export interface CheckDefinition extends Common {
  readonly kind: 'check'
  readonly expression: string
  readonly noInherit: boolean
  readonly notValid: boolean
  /** NOT ENFORCED */
  readonly notEnforced: boolean
  /** The column it is written at. */
  readonly column: string | null
}
export interface ExclusionDefinition extends Common {
  readonly kind: 'exclude'
  readonly method: string | null
  readonly elements: readonly (KeyPart & { readonly operator: Name })[]
  readonly include: readonly string[]
  readonly options: readonly string[]
  readonly predicate: string | null
}
/** INDEX or KEY inside CREATE TABLE (MySQL). */
export interface IndexDefinition {
  readonly kind: 'index'
  readonly name: string | null
  readonly unique: boolean
  readonly method: string | null
  readonly parts: readonly KeyPart[]
  readonly include: readonly string[]
  readonly predicate: string | null
  readonly nullsNotDistinct: boolean
  readonly options: readonly string[]
  readonly comment: string | null
}
export type ConstraintDefinition = KeyDefinition | ReferenceDefinition | CheckDefinition | ExclusionDefinition | IndexDefinition
