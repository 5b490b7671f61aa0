// What the statement reader understands: one value per statement, names folded, nothing looked up.

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

export interface SequenceSettings {
  readonly type: TypeName | null
  readonly start: string | null
  readonly increment: string | null
  /** Null for NO MINVALUE, undefined where nothing is said. */
  readonly minimum: string | null | undefined
  readonly maximum: string | null | undefined
  readonly cache: string | null
  readonly cycle: boolean | null
  /** Null for OWNED BY NONE. */
  readonly ownedBy: { readonly table: Name; readonly column: string } | null | undefined
  readonly name: Name | null
}

export interface ColumnDefinition {
  readonly name: string
  /** Written without quotes: a reserved word is no name then. */
  readonly bare: boolean
  readonly type: TypeName | null
  readonly notNull: boolean | null
  readonly default: string | null
  readonly generated: { readonly expression: string; readonly kept: 'stored' | 'virtual' } | null
  readonly identity: { readonly generation: 'always' | 'by default'; readonly settings: SequenceSettings } | null
  /** AUTO_INCREMENT, AUTOINCREMENT. */
  readonly counts: boolean
  /** ON UPDATE CURRENT_TIMESTAMP */
  readonly onUpdate: string | null
  readonly collation: Name | null
  readonly charset: string | null
  readonly storage: string | null
  readonly compression: string | null
  readonly comment: string | null
  readonly constraints: readonly ConstraintDefinition[]
}

/** Part of a CREATE TABLE that brings columns from elsewhere, at its place in the list. */
export interface LikeClause {
  readonly kind: 'like'
  readonly of: Name
  readonly including: ReadonlySet<string>
}
export type TableElement = { readonly kind: 'column'; readonly column: ColumnDefinition } | LikeClause | ConstraintDefinition

export interface CreateTable {
  readonly kind: 'create table'
  readonly name: Name
  readonly ifNotExists: boolean
  readonly temporary: boolean
  readonly unlogged: boolean
  readonly elements: readonly TableElement[]
  readonly inherits: readonly Name[]
  readonly ofType: Name | null
  readonly partitionKey: string | null
  readonly partitionOf: { readonly parent: Name; readonly bound: string } | null
  readonly options: readonly string[]
  /** ENGINE=InnoDB and the like, by the option's name in lower case. */
  readonly settings: ReadonlyMap<string, string>
  /** CREATE TABLE … AS. */
  readonly query: string | null
  readonly withoutRowid: boolean
  readonly strict: boolean
  readonly comment: string | null
  /** The whole statement, for engines that keep it. */
  readonly text: string
}

