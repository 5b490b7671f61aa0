// What other columns say about one: columns called alike that are joined with a key, or whose words tell their table, the column of
// the other role beside it, and the pair of columns by which a table relates rows of one other.
import { type Column, type Relation, relationText, uniqueRules } from '../../catalog/index.ts'
import { candidateOf, isOwnKey, mayRefer, standingIn, typeFacts } from './candidates.ts'
import { type FactName, priors } from './facts.ts'
import { columnAt, equalFacts, type Ground } from './ground.ts'
import type { TableWords } from './lexicon.ts'
import { namesTable } from './nameIndex.ts'
import type { Candidate, Question } from './question.ts'
import { probabilities } from './score.ts'
import type { TargetKey } from './targets.ts'
import { keyWords, plainWords, recordWords, rolePairs } from './words.ts'

/** A column and what is said of it beyond its name: keys it may refer to, each with a fact and its strength. */
interface Said {
  readonly child: Relation
  readonly column: Column
  readonly keys: Map<TargetKey, Map<FactName, number>>
}

class Sayings {
  readonly all = new Map<string, Said>()
  add(child: Relation, column: Column, key: TargetKey, fact: FactName, strength: number): void {
    const at = columnAt(relationText(child), column.name)
    const said = this.all.get(at) ?? { child, column, keys: new Map<TargetKey, Map<FactName, number>>() }
    this.all.set(at, said)
    const facts = said.keys.get(key) ?? new Map<FactName, number>()
    said.keys.set(key, facts.set(fact, Math.max(facts.get(fact) ?? 0, strength)))
  }
}

/** So sure a column must be by its own words, so large a part of those called alike must agree. */
const clear = 0.6
const agreed = 0.6
/** What a counterpart says that is as unsure of the same table. */
const bothUnsure = 0.9
/** What a name without the words in front of it says of the name with them. */
const roleShare = 0.6

/** The questions with what the rest of the schema says added: facts to candidates there are, and candidates that no name made. `weighed`: the same questions, for a first look at how sure each is. */
export function withElsewhere(g: Ground, questions: readonly Question[], weighed: readonly Question[]): readonly Question[] {
  const sure = weighed.map((q) =>
    probabilities(
      q.candidates.map((c) => c.facts),
      priors,
    ),
  )
  const best = new Map<string, Answer>()
  for (const [i, q] of weighed.entries()) {
    const list = sure[i] as readonly number[]
    const top = list.indexOf(Math.max(...list))
    const { target, facts } = q.candidates[top] as Candidate
    const namesIt = facts.has('only such table')
    const byWords = facts.has('table name') || facts.has('part of the table name') || facts.has('key name') || facts.has('noun of its key')
    best.set(columnAt(relationText(q.child), q.columns[0]?.name ?? ''), { key: target, p: list[top] as number, namesIt, byWords })
  }
  const said = new Sayings()
  calledAlike(g, best, said)
  counterparts(g, best, said)
  twoOfOne(g, best, said)
  return extended(g, questions, said)
}

const nameOf = (g: Ground, child: Relation, column: string) => (g.lexicon.tables.get(relationText(child)) as TableWords).columns.get(column) ?? []
const saysNothing = (words: readonly string[]) => words.every((w) => keyWords.has(w)) || (words.length === 1 && plainWords.has(words[0] as string))
const isRecord = (g: Ground, r: Relation) => g.mirrors.has(r) || (g.lexicon.tables.get(relationText(r)) as TableWords).words.some((w) => recordWords.has(w))

/** What a column refers to most likely, by itself. */
interface Answer {
  readonly key: TargetKey
  readonly p: number
  /** Its name ends like that of the table, and of no other. */
  readonly namesIt: boolean
  /** Its name speaks of the table or the key, and not of a role only. */
  readonly byWords: boolean
}

type Best = ReadonlyMap<string, Answer>

