// How far plans are on a database, by its journal.
import { connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import { checksumOf, inForce, type PlanFiles, readJournal } from './journal.ts'
import type { Location } from './location.ts'

export type PlanState = 'applied' | 'adopted' | 'part' | 'not applied' | 'changed' | 'other plan'

/** One row of the status: a plan, or one that only the journal knows. */
export interface PlanStatus {
  readonly number: number
  readonly name: string
  readonly state: PlanState | 'unknown here'
  readonly done: number
  readonly steps: number
  readonly at: string | null
  readonly by: string | null
}

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
      return { number: p.number, name: p.name, state, done: there.size, steps: p.plan.steps.length, at: last?.at ?? null, by: last?.by ?? null }
    })
    const others = journal
      .filter((j) => inForce(j).size > 0 && !plans.some((p) => p.number === j.number))
      .map((j): PlanStatus => ({ number: j.number, name: j.name, state: 'unknown here', done: inForce(j).size, steps: j.steps.size, at: null, by: null }))
    return [...own, ...others].toSorted((a, b) => a.number - b.number)
  } catch (error) {
    throw error instanceof SourceError ? error : new SourceError(classifyFailure(error), l)
  } finally {
    await client.end().catch(() => {})
  }
}
