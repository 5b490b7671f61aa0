// Candidates for undeclared references of one column: what names, types and keys say for and against each.
import { type Column, indexOver, type Relation, relationText, uniqueOver } from '../../catalog/index.ts'
import { singularWord, splitWords } from '../../names/index.ts'
import type { FactList, FactName } from './facts.ts'
import { calledText, columnAt, equalFacts, type Ground } from './ground.ts'
import type { TableWords } from './lexicon.ts'
import { hasOwnKey } from './mirrors.ts'
import { namesTable } from './nameIndex.ts'
import { nameMatches } from './nameMatches.ts'
import type { NameMatch } from './offer.ts'
import type { Candidate } from './question.ts'
import { countsUp, isMain, type TargetKey, type ValueKind } from './targets.ts'
import { keyWords, ownRoles, recordWords, whichWords } from './words.ts'

const never: ReadonlySet<ValueKind['family']> = new Set(['date', 'boolean', 'other'])

/** Other words in front of one that says which table: owner_kind beside owner_id, where owner names no table. */
export function kindBeside(words: ReadonlyMap<string, readonly string[]>, column: string): string | null {
  const role = (words.get(column) ?? []).filter((w) => !keyWords.has(w)).join(' ')
  if (role === '') return null
  for (const [name, w] of words) if (name !== column && whichWords.has(w.at(-1) ?? '') && w.slice(0, -1).join(' ') === role) return name
  return null
}

/** How a column stands in the keys and indexes of its table; looked up once per column that has a candidate. */
type Standing = (column: Column) => {
  readonly inKey: boolean
  readonly alone: boolean
  readonly unique: boolean
  readonly indexed: boolean
  readonly found: boolean
}

export function standingIn(child: Relation): Standing {
  const key = child.primaryKey?.columns ?? []
  return (column) => {
    const inKey = key.includes(column.name)
    const alone = inKey && key.length === 1
    const found = indexOver(child, [column.name]) !== null
    return { inKey, alone, found, indexed: found && !(inKey && key[0] === column.name), unique: !alone && uniqueOver(child, [column.name]) !== null }
  }
}

/** Candidates for one column: all that something speaks for. */
export function candidatesFor(g: Ground, child: Relation, column: Column, standing: Standing): readonly Candidate[] {
  if (!mayRefer(g, child, column)) return []
  const named = nameMatches(g.index, relationText(child), column.name)
  const at = columnAt(relationText(child), column.name)
  const told = toldKeys(g, child, column)
  const keys = [...told.keys()]
  for (const f of equalFacts) for (const k of g.equal[f].keys.get(at) ?? []) keys.push(k)
  const former = formerKey(g, child, column)
  if (former) keys.push(former)
  const spoken = keys.length === 0 ? named : [...named, ...unnamed(keys, named)]
  const stands = standing(column)
  const namesWhole = (m: NameMatch) => keys.includes(m.target) || isWhole(m)
  const all = g.wide ? [...spoken, ...typeMatches(g, child, column, spoken)] : spoken
  // What a table owns as its key is asked about only where something else than its name says that it refers.
  const matches = isOwnKey(g, child, column, stands) ? all.filter((m) => keys.includes(m.target)) : stands.alone ? all.filter(namesWhole) : all
  if (matches.length === 0) return []
  return matches.flatMap((m) => {
    const said = told.get(m.target)
    return candidateOf(g, child, column, said ? { ...m, facts: [...m.facts, [said, 1]] } : m, stands) ?? []
  })
}

/** Is it a column that can name rows elsewhere at all? */
export function mayRefer(g: Ground, child: Relation, column: Column): boolean {
  return column.generated === null && !never.has(g.kindOf(column).family) && column.identity?.generation !== 'always' && !isInheritedKey(g, child, column)
}

