// Candidates over several columns: a table that has a column for each column of another one's composite key.
import { type Column, columnsText, indexOver, type Relation, relationText, uniqueOver } from '../../catalog/index.ts'
import { type Candidate, numbersClash, type Question, typeFacts } from './candidates.ts'
import type { FactName, Facts } from './facts.ts'
import { columnAt, equalFacts, type Ground, pairText } from './ground.ts'
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

/** So many keys of the same words say nothing by themselves: every table of a tenant has its (tenant, name). */
const crowd = 8

const setText = (child: Relation, columns: readonly Column[]) => columnsText(child, columns.map((c) => c.name).toSorted())

/** Questions about sets of columns, each set of a table once. */
export function compositeQuestions(g: Ground): readonly Question[] {
  const keys = g.keys.filter((k) => k.columns.length > 1 && k.columns.length <= longest)
  if (keys.length === 0) return []
  const bodies = new Map<string, number>()
  for (const t of g.lexicon.tables.values()) bodies.set(bodyOf(t).join(' '), (bodies.get(bodyOf(t).join(' ')) ?? 0) + 1)
  const wordings = new Map(keys.map((k) => [k, wordingOf(g, k, bodies)]))
  const places = placesOf(g, [...wordings.values()])
  const speakers = speakersOf(g, [...wordings.values()])
  const owners = new Map<string, number>()
  const keyText = (k: TargetKey) => (wordings.get(k)?.texts ?? []).toSorted().join()
  for (const k of keys) owners.set(keyText(k), (owners.get(keyText(k)) ?? 0) + 1)
  const declared = new Set(g.settled.map((d) => setText(d.child, d.columns)))
  const bySet = new Map<string, { child: Relation; columns: readonly Column[]; candidates: Candidate[] }>()
  for (const key of keys) {
    const w = wordings.get(key) as KeyWording
    const children = childrenFor(w, places, speakers, owners.get(keyText(key)) ?? 1)
    for (const { child, columns, role } of placements(g, key, w, places, children)) {
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

/** Words of a key's column, and the same behind the name of its table: `id` and `lot id`. */
interface KeyWording {
  readonly phrase: string
  readonly texts: readonly string[]
}

const bodyOf = (t: TableWords) => t.words.slice(t.area, t.words.length - t.idle)

/** A table goes by its name without the area, unless many share that. */
function wordingOf(g: Ground, key: TargetKey, bodies: ReadonlyMap<string, number>): KeyWording {
  const t = g.lexicon.tables.get(key.table) as TableWords
  const body = bodyOf(t).join(' ')
  return { phrase: (bodies.get(body) ?? 0) > crowd ? t.words.join(' ') : body, texts: key.columns.map((c) => (t.columns.get(c.name) ?? []).join(' ')) }
}

function placesOf(g: Ground, wordings: readonly KeyWording[]): Places {
  const wanted = new Set(wordings.flatMap((w) => w.texts.flatMap((t) => [t, `${w.phrase} ${t}`])))
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

const manySpeakers = 24

const isGeneric = (text: string) => text.split(' ').every((w) => keyWords.has(w))

/** Tables worth a look: those that have the key's rarest column, or, where anything could have it, that speak of its table. */
function childrenFor(w: KeyWording, places: Places, speakers: ReadonlyMap<string, readonly Relation[]>, owners: number): ReadonlySet<Relation> {
  const telling = w.texts.filter((t) => !isGeneric(t))
  const generic = telling.length < w.texts.length
  if (!generic && owners <= crowd) {
    const maps = telling.map((t) => places.get(t))
    return new Set(maps.reduce((a, b) => ((b?.size ?? 0) < (a?.size ?? 0) ? b : a), maps[0])?.keys() ?? [])
  }
  const named = w.texts.flatMap((t) => [...(places.get(`${w.phrase} ${t}`)?.keys() ?? [])])
  const speaking = speakers.get(w.phrase) ?? []
  // A word that many tables have in their names is no name of one.
  return new Set([...named, ...(speaking.length > manySpeakers ? [] : speaking)])
}

/** Tables by what their names speak of: the names of tables with a composite key. */
function speakersOf(g: Ground, wordings: readonly KeyWording[]): ReadonlyMap<string, readonly Relation[]> {
  const wanted = new Set(wordings.map((w) => w.phrase))
  const found = new Map<string, Relation[]>()
  for (const r of g.tables) {
    const words = g.lexicon.tables.get(relationText(r))?.words ?? []
    for (let from = 0; from < words.length; from += 1) {
      for (let to = from + 1; to <= words.length; to += 1) {
        const text = words.slice(from, to).join(' ')
        if (wanted.has(text)) found.set(text, [...(found.get(text) ?? []), r])
      }
    }
  }
  return found
}

/** Where a whole key is found in other tables: every column of it under one role, or without one. */
function placements(g: Ground, key: TargetKey, w: KeyWording, places: Places, children: ReadonlySet<Relation>): readonly Placement[] {
  return [...children].flatMap((child) => {
    const own = g.lexicon.tables.get(relationText(child)) as TableWords
    const speaks = child !== key.relation && w.phrase.split(' ').every((x) => own.words.includes(x))
    const lists = w.texts.map((t) => {
      const named = places.get(`${w.phrase} ${t}`)?.get(child) ?? []
      const plain = places.get(t)?.get(child) ?? []
      if (!isGeneric(t)) return [...named, ...plain]
      return named.length > 0 || !speaks ? named : plain.filter((p) => p.role === '')
    })
    if (lists.some((l) => l.length === 0)) return []
    const roles = new Set(lists.flatMap((l) => l.map((p) => p.role)))
    return [...roles].flatMap((role) => placed(child, key, lists, role, w.phrase))
  })
}

/** A column for each of the key's, all under the role or shared by all roles, as a tenant's is. */
function placed(child: Relation, key: TargetKey, lists: readonly (readonly Place[])[], role: string, phrase: string): readonly Placement[] {
  if (role === phrase && lists.some((l) => l.some((p) => p.role === ''))) return []
  const taken = lists.map((l) => l.find((p) => p.role === role) ?? l.find((p) => p.role === ''))
  const columns = taken.flatMap((p) => (p ? [p.column] : []))
  if (columns.length < key.columns.length || new Set(columns).size < columns.length) return []
  if (role !== '' && !taken.some((p) => p?.role === role)) return []
  if (child === key.relation && (role === '' || columns.every((c) => key.columns.includes(c)))) return []
  return [{ child, columns, role: role === phrase ? '' : role }]
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
    ...equalFacts.map(
      (f) =>
        [
          f,
          columns.every((c, i) => g.equal[f].pairs.has(pairText(columnAt(relationText(child), c.name), columnAt(key.table, key.columns[i]?.name ?? '')))),
        ] as const,
    ),
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
