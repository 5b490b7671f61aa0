// The types of a schema being read from a script, and what a dialect decides about it.
import type {
  Catalog,
  CheckConstraint,
  Column,
  CompositeType,
  DefinedObject,
  Dialect,
  Domain,
  EnumeratedType,
  Extension,
  ForeignKey,
  Index,
  KeyConstraint,
  RangeType,
  Relation,
  RelationAddress,
  Routine,
  Sequence,
  Trigger,
} from '../catalog/index.ts'
import type { Lexis } from './lexis.ts'
import type { ColumnDefinition, CreateTable, KeyPart, TypeName } from './statement.ts'

export type Writable<T> = T extends readonly (infer U)[] ? Writable<U>[] : T extends object ? { -readonly [K in keyof T]: Writable<T[K]> } : T

export type DraftColumn = Writable<Column>
export type DraftKey = Writable<KeyConstraint>
export type DraftReference = Writable<ForeignKey>
export type DraftCheck = Writable<CheckConstraint>
export type DraftIndex = Writable<Index>
export type DraftTrigger = Writable<Trigger>
export type DraftRelation = Writable<Relation>

/** The script has something to say that is no structure: told with a code, worded in `diagnostic.ts`. */
export type Complaint =
  | { readonly code: 'unknown-object'; readonly what: string; readonly name: string }
  /** The table of a reference that an engine takes all the same. */
  | { readonly code: 'missing-target'; readonly table: string; readonly of: string; readonly columns: readonly string[] }
  | { readonly code: 'already-there'; readonly what: string; readonly name: string }
  | { readonly code: 'unknown-type'; readonly name: string; readonly column: string }
  | { readonly code: 'not-read'; readonly what: string; readonly name: string }
  | { readonly code: 'refused-by-server'; readonly what: string; readonly name: string; readonly because: string }
  | { readonly code: 'ignored-by-server'; readonly what: string; readonly name: string }

export interface Draft {
  readonly semantics: Semantics
  searchPath: readonly string[]
  readonly schemas: Map<string, { name: string; comment: string | null }>
  readonly extensions: Map<string, Writable<Extension>>
  readonly enums: Map<string, Writable<EnumeratedType>>
  readonly domains: Map<string, Writable<Domain>>
  readonly composites: Map<string, Writable<CompositeType>>
  readonly ranges: Map<string, Writable<RangeType>>
  /** By kind, schema and name. */
  readonly objects: Map<string, Writable<DefinedObject>>
  readonly sequences: Map<string, Writable<Sequence>>
  readonly relations: Map<string, DraftRelation>
  readonly routines: Map<string, Writable<Routine>>
  /** Kinds that are kept by name only, as `kind identity`. */
  readonly unmodelled: Map<string, { kind: string; identity: string }>
  /** Virtual tables by name, with their module: they and the tables they keep for themselves are told by name only (SQLite). */
  readonly virtual: Map<string, string>
  /** Temporary objects: no part of the schema, but later statements may name them. */
  readonly temporary: Set<string>
  /** Relations, sequences, indexes and composite types share one space of names per schema; constraints another. */
  readonly classNames: Set<string>
  readonly constraintNames: Set<string>
  /** The table an index or a key belongs to, by the index's name. */
  readonly tableOfIndex: Map<string, string>
  /** Partitions and children by their parent's key; null where that has changed since. */
  children: ReadonlyMap<string, readonly DraftRelation[]> | null
  /** Indexes that a reference brought along: one made later for the same columns takes their place (MySQL). */
  readonly impliedIndexes: Set<DraftIndex>
  complain: (c: Complaint) => void
  /** Complains at the place of the statement that made something; at none where that is not known. */
  complainOf: (made: object, c: Complaint) => void
  /** Notes that the statement at hand made this. */
  made: (x: object) => void
}

