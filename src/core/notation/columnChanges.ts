// What a notation says otherwise of the columns under its properties: changes of the database.
import { type Column, columnText } from '../catalog/index.ts'
import type { Entity } from '../model/index.ts'
import type { Differ } from './differ.ts'
import type { Place, PropertyLine } from './syntax.ts'
import { addressOf } from './world.ts'

export const newColumnOf = (d: Differ, p: PropertyLine) => ({
  name: p.column.value,
  type: p.type ? d.w.typeOf(p.type) : 'text',
  nullable: p.optional,
  default: p.default?.value ?? null,
  counted: p.counted !== null,
})

export function commentOn(d: Differ, id: string, text: string | null | undefined, at: Place, column: string | null): void {
  if (text === undefined) return
  const r = d.w.relations.get(id)
  const now = (column === null ? r?.comment : r?.columns.find((c) => c.name === column)?.comment) ?? null
  if (now !== text)
    d.schema(at, column === null ? id : columnText(id, column), now, text, { do: 'set comment', table: addressOf(id), column, text: text === '' ? null : text })
}

export function columnChanges(d: Differ, id: string, p: PropertyLine, entity: Entity | undefined): void {
  const r = d.w.relations.get(id)
  const c = d.w.columnNow(id, p)
  if (!r) return
  if (!c) return newColumn(d, id, p)
  typeChanges(d, id, p, c, entity?.properties.find((x) => x.column === c.name)?.nullable ?? c.nullable, r.kind === 'view' || r.kind === 'materialized view')
  valueChanges(d, id, p, c)
  commentOn(d, id, p.note?.value, p.note?.at ?? p.at, c.name)
}

function newColumn(d: Differ, id: string, p: PropertyLine): void {
  const of = columnText(id, p.column.value)
  if (d.unscoped(id)?.columns.some((x) => x.name === p.column.value))
    return d.refuse(p.column.at, `${of} is left out of the scope`, 'take it in first, under Scope')
  if (!p.type) return
  d.schema(p.at, of, null, `a new column of type ${d.w.typeOf(p.type)}`, { do: 'add column', table: addressOf(id), column: newColumnOf(d, p) })
  commentOn(d, id, p.note?.value, p.note?.at ?? p.at, p.column.value)
}

function typeChanges(d: Differ, id: string, p: PropertyLine, c: Column, nullable: boolean, ofView: boolean): void {
  if (!p.type) return
  const table = addressOf(id)
  const of = columnText(id, c.name)
  const type = p.type.value.text === c.type ? c.type : d.w.typeOf(p.type)
  if (ofView) {
    if (type !== c.type || nullable !== p.optional)
      d.refuse(p.type.at, `${of} is ${c.type}${nullable ? ', optional' : ''}`, 'that follows from the query of its view')
    return
  }
  if (type !== c.type) d.schema(p.type.at, of, c.type, type, { do: 'set type', table, column: c.name, type })
  const words = (n: boolean) => (n ? 'may be null' : 'not null')
  if (nullable !== p.optional) d.schema(p.type.at, of, words(nullable), words(p.optional), { do: p.optional ? 'allow null' : 'require', table, column: c.name })
}

function valueChanges(d: Differ, id: string, p: PropertyLine, c: Column): void {
  const of = columnText(id, c.name)
  const expression = c.default ? (c.default.canonical ?? c.default.written) : null
  if (p.default && p.default.value !== expression)
    d.schema(p.default.at, `${of}, its default`, expression, p.default.value, {
      do: 'set default',
      table: addressOf(id),
      column: c.name,
      expression: p.default.value,
    })
  if (p.counted && c.identity?.generation !== p.counted.value)
    d.refuse(p.counted.at, `${of} is ${c.identity ? `counted ${c.identity.generation}` : 'not counted'} in the database`, 'it is changed there')
  const generated = c.generated && (c.generated.expression.canonical ?? c.generated.expression.written)
  if (p.computed && p.computed.value.expression !== generated)
    d.refuse(p.computed.at, `${of} is ${generated === null ? 'not computed' : `computed as ${generated}`} in the database`, 'it is changed there')
}
