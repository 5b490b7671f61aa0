// How far plans are on a database, by its journal.
import { connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import { checksumOf, inForce, type JournalPlan, type PlanFiles, readJournal, type StepState } from './journal.ts'
import type { Location } from './location.ts'

export type PlanState = 'applied' | 'adopted' | 'part' | 'not applied' | 'changed' | 'other plan'

/** Consecutive steps whose last line in the journal is the same. */
export interface StepRun {
  readonly first: number
  readonly last: number
  readonly state: StepState
  readonly at: string
  readonly by: string
}

/** One row of the status: a plan, or one that only the journal knows. */
export interface PlanStatus {
  readonly number: number
  readonly name: string
  readonly state: PlanState | 'unknown here'
  readonly done: number
  readonly steps: number
  readonly at: string | null
  readonly by: string | null
  /** Why it was not proven when it came there; null where it was. */
  readonly unproven: string | null
  /** In order of the steps; those that the journal has no line of are in none. */
  readonly runs: readonly StepRun[]
}

function runsOf(j: JournalPlan): readonly StepRun[] {
  const runs: StepRun[] = []
  for (const [step, { state, at, by }] of [...j.steps].toSorted(([a], [b]) => a - b)) {
    const open = runs.at(-1)
    if (open?.last === step - 1 && open.state === state && open.at === at && open.by === by) runs[runs.length - 1] = { ...open, last: step }
    else runs.push({ first: step, last: step, state, at, by })
  }
  return runs
}

const wordIn = (j: JournalPlan | undefined, there: ReadonlySet<number>): string | null => (j && there.size > 0 ? j.unproven : null)

/** How far each plan is on a database. Reads only. Throws SourceError. */
export async function planStatus(l: Location, plans: readonly PlanFiles[]): Promise<readonly PlanStatus[]> {
  const client = await connect(l)
  try {
    const journal = await readJournal(client)
    const byNumber = new Map(journal.map((j) => [j.number, j]))
    const own = plans.map((p): PlanStatus => {
      const j = byNumber.get(p.number)
      const there = j ? inForce(j) : new Set<number>()
      const last = j ? [...j.steps.values()].toSorted((a, b) => (a.at < b.at ? 1 : -1))[0] : undefined
      const whole = p.plan.steps.every((s) => there.has(s.number))
      const state: PlanState =
        !j || there.size === 0
          ? 'not applied'
          : j.name !== p.name
            ? 'other plan'
            : j.checksum !== checksumOf(p)
              ? 'changed'
              : !whole
                ? 'part'
                : [...j.steps.values()].every((s) => s.state === 'adopted')
                  ? 'adopted'
                  : 'applied'
      return {
        number: p.number,
        name: p.name,
        state,
        done: there.size,
        steps: p.plan.steps.length,
        at: last?.at ?? null,
        by: last?.by ?? null,
        unproven: wordIn(j, there),
        runs: j ? runsOf(j) : [],
      }
    })
    const others = journal
      .filter((j) => inForce(j).size > 0 && !plans.some((p) => p.number === j.number))
      .map(
        (j): PlanStatus => ({
          number: j.number,
          name: j.name,
          state: 'unknown here',
          done: inForce(j).size,
          steps: j.steps.size,
          at: null,
          by: null,
          unproven: j.unproven,
          runs: runsOf(j),
        }),
      )
    return [...own, ...others].toSorted((a, b) => a.number - b.number)
  } catch (error) {
    throw error instanceof SourceError ? error : new SourceError(classifyFailure(error), l)
  } finally {
    await client.end().catch(() => {})
  }
}