type Counts = Map<string, Map<TargetKey, number>>
type ColumnsByName = Map<string, (readonly [Relation, Column])[]>

function count(counts: Counts, name: string, key: TargetKey): void {
  const keys = counts.get(name) ?? new Map<TargetKey, number>()
  counts.set(name, keys.set(key, (keys.get(key) ?? 0) + 1))
}

function list(columns: ColumnsByName, name: string, child: Relation, column: Column): void {
  const others = columns.get(name)
  if (others) others.push([child, column])
  else columns.set(name, [[child, column]])
}

/** Columns by their words, and by the last of them behind a role; and what those called so are joined with, or tell by their words. */
class Alike {
  readonly columns: ColumnsByName = new Map()
  readonly withRole: ColumnsByName = new Map()
  readonly joined: Counts = new Map()
  readonly told: Counts = new Map()

  constructor(
    private readonly g: Ground,
    private readonly best: Best,
  ) {
    for (const child of g.tables) if (!isRecord(g, child)) for (const column of child.columns) this.read(child, column)
    for (const s of g.settled) {
      const key = g.index.keysOf.get(s.target)?.[0]
      if (key && s.columns.length === 1 && s.child !== key.relation) count(this.told, nameOf(g, s.child, s.columns[0]?.name ?? '').join(' '), key)
    }
  }

  private read(child: Relation, column: Column): void {
    const words = nameOf(this.g, child, column.name)
    if (saysNothing(words)) return
    const name = words.join(' ')
    list(this.columns, name, child, column)
    for (let from = 1; from < words.length - 1; from += 1) {
      const rest = words.slice(from)
      if (!saysNothing(rest) && rest.some((w) => keyWords.has(w))) list(this.withRole, rest.join(' '), child, column)
    }
    const at = columnAt(relationText(child), column.name)
    for (const f of equalFacts) for (const key of this.g.equal[f].keys.get(at) ?? []) if (key.relation !== child) count(this.joined, name, key)
    const b = this.best.get(at)
    if (b && b.p >= clear && b.byWords && b.key.relation !== child) count(this.told, name, b.key)
  }
}

/** Columns of one name: most of them that are joined are joined with one key, or most that tell their table tell one. */
function calledAlike(g: Ground, best: Best, said: Sayings): void {
  const alike = new Alike(g, best)
  const isJoined = (at: string, key: TargetKey) => equalFacts.some((f) => g.equal[f].keys.get(at)?.has(key))
  const isClear = (at: string, key: TargetKey) => best.get(at)?.key === key && (best.get(at)?.p ?? 0) >= clear
  const add = (child: Relation, column: Column, key: TargetKey, fact: FactName, strength: number) => {
    if (child !== key.relation && !isNamedOtherwise(g, child, column, key)) said.add(child, column, key, fact, strength)
  }
  for (const { name, key, n } of agreedOn(alike.joined)) {
    for (const [child, column] of alike.withRole.get(name) ?? []) add(child, column, key, 'joined elsewhere', roleShare)
    // No column is its own witness.
    for (const [child, column] of alike.columns.get(name) ?? [])
      if (n > 1 || !isJoined(columnAt(relationText(child), column.name), key)) add(child, column, key, 'joined elsewhere', 1)
  }
  for (const { name, key } of agreedOn(alike.told)) {
    for (const [child, column] of alike.withRole.get(name) ?? []) add(child, column, key, 'clear elsewhere', roleShare)
    // None that is clear needs others.
    for (const [child, column] of alike.columns.get(name) ?? [])
      if (!isClear(columnAt(relationText(child), column.name), key)) add(child, column, key, 'clear elsewhere', 1)
  }
}

/** Names most of whose witnesses speak for one key. */
function* agreedOn(counts: Counts): Generator<{ readonly name: string; readonly key: TargetKey; readonly n: number }> {
  for (const [name, keys] of counts) {
    const all = [...keys.values()].reduce((a, b) => a + b, 0)
    const [key, n] = [...keys].toSorted((a, b) => b[1] - a[1])[0] as [TargetKey, number]
    if (n >= all * agreed) yield { name, key, n }
  }
}

