// Are the tables of a schema named in the singular or in the plural, and what is one row of each called?
import { type Relation, relationText } from '../catalog/index.ts'
import { type Naming, splitWords } from '../names/index.ts'

/** Fewer tables than this have no habit. */
const fewest = 5
/** In a schema that names tables in the singular, so large a part may look like plurals. */
const mostByLooks = 0.2

/** Initials end in any letter: gps, tls; a word without a vowel is one of several (pcs) only where others are. */
const areInitials = (singular: string) => !/[aeiouy]/.test(singular)

export interface ClassWords {
  /** By relation text. */
  readonly words: ReadonlyMap<string, readonly string[]>
  /** Relations whose last word looks like a plural and is left as it is. */
  readonly kept: ReadonlySet<string>
}

/**
 * The words of each class, in the singular. Where the tables of a schema are named so already, initials that end in "s" (gps) are a plural
 * only where their singular stands in another name. O(relations); all identifiers are read only where
 * that is asked.
 */
export function classWords(
  relations: readonly Relation[],
  tableWords: (r: Relation) => readonly string[],
  spelled: (identifier: string) => readonly string[],
  naming: Naming,
): ClassWords {
  const wholes = new Set(relations.map((r) => splitWords(r.name).join(' ')))
  /** A table that is called in the plural is one of its rows in front of others: orders_items holds items of an order. */
  const inFront = (w: string) => (wholes.has(w) ? (naming.singular([w])[0] as string) : w)
  const plain = new Map(
    relations.map((r) => {
      const words = tableWords(r)
      return [r, naming.number(r.schema) === 'as written' ? words : words.map((w, i) => (i === words.length - 1 ? w : inFront(w)))]
    }),
  )
  const singular = new Map([...plain].map(([r, words]) => [r, naming.singular(words)]))
  const last = (r: Relation) => singular.get(r)?.at(-1) ?? ''
  const changes = (r: Relation) => singular.get(r)?.at(-1) !== plain.get(r)?.at(-1)
  const habits = new Map<string, { all: number; plural: number }>()
  for (const r of relations) {
    const h = habits.get(r.schema) ?? { all: 0, plural: 0 }
    habits.set(r.schema, { all: h.all + 1, plural: h.plural + (changes(r) ? 1 : 0) })
  }
  const isSingular = (schema: string) => {
    const h = habits.get(schema)
    return h !== undefined && h.all >= fewest && h.plural <= h.all * mostByLooks
  }
  let vocabulary: ReadonlySet<string> | null = null
  const elsewhere = (word: string) => {
    vocabulary ??= new Set(relations.flatMap((r) => [...(plain.get(r) ?? []).slice(0, -1), ...r.columns.flatMap((c) => spelled(c.name))]))
    return vocabulary.has(word)
  }
  const kept = new Set<string>()
  for (const r of relations) {
    const rule = naming.number(r.schema)
    if (!changes(r) || rule === 'singular') continue
    if (rule === 'as written' || (isSingular(r.schema) && `${last(r)}s` === plain.get(r)?.at(-1) && areInitials(last(r)) && !elsewhere(last(r))))
      kept.add(relationText(r))
  }
  return { words: new Map(relations.map((r) => [relationText(r), (kept.has(relationText(r)) ? plain : singular).get(r) ?? []])), kept }
}
