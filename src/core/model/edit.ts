// What a ruling or a proposal changes: one facet of one subject gets one value. Subjects are address texts of the catalog.
import { z } from 'zod'
import type { Brand } from '../catalog/index.ts'
import { jsonShape } from './jsonShape.ts'

export type FindingId = Brand<string, 'FindingId'>
export type LedgerSeq = Brand<number, 'LedgerSeq'>

const target = z.strictObject({
  schema: z.string(),
  table: z.string(),
  /** Referencing columns in key order, and the columns they refer to. */
  columns: z.array(z.string()).min(1),
  targetColumns: z.array(z.string()).min(1),
  /** The constraint that declares it; null where nothing does. */
  constraint: z.string().nullable(),
})

const kindTarget = z.strictObject({ value: z.string(), schema: z.string(), table: z.string(), columns: z.array(z.string()).min(1) })

const name = z.string().min(1).max(128)
const subject = z.string().min(1)

/** The subject of what is said of a whole project; no address of a catalog is written so. */
export const wholeProject = 'project:'

export const edit = z.discriminatedUnion('facet', [
  /** Of a relation: the class it becomes. */
  z.strictObject({ facet: z.literal('entity.name'), subject, value: name }),
  /** Of a table without a primary key: the columns of a unique rule, none of which is ever null, that tell its rows apart in the model; null for none. */
  z.strictObject({ facet: z.literal('entity.identity'), subject, value: z.array(name).min(1).max(32).nullable() }),
  /** Of a column. */
  z.strictObject({ facet: z.literal('property.name'), subject, value: name }),
  /** Of a set of columns: what they refer to; null for nothing. */
  z.strictObject({ facet: z.literal('reference.target'), subject, value: target.nullable() }),
  /** Of a column that says which table and one that says which row of it: what each word stands for; null for nothing. */
  z.strictObject({
    facet: z.literal('reference.kinds'),
    subject,
    value: z.strictObject({ kindColumn: z.string(), idColumn: z.string(), targets: z.array(kindTarget) }).nullable(),
  }),
  z.strictObject({ facet: z.literal('reference.ownName'), subject, value: name }),
  z.strictObject({ facet: z.literal('reference.inverseName'), subject, value: name }),
  /** Of a set of columns: that a row has at most one partner there, whatever the database allows; null for what it allows. */
  z.strictObject({ facet: z.literal('reference.atMostOne'), subject, value: z.literal(true).nullable() }),
  /** Of a set of columns: that every row has a partner there, though the columns accept null; null for what the database allows. */
  z.strictObject({ facet: z.literal('reference.always'), subject, value: z.literal(true).nullable() }),
  /** Of a column: the words it holds, and no others; null for any text. */
  z.strictObject({ facet: z.literal('column.values'), subject, value: z.array(z.string()).min(1).max(1000).nullable() }),
  /** Of a column that says yes or no: the words it says them by, while the code has a boolean; null for its words as they are. */
  z.strictObject({ facet: z.literal('column.flag'), subject, value: z.strictObject({ yes: z.string().max(20), no: z.string().max(20) }).nullable() }),
  /** Of a column: what it is kept for beside what it says: the version of a row, or who made or changed it and when; null for nothing. */
  z.strictObject({ facet: z.literal('column.role'), subject, value: z.enum(['version', 'audit']).nullable() }),
  /**
   * Of columns that stand together in many tables, as `columns:a,b`: one type for them in the code, under a name. Null for none.
   */
  z.strictObject({ facet: z.literal('columns.group'), subject, value: z.strictObject({ name }).nullable() }),
  /** Of a native type or domain, as `type:bigint`, or of one column: how its values are held in the code; null for what holds without it. */
  z.strictObject({ facet: z.literal('type.target'), subject, value: z.enum(['bigint', 'number', 'string', 'Date', 'JsonValue']).nullable() }),
  /** Of a column of JSON: the shape that its values have; null for any. */
  z.strictObject({ facet: z.literal('json.schema'), subject, value: jsonShape.nullable() }),
  /** Of a native type, as `type:numeric(10,2)`: a name of its own in the code, for all columns of it; null for none. */
  z.strictObject({ facet: z.literal('type.name'), subject, value: name.nullable() }),
  /** Of a table with two references: hidden behind a many-to-many between their targets, or an entity. */
  z.strictObject({
    facet: z.literal('join.reading'),
    subject,
    value: z.discriminatedUnion('as', [
      z.strictObject({
        as: z.literal('entity'),
        /** The two references that a many-to-many beside the entity goes over, to read by; without it there is none. */
        shortcut: z.strictObject({ first: z.string(), second: z.string() }).optional(),
      }),
      z.strictObject({ as: z.literal('many-to-many'), first: z.string(), second: z.string() }),
    ]),
  }),
  /** The property at the first reference's target, leading to the second's; and the reverse. */
  z.strictObject({ facet: z.literal('join.firstName'), subject, value: name }),
  z.strictObject({ facet: z.literal('join.secondName'), subject, value: name }),
  /** Of a relation: the subject area it stands in on the map; null for the one that is proposed. */
  z.strictObject({ facet: z.literal('table.area'), subject, value: z.string().trim().min(1).max(60).nullable() }),
  /** Of an area by the name that is proposed for it: what it is called; null for that name. Two areas of one name are one. */
  z.strictObject({ facet: z.literal('area.name'), subject, value: z.string().trim().min(1).max(60).nullable() }),
  /** Of the project: how sure a finding must be to need no ruling. */
  z.strictObject({ facet: z.literal('project.threshold'), subject: z.literal(wholeProject), value: z.number().min(0.5).max(1) }),
  /** Of a schema, relation, column or routine: does it take part? */
  z.strictObject({ facet: z.literal('scope'), subject, value: z.enum(['in', 'out']) }),
])

type Frozen<T> = T extends (infer U)[] ? readonly Frozen<U>[] : T extends object ? { readonly [K in keyof T]: Frozen<T[K]> } : T
export type Edit = Frozen<z.infer<typeof edit>>
export type Facet = Edit['facet']
export type ReferenceTarget = NonNullable<Extract<Edit, { facet: 'reference.target' }>['value']>
export type KindReading = NonNullable<Extract<Edit, { facet: 'reference.kinds' }>['value']>
export type TypeTarget = NonNullable<Extract<Edit, { facet: 'type.target' }>['value']>
export type Flag = NonNullable<Extract<Edit, { facet: 'column.flag' }>['value']>
export type KindTarget = Frozen<z.infer<typeof kindTarget>>
export type JoinReading = Extract<Edit, { facet: 'join.reading' }>['value']

/** What two edits must share for one to replace the other. */
export const editKey = (e: { readonly facet: string; readonly subject: string }): string => `${e.facet} ${e.subject}`
