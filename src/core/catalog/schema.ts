// What a database has: the one definition of a Catalog's structure, as Zod schemas from which the types come.
// Names are as stored, unquoted; server object ids never appear. Order of keys here is the order of keys in canonical bytes.
import { z } from 'zod'

/** Longer than any engine's own limit but SQLite's, which has none. */
const name = z.string().max(1000)
const comment = z.string().nullable()

export const relationAddress = z.strictObject({ schema: name, name })

/** An expression as its author wrote it and as the server prints it back; comparison uses `canonical` where both sides have one. */
export const expression = z.strictObject({ written: z.string(), canonical: z.string().nullable() })

/** Kinds of objects that are kept as the text that makes them, by the server's own names (PostgreSQL manual, 9.26.5, pg_identify_object). */
export const definedKind = z.enum([
  'type',
  'collation',
  'conversion',
  'operator',
  'operator family',
  'operator class',
  'cast',
  'transform',
  'language',
  'access method',
  'text search parser',
  'text search template',
  'text search dictionary',
  'text search configuration',
  'statistics object',
  'foreign-data wrapper',
  'server',
  'publication',
  'event trigger',
])

/** An object another one needs to exist first: PostgreSQL manual, 5.14 Dependency Tracking. */
export const dependency = z.strictObject({
  kind: z.enum(['relation', 'routine', 'type', 'sequence', 'extension', ...definedKind.exclude(['type']).options]),
  schema: name,
  /** For routines with the types of their input arguments: `area(integer, text)`; for objects kept as text as they are named there. */
  name,
})

export const sequenceOptions = z.strictObject({
  type: z.string(),
  /** Decimal text: the range of bigint does not fit a JSON number. */
  start: z.string(),
  increment: z.string(),
  minimum: z.string(),
  maximum: z.string(),
  cache: z.string(),
  cycle: z.boolean(),
})

export const column = z.strictObject({
  name,
  /** The engine's own spelling of the type, schema-qualified unless built in: `numeric(10,2)`, `field.health[]`. */
  type: z.string(),
  nullable: z.boolean(),
  default: expression.nullable(),
  generated: z.strictObject({ expression, kept: z.enum(['stored', 'virtual']) }).nullable(),
  /** A key the database counts up. Sequence and options are null where the engine has no sequences (AUTO_INCREMENT, rowid). */
  identity: z
    .strictObject({ generation: z.enum(['always', 'by default']), sequence: relationAddress.nullable(), options: sequenceOptions.nullable(), comment })
    .nullable(),
  /** What every UPDATE sets it to: MySQL's ON UPDATE CURRENT_TIMESTAMP. */
  onUpdate: expression.nullable(),
  /** Only where it differs from the collation of the type. */
  collation: relationAddress.nullable(),
  /** Only where it differs from the type's own. */
  storage: z.enum(['plain', 'external', 'extended', 'main']).nullable(),
  compression: z.enum(['pglz', 'lz4']).nullable(),
  statisticsTarget: z.int().nullable(),
  /** Planner options: `n_distinct=5`. */
  options: z.array(z.string()),
  /** True where the column exists only because a parent of `inherits` has it. */
  inherited: z.boolean(),
  comment,
})

const deferrable = z.enum(['no', 'initially immediate', 'initially deferred'])

export const keyConstraint = z.strictObject({
  name,
  /** Key order; never empty. */
  columns: z.array(name),
  include: z.array(name),
  deferrable,
  nullsNotDistinct: z.boolean(),
  /** Storage parameters of its index: `fillfactor=70`. */
  options: z.array(z.string()),
  /** The index of the partitioned parent that this one's index is attached to. */
  attachedTo: name.nullable(),
  clustered: z.boolean(),
  comment,
  /** The comment on its index, which is an object of its own. */
  indexComment: comment,
})

export const referentialAction = z.enum(['no action', 'restrict', 'cascade', 'set null', 'set default'])

