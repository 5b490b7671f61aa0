// Candidates over several columns: a table that has a column for each column of another one's composite key.
import { type Column, columnsText, indexOver, type Relation, relationText, uniqueOver } from '../../catalog/index.ts'
import { numbersClash, typeFacts } from './candidates.ts'
import type { FactName, Facts } from './facts.ts'
import { columnAt, equalFacts, type Ground, pairText } from './ground.ts'
import type { TableWords } from './lexicon.ts'
import type { Candidate, Question } from './question.ts'
import { shortFormOf } from './shortForms.ts'
import type { TargetKey } from './targets.ts'
import { keyWords, plainWords, recordWords } from './words.ts'

interface Place {
  readonly column: Column
  /** Words in front of those it shares with the key's column. */
  readonly role: readonly string[]
}

/** Words of a key's column → tables that have a column ending so. */
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
  const owners = new Map<string, number>()
  const keyText = (k: TargetKey) => (wordings.get(k)?.texts ?? []).toSorted().join()
  for (const k of keys) owners.set(keyText(k), (owners.get(keyText(k)) ?? 0) + 1)
  const declared = new Set(g.settled.map((d) => setText(d.child, d.columns)))
  const bySet = new Map<string, { child: Relation; columns: readonly Column[]; candidates: Candidate[] }>()
  const joined = joinedPlacements(g, keys)
  for (const key of keys) {
    const w = wordings.get(key) as KeyWording
    const found = childrenFor(w, places, owners.get(keyText(key)) ?? 1).flatMap((child) => placements(g, child, key, w, places))
    const byType = g.wide ? typePlacements(g, key, w, places) : []
    for (const p of [...found, ...(joined.get(key) ?? []), ...byType]) {
      const text = setText(p.child, p.columns)
      if (declared.has(text)) continue
      const question = bySet.get(text) ?? { child: p.child, columns: p.columns, candidates: [] }
      if (question.candidates.some((c) => c.target === key)) continue
      const facts = compositeFacts(g, p, key, owners.get(keyText(key)) ?? 1)
      if (facts === null) continue
      bySet.set(text, question)
      const all: Facts = p.byType ? new Map([...facts, ['only values say so', 1] as const]) : facts
      question.candidates.push({ child: p.child, columns: p.columns, target: key, targetColumns: key.columns, facts: all, role: p.role })
    }
  }
  return [...bySet.values()]
}

/** How columns elsewhere may call a key: the words of its columns, in front of them what its table is called. */
interface KeyWording {
  readonly table: readonly string[]
  readonly texts: readonly string[]
}

const bodyOf = (t: TableWords) => t.words.slice(t.area, t.words.length - t.idle)

/** A table goes by its name without the area, unless many share that. What all its columns begin with is no part of their names. */
function wordingOf(g: Ground, key: TargetKey, bodies: ReadonlyMap<string, number>): KeyWording {
  const t = g.lexicon.tables.get(key.table) as TableWords
  const body = bodyOf(t)
  const said = (c: Column) => t.bare.get(c.name) ?? t.columns.get(c.name) ?? []
  return { table: (bodies.get(body.join(' ')) ?? 0) > crowd ? t.words : body, texts: key.columns.map((c) => said(c).join(' ')) }
}

function placesOf(g: Ground, wordings: readonly KeyWording[]): Places {
  const wanted = new Set(wordings.flatMap((w) => w.texts))
  const places = new Map<string, Map<Relation, Place[]>>()
  for (const child of g.tables) {
    const t = g.lexicon.tables.get(relationText(child)) as TableWords
    for (const column of child.columns) {
      if (column.generated !== null) continue
      const full = g.lexicon.words(column.name)
      for (const words of t.bare.has(column.name) ? [full, t.bare.get(column.name) as readonly string[]] : [full])
        for (let from = 0; from < words.length; from += 1) {
          const text = words.slice(from).join(' ')
          if (!wanted.has(text)) continue
          const perTable = places.get(text) ?? new Map<Relation, Place[]>()
          places.set(text, perTable)
          const list = perTable.get(child) ?? []
          perTable.set(child, list)
          list.push({ column, role: words.slice(0, from) })
        }
    }
  }
  return places
}

interface Placement {
  readonly child: Relation
  readonly columns: readonly Column[]
  readonly role: readonly string[]
  /** How well the words in front of the columns say the name of the key's table, from 0 to 1. */
  readonly named: number
  /** Some columns only have the type of the key's: their values must say the rest. */
  readonly byType?: true
}

const isGeneric = (text: string) => text.split(' ').every((w) => keyWords.has(w))