/** Does the column say the whole name of a table that this key is none of? */
function isNamedOtherwise(g: Ground, child: Relation, column: Column, key: TargetKey): boolean {
  const said = nameOf(g, child, column.name)
    .filter((w) => !keyWords.has(w))
    .join(' ')
  const tables = g.lexicon.called.get(said) ?? []
  return tables.length > 0 && !tables.includes(key.table)
}

/** The words with one role in them exchanged for the other of its pair. */
function* otherRoles(words: readonly string[]): Generator<string> {
  for (const [i, w] of words.entries()) for (const other of othersOf.get(w) ?? []) yield words.with(i, other).join(' ')
}

/** Each role with those it makes a pair with. */
const othersOf = otherRoleMap()
function otherRoleMap(): ReadonlyMap<string, readonly string[]> {
  const map = new Map<string, string[]>()
  for (const [a, b] of rolePairs)
    for (const [one, other] of [
      [a, b],
      [b, a],
    ] as const)
      map.set(one, [...(map.get(one) ?? []), other])
  return map
}

/** Two columns that differ by a pair of roles only. */
function pairsOf(g: Ground, child: Relation): readonly (readonly [Column, Column])[] {
  const byName = new Map(child.columns.map((c) => [nameOf(g, child, c.name).join(' '), c]))
  return child.columns.flatMap((c) => {
    for (const name of otherRoles(nameOf(g, child, c.name))) {
      const other = byName.get(name)
      if (other && other !== c && other.type === c.type) return [[c, other] as const]
    }
    return []
  })
}

/** What is called alike but for the role refers alike. */
function counterparts(g: Ground, best: Best, said: Sayings): void {
  for (const child of g.tables)
    for (const [column, other] of pairsOf(g, child)) {
      const beside = columnAt(relationText(child), other.name)
      const joined = equalFacts.flatMap((f) => [...(g.equal[f].keys.get(beside) ?? [])])
      for (const key of joined) if (key.relation !== child) said.add(child, column, key, 'its counterpart', 1)
      const b = joined.length > 0 ? undefined : best.get(beside)
      if (!b || b.key.relation === child) continue
      const at = columnAt(relationText(child), column.name)
      const own = best.get(at)
      if (b.p >= clear) said.add(child, column, b.key, 'its counterpart', 1)
      else if (own && own.key === b.key && own.namesIt && own.p < 0.5) said.add(child, column, b.key, 'its counterpart', bothUnsure)
    }
}

/** `tool_compatibility (tool_a, tool_b)`: a table called after another one, and two columns in two roles, or a key of two, that name no other. */
function twoOfOne(g: Ground, best: Best, said: Sayings): void {
  const called = keysCalled(g)
  for (const child of g.tables) {
    const key = partOf(g, child, called)
    if (!key) continue
    const kind = g.kindOf(key.columns[0] as Column)
    const fits = (c: Column) => c.generated === null && child.primaryKey?.columns.join() !== c.name && typeFacts(g.kindOf(c), kind)?.[0]?.[0] === 'same type'
    const free = (c: Column) => {
      const b = best.get(columnAt(relationText(child), c.name))
      const words = nameOf(g, child, c.name)
      const says = words.some((w) => keyWords.has(w)) || namesTable(g.index, words.slice(0, -1).join(' '))
      return says && fits(c) && (b === undefined || b.p < 0.5 || b.key === key || b.key.relation === child)
    }
    const inRoles = pairsOf(g, child).flat()
    const keyed =
      uniqueRules(child)
        .find((u) => u.columns.length === 2)
        ?.columns.flatMap((n) => child.columns.find((c) => c.name === n) ?? []) ?? []
    const { words } = g.lexicon.tables.get(key.table) as TableWords
    const speaks = (c: Column) => nameOf(g, child, c.name).includes(words.at(-1) as string)
    for (const pair of [inRoles, keyed])
      if (pair.length >= 2 && pair.every(free) && new Set(pair.map(speaks)).size === 1) for (const c of new Set(pair)) said.add(child, c, key, 'two of one', 1)
  }
}

