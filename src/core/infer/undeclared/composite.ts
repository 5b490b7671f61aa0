// Candidates over several columns: a table that has a column for each column of another one's composite key.
import { type Column, columnsText, indexOver, type Relation, relationText, uniqueOver } from '../../catalog/index.ts'
import { type Candidate, numbersClash, type Question, typeFacts } from './candidates.ts'
import type { FactName, Facts } from './facts.ts'
import type { Ground } from './ground.ts'
import type { TableWords } from './lexicon.ts'
import type { TargetKey } from './targets.ts'
import { keyWords } from './words.ts'

interface Place {
  readonly column: Column
  /** Words in front of those it shares with the key's column. */
  readonly role: string
}

/** Key column words → tables that have a column so called, in front of it any role. */
type Places = ReadonlyMap<string, ReadonlyMap<Relation, readonly Place[]>>

const longest = 6

const setText = (child: Relation, columns: readonly Column[]) => columnsText(child, columns.map((c) => c.name).toSorted())

/** Questions about sets of columns, each set of a table once. */
export function compositeQuestions(g: Ground): readonly Question[] {
  const keys = g.keys.filter((k) => k.columns.length > 1 && k.columns.length <= longest)
  if (keys.length === 0) return []
  const places = placesOf(g, keys)
  const owners = new Map<string, number>()
  const keyText = (k: TargetKey) =>
    k.columns
      .map((c) => g.lexicon.words(c.name).join(' '))
      .sort()
      .join()
  for (const k of keys) owners.set(keyText(k), (owners.get(keyText(k)) ?? 0) + 1)
  const declared = new Set(g.settled.map((d) => setText(d.child, d.columns)))
  const bySet = new Map<string, { child: Relation; columns: readonly Column[]; candidates: Candidate[] }>()
  for (const key of keys) {
    for (const { child, columns, role } of placements(g, key, places)) {
      const facts = compositeFacts(g, child, columns, key, role, owners.get(keyText(key)) ?? 1)
      if (facts === null) continue
      const text = setText(child, columns)
      if (declared.has(text)) continue
      const question = bySet.get(text) ?? { child, columns, candidates: [] }
      bySet.set(text, question)
      if (question.candidates.some((c) => c.target === key)) continue
      question.candidates.push({ child, columns, target: key, targetColumns: key.columns, facts, role: role === '' ? [] : role.split(' ') })
    }
  }
  return [...bySet.values()]
}

function placesOf(g: Ground, keys: readonly TargetKey[]): Places {
  const wanted = new Set(keys.flatMap((k) => k.columns.map((c) => g.lexicon.words(c.name).join(' '))))
  const places = new Map<string, Map<Relation, Place[]>>()
  for (const child of g.tables) {
    for (const column of child.columns) {
      if (column.generated !== null) continue
      const words = g.lexicon.words(column.name)
      for (let from = 0; from < words.length; from += 1) {
        const text = words.slice(from).join(' ')
        if (!wanted.has(text)) continue
        const perTable = places.get(text) ?? new Map<Relation, Place[]>()
        places.set(text, perTable)
        const list = perTable.get(child) ?? []
        perTable.set(child, list)
        list.push({ column, role: words.slice(0, from).join(' ') })
      }
    }
  }
  return places
}

interface Placement {
  readonly child: Relation
  readonly columns: readonly Column[]
  readonly role: string
}

