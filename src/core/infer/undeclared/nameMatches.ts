// How a column's name may speak of a key: by the key's own name, by its table's, by a role alone, or by a short form.

import { keptWith } from '../../memo/memo.ts'
import { splitWords } from '../../names/index.ts'
import type { FactList, FactName } from './facts.ts'
import type { TableWords } from './lexicon.ts'
import { keyColumn, type NameIndex, namesTable, type Phrase, rootedness } from './nameIndex.ts'
import { shortFormOf } from './shortForms.ts'
import { isMain, type TargetKey } from './targets.ts'
import {
  accountTables,
  bareKinds,
  isAgent,
  keyWords,
  kindWords,
  markerWords,
  outsideWords,
  ownRoles,
  personTables,
  plainWords,
  prepositions,
  recordWords,
  whichWords,
} from './words.ts'

export interface NameMatch {
  readonly target: TargetKey
  readonly facts: FactList
  /** Words in front of what the match is about. */
  readonly role: readonly string[]
}

interface Offer extends NameMatch {
  /** Which of several ways to read one name is the best; above 0.5 the name says the table or key. */
  readonly rank: number
  /** How many words say what it is a key of: of the table's name, or of the key's. */
  readonly covered: number
  /** The words are the whole name of the table. */
  readonly named?: boolean
  /** The table lists what kinds there are of what the words name. */
  readonly kinds?: boolean
}

const yes = (condition: boolean) => (condition ? 1 : 0)

/** Tables that share a word with many others are not all worth a look; of those that share it with very many, only one that is called so. */
const manyPhrases = 24
const veryManyPhrases = 240
/** So many keys at most a name is compared with: those it speaks of best. What a schema costs grows with its columns, not with their square. */
const mostMatches = 96

/** Every key that a column of `child` may speak of, each by the best way to read the name. */
export function nameMatches(x: NameIndex, child: string, column: string): readonly NameMatch[] {
  const own = x.lexicon.tables.get(child) as TableWords
  const full = own.columns.get(column) ?? []
  const bare = own.bare.get(column)
  const variants = bare && bare.length > 0 ? [full, bare] : [full]
  const barest = variants.at(-1) as readonly string[]
  const offers = [
    ...variants.flatMap((words) => [
      ...byKeyName(x, child, column, words),
      ...byKeyBehind(x, child, words),
      ...byGluedKey(x, child, words),
      ...byTable(x, own, words),
    ]),
    ...byRole(x, child, own, barest, column),
  ]
  if (!offers.some((o) => o.rank >= 0.5)) offers.push(...onlyOne([...byShortForm(x, child, barest)]))
  if (offers.length === 0) offers.push(...byUnknownRole(x, child, own, barest, column))
  const best = new Map<TargetKey, Offer>()
  for (const o of offers) if ((best.get(o.target)?.rank ?? -1) < o.rank) best.set(o.target, o)
  const all = [...best.values()]
  const kept = new Set(all.length <= mostMatches ? all : all.toSorted((a, b) => b.rank - a.rank).slice(0, mostMatches))
  const longest = all.reduce((n, o) => Math.max(n, o.covered), 0)
  // A key called after another table is a reference itself, and names nobody's.
  const exact = exactKeys(x, child, column, variants).filter((k) => isRoot(x, k, full) || !all.some((o) => o.named && o.target.table !== k.table))
  const spoken = full.filter((w) => !keyWords.has(w)).length
  const things = all.some((o) => o.covered > 0 && o.kinds === false)
  return all
    .flatMap((o) => (kept.has(o) ? [o] : []))
    .map((o): NameMatch => {
      const more: FactList = [
        ['shorter than another', yes(o.covered > 0 && o.covered < longest)],
        ['another key is called exactly so', yes(o.covered > 0 && o.covered < spoken && exact.length > 0 && !exact.includes(o.target))],
        ['exactly the name of a key', yes(exact.length === 1 && exact[0] === o.target)],
        ['kinds of a thing', yes(o.kinds === true && things)],
      ]
      return more.some(([, v]) => v > 0) ? { ...o, facts: [...o.facts, ...more] } : o
    })
}

/** Is the key called after its own table? */
function isRoot(x: NameIndex, k: TargetKey, name: readonly string[]): boolean {
  const t = x.lexicon.tables.get(k.table) as TableWords
  return name.includes(t.words[t.words.length - 1 - t.idle] as string)
}

