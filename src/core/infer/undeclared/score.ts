// From facts to confidences. A question is answered by one of its candidates or by none: P(candidate) = e^z / (1 + Σ e^z), z being
// the sum of what its facts are worth (conditional logit: McFadden, Conditional Logit Analysis, 1974). Answers compete, so two
// equal ones share. Two passes: the second knows the habits that the first found in the whole schema.
import { type Relation, relationText } from '../../catalog/index.ts'
import { splitWords } from '../../names/index.ts'
import type { FactList, FactName, Facts, Weights } from './facts.ts'
import { equalFacts, type Ground } from './ground.ts'
import type { Candidate, Question } from './question.ts'
import { isMain } from './targets.ts'
import { bareKinds, keyWords, markerWords } from './words.ts'

export const worth = (facts: Facts, w: Weights): number => {
  // References over several columns begin elsewhere than those of one.
  let sum = facts.has('several columns') ? 0 : w.base
  for (const [name, v] of facts) sum += w[name] * v
  return sum
}

/** How sure each of several candidates for one question is. */
export const probabilities = (facts: readonly Facts[], w: Weights): readonly number[] => shares(facts.map((f) => worth(f, w)))

function shares(z: readonly number[]): readonly number[] {
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

/** The last word of a name that says more than "key". */
const lastWord = (column: string) => splitWords(column).findLast((w) => !keyWords.has(w)) ?? ''

/** How sure a name is to lead to a table in the surest place and in the next, so that no question hears itself. */
interface Elsewhere {
  readonly best: number
  /** Where that is. */
  readonly of: string
  readonly second: number
}

function note(map: Map<string, Elsewhere>, at: string, of: string, p: number): void {
  const e = map.get(at)
  if (!e) map.set(at, { best: p, of, second: 0 })
  else if (p > e.best) map.set(at, { best: p, of, second: e.of === of ? e.second : e.best })
  else if (e.of !== of) map.set(at, { ...e, second: Math.max(e.second, p) })
}

/** How sure it is in the surest place other than this one. */
const besides = (e: Elsewhere | undefined, place: string) => (e === undefined ? 0 : e.of === place ? e.second : e.best)

class Habits {
  readonly elsewhere = new Map<string, Elsewhere>()
  readonly endings = new Map<string, { readonly n: number; readonly sum: number }>()
  readonly alike = new Map<string, Elsewhere>()
  readonly known = new Map<string, number>()
  readonly refers = new Map<string, number>()
  /** What each column refers to, and how sure. */
  readonly answers = new Map<string, ReadonlyMap<string, number>>()
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
      this.answers.set(at, new Map(answers))
    } else this.longer.set(child, [...(this.longer.get(child) ?? []), { names: new Set(names), total, proven }])
    for (const [target, p] of answers) {
      this.known.set(target, (this.known.get(target) ?? 0) + p)
      note(this.elsewhere, `${nameOf(names)} > ${target}`, relationText(child), p)
      if (names.length === 1) note(this.alike, `${lastWord(names[0] as string)} > ${target}`, columnKey(relationText(child), names[0] as string), p)
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

/** One column of several words, the last of which is more than "kind". */
const saysEnding = (names: readonly string[]) => names.length === 1 && splitWords(names[0] as string).length > 1 && !bareKinds.has(lastWord(names[0] as string))

/** The name of the key says nothing of its table, and others are called so too. */
const ofMany = (c: Candidate) => c.facts.has('key name') && !c.facts.has('only owner') && !c.facts.has('key names its table')

/** What of a schema stands before any question. */
export type Surroundings = Pick<Ground, 'settled' | 'mirrors'>

/** Facts that only a look at the whole schema shows, for each candidate of each question. `w`: what the first pass goes by. */
export function habitFacts(questions: readonly Question[], { settled, mirrors }: Surroundings, w: Weights): readonly (readonly Facts[])[] {
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
    const real = mirrors.get(q.child)
    const mirrored = real && names.length === 1 ? habits.answers.get(columnKey(relationText(real), names[0] as string)) : undefined
    return q.candidates.map((c, j) => {
      const sameName = besides(habits.elsewhere.get(`${nameOf(names)} > ${c.target.table}`), relationText(q.child))
      const at = `${lastWord(names[0] as string)} > ${c.target.table}`
      const sameEnding = saysEnding(names) ? besides(habits.alike.get(at), columnKey(relationText(q.child), names[0] as string)) : 0
      const keyRefers = c.target.columns.map((k) => habits.refers.get(columnKey(c.target.table, k.name)) ?? 0)
      const facts: FactList = [
        ['same name elsewhere', sameName],
        ['same ending elsewhere', isMain(c.target) && !ofMany(c) ? Math.max(0, sameEnding - sameName) : 0],
        ['what it mirrors refers there', mirrored?.get(c.target.table) ?? 0],
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
  /** What a rule adds to the worth of its facts, or takes away: proof, or that only a role speaks for it. 0 where they are worth what the rule says. */
  readonly rule: number
}

/** So sure is what is proven, whatever names say. */
const provenFrom = 0.9
/** So many different values over several columns leave no room for chance. */
const enoughValues = 8

/** A trigger raises where the row is missing, or every value of several columns is there. */
export const isProven = (c: Candidate): boolean =>
  c.facts.has('looked up by a trigger') ||
  (c.columns.length > 1 && c.rows !== undefined && c.rows.missing === 0 && c.rows.values >= enoughValues && !c.facts.has('only values say so'))

/** A role says that it is somebody, and not in which table: never so sure that nobody is asked. */
const surestRole = 0.85
const moreThanRole: readonly FactName[] = [
  ...equalFacts,
  'joined elsewhere',
  'its counterpart',
  'comment says so',
  'parent declares it',
  'what it mirrors refers there',
]
/** Rows say more than a role where several values are there: one alone says little. */
const tellingRows = 0.6
const isRoleOnly = (facts: Facts) =>
  (facts.has('role of a person') || facts.has('unknown role of its own table')) &&
  !moreThanRole.some((name) => facts.has(name)) &&
  (facts.get('values all there') ?? 0) < tellingRows

/** What rules make of one candidate of a question, with its place: the likeliest proven one is as sure as proof is, one that only a role speaks for no surer than that. */
function ruleFor(q: Question, facts: readonly Facts[], z: readonly number[]): { readonly at: number; readonly adds: number } | null {
  const missing = (at: number, p: number) => logit(p) + Math.log(1 + sum(z.map((x, i) => (i === at ? 0 : Math.exp(x))))) - (z[at] as number)
  const likeliest = (list: readonly number[]) => list.reduce((a, b) => ((z[b] as number) > (z[a] as number) ? b : a))
  const proven = q.candidates.flatMap((c, i) => (isProven(c) ? [i] : []))
  if (proven.length > 0) {
    const at = likeliest(proven)
    return { at, adds: Math.max(0, missing(at, provenFrom)) }
  }
  const at = likeliest(z.map((_, i) => i))
  return isRoleOnly(facts[at] as Facts) ? { at, adds: Math.min(0, missing(at, surestRole)) } : null
}

/** Scores of all candidates, question by question. */
export function score(questions: readonly Question[], around: Surroundings, first: Weights, second: Weights): readonly (readonly Scored[])[] {
  const habits = habitFacts(questions, around, first)
  return questions.map((q, i) => {
    const facts = q.candidates.map((c, j) => new Map([...c.facts, ...((habits[i] as readonly Facts[])[j] as Facts)]))
    const z = facts.map((f) => worth(f, second))
    const rule = ruleFor(q, facts, z)
    const p = shares(rule ? z.with(rule.at, (z[rule.at] as number) + rule.adds) : z)
    return facts.map((f, j) => ({ facts: f, confidence: p[j] as number, rule: rule?.at === j ? rule.adds : 0 }))
  })
}
