// Candidate names for the two ends of a relationship, best first. Which of them is free is decided by `assignNames`.
import { type Naming, plainNaming } from './rules.ts'
import { splitWords } from './words.ts'

/** Last words of a column that say "key", not what the key is of. */
const keyWords = new Set(['id', 'ids', 'no', 'nr', 'num', 'number', 'code', 'key', 'uid', 'uuid', 'guid', 'fk', 'ref', 'ident', 'oid', 'pk'])
const markers = new Set(['fk', 'id', 'ref'])

export interface EndNaming {
  /** Words of the class that holds the columns and of the one referred to, singular. */
  readonly child: readonly string[]
  readonly parent: readonly string[]
  /** Column pairs in key order. */
  readonly pairs: readonly { readonly column: string; readonly target: string }[]
  readonly oneToOne: boolean
  readonly self: boolean
  /** Does another relationship lead from the same child to the same parent? */
  readonly several: boolean
}

/**
 * What a column says about whom it refers to: its words without the key word; empty where only a key word is there, a letter that says nothing, or just what the
 * key itself is called.
 */
export function roleWords(column: string, target: string, parent: readonly string[]): readonly string[] {
  let words = splitWords(column)
  if (words.length > 1 && markers.has(words[0] as string)) words = words.slice(1)
  const targetWords = splitWords(target)
  if (words.length > targetWords.length && endsWith(words, targetWords)) {
    const front = words.slice(0, words.length - targetWords.length)
    return saying(targetWords.length > 1 ? [...front, ...parentIn(targetWords, parent)] : front)
  }
  const last = words.at(-1) ?? ''
  // Called as the key is, or by the end of its name: queue_name of queues is the queue.
  if (words.length > 0 && !keyWords.has(last) && endsWith(targetWords, words)) return words.length > 1 && !parent.includes(last) ? words.slice(0, -1) : []
  words = numberInFront(words)
  while (words.length > 1 && keyWords.has(words.at(-1) as string)) words = words.slice(0, -1)
  if (words.length === 1) {
    const word = words[0] as string
    if (keyWords.has(word)) return []
    const glued = [...keyWords].find((k) => k.length >= 2 && word.endsWith(k) && word.slice(0, -k.length) === parent.join(''))
    if (glued !== undefined) return parent
  }
  return saying(words)
}

const isInitial = (word: string) => /^\p{L}\d*$/u.test(word)
const saying = (words: readonly string[]) => (words.length === 1 && isInitial(words[0] as string) ? [] : words)

/** The number behind a key word is that of the role: image id1 → image1 id. */
function numberInFront(words: readonly string[]): readonly string[] {
  const [, letters, digits] = /^(\p{L}+)(\d+)$/u.exec(words.at(-1) ?? '') ?? []
  if (words.length < 2 || letters === undefined || !keyWords.has(letters)) return words
  return [...words.slice(0, -2), `${words.at(-2)}${digits}`, letters]
}

const endsWith = (words: readonly string[], tail: readonly string[]) => tail.every((w, i) => words[words.length - tail.length + i] === w)
/** The part of a target key's words that is not a key word: `keeper_no` → keeper. */
const parentIn = (target: readonly string[], parent: readonly string[]) => {
  const rest = target.filter((w) => !keyWords.has(w))
  return rest.length > 0 ? rest : parent
}

/** One role for all columns of the key: that of a single column, or the words that all columns of a composite key put in front of the target's. */
function role(n: EndNaming): readonly string[] {
  const [first] = n.pairs
  if (n.pairs.length === 1 && first) {
    const words = roleWords(first.column, first.target, n.parent)
    const [initial = ''] = splitWords(first.column)
    return words.length === 0 && n.several && isInitial(initial) ? [...n.parent, initial] : words
  }
  const fronts = n.pairs.map((p) => {
    const own = splitWords(p.column)
    const target = splitWords(p.target)
    return own.length > target.length && endsWith(own, target) ? own.slice(0, own.length - target.length).join(' ') : ''
  })
  const front = fronts[0] ?? ''
  return front !== '' && fronts.every((f) => f === front) ? together(front.split(' '), n.parent) : n.parent
}