/** Keys whose own name the whole column is; a name that could be any table's key is nobody's. */
function exactKeys(x: NameIndex, child: string, column: string, variants: readonly (readonly string[])[]): readonly TargetKey[] {
  const [full] = variants as [readonly string[]]
  if (isGeneric(full) || !(full.some((w) => keyWords.has(w)) || endsAsKey.test(full.at(-1) as string))) return []
  const keys = (x.byKeyName.get(full.join(' ')) ?? []).filter(isMain)
  return keys.some((k) => k.table === child && keyColumn(k) === column) ? [] : keys
}

const isGeneric = (words: readonly string[]) => words.every((w) => keyWords.has(w) || w === 'name')

function* byKeyName(x: NameIndex, child: string, column: string, words: readonly string[]): Generator<Offer> {
  for (let from = 0; from < words.length; from += 1) {
    const name = words.slice(from)
    const found = x.byKeyName.get(name.join(' ')) ?? (name.join('').length >= 3 ? x.byJoined.get(name.join('')) : undefined)
    if (!found) continue
    const generic = isGeneric(name)
    if (generic && from > 0) continue
    if (isBareKind(words)) continue
    const exact = spelledSo(found, column.toLowerCase())
    const owners = exact.length > 0 ? exact : found
    if (generic && owners.length > 2) continue
    yield* ownersOffers(x, child, name, owners, words.slice(0, from), generic)
  }
}

/** `kind` alone: whose kinds, it does not say. */
const isBareKind = (words: readonly string[]) => words.length === 1 && bareKinds.has(words[0] as string)

const mostBehind = 2
const isPlain = (w: string) => plainWords.has(w) || kindWords.has(w) || whichWords.has(w) || keyWords.has(w)

/** A key's name with a role behind it: `lift_id_above`. */
function* byKeyBehind(x: NameIndex, child: string, words: readonly string[]): Generator<Offer> {
  for (let to = words.length - 1; to > 0 && words.length - to <= mostBehind; to -= 1) {
    const name = words.slice(0, to)
    const role = words.slice(to)
    if (isGeneric(name) || !name.some((w) => keyWords.has(w)) || role.some(isPlain)) continue
    const found = x.byKeyName.get(name.join(' '))
    if (found) yield* ownersOffers(x, child, name, found, role, false)
    if (found) return
  }
}

/** Letters of a key's name, and of a role in front of it. */
const shortestGlued = 5
const shortestRole = 2
const endsAsKey = /(id|no|nr|num|key|code|ref)$/

/** A key's name with a role in front that nothing sets apart: `feederliftid`. The longest key there is. */
function* byGluedKey(x: NameIndex, child: string, words: readonly string[]): Generator<Offer> {
  const last = /^\d+$/.test(words.at(-1) ?? '') ? words.slice(0, -1) : words
  const word = last.at(-1) ?? ''
  if (word.length < shortestGlued + shortestRole || !/^\p{L}+$/u.test(word) || !endsAsKey.test(word) || x.byJoined.has(word)) return
  for (let from = shortestRole; from <= word.length - shortestGlued; from += 1) {
    const name = word.slice(from)
    const found = x.byJoined.get(name)
    if (!found) continue
    const key = x.lexicon.tables.get((found[0] as TargetKey).table)?.columns.get(keyColumn(found[0] as TargetKey)) ?? [name]
    yield* ownersOffers(x, child, key, found, [...last.slice(0, -1), word.slice(0, from), ...words.slice(last.length)], false)
    return
  }
}

const spellings = keptWith((keys: readonly TargetKey[]): ReadonlyMap<string, readonly TargetKey[]> => {
  const bySpelling = new Map<string, TargetKey[]>()
  for (const k of keys) {
    const spelled = keyColumn(k).toLowerCase()
    const same = bySpelling.get(spelled)
    if (same) same.push(k)
    else bySpelling.set(spelled, [k])
  }
  return bySpelling
})

/** Those of the keys that the column ends in to the letter: singular and plural are one word, but not where a key is spelled exactly so. */
function spelledSo(keys: readonly TargetKey[], column: string): readonly TargetKey[] {
  const groups = [...spellings(keys)].flatMap(([spelled, list]) => (column.endsWith(spelled) ? [list] : []))
  if (groups.length < 2) return groups[0] ?? []
  const among = new Set(groups.flat())
  return keys.filter((k) => among.has(k))
}

