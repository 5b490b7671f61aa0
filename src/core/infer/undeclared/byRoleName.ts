// Names of columns that say a role alone, or a table by a short form.

import { splitWords } from '../../names/index.ts'
import type { FactName } from './facts.ts'
import type { TableWords } from './lexicon.ts'
import { keyColumn, type NameIndex, namesTable } from './nameIndex.ts'
import { isPlain, type Offer, yes } from './offer.ts'
import { shortFormOf } from './shortForms.ts'
import { accountTables, isAgent, keyWords, outsideWords, ownRoles, personTables, recordWords } from './words.ts'

/** A role of its own table, or of a person: `parent_id`, `approved_by`. */
export function* byRole(x: NameIndex, child: string, own: TableWords, words: readonly string[], column: string): Generator<Offer> {
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
export function* byUnknownRole(x: NameIndex, child: string, own: TableWords, words: readonly string[], column: string): Generator<Offer> {
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

/** Letters that a table's name may be cut to. */
export function* byShortForm(x: NameIndex, child: string, words: readonly string[]): Generator<Offer> {
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
