// What the statement reader understands: one value per statement, names folded, nothing looked up.
import type { DefinedKind } from '../catalog/index.ts'
import type { CheckDefinition, ConstraintDefinition, Deferrable, IndexDefinition, Name, TypeName } from './definitions.ts'

export type * from './definitions.ts'

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
  /** OPTIONS (…) of a foreign table's column: `column_name=kind`. */
  readonly foreignOptions: readonly string[]
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
  /** USING: the access method. */
  readonly method: string | null
  readonly foreign: { readonly server: string; readonly options: readonly string[] } | null
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
  | { readonly kind: 'column options'; readonly column: string; readonly set: readonly string[]; readonly reset: readonly string[] }
  | { readonly kind: 'column foreign options'; readonly column: string; readonly changes: OptionChanges }
  | { readonly kind: 'foreign options'; readonly changes: OptionChanges }
  | { readonly kind: 'of type'; readonly type: Name | null }
  | { readonly kind: 'access method'; readonly method: string }
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

/** OPTIONS (ADD a '1', SET b '2', DROP c). */
export interface OptionChanges {
  readonly set: readonly string[]
  readonly drop: readonly string[]
}

/** How a statement names an object that is kept as the text that makes it. */
export interface ObjectName {
  readonly what: DefinedKind
  /** Empty for casts and transforms, which their types name. */
  readonly name: Name
  /** Operands of an operator (null for none), source and target of a cast, the type of a transform; where it is made, that of an operator class. */
  readonly types: readonly (TypeName | null)[]
  /** After USING or LANGUAGE. */
  readonly method: string | null
  /** CREATE OPERATOR CLASS … FAMILY; null where the server makes one of the same name. */
  readonly family?: Name | null
  /** Places of an operator's commutator and negator, where they stand without a schema. */
  readonly relatedAt?: NamedText['namesAt']
}

/** The whole statement, and where in it names of the object's schema stand without it: the draft knows the schema. */
export interface NamedText {
  readonly text: string
  readonly namesAt: readonly {
    readonly from: number /** The end of an operator, which is wrapped; null for a name, which gets its schema before it. */
    readonly to: number | null
  }[]
}

/** Tables that a statement puts into a publication or takes out of it. */
export interface PublishedTables {
  readonly change: 'add' | 'set' | 'drop'
  readonly tables: readonly { readonly name: Name; readonly only: boolean }[]
}

export interface PolicyClauses {
  /** Null where nothing is said; empty for PUBLIC. */
  readonly roles: readonly string[] | null
  readonly using: string | null
  readonly check: string | null
}

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
  | {
      readonly kind: 'create schema'
      readonly name: string
      readonly ifNotExists: boolean
      /** What is made in it along with it, names without a schema meant there. */
      readonly elements: readonly Statement[]
    }
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
      /** ALTER VIEW … AS: it must be there. */
      readonly mustExist: boolean
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
      readonly kind: 'create range'
      readonly name: Name
      readonly subtype: TypeName
      readonly operatorClass: Name | null
      readonly collation: Name | null
      readonly canonical: Name | null
      readonly difference: Name | null
      readonly multirange: Name | null
    }
  | ({
      readonly kind: 'create object'
      readonly object: ObjectName
      /** What a name for statistics is made up from; null stands for an expression. */
      readonly statistics: { readonly table: Name; readonly columns: readonly (string | null)[] } | null
      readonly tables: PublishedTables | null
      /** CREATE LANGUAGE … HANDLER; without, it is an extension's. */
      readonly handler: boolean
      readonly ifNotExists: boolean
    } & NamedText)
  | ({
      readonly kind: 'alter object'
      readonly object: ObjectName
      readonly to: { readonly part: 'name' | 'schema'; readonly name: string } | null
      readonly tables: PublishedTables | null
    } & NamedText)
  | { readonly kind: 'drop object'; readonly objects: readonly ObjectName[]; readonly ifExists: boolean }
  | ({
      readonly kind: 'create policy'
      readonly name: string
      readonly table: Name
      readonly permissive: boolean
      readonly command: 'all' | 'select' | 'insert' | 'update' | 'delete'
    } & PolicyClauses)
  | ({ readonly kind: 'alter policy'; readonly name: string; readonly table: Name; readonly to: string | null } & PolicyClauses)
  | { readonly kind: 'drop policy'; readonly name: string; readonly table: Name; readonly ifExists: boolean }
  | {
      readonly kind: 'create domain'
      readonly name: Name
      readonly type: TypeName
      readonly default: string | null
      readonly notNull: boolean
      readonly collation: Name | null
      readonly checks: readonly CheckDefinition[]
    }
  | ({
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
      /** Where the arguments behind ORDER BY of an ordered-set aggregate begin. */
      readonly orderedFrom: number | null
    } & NamedText)
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
  | { readonly kind: 'create other'; readonly what: string; readonly name: string }
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
  | { readonly on: 'object'; readonly object: ObjectName }
  | { readonly on: 'constraint' | 'trigger' | 'rule' | 'policy'; readonly name: string; readonly table: Name; readonly domain: boolean }
  | { readonly on: 'routine'; readonly name: Name; readonly argumentTypes: readonly TypeName[] }
  | { readonly on: 'other' }

/** The statement of one kind. */
export type StatementOf<K extends Statement['kind']> = Extract<Statement, { kind: K }>
