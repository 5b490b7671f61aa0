// Keys of a schema, found by what they and their tables are called.
import type { Lexicon, TableWords } from './lexicon.ts'
import { countsUp, isMain, type TargetKey } from './targets.ts'
import { accountTables, isAgent, keyWords, kindWords, peopleBy, personTables, recordWords } from './words.ts'

/** A run of words of a table's name. */
export interface Phrase {
  readonly table: string
  /** The run is what the key calls its table, not part of the table's own name. */
  readonly byKey: boolean
  /** How many words of the name are left out before and after the run. */
  readonly front: number
  readonly back: number
}

/** A key of a table of people. */
export interface PeopleKey {
  readonly key: TargetKey
  readonly logIn: boolean
  /** Columns or a plain word say so, and not only how the word ends. */
  readonly sure: boolean
  /** The table is called after them. */
  readonly byName: boolean
}

export interface NameIndex {
  readonly lexicon: Lexicon
  /** Keys of one column by table, the primary key first. */
  readonly keysOf: ReadonlyMap<string, readonly TargetKey[]>
  /** The same by the words of the column, with and without what most columns of its table begin with. */
  readonly byKeyName: ReadonlyMap<string, readonly TargetKey[]>
  /** The same written without gaps: rid answers r_id. */
  readonly byJoined: ReadonlyMap<string, readonly TargetKey[]>
  readonly phrases: ReadonlyMap<string, readonly Phrase[]>
  /** Keys that tables of people usually go by. */
  readonly people: readonly PeopleKey[]
  /** Primary keys by the first letter of each word of their table. */
  readonly byInitial: ReadonlyMap<string, readonly TargetKey[]>
}

export const keyColumn = (k: TargetKey): string => k.columns[0]?.name ?? ''

function push<V>(map: Map<string, V[]>, key: string, value: V): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}

/** O(words of the names of tables with a key, squared per name). */
export function nameIndex(keys: readonly TargetKey[], lexicon: Lexicon): NameIndex {
  const keysOf = new Map<string, TargetKey[]>()
  const byKeyName = new Map<string, TargetKey[]>()
  const byJoined = new Map<string, TargetKey[]>()
  const phrases = new Map<string, Phrase[]>()
  const byInitial = new Map<string, TargetKey[]>()
  const people: PeopleKey[] = []
  for (const k of keys) {
    if (k.columns.length !== 1) continue
    const first = !keysOf.has(k.table)
    const t = lexicon.tables.get(k.table) as TableWords
    const words = t.columns.get(keyColumn(k)) ?? []
    const bare = t.bare.get(keyColumn(k))
    push(keysOf, k.table, k)
    push(byKeyName, words.join(' '), k)
    push(byJoined, words.join(''), k)
    if (bare?.some((w) => !keyWords.has(w) && !kindWords.has(w))) push(byKeyName, bare.join(' '), k)
    const who = isMain(k) ? peopleOf(t) : null
    if (who) people.push({ key: k, ...who })
    if (!first) continue
    for (const [text, phrase] of phrasesOf(k, t, words)) push(phrases, text, phrase)
    if (!k.primary) continue
    for (const initial of new Set(t.words.map((w) => w[0] as string))) push(byInitial, initial, k)
  }
  // Where those who use the system are called so, others with a password are not them: a server, a feed.
  const called = people.some((p) => p.logIn && p.byName)
  return { lexicon, keysOf, byKeyName, byJoined, phrases, people: people.filter((p) => p.byName || !called), byInitial }
}

/** Is this the whole name of a table, its area and idle words aside? */
export const namesTable = (x: NameIndex, text: string): boolean =>
  (x.phrases.get(text) ?? []).some((h) => {
    const t = x.lexicon.tables.get(h.table) as TableWords
    return !h.byKey && h.front <= t.area && h.back <= t.idle
  })

function* phrasesOf(k: TargetKey, t: TableWords, key: readonly string[]): Generator<readonly [string, Phrase]> {
  const n = t.words.length
  for (let from = 0; from < n; from += 1)
    for (let to = from + 1; to <= n; to += 1) yield [t.words.slice(from, to).join(' '), { table: k.table, byKey: false, front: from, back: n - to }]
  const noun = key.filter((w) => !keyWords.has(w))
  if (k.primary && noun.length > 0 && noun.length < key.length && noun.join(' ') !== t.words.join(' '))
    yield [noun.join(' '), { table: k.table, byKey: true, front: 0, back: 0 }]
}

/** Are its rows people? By what the table is called, or by its columns; what only keeps a record of them is not. */
function peopleOf(t: TableWords): Omit<PeopleKey, 'key'> | null {
  const noun = t.words[t.words.length - 1 - t.idle] as string
  if (t.words.length - t.area - t.idle > 2 || t.words.some((w) => recordWords.has(w) || w === 'password' || w === 'login')) return null
  const by = peopleBy([...t.columns.values(), ...t.bare.values()])
  if (accountTables.has(noun)) return by.logIn ? { logIn: true, sure: true, byName: true } : null
  const byName = personTables.has(noun) || isAgent(noun)
  return by.people || byName ? { logIn: by.logIn, sure: by.people || personTables.has(noun), byName } : null
}

/** How much a key looks like the one that others copy: it is called after its table, counts up, is the primary key. */
export function rootedness(t: TableWords, k: TargetKey, spoken: readonly string[]): number {
  if (t.prefix !== null && spoken.join('') === t.prefix) return 5
  const body = t.words.slice(t.area, t.words.length - t.idle)
  const whole = spoken.length > 0 && body.every((w) => spoken.includes(w))
  return (whole ? 2 : spoken.includes(body.at(-1) as string) ? 1 : 0) + (k.columns.every(countsUp) ? 1 : 0) + (isMain(k) ? 0.5 : 0)
}
