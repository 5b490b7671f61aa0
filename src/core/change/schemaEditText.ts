// A schema edit as a sentence.
import { relationText } from '../catalog/index.ts'
import type { SchemaEdit } from './schemaEdit.ts'

const list = (names: readonly string[]) => names.join(', ')

/** `field.crate(bay_id) is declared to refer to field.bay(id)`: what the database is to have, without a final period. */
export function schemaEditText(e: SchemaEdit): string {
  if (e.do === 'clean rows') return `rows are cleaned before "${e.check}": ${e.says}`
  const on = relationText(e.table)
  switch (e.do) {
    case 'declare reference': {
      const actions = [...(e.onDelete === 'no action' ? [] : [`on delete ${e.onDelete}`]), ...(e.onUpdate === 'no action' ? [] : [`on update ${e.onUpdate}`])]
      return `${on}(${list(e.columns)}) is declared to refer to ${relationText(e.target)}(${list(e.targetColumns)})${actions.length > 0 ? `, ${actions.join(', ')}` : ''}`
    }
    case 'drop reference':
      return `the reference ${e.name} of ${on} is dropped`
    case 'add index':
      return `${on} gets the index ${e.name} over ${list(e.columns)}`
    case 'drop index':
      return `the index ${e.name} of ${on} is dropped`
    case 'make unique':
      return `${list(e.columns)} of ${on} is made unique`
    case 'drop unique':
      return `the rule ${e.name} of ${on} is dropped`
    case 'set key':
      return `${on} gets the primary key ${list(e.columns)}`
    case 'require':
      return `${on}(${e.column}) accepts null no more`
    case 'allow null':
      return `${on}(${e.column}) accepts null`
    case 'set default':
      return e.expression === null ? `${on}(${e.column}) has no default any more` : `${on}(${e.column}) is ${e.expression} where nothing is said`
    case 'set type':
      return `${on}(${e.column}) becomes ${e.type}`
    case 'make enumerated':
      return `${on}(${e.column}) becomes the enumerated type ${relationText(e.type)}: ${list(e.labels)}`
    case 'make boolean':
      return `${on}(${e.column}) becomes a boolean: ${e.yes} is true, ${e.no} is false`
    case 'add column':
      return `${on} gets the column ${e.column.name} of type ${e.column.type}`
    case 'drop column':
      return `the column ${e.column} of ${on} is dropped`
    case 'add table':
      return `the table ${on} is made`
    case 'drop table':
      return `the table ${on} is dropped`
    case 'rename table':
      return `${on} is called ${relationText(e.to)} in the database`
    case 'rename column':
      return `${on}(${e.column}) is called ${e.to} in the database`
    case 'set comment':
      return `the comment on ${e.column === null ? on : `${on}(${e.column})`} is ${e.text === null ? 'taken away' : `"${e.text}"`}`
    default:
      return unreachable(e)
  }
}

function unreachable(e: never): never {
  throw new Error(`a schema edit of no known kind: ${JSON.stringify(e)}`)
}
