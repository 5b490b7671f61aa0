// Names of columns that say a table's name, or part of it, with a role in front and a key's word behind.
import type { FactList } from './facts.ts'
import type { TableWords } from './lexicon.ts'
import { keyColumn, type NameIndex, type Phrase } from './nameIndex.ts'
import { isBareKind, type Offer, yes } from './offer.ts'
import { isMain, type TargetKey } from './targets.ts'
import { keyWords, kindWords, markerWords, prepositions } from './words.ts'

/** Tables that share a word with many others are not all worth a look; of those that share it with very many, only one that is called so. */
const manyPhrases = 24
const veryManyPhrases = 240

/** Runs of words in the name of a table: `second_bay_id`. */
export function* byTable(x: NameIndex, own: TableWords, words: readonly string[]): Generator<Offer> {
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
