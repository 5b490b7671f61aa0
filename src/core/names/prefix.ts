// Table prefixes that carry no meaning of their own, found from the schema.
import { compareAddress, type RelationAddress } from '../catalog/index.ts'
import { splitWords } from './words.ts'

/**
 * Words to drop from the front of table names, per schema: a first word of at least three tables that looks like an
 * abbreviation (at most three letters, or no vowel), or that every table (at least four) begins with. Kept where dropping it
 * would leave nothing, or the name of another table. An empty schema gives an empty map.
 */
export function tablePrefixes(relations: readonly RelationAddress[]): ReadonlyMap<string, ReadonlySet<string>> {
  const bySchema = new Map<string, RelationAddress[]>()
  for (const r of relations.toSorted(compareAddress)) bySchema.set(r.schema, [...(bySchema.get(r.schema) ?? []), r])
  return new Map([...bySchema].map(([schema, list]) => [schema, prefixesOf(list.map((r) => splitWords(r.name)))]))
}

function prefixesOf(names: readonly (readonly string[])[]): ReadonlySet<string> {
  const counts = new Map<string, number>()
  for (const words of names) if (words.length > 1) counts.set(words[0] as string, (counts.get(words[0] as string) ?? 0) + 1)
  const whole = new Set(names.map((w) => w.join(' ')))
  const found = new Set<string>()
  for (const [prefix, n] of counts) {
    const abbreviation = n >= 3 && (prefix.length <= 3 || !/[aeiouy]/.test(prefix))
    const everywhere = n >= 4 && n === names.length
    const stripped = names.filter((w) => w.length > 1 && w[0] === prefix).map((w) => w.slice(1).join(' '))
    if ((abbreviation || everywhere) && !whole.has(prefix) && !stripped.some((s) => whole.has(s))) found.add(prefix)
  }
  return found
}

/** The words of a table name without its schema's prefix. */
export function tableWords(a: RelationAddress, prefixes: ReadonlyMap<string, ReadonlySet<string>>): readonly string[] {
  const words = splitWords(a.name)
  return words.length > 1 && prefixes.get(a.schema)?.has(words[0] as string) ? words.slice(1) : words
}