/** How much of the name of its own table a key's words say. */
function saysOwnTable(t: TableWords, spoken: readonly string[]): { readonly named: boolean; readonly whole: boolean } {
  const named = spoken.length > 0 && spoken.every((w) => t.words.includes(w)) && spoken.at(-1) === t.words.at(-1)
  return { named, whole: (t.prefix !== null && spoken.join('') === t.prefix) || (named && t.words.slice(t.area).every((w) => spoken.includes(w))) }
}

function* ownersOffers(
  x: NameIndex,
  child: string,
  name: readonly string[],
  owners: readonly TargetKey[],
  role: readonly string[],
  generic: boolean,
): Generator<Offer> {
  const spoken = name.filter((w) => !keyWords.has(w))
  const wordsOf = (k: TargetKey) => x.lexicon.tables.get(k.table) as TableWords
  const roots = owners.map((k) => rootedness(wordsOf(k), k, spoken))
  const most = Math.max(...roots)
  const alone = roots.filter((r) => r === most).length === 1
  const marked = name.some((w) => markerWords.has(w))
  for (const [i, target] of owners.entries()) {
    if (target.table === child && role.length === 0) continue
    const t = wordsOf(target)
    const { named, whole } = saysOwnTable(t, spoken)
    const plain = !whole && !named && plainWords.has(name.at(-1) as string)
    const single = plain ? 0 : owners.length === 1 ? 1 : alone && roots[i] === most ? 0.7 : 0
    yield {
      target,
      role,
      facts: [
        ['key name', 1],
        ['key without marker', yes(!generic && !marked)],
        ['only owner', single],
        ['copy of the key', yes(alone && roots[i] !== most)],
        ['key names its table', whole ? 1 : named ? 0.7 : 0],
        ['generic key name', yes(generic)],
        ['plain word', yes(plain)],
      ],
      rank: (single === 0 && !named && !generic ? 0.3 : 0.6) + (whole ? 0.3 : named ? 0.2 : 0) + single * 0.1 - role.length * 0.02,
      covered: spoken.length,
    }
  }
}

function* byTable(x: NameIndex, own: TableWords, words: readonly string[]): Generator<Offer> {
  const lead = words.length > 1 && markerWords.has(words[0] as string) ? 1 : 0
  for (let from = lead; from < words.length; from += 1) {
    for (let to = words.length; to > from && words.length - to <= 2; to -= 1) {
      const hits = x.phrases.get(words.slice(from, to).join(' '))
      if (!hits) continue
      // bay2_id is a second bay, as other_bay_id is.
      const tail = words.slice(to)
      const isNumber = (w: string) => /^\d+$/.test(w)
      const reading = {
        role: [...words.slice(lead, from), ...tail.filter(isNumber)],
        tail: tail.filter((w) => !isNumber(w)),
        length: to - from,
        text: words.slice(from, to).join(' '),
        whole: words.join(' '),
        marked: lead > 0,
        bareKind: isBareKind(words),
      }
      const most = hits.length <= manyPhrases ? Number.POSITIVE_INFINITY : hits.length <= veryManyPhrases ? 1 : 0
      for (const h of hits) if (h.front + h.back <= most) yield* tableOffers(x, own, h, reading)
    }
  }
}

interface Reading {
  readonly role: readonly string[]
  readonly tail: readonly string[]
  readonly length: number
  /** The words it shares with the table's name. */
  readonly text: string
  /** All words of the column. */
  readonly whole: string
  readonly bareKind: boolean
  /** A word in front marks it as a key: fk_crate. */
  readonly marked: boolean
}

/** Does one table alone end in these words, or have them at all? */
function isOnlySuch(x: NameIndex, text: string, anywhere: boolean): boolean {
  const ends = (x.phrases.get(text) ?? []).filter((h) => anywhere || h.back <= (x.lexicon.tables.get(h.table)?.idle ?? 0))
  return new Set(ends.map((h) => h.table)).size === 1
}

/** What a run of words leaves out of a table's name, and how much of that nothing explains. */
function gapOf(t: TableWords, own: TableWords, h: Phrase, role: readonly string[]) {
  const area = Math.min(h.front, t.area)
  const back = Math.max(0, h.back - t.idle)
  const missing = [...t.words.slice(area, h.front), ...t.words.slice(t.words.length - h.back, t.words.length - h.back + back)]
  const kinds = back > 0 && h.front <= area && missing.every((w) => kindWords.has(w))
  const said = kinds && missing.every((w) => role.includes(w))
  const unexplained = kinds ? 0 : missing.filter((w) => !own.words.includes(w) && !role.includes(w)).length
  return { missing: missing.length, kinds, said, unexplained, cut: back > 0 && !kinds, whole: t.words.length - area - t.idle }
}