export const foreignKey = z.strictObject({
  name,
  /** Referencing columns in key order; never empty, as long as `target.columns`. */
  columns: z.array(name),
  target: z.strictObject({ schema: name, table: name, columns: z.array(name) }),
  onUpdate: referentialAction,
  onDelete: referentialAction,
  /** The columns that ON DELETE SET NULL or SET DEFAULT is limited to; empty for all. */
  onDeleteColumns: z.array(name),
  match: z.enum(['simple', 'full', 'partial']),
  deferrable,
  /** False for NOT VALID: old rows were never checked. */
  validated: z.boolean(),
  /** False where the triggers that enforce it are disabled. */
  enforced: z.boolean(),
  comment,
})

export const checkConstraint = z.strictObject({
  name,
  expression,
  validated: z.boolean(),
  /** NO INHERIT: does not apply to children. */
  inheritable: z.boolean(),
  /** True where it exists only because the parent has it. */
  inherited: z.boolean(),
  comment,
})

export const indexColumn = z.strictObject({
  /** Null for an expression. */
  column: name.nullable(),
  expression: expression.nullable(),
  collation: relationAddress.nullable(),
  /** Only where it is not the default for the type and method; with its parameters as text. */
  operatorClass: relationAddress.nullable(),
  operatorClassOptions: z.array(z.string()),
  descending: z.boolean(),
  nullsFirst: z.boolean(),
})

export const index = z.strictObject({
  name,
  unique: z.boolean(),
  method: z.string(),
  columns: z.array(indexColumn),
  include: z.array(name),
  predicate: expression.nullable(),
  nullsNotDistinct: z.boolean(),
  options: z.array(z.string()),
  attachedTo: name.nullable(),
  clustered: z.boolean(),
  /** False where CREATE INDEX CONCURRENTLY failed midway. */
  valid: z.boolean(),
  statistics: z.array(z.strictObject({ position: z.int(), target: z.int() })),
  comment,
})

/** EXCLUDE: no two rows for which all operators hold (manual, CREATE TABLE). */
export const exclusion = z.strictObject({
  name,
  method: z.string(),
  elements: z.array(
    z.strictObject({
      ...indexColumn.shape,
      /** As an expression names it: `&&`, or with a schema where it is not built in. */
      operator: relationAddress,
    }),
  ),
  include: z.array(name),
  predicate: expression.nullable(),
  options: z.array(z.string()),
  deferrable,
  attachedTo: name.nullable(),
  clustered: z.boolean(),
  comment,
  indexComment: comment,
})

/** A policy of row security (manual, 5.9 and CREATE POLICY). */
export const policy = z.strictObject({
  name,
  permissive: z.boolean(),
  command: z.enum(['all', 'select', 'insert', 'update', 'delete']),
  /** Empty for everybody (PUBLIC). */
  roles: z.array(name),
  using: expression.nullable(),
  check: expression.nullable(),
  comment,
})

const firing = z.enum(['origin', 'replica', 'always', 'disabled'])
export const trigger = z.strictObject({ name, definition: expression, fires: firing, comment })
export const rewriteRule = z.strictObject({ name, definition: expression, fires: firing, comment })

export const relationKind = z.enum(['table', 'partitioned table', 'partition', 'view', 'materialized view', 'foreign table'])

export const relation = z.strictObject({
  kind: relationKind,
  schema: name,
  name,
  comment,
  unlogged: z.boolean(),
  /** Storage parameters and view options: `fillfactor=70`, `security_barrier=true`. */
  options: z.array(z.string()),
  /** As many as any engine takes (SQLite, Limits: 32,767 where it is built so; PostgreSQL 1,600; MySQL 4,096). */
  columns: z.array(column).max(4096),
  primaryKey: keyConstraint.nullable(),
  uniques: z.array(keyConstraint),
  foreignKeys: z.array(foreignKey),
  checks: z.array(checkConstraint),
  indexes: z.array(index),
  triggers: z.array(trigger),
  rules: z.array(rewriteRule),
  exclusions: z.array(exclusion),
  policies: z.array(policy),
  /** Parents by INHERITS, in their order (manual, 5.11); partitions have `partitionOf` instead. */
  inherits: z.array(relationAddress),
  /** The composite type of CREATE TABLE … OF. */
  ofType: relationAddress.nullable(),
  /** Only where it is not the server's own (heap). */
  accessMethod: name.nullable(),
  /** Where the rows of a foreign table are, with options as text: `table_name=crate`. */
  foreign: z
    .strictObject({
      server: name,
      options: z.array(z.string()),
      columns: z.array(z.strictObject({ column: name, options: z.array(z.string()) })),
    })
    .nullable(),
  /** How a partitioned table divides its rows: `RANGE (measured_at)`. */
  partitionKey: z.string().nullable(),
  partitionOf: z.strictObject({ parent: relationAddress, bound: z.string() }).nullable(),
  /** The query of a view or materialized view. */
  definition: expression.nullable(),
  replicaIdentity: z.union([
    /** Unknown: the server has a mark for it that this version does not know. */
    z.strictObject({ kind: z.enum(['default', 'full', 'nothing', 'unknown']) }),
    z.strictObject({ kind: z.literal('index'), index: name }),
  ]),
  rowSecurity: z.enum(['off', 'on', 'forced']),
  dependsOn: z.array(dependency),
})

