// Candidates for undeclared references of one column: what names, types and keys say for and against each.
import { type Column, indexOver, type Relation, relationText, uniqueOver } from '../../catalog/index.ts'
import { singularWord, splitWords } from '../../names/index.ts'
import type { Inclusion } from '../../rows/index.ts'
import type { FactList, FactName, Facts } from './facts.ts'
import { columnAt, equalFacts, type Ground } from './ground.ts'
import type { TableWords } from './lexicon.ts'
import { type NameMatch, nameMatches } from './nameMatches.ts'
import { countsUp, type TargetKey, type ValueKind } from './targets.ts'
import { keyWords, recordWords, whichWords } from './words.ts'

export interface Candidate {
  readonly child: Relation
  readonly columns: readonly Column[]
  readonly target: TargetKey
  /** Columns of the target in the order of `columns`. */
  readonly targetColumns: readonly Column[]
  readonly facts: Facts
  readonly role: readonly string[]
  /** What the rows say, where they were read. */
  readonly rows?: Inclusion
}

/** All candidates for one set of columns of one table: a question with one answer, or none. */
export interface Question {
  readonly child: Relation
  readonly columns: readonly Column[]
  readonly candidates: readonly Candidate[]
}

/** Questions about single columns, in order of table and column. Columns that refer by declaration, or cannot refer, give none. */
export function singleQuestions(g: Ground): readonly Question[] {
  const declared = new Map<Relation, Set<string>>()
  for (const s of g.settled) {
    if (s.columns.length !== 1) continue
    const names = declared.get(s.child) ?? new Set()
    declared.set(s.child, names.add(s.columns[0]?.name ?? ''))
  }
  return againstHabit(
    g,
    g.tables.flatMap((child) => {
      const mayCount = uniqueKeysOf(child)
      return child.columns.flatMap((column): Question[] => {
        if (declared.get(child)?.has(column.name)) return []
        const candidates = candidatesFor(g, child, column, mayCount)
        return candidates.length === 0 ? [] : [{ child, columns: [column], candidates }]
      })
    }),
  )
}

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

function uniqueKeysOf(child: Relation): Standing {
  const key = child.primaryKey?.columns ?? []
  return (column) => {
    const inKey = key.includes(column.name)
    const alone = inKey && key.length === 1
    const found = indexOver(child, [column.name]) !== null
    return { inKey, alone, found, indexed: found && !(inKey && key[0] === column.name), unique: !alone && uniqueOver(child, [column.name]) !== null }
  }
}

function candidatesFor(g: Ground, child: Relation, column: Column, standing: Standing): readonly Candidate[] {
  const kind = g.kindOf(column)
  if (column.generated !== null || never.has(kind.family) || column.identity?.generation === 'always') return []
  const named = nameMatches(g.index, relationText(child), column.name)
  const at = columnAt(relationText(child), column.name)
  const told = toldKeys(g, child, column)
  const keys = [...told.keys()]
  for (const f of equalFacts) for (const k of g.equal[f].keys.get(at) ?? []) keys.push(k)
  const spoken = keys.length === 0 ? named : [...named, ...unnamed(keys, named)]
  const matches = g.wide ? [...spoken, ...typeMatches(g, child, column, spoken)] : spoken
  if (matches.length === 0) return []
  const stands = standing(column)
  return matches.flatMap((m): Candidate[] => {
    const target = m.target.columns[0] as Column
    if (m.target.relation === child && target === column) return []
    const fits = typeFacts(kind, g.kindOf(target))
    if (fits === null) return []
    const byJoin = equalFacts.flatMap((f): FactList => (g.equal[f].keys.get(at)?.has(m.target) ? [[f, 1]] : []))
    const said = told.get(m.target)
    const facts = new Map(
      [...m.facts, ...fits, ...byJoin, ...(said ? [[said, 1] as const] : []), ...placeFacts(g, child, column, m, stands)].filter(([, v]) => v !== 0),
    )
    return [{ child, columns: [column], target: m.target, targetColumns: [target], facts, role: m.role }]
  })
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
  const words = [...column.comment.matchAll(commentTells)].flatMap((m) => [m[1], m[2]].flatMap((w) => (w === undefined ? [] : [singularWord(w.toLowerCase())])))
  return g.keys.flatMap((k) =>
    k.primary && k.columns.length === 1 && k.relation !== child && words.includes(singularWord(k.relation.name.toLowerCase()))
      ? [[k, 'comment says so'] as const]
      : [],
  )
}

