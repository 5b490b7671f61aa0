// Column types → TypeScript types, and the file that declares those TypeScript has no word for.
import type { Neutral } from '../../dialect/neutral.ts'
import { neutralType } from '../../dialect/neutralTypes.ts'
import type { EntityModel } from '../../model/index.ts'
import { docComment, quoteText } from './text.ts'

/** Aliases that `types.ts` declares where a model uses them. */
const aliases = {
  Decimal: { as: 'string', says: 'An exact decimal as text, such as "12.50": a number would lose digits.' },
  LocalDate: { as: 'string', says: 'A date without a time zone, YYYY-MM-DD.' },
  LocalTime: { as: 'string', says: 'A time of day as the database prints it, HH:MM:SS with fractions.' },
  LocalDateTime: { as: 'string', says: 'A date and time without a time zone, YYYY-MM-DD HH:MM:SS.' },
  Instant: { as: 'Date', says: 'A point in time.' },
  Interval: { as: 'string', says: 'A span of time as the database prints it.' },
  Uuid: { as: 'string', says: 'A UUID in its canonical text form.' },
  JsonValue: { as: 'null | boolean | number | string | JsonValue[] | { [key: string]: JsonValue }', says: 'Any JSON value.' },
} as const
type Alias = keyof typeof aliases

const ofKind = {
  integer: 'number',
  bigint: 'bigint',
  decimal: 'Decimal',
  float: 'number',
  text: 'string',
  boolean: 'boolean',
  date: 'LocalDate',
  time: 'LocalTime',
  'local datetime': 'LocalDateTime',
  instant: 'Instant',
  interval: 'Interval',
  bytes: 'Uint8Array',
  uuid: 'Uuid',
  json: 'JsonValue',
} as const satisfies Record<Exclude<Neutral['kind'], 'named' | 'list' | 'other'>, string>

export interface ValueTypes {
  /** The TypeScript type of a column type, without null. */
  readonly typeOf: (columnType: string) => { readonly text: string; readonly imports: readonly string[] }
  /** `types.ts`; null where no name is declared. */
  readonly file: () => string | null
}

/** Knows every named type of the model; remembers which aliases were asked for, so that the file declares no others. */
export function valueTypes(model: EntityModel): ValueTypes {
  const key = (t: { readonly schema: string; readonly name: string }) => `${t.schema} ${t.name}`
  const classes = new Set(model.entities.map((e) => e.name.toLowerCase()))
  const named = new Map([...model.enumerations, ...model.namedTypes, ...model.composites].map((t) => [key(t), t.typeName]))
  const declared = new Set(named.values())
  const used = new Set<Alias>()
  const aliasName = (a: Alias) => (classes.has(a.toLowerCase()) || declared.has(a) ? `${a}Value` : a)

  function print(n: Neutral): { readonly text: string; readonly imports: readonly string[] } {
    if (n.kind === 'list') {
      const inner = print(n.of)
      return { text: `${inner.text}[]`, imports: inner.imports }
    }
    if (n.kind === 'named') {
      const name = named.get(key(n)) as string
      return { text: name, imports: [name] }
    }
    if (n.kind === 'other') return { text: 'string', imports: [] }
    const word = ofKind[n.kind]
    if (!Object.hasOwn(aliases, word)) return { text: word, imports: [] }
    used.add(word as Alias)
    return { text: aliasName(word as Alias), imports: [aliasName(word as Alias)] }
  }
  /** As somebody chose for a native type, where that is not what its alias says already. */
  const chosen = (columnType: string, n: Neutral): string | null => {
    const target = model.typeTargets[columnType]
    const word = n.kind === 'named' || n.kind === 'list' || n.kind === 'other' ? null : ofKind[n.kind]
    const plain = word === null ? null : Object.hasOwn(aliases, word) ? aliases[word as Alias].as : word
    return target === undefined || plain === null || target === plain ? null : target
  }
  const typeOf = (columnType: string) => {
    const n = neutralType(model.dialect, columnType, (t) => named.has(key(t)))
    const other = chosen(columnType, n)
    return other === null ? print(n) : { text: other, imports: [] }
  }

  function file(): string | null {
    const own = [
      ...model.enumerations.map(
        (t) => `${docComment([`Enumerated type ${t.schema}.${t.name}.`], '')}export type ${t.typeName} = ${t.labels.map(quoteText).join(' | ') || 'never'}\n`,
      ),
      ...model.namedTypes.map((t) => `${docComment([`Domain ${t.schema}.${t.name} over ${t.type}.`], '')}export type ${t.typeName} = ${typeOf(t.type).text}\n`),
      ...model.composites.map(
        (t) =>
          `${docComment([`Composite type ${t.schema}.${t.name}.`], '')}export interface ${t.typeName} {\n${t.attributes.map((a) => `  ${memberName(a.name)}: ${typeOf(a.type).text} | null\n`).join('')}}\n`,
      ),
    ]
    const words = (Object.keys(aliases) as Alias[])
      .filter((a) => used.has(a))
      .map((a) => `${docComment([aliases[a].says], '')}export type ${aliasName(a)} = ${aliases[a].as.replaceAll('JsonValue', aliasName('JsonValue'))}\n`)
    return own.length + words.length === 0 ? null : [...words, ...own].join('\n')
  }
  return { typeOf, file }
}

const memberName = (name: string) => (/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) ? name : quoteText(name))