export const enumeratedType = z.strictObject({ schema: name, name, labels: z.array(z.string()), comment })

export const domain = z.strictObject({
  schema: name,
  name,
  type: z.string(),
  nullable: z.boolean(),
  default: expression.nullable(),
  collation: relationAddress.nullable(),
  checks: z.array(z.strictObject({ name, expression, validated: z.boolean(), comment })),
  comment,
  dependsOn: z.array(dependency),
})

export const compositeType = z.strictObject({
  schema: name,
  name,
  attributes: z.array(z.strictObject({ name, type: z.string(), collation: relationAddress.nullable(), comment })),
  comment,
  dependsOn: z.array(dependency),
})

/** A range type with the multirange that the server makes along with it (manual, 8.17). */
export const rangeType = z.strictObject({
  schema: name,
  name,
  subtype: z.string(),
  /** Null before PostgreSQL 14. */
  multirange: relationAddress.nullable(),
  /** Only where it is not the default of the subtype. */
  operatorClass: relationAddress.nullable(),
  /** Only where it is not that of the subtype. */
  collation: relationAddress.nullable(),
  canonical: relationAddress.nullable(),
  difference: relationAddress.nullable(),
  comment,
  dependsOn: z.array(dependency),
})

/** An object that is kept as the statements that make it, in their order. */
export const definedObject = z.strictObject({
  kind: definedKind,
  /** "" for objects of the whole database. */
  schema: name,
  /** As SQL refers to it within its schema, quoted where needed: `kurz`, `+ (integer, integer)`, `ints USING btree`, `(text AS field.tag)`. */
  name,
  definition: z.array(expression),
  comment,
  dependsOn: z.array(dependency),
})

export const sequence = z.strictObject({
  schema: name,
  name,
  options: sequenceOptions,
  unlogged: z.boolean(),
  ownedBy: z.strictObject({ schema: name, table: name, column: name }).nullable(),
  comment,
})

export const routine = z.strictObject({
  kind: z.enum(['function', 'procedure', 'window function', 'aggregate']),
  schema: name,
  name,
  /** Types of the input arguments, which tell overloads apart: `integer, text`. */
  argumentTypes: z.string(),
  /** Arguments as declared, with names, modes and defaults. */
  arguments: z.string(),
  /** Null for procedures. */
  returns: z.string().nullable(),
  language: z.string(),
  definition: expression,
  comment,
  dependsOn: z.array(dependency),
})

export const extension = z.strictObject({ name, schema: name, version: z.string(), comment })

/** An object (or a property of one) that the engine has and this format does not describe yet: counted and named, never dropped. */
export const unmodelled = z.strictObject({ kind: z.string(), identity: z.string() })

export const catalog = z.strictObject({
  format: z.literal('pelvok.catalog/1'),
  dialect: z.enum(['postgresql', 'mysql', 'sqlite']),
  schemas: z.array(z.strictObject({ name, comment })),
  extensions: z.array(extension),
  enums: z.array(enumeratedType),
  domains: z.array(domain),
  composites: z.array(compositeType),
  ranges: z.array(rangeType),
  sequences: z.array(sequence),
  relations: z.array(relation),
  routines: z.array(routine),
  objects: z.array(definedObject),
  unmodelled: z.array(unmodelled),
})
