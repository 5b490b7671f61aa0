// What the rows say about references: a value of its own, read once, kept apart from the catalog, and an argument of inference.

import { z } from 'zod'
import { columnsText, hashText, type RelationAddress } from '../catalog/index.ts'
import { keptWith } from '../memo/memo.ts'

const name = z.string()
const end = z.strictObject({ schema: name, table: name, columns: z.array(name).min(1) })
const count = z.int().min(0)

export const inclusion = z.strictObject({
  child: end,
  parent: end,
  /** True where only so many rows of the child were looked at. */
  sampled: z.boolean(),
  /** Rows with a value in every column, and those without, which refer to nothing. */
  rows: count,
  nulls: count,
  /** Different values among the former. */
  values: count,
  /** Rows and values that no row of the parent has. */
  orphans: count,
  missing: count,
  /** Rows of the parent that are referred to, and all there are. */
  parents: count,
  parentRows: count,
  /** Children per parent that has any; null where none has. */
  least: count.nullable(),
  median: count.nullable(),
  most: count.nullable(),
  /** What was asked, to be run again. */
  query: z.string(),
})

/** A column that says of which table the value beside it is: how often each word occurs, and how many of its rows are in the table it names. */
export const kindCount = z.strictObject({
  schema: name,
  table: name,
  kindColumn: name,
  idColumn: name,
  kinds: z.array(z.strictObject({ value: z.string(), rows: count, inclusion: inclusion.nullable() })),
  query: z.string(),
})

/** Rows of a table that joins two others without a unique rule: how many, how many pairs, and how many pairs come more than once. */
export const partnerCount = z.strictObject({ table: end, rows: count, pairs: count, repeated: count, most: count, query: z.string() })

const column = z.strictObject({ table: name, column: name })
/** Columns that statements of the application join by, and in how many of them; tables by their address. */
export const statementJoin = z.strictObject({ left: column, right: column, statements: count })

export const rowEvidence = z.strictObject({
  format: z.literal('pelvok.rows/1'),
  /** Where the rows were read: host, port and database, or a file; no secret. */
  source: z.string(),
  /** ISO 8601, UTC. */
  at: z.string(),
  inclusions: z.array(inclusion),
  kinds: z.array(kindCount),
  partners: z.array(partnerCount),
  joins: z.array(statementJoin),
  /** How many statements were looked at for them; null where there were none to look at. */
  statements: count.nullable(),
  /** What took too long or was refused, with what was said. */
  unread: z.array(z.strictObject({ child: end, parent: end, because: z.string() })),
})

export type Inclusion = Readonly<z.infer<typeof inclusion>>
export type KindCount = Readonly<z.infer<typeof kindCount>>
export type PartnerCount = Readonly<z.infer<typeof partnerCount>>
export type StatementJoin = Readonly<z.infer<typeof statementJoin>>
export type RowEvidence = Readonly<z.infer<typeof rowEvidence>>
export type RowEnd = Readonly<z.infer<typeof end>>

export const rowEnd = (a: RelationAddress, columns: readonly string[]): RowEnd => ({ schema: a.schema, table: a.name, columns: [...columns] })

/** What tells inclusions apart: both ends with their columns, in the order of the key. */
export const inclusionKey = (child: RowEnd, parent: RowEnd): string =>
  `${columnsText({ schema: child.schema, name: child.table }, child.columns)}>${columnsText({ schema: parent.schema, name: parent.table }, parent.columns)}`

/** Names one reading of rows: 64 lower-case hex digits. When and where they were read is part of it. */
export const evidenceHash = keptWith((rows: RowEvidence): string => hashText(JSON.stringify(rows)))
