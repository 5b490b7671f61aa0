// How a column's name may speak of a key: by the key's own name, by its table's, by a role alone, or by a short form.
import { byGluedKey, byKeyBehind, byKeyName, exactKeys } from './byKeyName.ts'
import { byRole, byShortForm, byUnknownRole } from './byRoleName.ts'
import { byTable } from './byTableName.ts'
import type { FactList } from './facts.ts'
import type { TableWords } from './lexicon.ts'
import type { NameIndex } from './nameIndex.ts'
import { type NameMatch, type Offer, yes } from './offer.ts'
import type { TargetKey } from './targets.ts'
import { keyWords } from './words.ts'

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

const onlyOne = (list: readonly Offer[]): readonly Offer[] =>
  new Set(list.map((o) => o.target.table)).size === 1 ? list.map((o): Offer => ({ ...o, facts: [...o.facts, ['only short form', 1]] })) : list