export type AlterAction =
  | { readonly kind: 'add column'; readonly column: ColumnDefinition; readonly ifNotExists: boolean; readonly place: string | 'first' | null }
  | { readonly kind: 'drop column'; readonly column: string; readonly ifExists: boolean }
  | { readonly kind: 'rename column'; readonly column: string; readonly to: string }
  | { readonly kind: 'change column'; readonly column: string; readonly definition: ColumnDefinition }
  | { readonly kind: 'rename'; readonly to: Name }
  | { readonly kind: 'set schema'; readonly schema: string }
  | { readonly kind: 'add constraint'; readonly constraint: ConstraintDefinition }
  | {
      readonly kind: 'drop constraint'
      readonly name: string
      readonly ifExists: boolean
      readonly of: 'any' | 'primary key' | 'foreign key' | 'index' | 'check'
    }
  | { readonly kind: 'rename constraint'; readonly name: string; readonly to: string }
  | { readonly kind: 'rename index'; readonly name: string; readonly to: string }
  | { readonly kind: 'validate constraint'; readonly name: string }
  | { readonly kind: 'alter constraint'; readonly name: string; readonly deferrable: Deferrable }
  | { readonly kind: 'column type'; readonly column: string; readonly type: TypeName; readonly collation: Name | null }
  | { readonly kind: 'column default'; readonly column: string; readonly expression: string | null }
  | { readonly kind: 'column null'; readonly column: string; readonly notNull: boolean }
  | { readonly kind: 'column identity'; readonly column: string; readonly identity: ColumnDefinition['identity'] }
  | { readonly kind: 'column plain'; readonly column: string }
  | { readonly kind: 'column storage'; readonly column: string; readonly storage: string }
  | { readonly kind: 'column compression'; readonly column: string; readonly compression: string }
  | { readonly kind: 'column statistics'; readonly column: string; readonly target: number }
  | { readonly kind: 'column options'; readonly column: string }
  | { readonly kind: 'attach partition'; readonly partition: Name; readonly bound: string }
  | { readonly kind: 'detach partition'; readonly partition: Name }
  | { readonly kind: 'inherit'; readonly parent: Name }
  | { readonly kind: 'no inherit'; readonly parent: Name }
  | { readonly kind: 'cluster'; readonly index: string | null }
  | { readonly kind: 'replica identity'; readonly identity: 'default' | 'full' | 'nothing' | { readonly index: string } }
  | { readonly kind: 'row security'; readonly enabled?: boolean; readonly forced?: boolean }
  | { readonly kind: 'firing'; readonly of: 'trigger' | 'rule'; readonly name: string; readonly fires: 'origin' | 'replica' | 'always' | 'disabled' }
  | { readonly kind: 'logged'; readonly logged: boolean }
  | { readonly kind: 'options'; readonly set: readonly string[]; readonly reset: readonly string[] }
  | { readonly kind: 'comment'; readonly text: string }
  | { readonly kind: 'settings'; readonly settings: ReadonlyMap<string, string> }
  /** Says nothing about the structure: OWNER TO, SET STATISTICS of an index, ENGINE. */
  | { readonly kind: 'nothing' }

export type Droppable =
  | 'table'
  | 'view'
  | 'materialized view'
  | 'foreign table'
  | 'sequence'
  | 'index'
  | 'type'
  | 'domain'
  | 'schema'
  | 'extension'
  | 'routine'
  | 'trigger'
  | 'rule'
  | 'other'

