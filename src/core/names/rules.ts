// Naming rules that people set for a project: what words mean, how they are inflected, which prefixes go, which letter case names have.
import { z } from 'zod'
import { acronym } from './acronyms.ts'
import { plural as pluralOf, pluralWord, singular as singularOf, singularWord } from './inflect.ts'
import { camelCase, capitalised, kebabCase, pascalCase, snakeCase } from './words.ts'

const word = z
  .string()
  .max(60)
  .regex(/^[\p{L}\p{N}]+$/u, 'a word has letters and digits only')
  .refine((w) => w === w.toLowerCase(), 'words are given in small letters')
const schema = z.string().max(200)

export const caseStyles = ['PascalCase', 'camelCase', 'snake_case', 'kebab-case'] as const
export type CaseStyle = (typeof caseStyles)[number]

/** One rule of one project. Of two about the same thing, the later counts. */
export const namingRule = z.discriminatedUnion('rule', [
  /** The project's dictionary: `qty` is read as quantity, `crateid` as crate id. */
  z.strictObject({ rule: z.literal('word'), word, as: z.array(word).min(1).max(8) }),
  /** An irregular plural; the same word twice where it has one form. */
  z.strictObject({ rule: z.literal('plural'), one: word, many: word }),
  /** The first word of a schema's table names: left out of class names, or kept. */
  z.strictObject({ rule: z.literal('prefix'), schema, prefix: word, drop: z.boolean() }),
  /** Class names of a schema's tables: always singular, as the tables are written, or by what the schema's habit is. */
  z.strictObject({ rule: z.literal('number'), schema, tables: z.enum(['singular', 'as written', 'by habit']) }),
  /** Letter case of proposed names in the emitted language. */
  z.discriminatedUnion('of', [
    z.strictObject({ rule: z.literal('case'), target: z.literal('typescript'), of: z.literal('property'), as: z.enum(['camelCase', 'snake_case']) }),
    z.strictObject({ rule: z.literal('case'), target: z.literal('typescript'), of: z.literal('file'), as: z.enum(caseStyles) }),
    /** Of classes and properties alike: parentUrl, or parentURL. */
    z.strictObject({ rule: z.literal('case'), target: z.literal('typescript'), of: z.literal('acronym'), as: z.enum(['Url', 'URL']) }),
  ]),
])
export type NamingRule = z.infer<typeof namingRule>

/** What a rule is about: of several with the same text the last one counts. */
export function ruleKey(r: NamingRule): string {
  switch (r.rule) {
    case 'word':
      return `word ${r.word}`
    case 'plural':
      return `plural ${r.one}`
    case 'prefix':
      return `prefix ${r.schema} ${r.prefix}`
    case 'number':
      return `number ${r.schema}`
    case 'case':
      return `case ${r.target} ${r.of}`
    default:
      return unreachable(r)
  }
}

/** A rule as a sentence. */
export function ruleText(r: NamingRule): string {
  switch (r.rule) {
    case 'word':
      return `“${r.word}” is read as “${r.as.join(' ')}”`
    case 'plural':
      return r.one === r.many ? `“${r.one}” has no other plural` : `one “${r.one}”, several “${r.many}”`
    case 'prefix':
      return `the prefix “${r.prefix}” ${r.schema === '' ? '' : `of ${r.schema} `}is ${r.drop ? 'left out' : 'kept'}`
    case 'number': {
      const how = { singular: 'in the singular', 'as written': 'as their tables are written', 'by habit': 'by the habit of the schema' }[r.tables]
      return `classes ${r.schema === '' ? '' : `of ${r.schema} `}are named ${how}`
    }
    case 'case':
      if (r.of === 'acronym') return `acronyms in names are written as in ${r.as === 'URL' ? 'URL and ID' : 'Url and Id'}`
      return `${r.of === 'property' ? 'properties' : 'files'} are written in ${r.as}`
    default:
      return unreachable(r)
  }
}

