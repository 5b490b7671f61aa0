// Pairs of columns that say which table and which row of it: owner_kind and owner_id.
import type { Column, Relation } from '../../catalog/index.ts'
import { relationText } from '../../catalog/index.ts'
import { kindBeside, typeFacts } from './candidates.ts'
import type { Ground } from './ground.ts'
import type { TableWords } from './lexicon.ts'
import { namesTable } from './nameIndex.ts'
import type { TargetKey } from './targets.ts'
import { keyWords } from './words.ts'

export interface KindPair {
  readonly child: Relation
  readonly kind: Column
  readonly id: Column
}

/** Columns that end like a key beside one of the same words that says what kind; columns that are declared to refer are none. */
export function kindPairs(g: Ground): readonly KindPair[] {
  return g.tables.flatMap((child) => {
    const own = g.lexicon.tables.get(relationText(child)) as TableWords
    const declared = new Set(child.foreignKeys.flatMap((k) => k.columns))
    return child.columns.flatMap((id): KindPair[] => {
      const words = own.columns.get(id.name) ?? []
      if (declared.has(id.name) || !keyWords.has(words.at(-1) ?? '') || id.generated !== null || child.primaryKey?.columns.join() === id.name) return []
      // ev_id of a table whose columns begin with ev is its own key, and ev_type says what kind of row it is.
      if (child.primaryKey === null && own.bare.get(id.name)?.join() === 'id') return []
      const beside = kindBeside(own.columns, id.name)
      const kind = child.columns.find((c) => c.name === beside)
      if (!kind || declared.has(kind.name)) return []
      // berth_type beside berth_id says what kind of berth it is, unless its words name several tables.
      const ofOne = namesTable(g.index, words.filter((w) => !keyWords.has(w)).join(' '))
      return ofOne && tablesNamed(g, { child, kind, id }).size < 2 ? [] : [{ child, kind, id }]
    })
  })
}

/** The key of the one table that a word of the kind column names, where the values beside it can be its values. */
export function keyNamed(g: Ground, p: KindPair, word: string): TargetKey | null {
  const words = g.lexicon.words(word)
  const hits = (g.index.phrases.get(words.join(' ')) ?? []).filter((h) => {
    const t = g.lexicon.tables.get(h.table) as TableWords
    return !h.byKey && h.front <= t.area && h.back <= t.idle
  })
  const keys = hits.flatMap(
    (h) => g.index.keysOf.get(h.table)?.find((k) => k.primary && typeFacts(g.kindOf(p.id), g.kindOf(k.columns[0] as Column)) !== null) ?? [],
  )
  return keys.length === 1 ? (keys[0] as TargetKey) : null
}

const tablesNamed = (g: Ground, p: KindPair) => new Set(allowedWords(g, p).flatMap((w) => keyNamed(g, p, w)?.table ?? []))

/** Texts that a check allows for a column, or the labels of its enumerated type; empty where nothing says. */
export function allowedWords(g: Ground, p: KindPair): readonly string[] {
  const type = g.catalog.enums.find((e) => p.kind.type === `${e.schema}.${e.name}`)
  if (type) return type.labels
  const inline = /^enum\((.*)\)$/i.exec(p.kind.type)?.[1]
  const mentions = (text: string) => new RegExp(`(?<![\\w])"?${p.kind.name.replace(/[^\w]/g, '.')}"?(?![\\w])`, 'i').test(text)
  const texts = inline === undefined ? p.child.checks.map((c) => c.expression.canonical ?? c.expression.written).filter(mentions) : [inline]
  return [...new Set(texts.flatMap((t) => [...t.matchAll(/'((?:[^']|'')+)'/g)].map((m) => (m[1] as string).replaceAll("''", "'"))))]
}
