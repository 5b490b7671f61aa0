// Column types → TypeScript types, how values are read and written, what input is checked by, and the files that declare what TypeScript has no word for.
import type { Neutral } from '../../dialect/neutral.ts'
import { neutralType } from '../../dialect/neutralTypes.ts'
import type { EntityModel, JsonShape, NamedType, Property, TypeTarget } from '../../model/index.ts'
import { assignNames, camelCase, splitWords } from '../../names/index.ts'
import { jsonSchemaText, jsonTypeText } from './jsonType.ts'
import { pick, schemaSnippets, valueSnippets } from './snippets.ts'
import { docComment, memberName, quoteText, textList } from './text.ts'

/** Aliases that `types.ts` declares where a model uses them: what they are, and what comparing them in the code does that SQL does otherwise. */
const aliases = {
  Decimal: {
    as: 'string',
    says: 'An exact decimal as text, such as "12.50": a number would lose digits. "1.0" and "1.00" are equal in SQL and not as text, and text does not sort by value.',
  },
  LocalDate: { as: 'string', says: 'A date without a time zone, YYYY-MM-DD. As text it sorts by day for the years 1 to 9999.' },
  LocalTime: { as: 'string', says: 'A time of day as the database prints it, HH:MM:SS with fractions.' },
  LocalDateTime: { as: 'string', says: 'A date and time without a time zone, YYYY-MM-DD HH:MM:SS. As text it sorts by time where fractions are alike.' },
  Instant: {
    as: 'Date & { readonly micros?: number }',
    says: 'A point in time: a Date, and in micros what the database has below its milliseconds, 0 to 999. Two are compared by getTime() and micros, never by ===.',
  },
  Interval: { as: 'string', says: 'A span of time as the database prints it. "1 mon" and "30 days" are equal in SQL and not as text.' },
  Uuid: { as: 'string', says: 'A UUID in its canonical text form.' },
  JsonValue: {
    as: 'null | boolean | number | string | JsonValue[] | { [key: string]: JsonValue }',
    says: 'Any JSON value. Numbers beyond 15 digits lose some; of keys that come twice the last counts; equal values are not ===. Where a column accepts none, its own null is read as none.',
  },
} as const
type Alias = keyof typeof aliases

interface Kind {
  /** TypeScript's word, or an alias of ours. */
  readonly word: string
  /** Among `valueSnippets`. */
  readonly value: keyof typeof valueSnippets
}

const ofKind = {
  integer: { word: 'number', value: 'integer' },
  bigint: { word: 'bigint', value: 'bigint' },
  decimal: { word: 'Decimal', value: 'text' },
  float: { word: 'number', value: 'float' },
  text: { word: 'string', value: 'text' },
  boolean: { word: 'boolean', value: 'bool' },
  date: { word: 'LocalDate', value: 'text' },
  time: { word: 'LocalTime', value: 'text' },
  'local datetime': { word: 'LocalDateTime', value: 'text' },
  instant: { word: 'Instant', value: 'instant' },
  interval: { word: 'Interval', value: 'text' },
  bytes: { word: 'Uint8Array', value: 'bytes' },
  uuid: { word: 'Uuid', value: 'text' },
  json: { word: 'JsonValue', value: 'json' },
} as const satisfies Record<Exclude<Neutral['kind'], 'named' | 'list' | 'other'>, Kind>

/** How values are read where a project holds them otherwise than their type says; what is not here is held as text. */
const heldAs: Readonly<Record<string, keyof typeof valueSnippets>> = {
  'bigint number': 'safeInteger',
  'integer bigint': 'bigint',
  'decimal number': 'float',
  'local datetime Date': 'localMoment',
  'date Date': 'day',
  'text number': 'money',
  'other bigint': 'bits',
  'other number': 'smallBits',
}