export type Statement =
  | CreateTable
  | { readonly kind: 'create schema'; readonly name: string; readonly ifNotExists: boolean }
  | { readonly kind: 'create extension'; readonly name: string; readonly schema: string | null; readonly version: string | null; readonly ifNotExists: boolean }
  | {
      readonly kind: 'create index'
      readonly table: Name
      readonly index: IndexDefinition
      readonly only: boolean
      readonly ifNotExists: boolean
    }
  | {
      readonly kind: 'create view'
      readonly name: Name
      readonly materialized: boolean
      readonly replace: boolean
      readonly ifNotExists: boolean
      readonly temporary: boolean
      readonly columns: readonly string[]
      readonly query: string
      readonly options: readonly string[]
      readonly text: string
    }
  | {
      readonly kind: 'create virtual table'
      readonly name: Name
      readonly module: string
      readonly arguments: readonly string[]
      readonly ifNotExists: boolean
    }
  | {
      readonly kind: 'create sequence'
      readonly name: Name
      readonly settings: SequenceSettings
      readonly unlogged: boolean
      readonly temporary: boolean
      readonly ifNotExists: boolean
    }
  | { readonly kind: 'create enum'; readonly name: Name; readonly labels: readonly string[] }
  | {
      readonly kind: 'create composite'
      readonly name: Name
      readonly attributes: readonly { readonly name: string; readonly type: TypeName; readonly collation: Name | null }[]
    }
  | {
      readonly kind: 'create domain'
      readonly name: Name
      readonly type: TypeName
      readonly default: string | null
      readonly notNull: boolean
      readonly collation: Name | null
      readonly checks: readonly CheckDefinition[]
    }
  | {
      readonly kind: 'create routine'
      readonly of: 'function' | 'procedure' | 'aggregate'
      readonly window: boolean
      readonly name: Name
      readonly replace: boolean
      readonly parameters: readonly { readonly mode: string; readonly name: string | null; readonly type: TypeName; readonly default: string | null }[]
      readonly returns:
        | { readonly type: TypeName; readonly setOf: boolean }
        | { readonly table: readonly { readonly name: string; readonly type: TypeName }[] }
        | null
      readonly language: string
      readonly text: string
    }
  | {
      readonly kind: 'create trigger'
      readonly name: Name
      readonly table: Name
      readonly replace: boolean
      readonly ifNotExists: boolean
      readonly text: string
    }
  | { readonly kind: 'create rule'; readonly name: string; readonly table: Name; readonly replace: boolean; readonly text: string }
  /** Something that is kept by name only. */
  | { readonly kind: 'create other'; readonly what: string; readonly name: string; readonly table?: Name }
  | {
      readonly kind: 'alter table'
      readonly table: Name
      readonly of: 'table' | 'view' | 'materialized view' | 'sequence' | 'index' | 'foreign table'
      readonly only: boolean
      readonly ifExists: boolean
      readonly actions: readonly AlterAction[]
    }
  | { readonly kind: 'alter sequence'; readonly name: Name; readonly settings: SequenceSettings; readonly ifExists: boolean }
  | {
      readonly kind: 'alter index'
      readonly name: Name
      readonly action: { readonly kind: 'attach'; readonly index: Name } | { readonly kind: 'statistics'; readonly position: number; readonly target: number }
    }
  | { readonly kind: 'alter type'; readonly of: 'type' | 'domain'; readonly name: Name; readonly action: TypeAction }
  | {
      readonly kind: 'rename other'
      readonly what: Droppable
      readonly name: Name
      readonly table: Name | null
      readonly to: string
      readonly schema: boolean
      readonly argumentTypes: readonly TypeName[] | null
    }
  /** RENAME TABLE a TO b, c TO d (MySQL): in order, so that two may change places. */
  | { readonly kind: 'rename tables'; readonly pairs: readonly { readonly table: Name; readonly to: Name }[] }
  | {
      readonly kind: 'drop'
      readonly what: Droppable
      readonly names: readonly { readonly name: Name; readonly argumentTypes: readonly TypeName[] | null }[]
      readonly table: Name | null
      readonly ifExists: boolean
      readonly cascade: boolean
    }
  | { readonly kind: 'comment'; readonly on: CommentTarget; readonly text: string | null }
  | { readonly kind: 'search path'; readonly schemas: readonly string[] }
  /** Rows follow as lines, up to one that says `\.`. */
  | { readonly kind: 'rows follow' }
  /** On the closed list of what says nothing about the structure. */
  | { readonly kind: 'ignored' }

export type TypeAction =
  | { readonly kind: 'rename'; readonly to: string }
  | { readonly kind: 'set schema'; readonly schema: string }
  | { readonly kind: 'add value'; readonly value: string; readonly before: string | null; readonly after: string | null; readonly ifNotExists: boolean }
  | { readonly kind: 'rename value'; readonly value: string; readonly to: string }
  | { readonly kind: 'add attribute'; readonly name: string; readonly type: TypeName }
  | { readonly kind: 'drop attribute'; readonly name: string }
  | { readonly kind: 'alter attribute'; readonly name: string; readonly type: TypeName }
  | { readonly kind: 'rename attribute'; readonly name: string; readonly to: string }
  | { readonly kind: 'default'; readonly expression: string | null }
  | { readonly kind: 'null'; readonly notNull: boolean }
  | { readonly kind: 'add check'; readonly check: CheckDefinition }
  | { readonly kind: 'drop check'; readonly name: string }
  | { readonly kind: 'rename check'; readonly name: string; readonly to: string }
  | { readonly kind: 'validate check'; readonly name: string }
  | { readonly kind: 'nothing' }

export type CommentTarget =
  | { readonly on: 'relation' | 'type' | 'sequence' | 'index' | 'schema' | 'extension'; readonly name: Name }
  | { readonly on: 'column'; readonly table: Name; readonly column: string }
  | { readonly on: 'constraint' | 'trigger' | 'rule'; readonly name: string; readonly table: Name; readonly domain: boolean }
  | { readonly on: 'routine'; readonly name: Name; readonly argumentTypes: readonly TypeName[] }
  | { readonly on: 'other' }

/** The statement of one kind. */
export type StatementOf<K extends Statement['kind']> = Extract<Statement, { kind: K }>