/** Keys that the same column of a table it is inherited from is declared to refer to: children have columns and checks of it, and no keys (PostgreSQL manual 5.10.1). */
function inheritedKeys(g: Ground, child: Relation, column: Column): readonly (readonly [TargetKey, FactName])[] {
  if (child.inherits.length === 0) return []
  return g.settled.flatMap((s) => {
    if (s.columns.length !== 1 || s.columns[0]?.name !== column.name || !child.inherits.some((p) => p.schema === s.child.schema && p.name === s.child.name))
      return []
    return g.keys.flatMap((k) => (k.table === s.target && k.columns.length === 1 && k.primary ? [[k, 'parent declares it'] as const] : []))
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

/** Null where values of one can never be values of the other. */
export function typeFacts(a: ValueKind, b: ValueKind): FactList | null {
  if (a.family === 'any' || b.family === 'any') return [['type untold', 1]]
  if (never.has(a.family) || never.has(b.family)) return null
  const plain = (k: ValueKind) => k.type.toLowerCase().replace(/\((\d+)\)/, '')
  if (a.type.toLowerCase() === b.type.toLowerCase()) return [['same type', 1]]
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
    'unique key': !m.target.primary,
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
    'itself without role': self && m.role.length === 0,
    role: m.role.length > 0,
    'long role': m.role.length > 1,
    'numbers clash': numbersClash(own.words, t.words) && numbersIn(spoken) !== numbersIn(t.words),
    'same area': own.area > 0 && t.area > 0 && own.words[0] === t.words[0],
    'other area': own.area > 0 && t.area > 0 && own.words[0] !== t.words[0],
    'other schema': child.schema !== m.target.relation.schema,
    'table speaks of it': own !== t && t.words.slice(t.area).every((w) => own.words.includes(w)),
    'keeps a record': keeps(own) && !keeps(t),
    'target keeps a record': keeps(t) && !keeps(own),
    'table without key': child.primaryKey === null,
    'a kind stands beside it': !m.facts.some(([name, v]) => name === 'table name' && v === 1) && kindBeside(own.columns, column.name) !== null,
    'may be a place in a list': spoken.length === 1 && spoken[0] === 'order',
    'said in the plural': isPlural(column.name),
    'long text': kind.family === 'text' && kind.length === null,
  }
  const said: (readonly [FactName, number])[] = []
  for (const name in facts) if (facts[name as FactName]) said.push([name as FactName, 1])
  return said
}

/**
 * An index, a counted key or a type says as much as it is unusual here: where everything is indexed, no index speaks against a
 * reference, and where nothing is, it says nothing.
 */
function againstHabit(g: Ground, questions: readonly Question[]): readonly Question[] {
  const named = questions.filter((q) => q.candidates.some((c) => c.facts.has('table name') || c.facts.get('key names its table') === 1))
  const has = (q: Question, fact: FactName) => q.candidates[0]?.facts.has(fact) ?? false
  const share = (n: number, of: number) => (n + 1) / (of + 2)
  const indexed = share(named.filter((q) => has(q, 'indexed')).length, named.filter((q) => !has(q, 'part of own key')).length)
  const primary = g.keys.filter((k) => k.primary && k.columns.length === 1)
  const counted = share(primary.filter((k) => k.columns.every(countsUp)).length, primary.length)
  const types = new Map<string, number>()
  for (const r of g.tables) for (const c of r.columns) types.set(c.type, (types.get(c.type) ?? 0) + 1)
  const few = Math.max(4, g.tables.reduce((n, r) => n + r.columns.length, 0) * 0.06)
  const rare = (c: Column) => g.kindOf(c).family !== 'integer' && (types.get(c.type) ?? 0) <= few
  const weighed = (c: Candidate): Candidate => {
    const facts = new Map(c.facts)
    if (facts.has('indexed')) facts.set('indexed', 1 - indexed)
    if (facts.has('not indexed')) facts.set('not indexed', indexed)
    if (facts.has('index missing')) facts.set('index missing', indexed)
    if (facts.has('counted key')) facts.set('counted key', 1 - counted)
    else if (facts.has('primary key') && !facts.has('natural text key')) facts.set('key not counted', counted)
    if (facts.has('same type') && c.columns.some(rare)) facts.set('rare type', 1)
    return { ...c, facts }
  }
  return questions.map((q) => ({ ...q, candidates: q.candidates.map(weighed) }))
}