/** Words and more words, said once where the first end as the others begin: pattern and pattern part. */
function together(front: readonly string[], back: readonly string[]): readonly string[] {
  for (let n = Math.min(front.length, back.length); n > 0; n -= 1) if (endsWith(front, back.slice(0, n))) return [...front, ...back.slice(n)]
  return [...front, ...back]
}

/** Names for the end that holds the columns: `crate.bay_id` → bay. */
export function ownEndCandidates(n: EndNaming, { propertyName }: Naming = plainNaming): readonly string[] {
  const words = role(n)
  const base = words.length === 0 ? n.parent : words
  return unique([propertyName(base), propertyName(n.parent), propertyName(together(base, n.parent)), propertyName([...base, 'record'])])
}

/** Names for the other end: crates, checkupsAsSecondKeeper, cratesCreatedBy, children; singular for one-to-one. */
export function inverseEndCandidates(n: EndNaming, { propertyName, singular, plural }: Naming = plainNaming): readonly string[] {
  const words = role(n)
  const number = n.oneToOne ? singular : plural
  const rest = n.parent.every((w, i) => n.child[i] === w) ? n.child.slice(n.parent.length) : []
  // A number alone is no name.
  const shortened = rest.length > 0 && /^\p{L}/u.test(rest[0] as string) ? rest : n.child
  const full = number(n.child)
  const says = (with_: readonly string[]) => (words.at(-1) === 'by' ? propertyName([...with_, ...words]) : propertyName([...with_, 'as', ...words]))
  const distinct = words.length > 0 && words.join(' ') !== n.parent.join(' ')
  if (n.self)
    return unique([
      ...(words.join(' ') === 'parent' ? [n.oneToOne ? 'child' : 'children'] : words[0] === 'parent' ? [propertyName(['child', ...full])] : []),
      ...(distinct ? [says(full)] : []),
      propertyName(['referring', ...full]),
    ])
  const plain = [propertyName(number(shortened)), propertyName(full)]
  const roled = distinct ? [says(number(shortened)), says(full)] : []
  const last = propertyName([...full, 'as', ...(distinct ? words : n.parent)])
  return unique(distinct && (n.several || words.at(-1) === 'by') ? [...roled, ...plain, last] : [...plain, ...roled, last])
}

/** What is kept of others, said of what it keeps. */
const kept: Readonly<Record<string, string>> = { cache: 'cached', archive: 'archived', log: 'logged' }

/** Names for one end of a many-to-many: the other entity in the plural; of itself, the role of the column that leads there. `apart`: words of the join table that tell it from another one between the same two. */
export function manyEndCandidates(
  other: readonly string[],
  joinTable: readonly string[],
  role_: readonly string[],
  self: boolean,
  apart: readonly string[] = [],
  { propertyName, singular, plural }: Naming = plainNaming,
): readonly string[] {
  const told = apart.length === 0 ? [] : [propertyName([...apart.map((w) => kept[w] ?? w), ...plural(other)])]
  const many = propertyName(plural(other))
  const byRole = role_.length === 0 ? [] : [propertyName(plural(role_))]
  return unique([...(self ? byRole : []), ...told, many, ...byRole, propertyName([...plural(other), 'by', ...singular(joinTable)])])
}

/** A name for many as one for a single one: crates → crate, cratesAsSpare → crateAsSpare, cratesCreatedBy stays. */
export function singularEnd(name: string, { propertyName, singular }: Naming = plainNaming): string {
  const words = splitWords(name)
  const role = words.at(-1) === 'by' ? words.length : words.lastIndexOf('as')
  const nouns = role > 0 ? words.slice(0, role) : words
  return role === words.length ? name : propertyName([...singular(nouns), ...words.slice(nouns.length)])
}

const unique = (names: readonly string[]) => [...new Set(names)]