function* tableOffers(x: NameIndex, own: TableWords, h: Phrase, r: Reading): Generator<Offer> {
  if (h.byKey && r.tail.length > 0) return
  const t = x.lexicon.tables.get(h.table) as TableWords
  const gap = gapOf(t, own, h, r.role)
  if (gap.unexplained > 0 && r.bareKind) return
  const cover = r.length / (r.length + gap.unexplained)
  const bare = r.tail.length === 0 && !r.marked
  const ofName: FactList = [
    ['table name', yes(gap.unexplained === 0 && !h.byKey)],
    ['noun of its key', yes(h.byKey)],
    ['part of the table name', gap.unexplained > 0 ? cover : 0],
    ['cut at the end', yes(gap.cut)],
    ['list of kinds', yes(gap.kinds)],
    ['only such table', yes((gap.unexplained > 0 || h.byKey) && isOnlySuch(x, r.text, gap.cut))],
    ['another table is called so', yes(gap.unexplained > 0 && x.lexicon.called.has(r.text))],
    ['own words explain', yes(gap.missing > gap.unexplained && !gap.kinds)],
    ['bare part', yes(bare && gap.missing > 0 && !gap.kinds)],
    ['bare', yes(bare && r.role.length === 0)],
    ['whole name of several words', yes(t.words.length > 1 && r.whole === t.words.join(' '))],
    ['bare under a role', bare && r.role.length > 0 ? (r.role.every((w) => prepositions.has(w)) ? 0.2 : 1) : 0],
  ]
  const rank = (gap.unexplained === 0 ? 0.9 : 0.5 * cover) + 0.01 * r.length - 0.02 * r.role.length + 0.02 * yes(gap.whole === r.length)
  const keys = x.keysOf.get(h.table) ?? []
  const called = keys.find((k) => isCalled(t, k, r.tail.join(' ')))
  const whole = gap.missing === 0 && !h.byKey && r.role.length === 0
  for (const target of keys) {
    const tail = tailFacts(t, target, called, r)
    const exactly = whole && isMain(target) && tail?.facts.some(([name]) => name === 'key tail') === true
    if (tail)
      yield {
        target,
        role: r.role,
        facts: [...ofName, ...tail.facts, ['table and key', yes(exactly)]],
        rank: rank + tail.rank,
        covered: r.length,
        named: gap.unexplained === 0 && !h.byKey && !gap.kinds,
        ...(gap.said ? {} : { kinds: gap.kinds }),
      }
  }
}

/** Does `tail` say the key's own name, behind that of its table? */
function isCalled(t: TableWords, k: TargetKey, tail: string): boolean {
  const key = t.columns.get(keyColumn(k)) ?? []
  return tail !== '' && ((t.bare.get(keyColumn(k)) ?? key).join(' ') === tail || key.at(-1) === tail)
}

/** What stands behind the table's name, compared with the key; `called` is the key it names. Null where it speaks of another key. */
function tailFacts(t: TableWords, target: TargetKey, called: TargetKey | undefined, r: Reading): { readonly facts: FactList; readonly rank: number } | null {
  const tail = r.tail.join(' ')
  if (isCalled(t, target, tail)) {
    const key = t.columns.get(keyColumn(target)) ?? []
    return {
      facts: [
        ['key tail', 1],
        ['long key tail', yes(r.tail.length > 1 && key.join(' ') === tail)],
      ],
      rank: 0.05,
    }
  }
  // A unique key other than the primary one must be called by its own name.
  if (!r.tail.every((w) => keyWords.has(w)) || (!isMain(target) && tail !== '')) return null
  if (tail === '') return { facts: [['marker tail', yes(r.marked)]], rank: -0.1 }
  const marked = r.tail.every((w) => markerWords.has(w))
  return {
    facts: [
      [marked ? 'marker tail' : 'word tail', 1],
      ['another key is called so', yes(called !== undefined)],
    ],
    rank: 0,
  }
}

