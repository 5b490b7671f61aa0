// What columns refer to where nothing declares it: candidates by name, type and key, each with its evidence and a confidence.
import { type Catalog, columnsText, type Relation, relationText } from '../../catalog/index.ts'
import type { Evidence } from '../../model/index.ts'
import { type RowEnd, type RowEvidence, type RowQuestion, type RowQuestions, rowEnd, type StatementJoin } from '../../rows/index.ts'
import { compositeQuestions } from './composite.ts'
import { type FactName, type FactView, facts as factTable, priors } from './facts.ts'
import { type Ground, groundOf } from './ground.ts'
import { pairsInTexts } from './joins.ts'
import { type KindPair, keyNamed, kindPairs } from './kinds.ts'
import type { Candidate, Question } from './question.ts'
import { countedText, endsOf, rowFactNames, withRows } from './rowFacts.ts'
import { isProven, type Scored, score } from './score.ts'
import { singleQuestions } from './singles.ts'
import { weights } from './weights.ts'

export interface Guess {
  /** Canonical address of the columns. */
  readonly subject: string
  readonly child: Relation
  /** Best first, at most five. */
  readonly answers: readonly [Answer, ...Answer[]]
  /** How sure it is that the columns refer to none of all there were. */
  readonly none: number
}

export interface Answer {
  readonly parent: Relation
  /** Referencing columns, and the columns they refer to, in the order of the key. */
  readonly columns: readonly string[]
  readonly targetColumns: readonly string[]
  readonly confidence: number
  /** Weights are log-odds, the strongest first; together with the starting point they make up the confidence. */
  readonly evidence: readonly Evidence[]
}

const most = 5

/** So sure that columns refer to nothing, nobody is asked: on the open corpus one such question in two hundred had another answer. */
const surelyNone = 0.9

/** Facts that compare a candidate with the rest of the schema. */
const comparing: ReadonlySet<FactName> = new Set(['indexed', 'not indexed', 'index missing', 'counted key', 'key not counted', 'rare type'])

/**
 * Is it worth a question? By what names, types and keys say by judgement alone, so that whether there is a finding does not
 * depend on tables that have nothing to do with it.
 */
function isWorthAsking(c: Candidate): boolean {
  let sum = 0
  for (const [name, strength] of c.facts) if (!comparing.has(name)) sum += priors[name] * strength
  return sum >= 0 || isProven(c) || (c.rows !== undefined && c.facts.has('values all there'))
}

/**
 * Guesses in order of table and columns; tables that declare all their references give none. With `rows`, what they say about each
 * candidate counts too. O(columns × words).
 */
export function guessReferences(catalog: Catalog, relations: readonly Relation[], rows: RowEvidence | null = null): readonly Guess[] {
  return guessesOn(groundOf(catalog, relations, (rows?.inclusions.length ?? 0) > 0, rows?.joins), rows)
}

/** The same on ground that is made already. */
export function guessesOn(g: Ground, rows: RowEvidence | null): readonly Guess[] {
  const plain = [...singleQuestions(g), ...compositeQuestions(g)]
  const questions = rows === null ? plain : withRows(plain, rows)
  const scores = score(questions, g, weights.first, weights.second)
  return questions.flatMap((q, i) => guessOf(q, scores[i] as readonly Scored[]))
}

/** What rows to read for a catalog: each set of columns that may refer, and what to, the likeliest first. */
export function referenceQuestions(catalog: Catalog): Omit<RowQuestions, 'partners'> {
  const g = groundOf(
    catalog,
    catalog.relations.filter((r) => r.kind !== 'partition'),
    true,
  )
  const questions = [...singleQuestions(g), ...compositeQuestions(g)]
  const scores = score(questions, g, weights.first, weights.second)
  const sets = questions.flatMap((q, i): RowQuestion[] => {
    const list = q.candidates.map((c, j) => ({ c, s: scores[i]?.[j]?.confidence ?? 0 })).toSorted((a, b) => b.s - a.s)
    // The columns of a key may come in another order for another target: one question per order.
    const orders = new Map<string, { child: RowEnd; parents: RowEnd[] }>()
    for (const { c } of list) {
      const { child, parent } = endsOf(c)
      const at = child.columns.join('\n')
      const order = orders.get(at) ?? { child, parents: [] }
      orders.set(at, order)
      order.parents.push(parent)
    }
    return [...orders.values()]
  })
  const kinds = kindPairs(g).map((p) => ({ child: rowEnd(p.child, [p.id.name]), kindColumn: p.kind.name, tableOf: (word: string) => endNamed(g, p, word) }))
  return { sets, kinds, joinsIn: (texts) => statementJoins(texts, g.tables) }
}

