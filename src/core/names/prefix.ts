// Table prefixes that carry no meaning of their own, found from the schema.
import { compareAddress, type RelationAddress } from '../catalog/index.ts'
import { recordWords } from './records.ts'
import { splitWords } from './words.ts'

/**
 * Words to drop from the front of table names, per schema: a first word of at least three tables that looks like an
 * abbreviation (at most three letters, or no vowel), or that every table (at least four) begins with. Kept where dropping it
 * would leave nothing, the name of another table, or the same as dropping another prefix: then the prefix tells tables apart. An empty schema gives an empty map.
 */
export function tablePrefixes(relations: readonly RelationAddress[]): ReadonlyMap<string, ReadonlySet<string>> {
  const bySchema = new Map<string, RelationAddress[]>()
  for (const r of relations.toSorted(compareAddress)) bySchema.set(r.schema, [...(bySchema.get(r.schema) ?? []), r])
  return new Map([...bySchema].map(([schema, list]) => [schema, prefixesOf(list.map((r) => splitWords(r.name)))]))
}

/** What tables begin with to say what kind of table they are. */
const linkWords: ReadonlySet<string> = new Set(['link', 'assoc', 'xref', 'join', 'table', 'tabl'])

/** A first word that says what a table keeps is no prefix without a meaning: `log_order` is no order. */
const telling: ReadonlySet<string> = new Set([...recordWords, 'hst', 'aud', 'arch', 'new', 'test', 'blacklist', 'blocked'])

function prefixesOf(names: readonly (readonly string[])[]): ReadonlySet<string> {
  const tails = new Map<string, string[]>()
  for (const words of names) if (words.length > 1) tails.set(words[0] as string, [...(tails.get(words[0] as string) ?? []), words.slice(1).join(' ')])
  const whole = new Set(names.map((w) => w.join(' ')))
  const candidates = [...tails].filter(([prefix, list]) => {
    const abbreviation = list.length >= 3 && (prefix.length <= 3 || !/[aeiouy]/.test(prefix) || linkWords.has(prefix))
    const everywhere = list.length >= 4 && list.length === names.length
    return (abbreviation || everywhere) && !telling.has(prefix) && !whole.has(prefix) && !list.some((tail) => whole.has(tail))
  })
  const owners = new Map<string, number>()
  for (const [, list] of candidates) for (const tail of new Set(list)) owners.set(tail, (owners.get(tail) ?? 0) + 1)
  return new Set(candidates.filter(([, list]) => list.every((tail) => owners.get(tail) === 1)).map(([prefix]) => prefix))
}

/** What views begin with to say that they are views. */
const viewWords: ReadonlySet<string> = new Set(['v', 'vw', 'view', 'mv', 'mview'])

const saysView = (a: RelationAddress & { readonly kind?: string }) => a.kind?.includes('view') === true && viewWords.has(splitWords(a.name)[0] ?? '')

/** The words of a table name without its schema's prefix; of a view, without what only says that it is one. */
export function tableWords(a: RelationAddress & { readonly kind?: string }, prefixes: ReadonlyMap<string, ReadonlySet<string>>): readonly string[] {
  const words = splitWords(a.name)
  return words.length > 1 && (saysView(a) || prefixes.get(a.schema)?.has(words[0] as string)) ? words.slice(1) : words
}

/**
 * The words of each table name, and the tables whose prefix is left out. It stays where the rest says nothing (a number, a letter), or is what
 * another table is called, in any schema: then it tells the two apart. A view leaves out what only says that it is one. `asOne`: the same text for the singular and the plural.
 */
export function wordsWithoutPrefix<R extends RelationAddress & { readonly kind?: string }>(
  relations: readonly R[],
  prefixes: ReadonlyMap<string, ReadonlySet<string>>,
  asOne: (words: readonly string[]) => string,
): { readonly words: ReadonlyMap<R, readonly string[]>; readonly dropped: ReadonlySet<R> } {
  const short = new Map(relations.map((r) => [r, tableWords(r, prefixes)]))
  const called = new Map<string, number>()
  for (const [r, words] of short) if (!saysView(r)) called.set(asOne(words), (called.get(asOne(words)) ?? 0) + 1)
  const dropped = new Set<R>()
  const words = new Map(
    relations.map((r) => {
      const full = splitWords(r.name)
      const rest = short.get(r) as readonly string[]
      const says = /^\p{L}/u.test(rest[0] ?? '') && rest.some((w) => w.length > 1 && /\p{L}/u.test(w))
      if (rest.length === full.length || !says || (!saysView(r) && (called.get(asOne(rest)) ?? 0) > 1)) return [r, full] as const
      dropped.add(r)
      return [r, rest] as const
    }),
  )
  return { words, dropped }
}
