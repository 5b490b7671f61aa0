// Runs the steps of a plan on one connection: each in the transaction it belongs to, or in none.
import type pg from 'pg'
import { type Plan, type Step, sessionSettings } from '../../core/change/index.ts'

export type Direction = 'up' | 'down'

export const statementsOf = (s: Step, direction: Direction): readonly string[] => (direction === 'up' ? s.up : s.down)

export interface StepHooks {
  /** Before a step; with the transaction it runs in already begun. */
  readonly before?: (s: Step) => Promise<void>
  /** After its statements, within its transaction; not called where it runs outside of any. */
  readonly inside?: (s: Step) => Promise<void>
  readonly after?: (s: Step) => Promise<void>
  /** Makes up for a statement that failed: true where the step is left out and the rest goes on. */
  readonly failed?: (s: Step, statement: string, error: unknown) => Promise<boolean>
  readonly signal?: AbortSignal
}

export class StepFailed extends Error {
  constructor(
    readonly step: Step,
    readonly statement: string,
    override readonly cause: unknown,
  ) {
    super(cause instanceof Error ? cause.message : String(cause))
  }
}

/** The statements of one step; one that fails and is made up for leaves the rest out. Throws StepFailed. */
async function runStep(client: pg.Client, step: Step, direction: Direction, hooks: StepHooks, open: boolean): Promise<void> {
  const guarded = hooks.failed !== undefined && open
  if (guarded) await client.query('savepoint step')
  for (const statement of statementsOf(step, direction)) {
    try {
      await client.query(statement)
    } catch (error) {
      hooks.signal?.throwIfAborted()
      if (!(await hooks.failed?.(step, statement, error))) throw new StepFailed(step, statement, error)
      if (guarded) await client.query('rollback to savepoint step')
      break
    }
  }
  if (guarded) await client.query('release savepoint step')
}

/**
 * Run steps in order (backwards for down). A failed statement rolls back its transaction and throws StepFailed. `single`: every step in a
 * transaction of its own.
 */
export async function runSteps(client: pg.Client, plan: Plan, steps: readonly Step[], direction: Direction, hooks: StepHooks, single = false): Promise<void> {
  for (const text of sessionSettings(plan)) await client.query(text)
  let open: number | null = null
  const commit = async () => {
    if (open !== null) await client.query('commit')
    open = null
  }
  try {
    for (const step of direction === 'up' ? steps : steps.toReversed()) {
      hooks.signal?.throwIfAborted()
      if (single || step.transaction !== open) await commit()
      if (step.transaction !== null && open === null) {
        await client.query('begin')
        open = step.transaction
      }
      await hooks.before?.(step)
      await runStep(client, step, direction, hooks, open !== null)
      if (open !== null) await hooks.inside?.(step)
      if (single) await commit()
      await hooks.after?.(step)
    }
    await commit()
  } catch (error) {
    if (open !== null) await client.query('rollback').catch(() => {})
    throw error
  }
}
