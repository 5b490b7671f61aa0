// What the parts of a store are made of: its columns as SQL, its values as parameters, and each method with what it sends.
import { quoteAddress, quoteIdent } from '../../dialect/postgres/index.ts'
import type { Entity, Property } from '../../model/index.ts'
import type { Declared, EmitContext } from './entityFile.ts'

export interface StoreContext extends EmitContext {
  readonly e: Entity
  readonly names: Declared
  /** File of an entity's store without its extension, by its id. */
  readonly storeOf: (entity: string) => string
}

/** One method of a store, or one that there is not. */
export interface Operation {
  readonly name: string
  /** What it does, in a few words. */
  readonly says: string
  /** What it sends; conditions that vary stand in brackets. None where it only uses others. */
  readonly sql: readonly string[]
  /** Why there is none; null where there is. */
  readonly impossible: string | null
  /** The method without its comment; empty where there is none. */
  readonly text: string
}

export const capital = (name: string) => `${name.charAt(0).toUpperCase()}${name.slice(1)}`

export const operation = (name: string, says: string, sql: readonly string[], text: string): Operation => ({
  name,
  says,
  sql: sql.map(plainSql),
  impossible: null,
  text,
})

export const missing = (name: string, says: string, impossible: string): Operation => ({ name, says, sql: [], impossible, text: '' })

/** Names and types as the templates of emitted code have them, in which all SQL stands. */
export const inTemplate = (text: string) => text.replace(/[\\`]|\$(?=\{)/g, '\\$&')
export const ident = (name: string) => inTemplate(quoteIdent(name))
export const address = (of: Parameters<typeof quoteAddress>[0]) => inTemplate(quoteAddress(of))

/** The same as it is sent. */
export const plainSql = (template: string) => template.replace(/\\([\\`$])/g, '$1')

/** SQL as a literal of the emitted code. */
export const sqlLiteral = (template: string) => `\`${template}\``

export const valueIn = (p: Property, x: EmitContext) => x.types.ofProperty(p).value

/** A property of `of` as a parameter. */
export const written = (p: Property, of: string, x: EmitContext) => {
  const write = `${valueIn(p, x)}.write(${of})`
  return p.nullable ? `${of} === null ? null : ${write}` : write
}

/** The parts of a key that a method was given. */
export const keyParams = (key: readonly Property[], of: string, x: EmitContext) =>
  key.map((p) => written(p, key.length === 1 ? of : `${of}.${p.name}`, x)).join(', ')

export const columnList = (list: readonly Property[], alias = '') => list.map((p) => `${alias}${ident(p.column)}`).join(', ')

export const equal = (list: readonly Property[], alias = '', first = 1) => list.map((p, i) => `${alias}${ident(p.column)} = $${first + i}`).join(' AND ')

/** Those of an entity that have these columns, in their order. */
export const propertiesOf = (e: Entity, columns: readonly string[]): readonly Property[] =>
  columns.map((c) => e.properties.find((p) => p.column === c) as Property)

/** Do these columns tell rows apart? */
export function tellApart(e: Entity, columns: readonly string[]): boolean {
  const rules = [...(e.identity.kind === 'none' ? [] : [e.identity.columns]), ...e.uniques.map((u) => u.columns)]
  return rules.some((rule) => rule.every((c) => columns.includes(c)))
}
