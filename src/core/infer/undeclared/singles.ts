// Questions about single columns: what names say, what the rest of the schema says, weighed by what is usual in it.
import type { Column, Relation } from '../../catalog/index.ts'
import { candidatesFor, standingIn } from './candidates.ts'
import { withElsewhere } from './elsewhere.ts'
import type { FactName } from './facts.ts'
import type { Ground } from './ground.ts'
import type { Candidate, Question } from './question.ts'
import { countsUp } from './targets.ts'

/** Questions about single columns, in order of table and column. Columns that refer by declaration, or cannot refer, give none. */
export function singleQuestions(g: Ground): readonly Question[] {
  const declared = new Map<Relation, Set<string>>()
  for (const s of g.settled) {
    if (s.columns.length !== 1) continue
    const names = declared.get(s.child) ?? new Set()
    declared.set(s.child, names.add(s.columns[0]?.name ?? ''))
  }
  const named = g.tables.flatMap((child) => {
    const standing = standingIn(child)
    return child.columns.flatMap((column): Question[] => {
      if (declared.get(child)?.has(column.name)) return []
      const candidates = candidatesFor(g, child, column, standing)
      return candidates.length === 0 ? [] : [{ child, columns: [column], candidates }]
    })
  })
  const all = withElsewhere(g, named, againstHabit(g, named))
  return againstHabit(
    g,
    all.filter((q) => !declared.get(q.child)?.has(q.columns[0]?.name ?? '')),
  )
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
