// A JSON shape as a TypeScript type, and as what input is checked by.
import type { JsonShape } from '../../model/index.ts'
import { memberName, quoteText } from './text.ts'

const literal = (v: string | number | boolean | null) => (typeof v === 'string' ? quoteText(v) : String(v))
const words = { string: 'string', number: 'number', integer: 'number', boolean: 'boolean', null: 'null' } as const
const checks = { string: 'z.string()', number: 'z.number()', integer: 'z.number().int()', boolean: 'z.boolean()', null: 'z.null()' } as const

/** `any`: what is called any JSON value there. */
export function jsonTypeText(s: JsonShape, any: string): string {
  if ('enum' in s) return s.enum.map(literal).join(' | ')
  if ('const' in s) return literal(s.const)
  if ('anyOf' in s) return s.anyOf.map((x) => jsonTypeText(x, any)).join(' | ')
  if (s.type === 'array') {
    const item = jsonTypeText(s.items, any)
    return /[ |]/.test(item) ? `(${item})[]` : `${item}[]`
  }
  if (s.type !== 'object') return words[s.type]
  const members = Object.entries(s.properties ?? {}).map(([name, x]) => `${memberName(name)}${s.required?.includes(name) ? '' : '?'}: ${jsonTypeText(x, any)}`)
  const more = s.additionalProperties
  // An index of its own would have to hold the named members as well.
  const open = more === false || members.length > 0 ? [] : [`[key: string]: ${more ? jsonTypeText(more, any) : any}`]
  return `{ ${[...members, ...open].join('; ')} }`.replace('{  }', '{}')
}

export function jsonSchemaText(s: JsonShape): string {
  if ('enum' in s)
    return s.enum.every((v) => typeof v === 'string') ? `z.enum([${s.enum.map(literal).join(', ')}])` : union(s.enum.map((v) => `z.literal(${literal(v)})`))
  if ('const' in s) return `z.literal(${literal(s.const)})`
  if ('anyOf' in s) return union(s.anyOf.map(jsonSchemaText))
  if (s.type === 'array') return `z.array(${jsonSchemaText(s.items)})`
  if (s.type !== 'object') return checks[s.type]
  const members = Object.entries(s.properties ?? {}).map(
    ([name, x]) => `${memberName(name)}: ${jsonSchemaText(x)}${s.required?.includes(name) ? '' : '.optional()'}`,
  )
  const more = s.additionalProperties
  if (members.length === 0) return `z.record(z.string(), ${more ? jsonSchemaText(more) : 'of.json'})`
  return `z.object({ ${members.join(', ')} })${more === false ? '.strict()' : ''}`
}

const union = (list: readonly string[]) => (list.length === 1 ? (list[0] as string) : `z.union([${list.join(', ')}])`)