/** More than one besides a table's own. */
const several = 3

/** Words → primary keys of tables whose whole name they are, several at most: on a schema of `t1` to `t5000`, `t` is every table's. */
function keysCalled(g: Ground): (words: string) => readonly TargetKey[] {
  const made = new Map<string, readonly TargetKey[]>()
  return (words) => {
    const before = made.get(words)
    if (before) return before
    const found = new Set<TargetKey>()
    for (const h of g.index.phrases.get(words) ?? []) {
      const t = g.lexicon.tables.get(h.table) as TableWords
      const key = g.index.keysOf.get(h.table)?.[0]
      if (key?.primary && !h.byKey && h.front <= t.area && h.back <= t.idle) found.add(key)
      if (found.size === several) break
    }
    made.set(words, [...found])
    return [...found]
  }
}

/** The key of the one other table whose whole name is the longest part of this one's. */
function partOf(g: Ground, child: Relation, called: (words: string) => readonly TargetKey[]): TargetKey | null {
  const { words } = g.lexicon.tables.get(relationText(child)) as TableWords
  for (let length = words.length - 1; length > 0; length -= 1) {
    const found = new Set<TargetKey>()
    for (let from = 0; from + length <= words.length; from += 1)
      for (const key of called(words.slice(from, from + length).join(' '))) if (key.relation !== child) found.add(key)
    if (found.size > 0) return found.size === 1 ? ([...found][0] as TargetKey) : null
  }
  return null
}

/** Each question with the candidates and facts that were said; columns that had none may have a question now. */
function extended(g: Ground, questions: readonly Question[], said: Sayings): readonly Question[] {
  const byColumn = new Map(questions.map((q) => [columnAt(relationText(q.child), q.columns[0]?.name ?? ''), q]))
  for (const [at, s] of said.all) {
    if (!mayRefer(g, s.child, s.column) || isOwnKey(g, s.child, s.column, standingIn(s.child)(s.column))) continue
    const q = byColumn.get(at) ?? { child: s.child, columns: [s.column], candidates: [] }
    const known = new Set(q.candidates.map((c) => c.target))
    const more = [...s.keys.keys()].flatMap((target): Candidate[] => {
      const alone = { target, role: [], facts: [['only another column says so', 1]] } as const
      const made = known.has(target) ? null : candidateOf(g, s.child, s.column, alone, standingIn(s.child)(s.column))
      return made ? [made] : []
    })
    const says = (fact: FactName) => [...s.keys.values()].some((f) => f.get(fact) === 1)
    const paired = says('its counterpart')
    const joined = says('joined elsewhere')
    const candidates = [...q.candidates, ...more].map((c): Candidate => {
      const facts = s.keys.get(c.target)
      if (equalFacts.some((f) => c.facts.has(f))) return facts ? { ...c, facts: new Map([...c.facts, ...facts]) } : c
      const more: [FactName, number][] = [...(facts ?? [])]
      if (paired && !facts?.has('its counterpart')) more.push(['counterpart says otherwise', 1])
      if (joined && !facts?.has('joined elsewhere') && c.facts.get('table name') !== 1) more.push(['joined otherwise elsewhere', 1])
      return more.length === 0 ? c : { ...c, facts: new Map([...c.facts, ...more]) }
    })
    if (candidates.length > 0) byColumn.set(at, { ...q, candidates })
  }
  // In order of table and column, as the questions were.
  return g.tables.flatMap((child) => child.columns.flatMap((c) => byColumn.get(columnAt(relationText(child), c.name)) ?? []))
}