/** Columns that statements join by, each pair once, with how many of them do. */
export function statementJoins(texts: readonly string[], relations: readonly Relation[]): readonly StatementJoin[] {
  const found = new Map<string, StatementJoin>()
  for (const text of texts) {
    const pairs = new Map(pairsInTexts([text], relations).map((p) => [JSON.stringify([p.left, p.right]), p]))
    for (const [at, p] of pairs) found.set(at, { left: { ...p.left }, right: { ...p.right }, statements: (found.get(at)?.statements ?? 0) + 1 })
  }
  return [...found.values()]
}

function endNamed(g: Ground, p: KindPair, word: string): RowEnd | null {
  const key = keyNamed(g, p, word)
  return key
    ? rowEnd(
        key.relation,
        key.columns.map((c) => c.name),
      )
    : null
}

function guessOf(q: Question, scores: readonly Scored[]): readonly Guess[] {
  const none = 1 - scores.reduce((n, s) => n + s.confidence, 0)
  // What rows were counted for is shown, whatever they say.
  const counted = q.candidates.some((c) => c.rows !== undefined)
  if ((none > surelyNone && !counted) || !q.candidates.some(isWorthAsking)) return []
  const ranked = q.candidates.map((c, j) => ({ c, s: scores[j] as Scored })).toSorted((a, b) => b.s.confidence - a.s.confidence)
  if (!counted && isIdle(q, ranked)) return []
  const [best, ...rest] = ranked.slice(0, most).map(({ c, s }) => answerOf(c, s))
  if (!best) return []
  const subject = columnsText(q.child, q.columns.map((c) => c.name).toSorted())
  return [{ subject, child: q.child, answers: [best, ...rest], none }]
}

/** Such likely ones and more are no idle questions. */
const likely = 0.5

/**
 * Questions that a person would wave away: several columns that fit several tables alike, as the keys of sisters fit each other, and a word that is no table here
 * and might be any role of the table itself.
 */
function isIdle(q: Question, ranked: readonly { readonly c: Candidate; readonly s: Scored }[]): boolean {
  const [best, ...others] = ranked
  if (!best || best.s.confidence >= likely || isProven(best.c)) return false
  if (q.columns.length > 1) return others.filter((o) => o.s.confidence >= best.s.confidence / 2).length >= 1
  return best.c.target.relation === q.child && best.c.facts.has('unknown role of its own table')
}

function answerOf(c: Candidate, s: Scored): Answer {
  const columns = c.columns.map((x) => x.name)
  const targetColumns = c.targetColumns.map((x) => x.name)
  return { parent: c.target.relation, columns, targetColumns, confidence: rounded(s.confidence), evidence: evidenceOf(c, s) }
}

const rounded = (n: number) => Math.round(n * 1000) / 1000

function evidenceOf(c: Candidate, s: Scored): readonly Evidence[] {
  const types = new Set([...c.columns, ...c.targetColumns].map((x) => (x.type === '' ? 'of no type' : x.type)))
  const view: FactView = {
    table: relationText(c.child),
    columns: c.columns.map((x) => x.name).join(', '),
    target: relationText(c.target.relation),
    targetColumns: c.targetColumns.map((x) => x.name).join(', '),
    role: c.role.join(' '),
    types: [...types].join(' and '),
    counted: c.rows ? countedText(c.rows) : '',
  }
  const said = [...s.facts]
    .map(
      ([name, strength]): Evidence => ({
        kind: name,
        weight: rounded(weights.second[name] * strength),
        says: factTable[name].says(view),
        ...(c.rows && rowFactNames.has(name) ? { query: c.rows.query } : {}),
      }),
    )
    .filter((e) => Math.abs(e.weight) >= 0.005)
    .toSorted((a, b) => Math.abs(b.weight) - Math.abs(a.weight))
  const rule: Evidence =
    s.rule > 0
      ? { kind: 'proof', weight: rounded(s.rule), says: 'that is proof, whatever names say' }
      : { kind: 'only a role', weight: rounded(s.rule), says: 'a role says that it is somebody, and not in which table: so it is asked' }
  const all = Math.abs(s.rule) >= 0.005 ? [rule, ...said] : said
  if (c.facts.has('several columns')) return all
  return [...all, { kind: 'starting point', weight: rounded(weights.second.base), says: 'most columns do not refer to a given table' }]
}