/** A column and a key that something speaks for, with all that types and places say. Null where values of one are never values of the other. */
export function candidateOf(g: Ground, child: Relation, column: Column, m: NameMatch, stands: ReturnType<Standing>): Candidate | null {
  const target = m.target.columns[0] as Column
  if (m.target.relation === child && target === column) return null
  const fits = typeFacts(g.kindOf(column), g.kindOf(target))
  if (fits === null) return null
  const at = columnAt(relationText(child), column.name)
  const byJoin = equalFacts.flatMap((f): FactList => (g.equal[f].keys.get(at)?.has(m.target) ? [[f, 1]] : []))
  const otherwise: FactList =
    // Columns of one name are joined also where both refer to a third table.
    byJoin.length === 0 && equalFacts.some((f) => [...(g.equal[f].keys.get(at) ?? [])].some((k) => k.columns[0]?.name !== column.name))
      ? [['joins say otherwise', 1]]
      : []
  const joined = byJoin.length > 0
  const facts = new Map(
    [...m.facts, ...fits, ...byJoin, ...otherwise, ...placeFacts(g, child, column, m, stands)].filter(
      ([name, v]) => v !== 0 && !(joined && name === 'plain word'),
    ),
  )
  return { child, columns: [column], target: m.target, targetColumns: [target], facts, role: m.role }
}

const isWhole = (m: NameMatch) => {
  const says = (fact: FactName) => m.facts.some(([name, v]) => name === fact && v === 1)
  return (m.role.length === 0 && says('table name')) || (says('key name') && !says('generic key name'))
}

/** A copy of the key of a table it is inherited from: a value of its own, and none of that table's (PostgreSQL manual 5.10.1). */
const isInheritedKey = (g: Ground, child: Relation, column: Column, depth = 0): boolean =>
  depth < deepest &&
  child.inherits.some((x) => {
    const parent = g.byText.get(relationText(x))
    return parent !== undefined && (parent.primaryKey?.columns.includes(column.name) || isInheritedKey(g, parent, column, depth + 1))
  })

/** Tables inherited from one another, at most. */
const deepest = 8

/** The key of a table, called after nothing or after itself; or the former key of what it mirrors, where that is all it tells its rows apart by. */
export function isOwnKey(g: Ground, child: Relation, column: Column, s: ReturnType<Standing>): boolean {
  const real = g.mirrors.get(child)
  if (real && real.primaryKey?.columns.length === 1 && real.primaryKey.columns[0] === column.name && !hasOwnKey(child, real)) return true
  if (!s.alone) return false
  const own = g.lexicon.tables.get(relationText(child)) as TableWords
  const spoken = (own.bare.get(column.name) ?? own.columns.get(column.name) ?? []).filter((w) => !keyWords.has(w))
  const body = own.words.slice(own.area, own.words.length - own.idle)
  const initials = own.words.map((w) => w[0]).join('')
  return spoken.length === 0 || [body.join(''), own.words.join(''), initials].includes(spoken.join(''))
}

/** The key of what a table mirrors, in a mirror with a key of its own: each row tells which row it was. */
function formerKey(g: Ground, child: Relation, column: Column): TargetKey | null {
  const real = g.mirrors.get(child)
  const [name, ...more] = real?.primaryKey?.columns ?? []
  if (!real || name !== column.name || more.length > 0 || !hasOwnKey(child, real)) return null
  return g.index.keysOf.get(relationText(real))?.find((k) => k.primary) ?? null
}

/** Keys that something else than a column's name speaks for. */
const unnamed = (keys: readonly TargetKey[], named: readonly NameMatch[]): readonly NameMatch[] =>
  [...new Set(keys)].filter((k) => !named.some((m) => m.target === k)).map((target) => ({ target, role: [], facts: [['only a join says so', 1]] }))

/** `refers to bay`, `FK: bay.id`, `-> bay`, `id of the bay`. */
const commentTells =
  /(?:\b(?:references?|refers? to|foreign key(?: to| of)?|fk(?: to| of)?|points? to|links? to|(?:id|key|no|number|code) of)\b|->|=>|→)[\s:=]*(?:(?:the|a|an|table|to)\s+)*["`[]?([\p{L}_][\p{L}\p{N}_$]*)(?:["`\]]?\.["`[]?([\p{L}_][\p{L}\p{N}_$]*))?/giu

