// Tables that keep what rows of another one were: its columns under their names, and when or by whom. What those refer to, they do.
import { type Relation, relationText } from '../../catalog/index.ts'
import type { Lexicon, TableWords } from './lexicon.ts'
import { recordWords } from './words.ts'

/** Words behind or in front of a name that say: as it was. */
const formerWords = new Set([...recordWords, 'former', 'previous', 'deleted', 'removed', 'hst', 'aud', 'version', 'revision', 'snapshot'])

/** So large a part of a table's columns its mirror has as well. */
const fewestShared = 0.6

/** The table that each one mirrors: called like it but for a word of record, and with most of its columns. */
export function mirrorsOf(tables: readonly Relation[], lexicon: Lexicon): ReadonlyMap<Relation, Relation> {
  const wordsOf = (r: Relation) => (lexicon.tables.get(relationText(r)) as TableWords).words
  const byName = new Map<string, Relation[]>()
  for (const r of tables) {
    const name = wordsOf(r).join(' ')
    byName.set(name, [...(byName.get(name) ?? []), r])
  }
  const found = new Map<Relation, Relation>()
  for (const r of tables) {
    const words = wordsOf(r)
    const rest = words.filter((w) => !formerWords.has(w))
    if (rest.length === words.length || rest.length === 0) continue
    const columns = new Set(r.columns.map((c) => c.name))
    const shares = (t: Relation) => t.columns.filter((c) => columns.has(c.name)).length
    const real = (byName.get(rest.join(' ')) ?? []).find((t) => t !== r && shares(t) >= Math.max(1, t.columns.length * fewestShared - 1))
    if (real) found.set(r, real)
  }
  return found
}

/** Does it have a key of its own, so that the key of what it mirrors is one of its columns like others? */
export const hasOwnKey = (mirror: Relation, real: Relation): boolean => mirror.primaryKey?.columns.some((c) => !real.columns.some((x) => x.name === c)) ?? false
