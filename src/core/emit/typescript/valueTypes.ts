// Column types → TypeScript types, and the file that declares those TypeScript has no word for.
import type { Neutral } from '../../dialect/neutral.ts'
import { neutralType } from '../../dialect/neutralTypes.ts'
import type { EntityModel, NamedType, Property, TypeTarget } from '../../model/index.ts'
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

interface Printed {
  readonly text: string
  /** Names it takes from `types.ts`. */
  readonly imports: readonly string[]
}

export interface ValueTypes {
  /** The TypeScript type of a property, without null. */
  readonly ofProperty: (p: Pick<Property, 'type' | 'values' | 'flag' | 'target'>) => Printed
  /** `types.ts`; null where no name is declared. */
  readonly file: () => string | null
}

/** Knows every named type of the model; remembers which aliases were asked for, so that the file declares no others. */
export function valueTypes(model: EntityModel): ValueTypes {
  const key = (t: { readonly schema: string; readonly name: string }) => `${t.schema} ${t.name}`
  const ownNames = Object.values(model.typeNames)
  const classes = new Set([...model.entities.map((e) => e.name), ...ownNames].map((name) => name.toLowerCase()))
  const named = new Map([...model.enumerations, ...model.namedTypes, ...model.composites].map((t) => [key(t), t.typeName]))
  const domains = new Map(model.namedTypes.map((t) => [key(t), t]))
  const declared = new Set(named.values())
  const used = new Set<Alias>()
  const aliasName = (a: Alias) => (classes.has(a.toLowerCase()) || declared.has(a) ? `${a}Value` : a)
  const neutralOf = (columnType: string) => neutralType(model.dialect, columnType, (t) => named.has(key(t)))

  /** A word of TypeScript's own, or an alias of ours. */
  function word(text: string): Printed {
    if (!Object.hasOwn(aliases, text)) return { text, imports: [] }
    used.add(text as Alias)
    return { text: aliasName(text as Alias), imports: [aliasName(text as Alias)] }
  }
  function print(n: Neutral): Printed {
    if (n.kind === 'list') {
      const inner = print(n.of)
      return { text: `${inner.text}[]`, imports: inner.imports }
    }
    if (n.kind === 'named') {
      const name = named.get(key(n)) as string
      return { text: name, imports: [name] }
    }
    return word(n.kind === 'other' ? 'string' : ofKind[n.kind])
  }
  /** What values of it are without anybody's choice, aliases aside; null where there is no choice. */
  const plainOf = (n: Neutral): string | null => {
    if (n.kind === 'other') return 'string'
    if (n.kind === 'list') return null
    if (n.kind === 'named') {
      const domain = domains.get(key(n))
      return domain ? plainOf(neutralOf(domain.type)) : null
    }
    const text = ofKind[n.kind]
    return Object.hasOwn(aliases, text) && text !== 'JsonValue' ? aliases[text as Alias].as : text
  }
  const held = (n: Neutral, target: TypeTarget | null | undefined): Printed => {
    const plain = plainOf(n)
    return target === undefined || target === null || plain === null || target === plain ? print(n) : word(target)
  }
  const typeOf = (columnType: string): Printed => {
    const own = model.typeNames[columnType]
    if (own !== undefined) return { text: own, imports: [own] }
    const n = neutralOf(columnType)
    // The rule for a domain stands where the domain is declared.
    return n.kind === 'named' ? print(n) : held(n, model.typeTargets[columnType])
  }
  const ofProperty: ValueTypes['ofProperty'] = (p) => {
    if (p.flag) return word('boolean')
    if (p.values) return { text: p.values.map(quoteText).join(' | '), imports: [] }
    if (p.target === null) return typeOf(p.type)
    // An exception leaves out the project's own name and the domain's, which say how their other columns are held.
    const n = neutralOf(p.type)
    const domain = n.kind === 'named' ? domains.get(key(n)) : undefined
    return held(domain ? neutralOf(domain.type) : n, p.target)
  }
  const ruleOf = (t: NamedType): TypeTarget | undefined => {
    const spelled = Object.keys(model.typeTargets).find((type) => {
      const n = neutralOf(type)
      return n.kind === 'named' && key(n) === key(t)
    })
    return spelled === undefined ? undefined : model.typeTargets[spelled]
  }

  function file(): string | null {
    const own = [
      ...model.enumerations.map(
        (t) => `${docComment([`Enumerated type ${t.schema}.${t.name}.`], '')}export type ${t.typeName} = ${t.labels.map(quoteText).join(' | ') || 'never'}\n`,
      ),
      ...model.namedTypes.map(
        (t) =>
          `${docComment([`Domain ${t.schema}.${t.name} over ${t.type}.`], '')}export type ${t.typeName} = ${held(neutralOf(t.type), ruleOf(t) ?? model.typeTargets[t.type]).text}\n`,
      ),
      ...Object.entries(model.typeNames).map(
        ([type, name]) => `${docComment([`Values of the type ${type}.`], '')}export type ${name} = ${held(neutralOf(type), model.typeTargets[type]).text}\n`,
      ),
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
  return { ofProperty, file }
}

const memberName = (name: string) => (/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) ? name : quoteText(name))
