// What rows say for and against a candidate.
import { type Inclusion, inclusionKey, type KindCount, type RowEnd, type RowEvidence, rowEnd } from '../../rows/index.ts'
import type { FactList, FactName } from './facts.ts'
import type { Candidate, Question } from './question.ts'

export const rowFactNames: ReadonlySet<FactName> = new Set(['values all there', 'few values missing', 'values missing'])

/** Both ends of a candidate, columns in the order of the key. */
export function endsOf(c: Candidate): { readonly child: RowEnd; readonly parent: RowEnd } {
  const names = (list: readonly { readonly name: string }[]) => list.map((x) => x.name)
  return { child: rowEnd(c.child, names(c.columns)), parent: rowEnd(c.target.relation, names(c.targetColumns)) }
}

/** Questions with what the rows say added to their candidates; those that nothing but their values speaks for fall away unless these do. */
export function withRows(questions: readonly Question[], rows: RowEvidence): readonly Question[] {
  const known = new Map(rows.inclusions.map((i) => [inclusionKey(i.child, i.parent), i]))
  const several = new Set(rows.kinds.filter(namesSeveral).map((k) => `${k.schema}\n${k.table}\n${k.idColumn}`))
  return questions.flatMap((q) => {
    const isOfSeveral = q.columns.length === 1 && several.has(`${q.child.schema}\n${q.child.name}\n${q.columns[0]?.name}`)
    const candidates = q.candidates.flatMap((c): Candidate[] => {
      const { child, parent } = endsOf(c)
      const found = known.get(inclusionKey(child, parent))
      const fact = found && rowFact(found, c)
      const wide = c.facts.has('only values say so')
      if (!found || !fact) return wide ? [] : [c]
      if (wide && fact[0] === 'values missing') return []
      // The words beside it lead to several tables: that the values happen to be in one says little.
      const beside: FactList = isOfSeveral ? [['a kind stands beside it', 2]] : []
      return [{ ...c, rows: found, facts: new Map([...c.facts, fact, ...beside]) }]
    })
    return candidates.length === 0 ? [] : [{ ...q, candidates }]
  })
}

/** Do the words of a kind column lead to at least two tables? */
const namesSeveral = (k: KindCount) => new Set(k.kinds.flatMap((x) => (x.inclusion ? [x.inclusion.parent.table] : []))).size > 1

/** Shares of the values that no parent has. */
const few = 0.05
const many = 0.2
/** So many different values leave no room for chance: texts and identifiers are seldom the same by accident, small numbers often. */
const enough = { numbers: 64, others: 8 } as const

/**
 * Null where there are no values, or neither few nor many are missing. The more different values, the more it says; small numbers are
 * found in any key that counts up, so there it also takes a fair part of the parent's rows being referred to (Rostin et al., A Machine
 * Learning Approach to Foreign Key Discovery, WebDB 2009: coverage and out-of-range).
 */
function rowFact(i: Inclusion, c: Candidate): readonly [FactName, number] | null {
  if (i.values === 0) return null
  const share = i.missing / i.values
  if (share > many) return ['values missing', Math.min(1, 0.4 + i.values / 20)]
  const coverage = i.parentRows === 0 ? 0 : i.parents / i.parentRows
  const byChance = c.target.columns.every((x) => /int|serial|numeric|decimal/i.test(x.type))
  const variety = Math.min(1, Math.log2(1 + i.values) / Math.log2(byChance ? enough.numbers : enough.others))
  const strength = byChance ? variety * (0.25 + 0.75 * Math.min(1, coverage * 2)) : variety
  if (i.missing === 0) return ['values all there', strength]
  return share <= few ? ['few values missing', strength] : null
}

/** `: 412 rows, 37 values, 0 to 41 each, median 9; 3 rows point nowhere` */
export function countedText(i: Inclusion): string {
  const n = (count: number, one: string, several: string) => `${count} ${count === 1 ? one : several}`
  const each = i.least === null || i.most === null ? '' : `, ${i.least} to ${i.most} each, median ${i.median ?? i.least}`
  const orphans = i.orphans === 0 ? '' : `; ${n(i.orphans, 'row points', 'rows point')} nowhere`
  return `: ${n(i.rows, 'row', 'rows')}${i.sampled ? ' of a sample' : ''} with ${n(i.values, 'value', 'values')}, ${i.parents} of ${n(i.parentRows, 'row', 'rows')} referred to${each}${orphans}`
}