function* byRole(x: NameIndex, child: string, own: TableWords, words: readonly string[], column: string): Generator<Offer> {
  const spoken = words.filter((w) => !keyWords.has(w))
  const last = spoken.at(-1)
  if (last === undefined || spoken.length > 2) return
  const keyed = spoken.length < words.length
  const keyedFact: readonly [FactName, number] = [keyed ? 'role keyed' : 'role bare', 1]
  const target = x.keysOf.get(child)?.find((k) => k.primary)
  const done = spoken.length === 2 && last === 'by' && ownRoles.has(spoken[0] as string)
  const named = done || (spoken.length === 2 && (own.words.includes(last) || shortFormOf(last, own.words.slice(-1)) > 0))
  if (target && ownRoles.has(spoken[0] as string) && (keyed || spoken.length === 1 || named))
    yield {
      target,
      role: spoken.slice(0, 1),
      facts: [['role of its own table', 1], named ? ['role names it', 1] : keyedFact],
      rank: named ? 0.85 : 0.4,
      covered: 0,
    }
  // Several of them are counted, not referred to: subscribers.
  const plural = !keyed && splitWords(column).at(-1) !== last
  if (!isAgent(last) || plural || done || (last !== 'by' && namesTable(x, last))) return
  const tail = keyed ? words.at(-1) : undefined
  const anyLogIn = x.people.some((p) => p.logIn)
  const only = new Set(x.people.map((p) => p.key.table)).size === 1 && x.people.every((p) => p.sure)
  for (const { key: k, logIn } of x.people) {
    const t = x.lexicon.tables.get(k.table) as TableWords
    const noun = t.words[t.words.length - 1 - t.idle] as string
    yield {
      target: k,
      role: spoken.filter((w) => w !== 'by'),
      facts: [
        ['role of a person', 1],
        ['done by', yes(last === 'by')],
        ['keyed alike', yes(tail !== undefined && tail === t.columns.get(keyColumn(k))?.at(-1))],
        ['account of them', yes(personTables.has(noun) || accountTables.has(noun))],
        ['they log in', yes(logIn)],
        ['others log in', yes(!logIn && anyLogIn)],
        ['only people here', yes(only)],
        keyedFact,
      ],
      rank: 0.35,
      covered: 0,
    }
  }
}

/** A column that ends like the key of its own table, in front of which a word stands that nothing here is called: `twin_nr`. */
function* byUnknownRole(x: NameIndex, child: string, own: TableWords, words: readonly string[], column: string): Generator<Offer> {
  const target = x.keysOf.get(child)?.find((k) => k.primary)
  if (!target) return
  const key = (own.bare.get(keyColumn(target)) ?? own.columns.get(keyColumn(target)) ?? []).filter((w) => !own.words.includes(w))
  const role = words.slice(0, -key.length)
  const isKnown = (w: string) => isPlain(w) || x.phrases.has(w) || outsideWords.has(w) || recordWords.has(w) || /^\d+$/.test(w)
  if (key.length === 0 || role.length === 0 || role.length > 2 || words.slice(-key.length).join(' ') !== key.join(' ') || role.some(isKnown)) return
  if (!key.every((w) => keyWords.has(w))) return
  yield {
    target,
    role,
    facts: [
      ['unknown role of its own table', 1],
      ['written like a key', yes(/^[_$#]/.test(column) && /^[_$#]/.test(keyColumn(target)))],
    ],
    rank: 0.2,
    covered: 0,
  }
}

const onlyOne = (list: readonly Offer[]): readonly Offer[] =>
  new Set(list.map((o) => o.target.table)).size === 1 ? list.map((o): Offer => ({ ...o, facts: [...o.facts, ['only short form', 1]] })) : list

function* byShortForm(x: NameIndex, child: string, words: readonly string[]): Generator<Offer> {
  const spoken = words.filter((w) => !keyWords.has(w))
  const short = spoken.at(-1)
  if (short === undefined || short.length < 2 || spoken.length === words.length) return
  for (const target of x.byInitial.get(short[0] as string) ?? []) {
    if (target.table === child) continue
    const t = x.lexicon.tables.get(target.table) as TableWords
    const body = t.words.slice(t.area)
    // The table may be the short one: veh, where columns say vehicle.
    const cut = body.length === 1 ? shortFormOf(body[0] as string, [short]) : 0
    const much = Math.max(shortFormOf(short, body), t.area > 0 ? shortFormOf(short, t.words) : 0, cut)
    if (much > 0)
      yield {
        target,
        role: spoken.slice(0, -1),
        facts: [
          ['short form', much],
          ['marker tail', 1],
        ],
        rank: 0.3 * much,
        covered: 0,
      }
  }
}
