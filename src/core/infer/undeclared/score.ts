// From facts to confidences. A question is answered by one of its candidates or by none: P(candidate) = e^z / (1 + Σ e^z), z being
// the sum of what its facts are worth (conditional logit: McFadden, Conditional Logit Analysis, 1974). Answers compete, so two
// equal ones share. Two passes: the second knows the habits that the first found in the whole schema.
import { type Relation, relationText } from '../../catalog/index.ts'
import { splitWords } from '../../names/index.ts'
import type { Question } from './candidates.ts'
import type { FactList, FactName, Facts, Weights } from './facts.ts'
import type { Settled } from './ground.ts'
import { keyWords, markerWords } from './words.ts'

export const worth = (facts: Facts, w: Weights): number => {
  let sum = w.base
  for (const [name, v] of facts) sum += w[name] * v
  return sum
}

function probabilities(facts: readonly Facts[], w: Weights): readonly number[] {
  const z = facts.map((f) => worth(f, w))
  const top = Math.max(0, ...z)
  const e = z.map((x) => Math.exp(x - top))
  const all = Math.exp(-top) + e.reduce((a, b) => a + b, 0)
  return e.map((x) => x / all)
}

const columnKey = (table: string, column: string) => `${table} ${column}`
const logit = (p: number) => Math.log(p / (1 - p))
const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0)

/** What marks a column as a key, or its lack: `id`, `+id` where it is glued to the word, `fk…` in front, "" for nothing. */
function endingOf(column: string): string {
  const words = splitWords(column)
  const last = words.at(-1) ?? ''
  if (words.length > 1 && keyWords.has(last)) return last
  if (words.length > 1 && markerWords.has(words[0] as string)) return `${words[0]}…`
  const glued = words.length === 1 ? /.(id|no|key|code)$/.exec(last)?.[1] : undefined
  return glued === undefined ? '' : `+${glued}`
}

/** How sure a name is to lead to a table in the surest place and in the next, so that no question hears itself. */
interface Elsewhere {
  readonly best: number
  readonly of: Relation
  readonly second: number
}

class Habits {
  readonly elsewhere = new Map<string, Elsewhere>()
  readonly endings = new Map<string, { readonly n: number; readonly sum: number }>()
  readonly known = new Map<string, number>()
  readonly refers = new Map<string, number>()
  readonly longer = new Map<Relation, { readonly names: ReadonlySet<string>; readonly total: number; readonly proven: boolean }[]>()

  /** `answers`: how sure each table is to be referred to by these columns. */
  add(child: Relation, names: readonly string[], answers: readonly (readonly [string, number])[], proven = false): void {
    const total = Math.min(1, sum(answers.map(([, p]) => p)))
    if (names.length === 1) {
      const ending = endingOf(names[0] as string)
      const e = this.endings.get(ending) ?? { n: 0, sum: 0 }
      this.endings.set(ending, { n: e.n + 1, sum: e.sum + total })
      const at = columnKey(relationText(child), names[0] as string)
      this.refers.set(at, Math.max(this.refers.get(at) ?? 0, total))
    } else this.longer.set(child, [...(this.longer.get(child) ?? []), { names: new Set(names), total, proven }])
    for (const [target, p] of answers) {
      this.known.set(target, (this.known.get(target) ?? 0) + p)
      const at = `${nameOf(names)} > ${target}`
      const e = this.elsewhere.get(at)
      if (!e) this.elsewhere.set(at, { best: p, of: child, second: 0 })
      else if (p > e.best) this.elsewhere.set(at, { best: p, of: child, second: e.of === child ? e.second : e.best })
      else if (e.of !== child) this.elsewhere.set(at, { ...e, second: Math.max(e.second, p) })
    }
  }

  /** How sure it is that these columns are part of a reference over more columns, one that all rows keep to or not. */
  within(child: Relation, names: readonly string[], proven: boolean): number {
    let most = 0
    for (const l of this.longer.get(child) ?? [])
      if (l.proven === proven && l.names.size > names.length && names.every((n) => l.names.has(n))) most = Math.max(most, l.total)
    return most
  }
}

const nameOf = (names: readonly string[]) =>
  names
    .map((n) => n.toLowerCase())
    .toSorted()
    .join(' ')

/** Facts that only a look at the whole schema shows, for each candidate of each question. `w`: what the first pass goes by. */
export function habitFacts(questions: readonly Question[], settled: readonly Settled[], w: Weights): readonly (readonly Facts[])[] {
  const first = questions.map((q) =>
    probabilities(
      q.candidates.map((c) => c.facts),
      w,
    ),
  )
  const habits = new Habits()
  const namesOf = (q: { readonly columns: readonly { readonly name: string }[] }) => q.columns.map((c) => c.name)
  for (const s of settled) habits.add(s.child, namesOf(s), [[s.target, 1]], true)
  for (const [i, q] of questions.entries()) {
    const answers = q.candidates.map((c, j) => [c.target.table, first[i]?.[j] ?? 0] as const)
    habits.add(
      q.child,
      namesOf(q),
      answers,
      q.candidates.some((c) => c.facts.has('values all there')),
    )
  }
  const all = [...habits.endings.values()].reduce((a, e) => ({ n: a.n + e.n, sum: a.sum + e.sum }), { n: 0, sum: 0 })
  const usual = (all.sum + 1) / (all.n + 2)
  return questions.map((q, i) => {
    const names = namesOf(q)
    const own = first[i] as readonly number[]
    const within = habits.within(q.child, names, false)
    const implied = habits.within(q.child, names, true)
    const ending = habits.endings.get(endingOf(names[0] as string)) ?? { n: 1, sum: sum(own) }
    const others = (ending.sum - sum(own) + 2 * usual) / (ending.n - 1 + 2)
    const habit = names.length > 1 ? 0 : logit(Math.min(0.97, Math.max(0.03, others)))
    return q.candidates.map((c, j) => {
      const e = habits.elsewhere.get(`${nameOf(names)} > ${c.target.table}`)
      const keyRefers = c.target.columns.map((k) => habits.refers.get(columnKey(c.target.table, k.name)) ?? 0)
      const facts: FactList = [
        ['same name elsewhere', e === undefined ? 0 : e.of === q.child ? e.second : e.best],
        ['habit of the ending', habit],
        ['well known', Math.log2(1 + Math.max(0, (habits.known.get(c.target.table) ?? 0) - (own[j] as number)))],
        ['target refers itself', keyRefers.length === 1 ? (keyRefers[0] as number) : 0],
        ['target only joins', keyRefers.length > 1 ? Math.min(...keyRefers) : 0],
        ['part of a longer reference', within],
        ['implied by a longer reference', implied],
      ]
      return new Map<FactName, number>(facts.filter(([, v]) => v !== 0))
    })
  })
}

/** All facts of a candidate, and how sure it is. */
export interface Scored {
  readonly facts: Facts
  readonly confidence: number
}

/** Scores of all candidates, question by question. */
export function score(questions: readonly Question[], settled: readonly Settled[], first: Weights, second: Weights): readonly (readonly Scored[])[] {
  const habits = habitFacts(questions, settled, first)
  return questions.map((q, i) => {
    const facts = q.candidates.map((c, j) => new Map([...c.facts, ...((habits[i] as readonly Facts[])[j] as Facts)]))
    const p = probabilities(facts, second)
    return facts.map((f, j) => ({ facts: f, confidence: p[j] as number }))
  })
}