/** Tables worth a look: those that have the key's rarest column; of names that many keys share, only under words in front. */
function childrenFor(w: KeyWording, places: Places, owners: number): readonly Relation[] {
  const maps = w.texts.map((t) => places.get(t))
  const rarest = maps.reduce((a, b) => ((b?.size ?? 0) < (a?.size ?? 0) ? b : a), maps[0])
  const tables = [...(rarest ?? [])]
  if (owners <= crowd && !w.texts.some(isGeneric)) return tables.map(([r]) => r)
  return tables.flatMap(([r, list]) => (list.some((p) => p.role.length > 0) || speaksOf(r, w) ? [r] : []))
}

const speaksOf = (r: Relation, w: KeyWording) => w.table.every((word) => r.name.toLowerCase().includes(word.slice(0, 4)))

/** How well words in front of a column say the name of a table: whole, an end or front of it, its initials, a short form. */
export function saysTable(words: readonly string[], table: readonly string[]): number {
  if (words.length === 0 || words.length > table.length) return 0
  const text = words.join(' ')
  if (text === table.join(' ')) return 1
  if (table.slice(-words.length).join(' ') === text) return 0.9
  if (table.slice(0, words.length).join(' ') === text) return 0.7
  const [word] = words
  if (words.length > 1 || word === undefined) return 0
  const initials = table.length > 1 && word === table.map((w) => w[0]).join('')
  return initials ? 0.8 : Math.max(0, ...table.map((w, i) => (i === table.length - 1 ? 0.8 : 0.6) * shortFormOf(word, [w])))
}

/** Where a whole key is found in another table: its columns behind the name of its table, all under one role, or as they are; a column that all share, as a tenant's is, as it is. */
function placements(g: Ground, child: Relation, key: TargetKey, w: KeyWording, places: Places): readonly Placement[] {
  const own = g.lexicon.tables.get(relationText(child)) as TableWords
  const speaks = child !== key.relation && w.table.every((x) => own.words.includes(x))
  const lists = w.texts.map((t) => (places.get(t)?.get(child) ?? []).map((p) => ({ ...p, named: saysTable(p.role, w.table) })))
  if (lists.some((l) => l.length === 0)) return []
  const found: Placement[] = []
  const put = (taken: readonly ((typeof lists)[number][number] | undefined)[], role: readonly string[]) => {
    const columns = taken.flatMap((p) => (p ? [p.column] : []))
    if (columns.length < key.columns.length || new Set(columns).size < columns.length) return
    if (child === key.relation && columns.every((c) => key.columns.includes(c))) return
    const named = taken.flatMap((p) => (p && p.named > 0 ? [p.named] : []))
    found.push({ child, columns, role, named: named.length === 0 ? 0 : Math.min(...named) })
  }
  const best = (l: (typeof lists)[number]) => l.filter((p) => p.named > 0).toSorted((a, b) => b.named - a.named)[0]
  const plain = (l: (typeof lists)[number], i: number) => (isGeneric(w.texts[i] as string) && !speaks ? undefined : l.find((p) => p.role.length === 0))
  if (lists.some((l) => best(l) !== undefined))
    put(
      lists.map((l, i) => best(l) ?? plain(l, i)),
      [],
    )
  if (child !== key.relation) put(lists.map(plain), [])
  const roles = new Set(lists.flatMap((l) => l.flatMap((p) => (p.role.length > 0 && p.named === 0 ? [p.role.join(' ')] : []))))
  for (const role of roles)
    put(
      lists.map((l) => l.find((p) => p.role.join(' ') === role) ?? l.find((p) => p.role.length === 0)),
      role.split(' '),
    )
  return found
}

/** Sets of columns that one view, routine or trigger sets equal to all columns of a key, whatever they are called. */
function joinedPlacements(g: Ground, keys: readonly TargetKey[]): ReadonlyMap<TargetKey, readonly Placement[]> {
  const found = new Map<TargetKey, Placement[]>()
  const byTable = new Map<string, TargetKey[]>()
  for (const k of keys) byTable.set(k.table, [...(byTable.get(k.table) ?? []), k])
  for (const f of equalFacts)
    for (const { child, parent, columns } of g.equal[f].together) {
      const relation = g.byText.get(child)
      for (const key of relation ? (byTable.get(parent) ?? []) : []) {
        const list = key.columns.flatMap((k) => relation?.columns.find((c) => c.name === columns.get(k.name)) ?? [])
        if (!relation || list.length < key.columns.length || new Set(list).size < list.length) continue
        if (child === parent && list.every((c) => key.columns.includes(c))) continue
        const named = list.map((c, i) => frontOf(g, relation, key, c, i))
        const role = named.some((n) => n === null) ? [] : (named as readonly (readonly string[])[])[0]
        found.set(key, [...(found.get(key) ?? []), { child: relation, columns: list, role: role ?? [], named: 0 }])
      }
    }
  return found
}

/** So many ways at most to fill the columns that no name tells, for each table and key. */
const mostByType = 4