/** What a dialect makes of a statement where the dialects differ: names it makes up, types it spells its own way, what it ignores. */
export interface Semantics {
  readonly dialect: Dialect
  readonly lexis: Lexis
  /** How many columns a table or view has at most. */
  readonly mostColumns: number
  /** One database per connection: everything is in the schema "". */
  readonly fixedSchema: boolean
  readonly defaultSchema: string
  /** What two spellings of one name have in common. */
  readonly relationKey: (name: string) => string
  readonly columnKey: (name: string) => string
  /** A name as the engine prints it. */
  readonly quote: (name: string) => string
  /** Words that are no name unless quoted, in lower case. */
  readonly reserved: ReadonlySet<string>
  /** The engine's own spelling of a type. */
  readonly type: (t: TypeName | null, d: Draft, column: string) => string
  /** Columns of a primary key are made NOT NULL. */
  readonly keyIsNotNull: (table: DraftRelation, columns: readonly string[]) => boolean
  /** FOREIGN KEY name (…) without CONSTRAINT names the reference so. */
  readonly referenceTakesIndexName: boolean
  /** An index lies under every reference; made where there is none. */
  readonly indexesReferences: boolean
  /** REFERENCES at a column makes a key. */
  readonly inlineReferences: boolean
  /** Checks are kept. */
  readonly keepsChecks: boolean
  /** UNIQUE with the same columns as the primary key is the same index (PostgreSQL, parse_utilcmd.c, transformIndexConstraints). */
  readonly mergesEqualKeys: boolean
  /** CREATE UNIQUE INDEX makes a unique key. */
  readonly uniqueIndexIsKey: boolean
  /** Names that the engine makes up. `columns` are those of the key; null stands for an expression. */
  readonly keyName: (d: Draft, r: DraftRelation, kind: 'primary key' | 'unique', columns: readonly string[]) => string
  /** `label`: of an index, or of the index of an exclusion constraint. */
  readonly indexName: (d: Draft, r: DraftRelation, parts: readonly KeyPart[], include: readonly string[], label: 'idx' | 'excl') => string
  /** Of extended statistics; null where the engine has none. An expression stands as null. */
  readonly statisticsName: ((d: Draft, r: DraftRelation, columns: readonly (string | null)[]) => string) | null
  readonly referenceName: (d: Draft, r: DraftRelation, columns: readonly string[]) => string
  readonly checkName: (d: Draft, r: DraftRelation, column: string | null, expression: string) => string
  /** Does a key take the name it is given? */
  readonly primaryKeyName: string | null
  readonly defaultMethod: string
  /** What is special of a new column: serial types, AUTO_INCREMENT, rowid. Called when it is in the table. */
  readonly column: (d: Draft, r: DraftRelation, c: DraftColumn, definition: ColumnDefinition) => void
  /** What is special of a finished new table: ENGINE, WITHOUT ROWID. */
  readonly table: (d: Draft, r: DraftRelation, s: CreateTable) => void
  /** ALTER TABLE … ENGINE=…, COMMENT='…'. */
  readonly settings: (d: Draft, r: DraftRelation, settings: ReadonlyMap<string, string>) => void
  /** A default that counts with a sequence. */
  readonly nextValue: (sequence: RelationAddress) => string
  /** Completes what can be told only when the whole script is read. */
  readonly finish: (d: Draft) => void
  /** What is structure of all that was said; what is not is complained about. Absent where all of it is. */
  readonly settle?: (c: Catalog, d: Draft) => Catalog
  /** The sequence under a new identity column; null where the engine has none. */
  readonly ownedSequence: ((d: Draft, r: DraftRelation, column: string) => RelationAddress) | null
  readonly collation: (n: { readonly schema: string | null; readonly name: string }, d: Draft) => RelationAddress | null
  readonly operatorClass: (n: { readonly schema: string | null; readonly name: string }, method: string, d: Draft) => RelationAddress | null
  /** What a fresh database holds. */
  readonly base: Catalog
  /** Null where the storage or compression is that of the type anyway. */
  readonly storage: (storage: string, type: string) => Relation['columns'][number]['storage']
}