/** Keys that a comment, or the table a column is inherited from, tells. Few columns have either. */
function toldKeys(g: Ground, child: Relation, column: Column): ReadonlyMap<TargetKey, FactName> {
  if (column.comment === null && child.inherits.length === 0) return noKeys
  return new Map([...commentKeys(g, child, column), ...inheritedKeys(g, child, column)])
}
const noKeys: ReadonlyMap<TargetKey, FactName> = new Map()

/** Keys of tables that a column's comment says it refers to. */
function commentKeys(g: Ground, child: Relation, column: Column): readonly (readonly [TargetKey, FactName])[] {
  if (column.comment === null) return []
  const words = new Set([...column.comment.matchAll(commentTells)].flatMap((m) => [m[1], m[2]].flatMap((w) => (w === undefined ? [] : [calledText(w)]))))
  return [...words].flatMap((w) => (g.byCalled.get(w) ?? []).flatMap((k) => (k.relation === child ? [] : [[k, 'comment says so'] as const])))
}

/** Keys that the same column of a table it is inherited from is declared to refer to: children have columns and checks of it, and no keys (PostgreSQL manual 5.10.1). */
function inheritedKeys(g: Ground, child: Relation, column: Column): readonly (readonly [TargetKey, FactName])[] {
  if (child.inherits.length === 0) return []
  return g.settled.flatMap((s) => {
    if (s.columns.length !== 1 || s.columns[0]?.name !== column.name || !child.inherits.some((p) => p.schema === s.child.schema && p.name === s.child.name))
      return []
    return (g.index.keysOf.get(s.target) ?? []).flatMap((k) => (k.primary ? [[k, 'parent declares it'] as const] : []))
  })
}

/** How many keys a column is compared with that it does not name. */
const widest = 8

/** Primary keys of exactly the type of a column: texts with a length, and identifiers that are unique everywhere; numbers agree by accident. */
function typeMatches(g: Ground, child: Relation, column: Column, named: readonly NameMatch[]): readonly NameMatch[] {
  const kind = g.kindOf(column)
  if (kind.family !== 'uuid' && (kind.family !== 'text' || kind.length === null)) return []
  return g.keys
    .filter((k) => k.primary && k.columns.length === 1 && k.relation !== child && k.columns[0]?.type === column.type && !named.some((m) => m.target === k))
    .slice(0, widest)
    .map((target): NameMatch => ({ target, role: [], facts: [['only values say so', 1]] }))
}

/** Texts of more letters have their length by habit. */
const longestTelling = 40

/** Null where values of one can never be values of the other. */
export function typeFacts(a: ValueKind, b: ValueKind): FactList | null {
  if (a.family === 'any' || b.family === 'any') return [['type untold', 1]]
  if (never.has(a.family) || never.has(b.family)) return null
  const plain = (k: ValueKind) => k.type.toLowerCase().replace(/\((\d+)\)/, '')
  const spaced = a.length !== null && a.length === b.length && a.length <= longestTelling
  if (a.type.toLowerCase() === b.type.toLowerCase())
    return [
      ['same type', 1],
      ['same length', spaced ? 1 : 0],
    ]
  // A number in brackets behind an integer says how wide it is shown, not what it holds (MySQL manual, 11.1.6).
  if (a.family === 'integer' && plain(a) === plain(b)) return [['same type', 1]]
  if (a.length !== null && b.length !== null && a.length !== b.length) return [['other length', 1]]
  if (a.family === b.family) return [['near type', 1]]
  const numbers = (k: ValueKind) => k.family === 'integer' || k.family === 'number'
  return numbers(a) && numbers(b) ? [['far type', 1]] : null
}

/** The last letters as they are written: startfiles, members. */
function isPlural(name: string): boolean {
  const last = splitWords(name).at(-1) ?? ''
  return last.length > 3 && !/(ss|us|is)$/.test(last) && singularWord(last) !== last
}