/** Where some columns are called like those of a key, and others are texts or identifiers of exactly the type: numbers agree by accident. */
function typePlacements(g: Ground, key: TargetKey, w: KeyWording, places: Places): readonly Placement[] {
  const tables = new Set(w.texts.flatMap((t) => (isGeneric(t) ? [] : [...(places.get(t)?.keys() ?? [])])))
  return [...tables].flatMap((child) => {
    if (child === key.relation) return []
    let ways: readonly (readonly Column[])[] = [[]]
    for (const [i, k] of key.columns.entries()) {
      const named = (places.get(w.texts[i] as string)?.get(child) ?? []).map((p) => p.column)
      const family = g.kindOf(k).family
      const alike = family === 'text' || family === 'uuid' ? child.columns.filter((c) => c.type === k.type && c.generated === null) : []
      const columns = named.length > 0 ? named : alike
      ways = ways.flatMap((way) => columns.flatMap((c) => (way.includes(c) ? [] : [[...way, c]]))).slice(0, mostByType)
    }
    return ways.map((columns): Placement => ({ child, columns, role: [], named: 0, byType: true }))
  })
}

/** Words that a column has in front of those of the key's column; null where it does not end so. */
function frontOf(g: Ground, child: Relation, key: TargetKey, column: Column, i: number): readonly string[] | null {
  const words = g.lexicon.tables.get(relationText(child))?.columns.get(column.name) ?? []
  const tail = g.lexicon.tables.get(key.table)?.columns.get(key.columns[i]?.name ?? '') ?? []
  return words.slice(-tail.length).join(' ') === tail.join(' ') ? words.slice(0, -tail.length) : null
}

function compositeFacts(g: Ground, { child, columns, role, named }: Placement, key: TargetKey, owners: number): Facts | null {
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
    ['under a role (several)', role.length > 0],
    ['table named in front (several)', named],
    ['primary key (several)', key.primary],
    ['unique key (several)', !key.primary],
    ['own whole key (several)', wholeOwn],
    ['unique within own key (several)', !wholeOwn && uniqueOver(child, names) !== null],
    ['part of own key (several)', !wholeOwn && names.every((n) => pk.includes(n))],
    ['key names its table (several)', said(t)],
    ['key names it better (several)', wholeOwn ? said(t) - said(own) : 0],
    ['rows alike (several)', g.mirrors.get(child) !== key.relation && same(() => true) === 1 && rowsAlike(child, names, key)],
    ['handed down (several)', key.primary && !wholeOwn && names.every((n) => pk.includes(n)) && (said(own) === 0 || said(t) > said(own))],
    ['speaks of this table (several)', !wholeOwn && child !== key.relation && named === 0 && said(own) > said(t)],
    ['of others only (several)', named === 0 && key.columns.every((c) => !saysOwn(g, t, c, key))],
    ['target keeps a record (several)', t.words.some((w) => recordWords.has(w)) && !own.words.some((w) => recordWords.has(w))],
    ['table speaks of it (several)', child !== key.relation && body(t).every((w) => own.words.includes(w))],
    ['bare key words (several)', same((c) => (t.columns.get(c.name) ?? []).every((w) => keyWords.has(w)))],
    ['only owner (several)', owners === 1],
    ['other owners (several)', (1 - named) * Math.log2(owners)],
    ['numbers clash (several)', numbersClash(own.words, t.words)],
    ['three or more (several)', names.length > 2],
    ['indexed (several)', indexOver(child, names) !== null],
    ['near type (several)', near],
    ['itself (several)', child === key.relation],
    ['same area (several)', own.area > 0 && t.area > 0 && own.words[0] === t.words[0]],
  ]
  return new Map(facts.flatMap(([name, v]) => (Number(v) === 0 ? [] : [[name, Number(v)] as const])))
}

/** So large a part of a table's columns is usual for two tables of one kind, and not for one that refers to the other. */
const mostShared = 0.5

/** Are most columns beyond those of the key the same, or are there next to none in both? */
function rowsAlike(child: Relation, names: readonly string[], key: TargetKey): boolean {
  if (child === key.relation) return false
  const theirs = new Set(key.relation.columns.map((c) => c.name))
  const own = child.columns.filter((c) => !names.includes(c.name))
  const shared = own.filter((c) => theirs.has(c.name)).length
  const keyed = names.every((n) => theirs.has(n) && child.primaryKey?.columns.includes(n))
  if (theirs.size === names.length) return own.length < 2 && keyed
  return shared > 0 && shared >= own.length * mostShared
}

/** Does a column of a key speak of its own table, or at least of no other, in more than a word that describes rows anywhere? */
function saysOwn(g: Ground, t: TableWords, c: Column, key: TargetKey): boolean {
  const spoken = (t.columns.get(c.name) ?? []).filter((w) => !keyWords.has(w))
  const called = g.lexicon.called.get(spoken.join(' ')) ?? []
  if (called.length > 0) return called.includes(key.table)
  return spoken.some((w) => bodyOf(t).includes(w) || !plainWords.has(w))
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