/** Where a whole key is found in another table: every column of it under one role, or without one. */
function placements(g: Ground, key: TargetKey, places: Places): readonly Placement[] {
  const perColumn = key.columns.map((c) => places.get(g.lexicon.words(c.name).join(' ')))
  const rarest = perColumn.reduce((a, b) => ((b?.size ?? 0) < (a?.size ?? 0) ? b : a), perColumn[0])
  const t = g.lexicon.tables.get(key.table) as TableWords
  const phrase = t.words.slice(t.area).join(' ')
  return [...(rarest?.keys() ?? [])].flatMap((child) => {
    const lists = perColumn.map((m) => m?.get(child) ?? [])
    if (lists.some((l) => l.length === 0)) return []
    const roles = new Set(lists.flatMap((l) => l.map((p) => p.role)))
    return [...roles].flatMap((role): Placement[] => {
      if (child === key.relation && role === '') return []
      const taken = lists.map((l, i) => {
        const generic = g.lexicon.words(key.columns[i]?.name ?? '').every((w) => keyWords.has(w))
        const under = l.find((p) => p.role === role)
        if (under && !(generic && role === '')) return under
        return l.find((p) => p.role === phrase && generic) ?? (role !== '' || !generic ? l.find((p) => p.role === '' && !generic) : undefined) ?? under
      })
      const columns = taken.flatMap((p) => (p ? [p.column] : []))
      if (columns.length < key.columns.length || new Set(columns).size < columns.length) return []
      // At least one column is under the role; the others may be shared, as a tenant's is.
      if (role !== '' && !taken.some((p) => p?.role === role)) return []
      if (child === key.relation && columns.every((c) => key.columns.includes(c))) return []
      return [{ child, columns, role: role === phrase ? '' : role }]
    })
  })
}

function compositeFacts(g: Ground, child: Relation, columns: readonly Column[], key: TargetKey, role: string, owners: number): Facts | null {
  const near = nearTypes(g, columns, key)
  if (near === null) return null
  const own = g.lexicon.tables.get(relationText(child)) as TableWords
  const t = g.lexicon.tables.get(key.table) as TableWords
  const names = columns.map((c) => c.name)
  const pk = child.primaryKey?.columns ?? []
  const wholeOwn = pk.length === names.length && pk.every((c) => names.includes(c))
  const spoken = new Set(key.columns.flatMap((c) => t.columns.get(c.name) ?? []))
  const body = (w: TableWords) => w.words.slice(w.area)
  /** What share of a table's name the key speaks. */
  const said = (w: TableWords) => body(w).filter((x) => spoken.has(x)).length / Math.max(1, body(w).length)
  const same = (is: (key: Column) => boolean) => key.columns.filter((c, i) => columns[i]?.name === c.name && is(c)).length / names.length
  const facts: readonly (readonly [FactName, number | boolean])[] = [
    ['several columns', 1],
    ['same names (several)', same(() => true)],
    ['under a role (several)', role !== ''],
    ['primary key (several)', key.primary],
    ['unique key (several)', !key.primary],
    ['own whole key (several)', wholeOwn],
    ['unique within own key (several)', !wholeOwn && uniqueOver(child, names) !== null],
    ['part of own key (several)', !wholeOwn && names.every((n) => pk.includes(n))],
    ['key names its table (several)', said(t)],
    ['key names it better (several)', wholeOwn ? said(t) - said(own) : 0],
    ['table speaks of it (several)', child !== key.relation && body(t).every((w) => own.words.includes(w))],
    ['bare key words (several)', same((c) => (t.columns.get(c.name) ?? []).every((w) => keyWords.has(w)))],
    ['only owner (several)', owners === 1],
    ['other owners (several)', Math.log2(owners)],
    ['numbers clash (several)', numbersClash(own.words, t.words)],
    ['three or more (several)', names.length > 2],
    ['indexed (several)', indexOver(child, names) !== null],
    ['near type (several)', near],
    ['itself (several)', child === key.relation],
    ['same area (several)', own.area > 0 && t.area > 0 && own.words[0] === t.words[0]],
  ]
  return new Map(facts.flatMap(([name, v]) => (Number(v) === 0 ? [] : [[name, Number(v)] as const])))
}

/** Is the type of some column only near to that of the key's? Null where one can never match. Dates may be part of a key. */
function nearTypes(g: Ground, columns: readonly Column[], key: TargetKey): boolean | null {
  let near = false
  for (const [i, c] of columns.entries()) {
    const [a, b] = [g.kindOf(c), g.kindOf(key.columns[i] as Column)]
    const fits = typeFacts(a, b)
    if (fits === null && a.type !== b.type) return null
    if (fits?.some(([name]) => name === 'near type' || name === 'far type')) near = true
  }
  return near
}
