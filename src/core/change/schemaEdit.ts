// Changes of the database that a review asks for. They come from people and findings, never from the entity model.
import { z } from 'zod'
import { columnsText, columnText, relationText } from '../catalog/index.ts'
import { relationAddress } from '../catalog/schema.ts'

const name = z.string().trim().min(1).max(63)
const columns = z.array(name).min(1).max(32)
const table = relationAddress
const action = z.enum(['no action', 'restrict', 'cascade', 'set null', 'set default'])
const expression = z.string().trim().min(1).max(2000)
const typeText = z.string().trim().min(1).max(200)
const columnOf = z.strictObject({
  name,
  type: typeText,
  nullable: z.boolean(),
  default: expression.nullable(),
  /** Counted up by the database. */
  counted: z.boolean(),
})

export const schemaEdit = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('declare reference'),
    table,
    columns,
    target: table,
    targetColumns: columns,
    name,
    onDelete: action,
    onUpdate: action,
  }),
  z.strictObject({ do: z.literal('drop reference'), table, name }),
  z.strictObject({ do: z.literal('add index'), table, columns, name }),
  z.strictObject({ do: z.literal('drop index'), table, name }),
  z.strictObject({ do: z.literal('make unique'), table, columns, name }),
  z.strictObject({ do: z.literal('drop unique'), table, name }),
  z.strictObject({ do: z.literal('set key'), table, columns, name }),
  z.strictObject({ do: z.literal('require'), table, column: name }),
  z.strictObject({ do: z.literal('allow null'), table, column: name }),
  z.strictObject({ do: z.literal('set default'), table, column: name, expression: expression.nullable() }),
  z.strictObject({ do: z.literal('set type'), table, column: name, type: typeText }),
  /** Its check of the same values goes; the values turn into those of the type by their text. */
  z.strictObject({ do: z.literal('make enumerated'), table, column: name, type: relationAddress, labels: z.array(z.string().min(1).max(63)).min(1).max(1000) }),
  z.strictObject({ do: z.literal('make boolean'), table, column: name, yes: z.string().max(20), no: z.string().max(20) }),
  z.strictObject({ do: z.literal('add column'), table, column: columnOf }),
  z.strictObject({ do: z.literal('drop column'), table, column: name }),
  z.strictObject({ do: z.literal('add table'), table, columns: z.array(columnOf).min(1).max(100), key: columns }),
  z.strictObject({ do: z.literal('drop table'), table }),
  z.strictObject({ do: z.literal('rename table'), table, to: table }),
  z.strictObject({ do: z.literal('rename column'), table, column: name, to: name }),
  z.strictObject({ do: z.literal('set comment'), table, column: name.nullable(), text: z.string().max(5000).nullable() }),
  /** A statement that somebody read and agreed to, run before the step whose pre-check it makes pass. */
  z.strictObject({ do: z.literal('clean rows'), check: z.string().min(1), sql: z.string().trim().min(1).max(20_000), says: z.string().max(500) }),
])

type Frozen<T> = T extends (infer U)[] ? readonly Frozen<U>[] : T extends object ? { readonly [K in keyof T]: Frozen<T[K]> } : T
export type SchemaEdit = Frozen<z.infer<typeof schemaEdit>>
export type ColumnOf = Frozen<z.infer<typeof columnOf>>
export type EditOf<K extends SchemaEdit['do']> = Extract<SchemaEdit, { do: K }>

function _unreachable(e: never): never {
  throw new Error(`a schema edit of no known kind: ${JSON.stringify(e)}`)
}

// ---- what edits have to do with each other

/** Two edits of one key say the same thing differently: the later replaces nothing, so they conflict. */
export function schemaEditKey(e: SchemaEdit): string {
  if (e.do === 'clean rows') return `clean rows ${e.check}`
  const on = relationText(e.table)
  if ('column' in e && typeof e.column === 'string') {
    const facet =
      e.do === 'require' || e.do === 'allow null' ? 'null' : e.do === 'make enumerated' || e.do === 'make boolean' || e.do === 'set type' ? 'type' : e.do
    return `${facet} ${columnText(on, e.column)}`
  }
  if (e.do === 'add column') return `add column ${columnText(on, e.column.name)}`
  if ('name' in e) return `${e.do.replace(/^(drop|add|declare|make|set) /, '')} ${on} ${e.name}`
  return `${e.do} ${on}`
}

/** Relations and columns that are there only because of the edit. */
export function makes(e: SchemaEdit): readonly string[] {
  switch (e.do) {
    case 'add table':
      return [relationText(e.table)]
    case 'rename table':
      return [relationText(e.to)]
    case 'rename column':
      return [columnText(relationText(e.table), e.to)]
    case 'add column':
      return [columnText(relationText(e.table), e.column.name)]
    default:
      return []
  }
}

/** Relations and columns that the edit is about. */
export function touches(e: SchemaEdit): readonly string[] {
  if (e.do === 'clean rows') return []
  const on = relationText(e.table)
  const own = 'columns' in e && e.do !== 'add table' ? e.columns : 'column' in e && typeof e.column === 'string' ? [e.column] : []
  const other = e.do === 'declare reference' ? [relationText(e.target), ...e.targetColumns.map((c) => columnText(relationText(e.target), c))] : []
  return [...(e.do === 'add table' ? [] : [on]), ...own.map((c) => columnText(on, c)), ...other]
}

/** `from` and `to` of a rename as addresses; null for any other edit. */
export function renameOf(e: SchemaEdit): { readonly from: string; readonly to: string } | null {
  if (e.do === 'rename table') return { from: relationText(e.table), to: relationText(e.to) }
  const column = (name: string) => columnsText((e as EditOf<'rename column'>).table, [name])
  return e.do === 'rename column' ? { from: column(e.column), to: column(e.to) } : null
}