/** What one property is in the files: its type, and expressions in terms of `values` and `schemas`. */
export interface Printed {
  readonly text: string
  /** Names it takes from `types.ts`. */
  readonly imports: readonly string[]
  /** `v.list(v.text)`, with `v` for `values.ts`. */
  readonly value: string
  /** `of.text(12)`, with `of` for `schemas.ts` and `z` for Zod. */
  readonly schema: string
}

export interface ValueTypes {
  /** The TypeScript type of a property, without null. */
  readonly ofProperty: (p: Pick<Property, 'type' | 'values' | 'flag' | 'target' | 'shape'>) => Printed
  /** `types.ts`; null where no name is declared. */
  readonly file: () => string | null
  /** `values.ts`, once every property was asked for. */
  readonly valuesFile: () => string
  /** `schemas.ts`; null where inputs need none of it. */
  readonly schemasFile: () => string | null
}

/** The names of the files' own constants: no type of the project takes one. */
const ownValues = new Set<string>(['parsed', 'printed', 'digits', 'parts', 'quoted', 'smallBits', ...Object.keys(valueSnippets)])

/** Knows every named type of the model; remembers what was asked for, so that the files declare nothing else. */
export function valueTypes(model: EntityModel): ValueTypes {
  const key = (t: { readonly schema: string; readonly name: string }) => `${t.schema} ${t.name}`
  const ownNames = Object.values(model.typeNames)
  const classes = new Set([...model.entities.map((e) => e.name), ...ownNames, ...model.groups.map((g) => g.typeName)].map((name) => name.toLowerCase()))
  const declaredTypes = [...model.enumerations, ...model.namedTypes, ...model.composites]
  const named = new Map(declaredTypes.map((t) => [key(t), t.typeName]))
  const enums = new Map(model.enumerations.map((t) => [key(t), t]))
  const domains = new Map(model.namedTypes.map((t) => [key(t), t]))
  const composites = new Map(model.composites.map((t) => [key(t), t]))
  const ofConstants = [...model.enumerations, ...model.composites]
  const constantNames = assignNames(
    ofConstants.map((t) => ({ scope: '', candidates: [camelCase(splitWords(t.typeName)), `${camelCase(splitWords(t.typeName))}Value`] })),
    (n) => ownValues.has(n),
  )
  const constants = new Map(ofConstants.map((t, i) => [key(t), constantNames[i] as string]))
  const declared = new Set(named.values())
  const used = new Set<Alias>()
  const usedValues = new Set<string>()
  const usedSchemas = new Set<string>()
  const usedConstants = new Set<string>()
  const aliasName = (a: Alias) => (classes.has(a.toLowerCase()) || declared.has(a) ? `${a}Value` : a)
  const neutralOf = (columnType: string) => neutralType(model.dialect, columnType, (t) => named.has(key(t)))

  /** A word of TypeScript's own, or an alias of ours. */
  function word(text: string): Pick<Printed, 'text' | 'imports'> {
    if (!Object.hasOwn(aliases, text)) return { text, imports: [] }
    used.add(text as Alias)
    return { text: aliasName(text as Alias), imports: [aliasName(text as Alias)] }
  }
  const value = (name: keyof typeof valueSnippets): string => {
    usedValues.add(name)
    return `v.${name}`
  }
  const schema = (snippet: keyof typeof schemaSnippets, text: string): string => {
    usedSchemas.add(snippet)
    return `of.${text}`
  }

  /** What input of a kind is checked by, where it is held as its type says. */
  function ownSchema(kind: Neutral['kind'], type: string): string {
    const size = /\((\d+)(?:,\s*(-?\d+))?\)/.exec(type)
    switch (kind) {
      case 'integer':
        return schema('integer', model.dialect === 'postgresql' && (type === 'smallint' || type === 'integer') ? type : 'wholeNumber')
      case 'bigint':
        return schema('bigint', 'bigint')
      case 'decimal':
        return schema('decimal', size && Number(size[2] ?? 0) >= 0 ? `decimal(${size[1]}, ${size[2] ?? 0})` : 'anyDecimal')
      case 'float':
        return 'z.number()'
      case 'boolean':
        return 'z.boolean()'
      case 'text':
        return size && /char/i.test(type) ? schema('text', `text(${size[1]})`) : 'z.string()'
      case 'date':
      case 'time':
      case 'uuid':
      case 'bytes':
        return schema(kind, kind)
      case 'local datetime':
        return schema('datetime', 'datetime')
      case 'instant':
        word('Instant')
        return schema('instant', 'instant')
      case 'json':
        word('JsonValue')
        return schema('json', 'json')
      default:
        return 'z.string()'
    }
  }
  /** What input is checked by, where it is held otherwise. */
  const schemaOf: Readonly<Record<TypeTarget, (kind: Neutral['kind']) => string>> = {
    bigint: (kind) => (kind === 'other' ? 'z.bigint()' : schema('bigint', 'bigint')),
    number: (kind) => (kind === 'bigint' ? schema('integer', 'wholeNumber') : 'z.number()'),
    string: () => 'z.string()',
    Date: () => 'z.date()',
    JsonValue: () => {
      word('JsonValue')
      return schema('json', 'json')
    },
  }

  function print(n: Neutral, type: string): Printed {
    if (n.kind === 'list') {
      const inner = print(n.of, type.slice(0, -2))
      const element = `${inner.text} | null`
      return { text: `(${element})[]`, imports: inner.imports, value: `${value('list')}(${inner.value})`, schema: `z.array(${inner.schema}.nullable())` }
    }
    if (n.kind === 'named') return printNamed(key(n))
    const kind: Kind = n.kind === 'other' ? { word: 'string', value: 'text' } : ofKind[n.kind]
    return { ...word(kind.word), value: value(kind.value), schema: ownSchema(n.kind, type) }
  }
  function printNamed(of: string): Printed {
    const name = named.get(of) as string
    const [labels, domain, parts] = [enums.get(of)?.labels, domains.get(of), composites.get(of)?.attributes]
    if (domain) {
      const inner = held(neutralOf(domain.type), ruleOf(domain) ?? model.typeTargets[domain.type], domain.type)
      return { text: name, imports: [name], value: inner.value, schema: inner.schema }
    }
    usedConstants.add(of)
    if (labels) {
      value('oneOf')
      return { text: name, imports: [name], value: `v.${constants.get(of)}`, schema: labels.length === 0 ? 'z.never()' : `z.enum(${textList(labels)})` }
    }
    value('composite')
    const members = (parts ?? []).map((a) => `${memberName(a.name)}: ${typeOf(a.type).schema}.nullable()`)
    return { text: name, imports: [name], value: `v.${constants.get(of)}`, schema: `z.object({ ${members.join(', ')} })` }
  }
  /** What values of it are without anybody's choice, aliases aside; null where there is no choice. */
  const plainOf = (n: Neutral): string | null => {
    if (n.kind === 'other') return 'string'
    if (n.kind === 'list') return null
    if (n.kind === 'named') {
      const domain = domains.get(key(n))
      return domain ? plainOf(neutralOf(domain.type)) : null
    }
    if (n.kind === 'instant') return 'Date'
    const text = ofKind[n.kind].word
    return Object.hasOwn(aliases, text) && text !== 'JsonValue' ? aliases[text as Alias].as : text
  }
  function held(n: Neutral, target: TypeTarget | null | undefined, type: string): Printed {
    const plain = plainOf(n)
    if (target === undefined || target === null || plain === null || target === plain) return print(n, type)
    return {
      ...word(target),
      value: value(target === 'JsonValue' ? 'json' : (heldAs[`${n.kind} ${target}`] ?? 'text')),
      schema: schemaOf[target](n.kind),
    }
  }
  const printedTypes = new Map<string, Printed>()
  function typeOf(columnType: string): Printed {
    const before = printedTypes.get(columnType)
    if (before) return before
    const printed = typePrinted(columnType)
    printedTypes.set(columnType, printed)
    return printed
  }
  function typePrinted(columnType: string): Printed {
    const n = neutralOf(columnType)
    const own = model.typeNames[columnType]
    // The rule for a domain stands where the domain is declared.
    const plain = n.kind === 'named' ? print(n, columnType) : held(n, model.typeTargets[columnType], columnType)
    return own === undefined ? plain : { ...plain, text: own, imports: [own] }
  }
  /** Names of the shapes that were said of JSON, by property. */
  const shapeNames = new Map<object, string>()
  const withShape = model.entities.flatMap((e) => e.properties.flatMap((p) => (p.shape ? [{ e, p }] : [])))
  const takenTypes = new Set([...classes, ...[...declared].map((n) => n.toLowerCase())])
  const givenShapes = assignNames(
    withShape.map(({ e, p }) => ({ scope: '', candidates: [`${e.name}${capital(p.name)}`, `${e.name}${capital(p.name)}Json`] })),
    (n) => takenTypes.has(n.toLowerCase()),
  )
  for (const [i, { p }] of withShape.entries()) shapeNames.set(p, givenShapes[i] as string)
  /** Null where the column holds no JSON any more. */
  function shaped(p: object & { readonly type: string }, shape: JsonShape): Printed | null {
    if (neutralOf(p.type).kind !== 'json') return null
    const name = shapeNames.get(p)
    const schemaText = jsonSchemaText(shape)
    if (schemaText.includes('of.json')) schema('json', 'json')
    const text = jsonTypeText(shape, word('JsonValue').text)
    return { text: name ?? text, imports: name === undefined ? [] : [name], value: `${value('jsonOf')}<${name ?? text}>()`, schema: schemaText }
  }
  const ofProperty: ValueTypes['ofProperty'] = (p) => {
    if (p.flag) return { ...word('boolean'), value: `${value('flag')}(${quoteText(p.flag.yes)}, ${quoteText(p.flag.no)})`, schema: 'z.boolean()' }
    if (p.values)
      return {
        text: p.values.map(quoteText).join(' | '),
        imports: [],
        value: `${value('oneOf')}(${textList(p.values)})`,
        schema: `z.enum(${textList(p.values)})`,
      }
    const said = p.shape === null || p.target === 'string' ? null : shaped(p, p.shape)
    if (said) return said
    if (p.target === null) return typeOf(p.type)
    // An exception leaves out the project's own name and the domain's, which say how their other columns are held.
    const n = neutralOf(p.type)
    const domain = n.kind === 'named' ? domains.get(key(n)) : undefined
    return domain ? held(neutralOf(domain.type), p.target, domain.type) : held(n, p.target, p.type)
  }
  function ruleOf(t: NamedType): TypeTarget | undefined {
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
          `${docComment([`Domain ${t.schema}.${t.name} over ${t.type}.`], '')}export type ${t.typeName} = ${held(neutralOf(t.type), ruleOf(t) ?? model.typeTargets[t.type], t.type).text}\n`,
      ),
      ...Object.entries(model.typeNames).map(
        ([type, name]) =>
          `${docComment([`Values of the type ${type}.`], '')}export type ${name} = ${held(neutralOf(type), model.typeTargets[type], type).text}\n`,
      ),
      ...model.composites.map(
        (t) =>
          `${docComment([`Composite type ${t.schema}.${t.name}.`], '')}export interface ${t.typeName} {\n${t.attributes.map((a) => `  ${memberName(a.name)}: ${typeOf(a.type).text} | null\n`).join('')}}\n`,
      ),
      ...withShape.flatMap(({ e, p }) => {
        if (!p.shape || neutralOf(p.type).kind !== 'json' || p.target === 'string') return []
        const text = jsonTypeText(p.shape, word('JsonValue').text)
        return [`${docComment([`What ${e.relation.name}.${p.column} holds.`], '')}export type ${shapeNames.get(p)} = ${text}\n`]
      }),
      ...model.groups.map(groupText),
    ]
    const words = (Object.keys(aliases) as Alias[])
      .filter((a) => used.has(a))
      .map((a) => `${docComment([aliases[a].says], '')}export type ${aliasName(a)} = ${aliases[a].as.replaceAll('JsonValue', aliasName('JsonValue'))}\n`)
    return own.length + words.length === 0 ? null : [...own, ...words].join('\n')
  }
  function groupText(g: EntityModel['groups'][number]): string {
    const first = model.entities.find((e) => e.id === g.entities[0])
    const members = g.columns.flatMap((c) => {
      const p = first?.properties.find((x) => x.column === c)
      return p ? [`  ${p.written === 'never' ? 'readonly ' : ''}${p.name}: ${ofProperty(p).text}${p.nullable ? ' | null' : ''}\n`] : []
    })
    const says = `What ${g.entities.length} entities have alike: ${g.columns.join(', ')}.`
    return `${docComment([says], '')}export interface ${g.typeName} {\n${members.join('')}}\n`
  }

  /** Aliases and classes of `types.ts` that a file's own text names, with that text as it has to be called here. */
  function taking(text: string, more: readonly string[]): { readonly imports: string; readonly text: string } {
    const needed = (['Instant', 'JsonValue'] as const).filter((a) => new RegExp(`<${a}>`).test(text))
    for (const a of needed) used.add(a)
    const names = [...new Set([...needed.map(aliasName), ...more])].sort()
    const renamed = needed.reduce((t, a) => t.replaceAll(`<${a}>`, `<${aliasName(a)}>`).replaceAll(`as ${a}`, `as ${aliasName(a)}`), text)
    return { imports: names.length === 0 ? '' : `import type { ${names.join(', ')} } from './types.js'\n\n`, text: renamed }
  }
  /** A composite may be made of others: those come first. */
  function depthOf(of: string): number {
    const inner = (composites.get(of)?.attributes ?? []).map((a) => {
      const n = neutralOf(a.type.replace(/(\[\])+$/, ''))
      return n.kind === 'named' ? depthOf(key(n)) : 0
    })
    return composites.has(of) ? 1 + Math.max(0, ...inner) : 0
  }
  function valuesFile(): string {
    const own = [...usedConstants].sort().flatMap((of) => {
      const [type, parts] = [named.get(of) as string, composites.get(of)?.attributes]
      if (parts)
        return [
          {
            name: type,
            depth: depthOf(of),
            text: `export const ${constants.get(of)}: Value<${type}> = composite<${type}>({ ${parts.map((a) => `${memberName(a.name)}: ${bare(typeOf(a.type).value)}`).join(', ')} })\n`,
          },
        ]
      const labels = enums.get(of)?.labels ?? []
      return [{ name: type, depth: 0, text: `export const ${constants.get(of)}: Value<${type}> = oneOf(${textList(labels)})\n` }]
    })
    const ordered = own.toSorted((a, b) => a.depth - b.depth)
    const made = taking(
      pick(valueSnippets, [...usedValues, 'required', 'optional', 'sessionSettings']),
      ordered.map((o) => o.name),
    )
    return `${made.imports}${made.text}${ordered.map((o) => `\n${o.text}`).join('')}`
  }
  function schemasFile(): string | null {
    if (usedSchemas.size === 0) return null
    const made = taking(pick(schemaSnippets, usedSchemas), [])
    return `import { z } from 'zod'\n${made.imports === '' ? '\n' : made.imports}${made.text}`
  }
  return { ofProperty, file, valuesFile, schemasFile }
}

const capital = (name: string) => `${name.charAt(0).toUpperCase()}${name.slice(1)}`

/** Within `values.ts` its own constants are called without it. */
const bare = (value: string) => value.replace(/\bv\./g, '')
