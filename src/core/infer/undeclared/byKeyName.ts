// Names of columns that say a key's own name: behind a role, in front of one, or glued to one.
import { keptWith } from '../../memo/memo.ts'
import type { TableWords } from './lexicon.ts'
import { keyColumn, type NameIndex, rootedness } from './nameIndex.ts'
import { isBareKind, isPlain, type Offer, yes } from './offer.ts'
import { isMain, type TargetKey } from './targets.ts'
import { keyWords, markerWords, plainWords } from './words.ts'

const endsAsKey = /(id|no|nr|num|key|code|ref)$/

/** Keys whose own name the whole column is; a name that could be any table's key is nobody's. */
export function exactKeys(x: NameIndex, child: string, column: string, variants: readonly (readonly string[])[]): readonly TargetKey[] {
  const [full] = variants as [readonly string[]]
  if (isGeneric(full) || !(full.some((w) => keyWords.has(w)) || endsAsKey.test(full.at(-1) as string))) return []
  const keys = (x.byKeyName.get(full.join(' ')) ?? []).filter(isMain)
  return keys.some((k) => k.table === child && keyColumn(k) === column) ? [] : keys
}

const isGeneric = (words: readonly string[]) => words.every((w) => keyWords.has(w) || w === 'name')

/** A role, and a key's name to the end. */
export function* byKeyName(x: NameIndex, child: string, column: string, words: readonly string[]): Generator<Offer> {
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

const mostBehind = 2

/** A key's name with a role behind it: `lift_id_above`. */
export function* byKeyBehind(x: NameIndex, child: string, words: readonly string[]): Generator<Offer> {
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

/** A key's name with a role in front that nothing sets apart: `feederliftid`. The longest key there is. */
export function* byGluedKey(x: NameIndex, child: string, words: readonly string[]): Generator<Offer> {
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