const numbersIn = (words: readonly string[]) => words.filter((w) => /^\d+$/.test(w)).join()
/** Both have numbers in their names, and other ones. */
export const numbersClash = (a: readonly string[], b: readonly string[]): boolean => numbersIn(a) !== '' && numbersIn(b) !== '' && numbersIn(a) !== numbersIn(b)

const isPlainDefault = (c: Column) => c.default === null || /^'?(null|0|-1)?'?(::\w+)?$/i.test(c.default.written.trim())

function placeFacts(g: Ground, child: Relation, column: Column, m: NameMatch, s: ReturnType<Standing>): FactList {
  const own = g.lexicon.tables.get(relationText(child)) as TableWords
  const t = g.lexicon.tables.get(m.target.table) as TableWords
  const kind = g.kindOf(column)
  const targetKind = g.kindOf(m.target.columns[0] as Column)
  const self = m.target.relation === child
  const spoken = (own.columns.get(column.name) ?? []).filter((w) => !keyWords.has(w))
  const body = own.words.slice(own.area, own.words.length - own.idle)
  const ofItself = s.alone && !self && spoken.length > 0 && spoken.every((w) => own.words.includes(w)) && spoken.includes(body.at(-1) as string)
  const keeps = (w: TableWords) => w.words.some((x) => recordWords.has(x))
  const facts: Partial<Record<FactName, boolean>> = {
    'primary key': m.target.primary,
    'unique key': !isMain(m.target),
    'counted key beside another': m.target.standIn,
    'counted key': m.target.columns.every(countsUp),
    'natural text key': targetKind.family === 'text',
    'counts up': countsUp(column) && s.alone,
    'counts up beside its key': countsUp(column) && !s.alone,
    'own whole key': s.alone,
    'own key called after its table': ofItself,
    'called after its own table': !s.alone && !self && spoken.length > 0 && spoken.join(' ') === body.join(' '),
    'part of own key': s.inKey && !s.alone,
    'unique itself': s.unique,
    indexed: s.indexed,
    'not indexed': !s.indexed && !s.inKey,
    'index missing': g.catalog.dialect === 'mysql' && !s.found,
    'accepts null': column.nullable,
    'has default': !isPlainDefault(column),
    itself: self,
    'itself without role': self && m.role.length === 0 && !m.facts.some(([name]) => name === 'only a join says so'),
    'itself and unique': self && s.unique && !m.role.some((w) => ownRoles.has(w)),
    'itself by a join alone': self && m.facts.some(([name]) => name === 'only a join says so'),
    role: m.role.length > 0,
    'long role': m.role.length > 1,
    'numbers clash': numbersClash(own.words, t.words) && numbersIn(spoken) !== numbersIn(t.words),
    'same area': own.area > 0 && t.area > 0 && own.words[0] === t.words[0],
    'other area': own.area > 0 && t.area > 0 && own.words[0] !== t.words[0],
    'other schema': child.schema !== m.target.relation.schema,
    'table speaks of it': own !== t && t.words.slice(t.area).every((w) => own.words.includes(w)),
    'key of what it mirrors': formerKey(g, child, column) === m.target,
    'keeps a record': keeps(own) && !keeps(t) && !g.mirrors.has(child),
    mirrors: g.mirrors.has(child) && !keeps(t),
    'target keeps a record': keeps(t) && !keeps(own),
    'table without key': child.primaryKey === null,
    'a kind stands beside it': kindBeside(own.columns, column.name) !== null && !namesTable(g.index, spoken.join(' ')),
    'may be a place in a list': spoken.length === 1 && spoken[0] === 'order',
    'said in the plural': isPlural(column.name),
    'long text': kind.family === 'text' && kind.length === null,
  }
  const said: (readonly [FactName, number])[] = []
  for (const name in facts) if (facts[name as FactName]) said.push([name as FactName, 1])
  return said
}