function unreachable(r: never): never {
  throw new Error(`a naming rule of no known kind: ${JSON.stringify(r)}`)
}

/** Rules compiled into what names are made with. */
export interface Naming {
  /** The same text for the same rules; "" for none. */
  readonly key: string
  /** The words of an identifier as the project's dictionary reads them. */
  readonly read: (words: readonly string[]) => readonly string[]
  readonly singular: (words: readonly string[]) => readonly string[]
  readonly plural: (words: readonly string[]) => readonly string[]
  readonly className: (words: readonly string[]) => string
  readonly propertyName: (words: readonly string[]) => string
  readonly fileCase: CaseStyle
  /** Whether a rule says that a prefix of a schema's tables is left out; null where none says anything. */
  readonly prefixes: (schema: string) => ReadonlyMap<string, boolean>
  readonly number: (schema: string) => 'singular' | 'as written' | 'by habit'
}

export const styles = {
  PascalCase: pascalCase,
  camelCase,
  snake_case: snakeCase,
  'kebab-case': kebabCase,
} as const satisfies Record<CaseStyle, (words: readonly string[]) => string>

/** The last rule about each thing counts. O(rules). */
export function namingOf(rules: readonly NamingRule[]): Naming {
  const inForce = [...new Map(rules.map((r) => [ruleKey(r), r])).values()]
  const of = <K extends NamingRule['rule']>(kind: K) => inForce.filter((r): r is Extract<NamingRule, { rule: K }> => r.rule === kind)
  const dictionary = new Map(of('word').map((r) => [r.word, r.as]))
  const plurals = new Map(of('plural').map((r) => [r.one, r.many]))
  const singulars = new Map(of('plural').map((r) => [r.many, r.one]))
  const cases = new Map(of('case').map((r) => [r.of, r.as]))
  const property = of('case').find((r) => r.of === 'property')?.as === 'snake_case' ? snakeCase : camelCase
  const file = of('case').find((r) => r.of === 'file')
  const capital = cases.get('acronym') === 'URL' ? acronymCapital : undefined
  const prefixes = new Map<string, Map<string, boolean>>()
  for (const r of of('prefix')) prefixes.set(r.schema, (prefixes.get(r.schema) ?? new Map<string, boolean>()).set(r.prefix, r.drop))
  const numbers = new Map(of('number').map((r) => [r.schema, r.tables]))
  return {
    key: inForce.length === 0 ? '' : JSON.stringify(inForce.toSorted((a, b) => (ruleKey(a) < ruleKey(b) ? -1 : 1))),
    read: dictionary.size === 0 ? (words) => words : (words) => words.flatMap((w) => reading(w, dictionary)),
    singular: (words) => singularOf(words, (w) => singulars.get(w) ?? (plurals.has(w) ? w : singularWord(w))),
    plural: (words) => pluralOf(words, (w) => plurals.get(w) ?? (singulars.has(w) ? w : pluralWord(w))),
    className: (words) => pascalCase(words, capital),
    propertyName: (words) => property(words, capital),
    fileCase: file?.of === 'file' ? file.as : 'PascalCase',
    prefixes: (of_) => prefixes.get(of_) ?? none,
    number: (of_) => numbers.get(of_) ?? 'by habit',
  }
}

const none: ReadonlyMap<string, boolean> = new Map()

const acronymCapital = (word: string) => acronym(word) ?? capitalised(word)

/** Digits behind a word stay behind its last one: qty2 → quantity2. */
function reading(w: string, dictionary: ReadonlyMap<string, readonly string[]>): readonly string[] {
  const whole = dictionary.get(w)
  if (whole) return whole
  const [, letters, digits] = /^(\p{L}+)(\d+)$/u.exec(w) ?? []
  const read = letters === undefined ? undefined : dictionary.get(letters)
  return read ? read.map((x, i) => (i === read.length - 1 ? `${x}${digits}` : x)) : [w]
}

/** Where nobody set a rule. */
export const plainNaming: Naming = namingOf([])
