// Running the steps of one plan: together in their transactions, or alone where nothing is undone by itself.
import type pg from 'pg'
import { type Step, sessionSettings } from '../../core/change/index.ts'
import { type AppliedPlan, type ApplyOptions, type ApplyReport, Refused } from './applyReport.ts'
import { classifyFailure } from './failure.ts'
import { inForce, type JournalPlan, noteStep, type StepState } from './journal.ts'
import { statementsOf } from './steps.ts'

/** Another process holds a lock that is waited for, or both wait for each other: tried again. */
const passing = new Set(['55P03', '40P01', '40001'])

export interface Run {
  readonly client: pg.Client
  readonly plan: AppliedPlan
  readonly direction: 'up' | 'down'
  readonly o: ApplyOptions
  readonly by: string
  readonly ran: ApplyReport['ran'][number][]
  readonly tick: (s: Step) => void
}

/** Consecutive steps of one transaction; steps outside of any stand alone. */
function groups(steps: readonly Step[]): readonly (readonly Step[])[] {
  const out: Step[][] = []
  for (const s of steps) {
    const last = out.at(-1)
    if (last && s.transaction !== null && last[0]?.transaction === s.transaction) last.push(s)
    else out.push([s])
  }
  return out
}

/** `half`: an index that is left half built. */
async function failure(r: Run, step: Step, statement: string, error: unknown, half: string | null = null): Promise<never> {
  const f = classifyFailure(error)
  if (f.kind !== 'database') throw error
  const told =
    half === null
      ? f
      : { ...f, detail: [f.detail, `${half} is left half built: going on drops it first, or DROP INDEX CONCURRENTLY ${half} does.`].filter(Boolean).join(' ') }
  throw new Refused({ code: 'failed', number: r.plan.number, step: step.number, object: step.object, statement, failure: told })
}

const isPassing = (error: unknown) => passing.has((error as { code?: string } | null)?.code ?? '')

async function pause(tries: number): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, Math.min(5000, 200 * 2 ** tries)))
}

const finished = (direction: 'up' | 'down'): StepState => (direction === 'up' ? 'done' : 'taken back')

/** All or nothing: the journal's last line of each step is written in the very transaction. */
async function runTogether(r: Run, group: readonly Step[]): Promise<void> {
  const { client, plan, direction, o } = r
  for (const s of group) await noteStep(client, plan.number, s.number, 'started', direction, statementsOf(s, direction).join('\n'), r.by)
  for (let tries = 1; ; tries += 1) {
    const done: ApplyReport['ran'][number][] = []
    let at = group[0] as Step
    let statement = ''
    try {
      await client.query('begin')
      for (const s of group) {
        at = s
        r.tick(s)
        const started = performance.now()
        for (statement of statementsOf(s, direction)) await client.query(statement)
        await noteStep(client, plan.number, s.number, finished(direction), direction, '', r.by)
        done.push({ plan: plan.number, step: s.number, object: s.object, says: s.says, milliseconds: Math.round(performance.now() - started), tries })
      }
      await client.query('commit')
      r.ran.push(...done)
      return
    } catch (error) {
      await client.query('rollback')
      if (!isPassing(error) || tries >= (o.lockTries ?? 10)) await failure(r, at, statement, error)
      await pause(tries)
    }
  }
}

type Progress = 'done' | 'half done' | 'not done'

async function probe(client: pg.Client, s: Step): Promise<Progress> {
  if (s.probe === null) return 'not done'
  const { rows } = await client.query<Record<string, Progress>>(s.probe)
  return (Object.values(rows[0] ?? {})[0] ?? 'not done') as Progress
}

/** The index that a step builds, as SQL names it; null where it builds none. */
function indexOf(s: Step): string | null {
  const found = /^CREATE (?:UNIQUE )?INDEX CONCURRENTLY (?<name>"(?:[^"]|"")+"|\S+) ON (?:ONLY )?(?<schema>(?:"(?:[^"]|"")+"|[^".\s]+)\.)/.exec(s.up[0] ?? '')
  return found?.groups ? `${found.groups['schema']}${found.groups['name']}` : null
}

/** What a build left that did not come to its end. An index that is whole is somebody else's, or done. */
async function dropHalf(client: pg.Client, index: string): Promise<void> {
  const { rowCount } = await client.query('select from pg_catalog.pg_index where indexrelid = pg_catalog.to_regclass($1) and not indisvalid', [index])
  if (rowCount) await client.query(`DROP INDEX CONCURRENTLY IF EXISTS ${index}`)
}

/** The name of an index that stays half built, since it cannot be dropped now; null where none does. */
async function halfLeft(client: pg.Client, index: string): Promise<string | null> {
  try {
    await dropHalf(client, index)
    return null
  } catch {
    return index
  }
}

/** The name is taken: nothing was built, and what has the name is not the plan's. */
const isTaken = (error: unknown) => (error as { code?: string } | null)?.code === '42P07'

/** Outside of transactions nothing is undone by itself: an index that was left half built is dropped and built again. */
async function runAlone(r: Run, s: Step, begun: boolean): Promise<void> {
  const { client, plan, direction, o } = r
  const index = direction === 'up' ? indexOf(s) : null
  await noteStep(client, plan.number, s.number, 'started', direction, statementsOf(s, direction).join('\n'), r.by)
  r.tick(s)
  const started = performance.now()
  for (let tries = 1; ; tries += 1) {
    let statement = ''
    try {
      const again = begun || tries > 1
      const state = direction === 'up' && again ? await probe(client, s) : 'not done'
      if (state === 'half done' && index !== null) await dropHalf(client, index)
      // What the probe says is there is not made again; what follows it may be repeated.
      for (statement of statementsOf(s, direction).slice(state === 'done' ? 1 : 0)) {
        await client.query(
          direction === 'down' && begun ? statement.replace(/^DROP INDEX CONCURRENTLY (?!IF EXISTS)/, 'DROP INDEX CONCURRENTLY IF EXISTS ') : statement,
        )
      }
      await noteStep(client, plan.number, s.number, finished(direction), direction, '', r.by)
      r.ran.push({ plan: plan.number, step: s.number, object: s.object, says: s.says, milliseconds: Math.round(performance.now() - started), tries })
      return
    } catch (error) {
      if (!isPassing(error) || tries >= (o.lockTries ?? 10)) {
        const left = index !== null && !isTaken(error) && classifyFailure(error).kind === 'database' ? await halfLeft(client, index) : null
        await failure(r, s, statement, error, left)
      }
      await pause(tries)
    }
  }
}

export async function runPlan(r: Run, journal: JournalPlan | undefined): Promise<void> {
  const { client, plan, direction, o } = r
  for (const text of sessionSettings(plan.plan)) await client.query(text)
  await client.query(`set lock_timeout = ${o.lockTimeout ?? 5000}; set statement_timeout = 0`)
  const there = journal ? inForce(journal) : new Set<number>()
  const due = plan.plan.steps.filter((s) =>
    direction === 'up' ? !there.has(s.number) : there.has(s.number) || journal?.steps.get(s.number)?.state === 'started',
  )
  for (const group of groups(direction === 'up' ? due : due.toReversed())) {
    o.signal?.throwIfAborted()
    const s = group[0] as Step
    if (s.transaction === null) await runAlone(r, s, journal?.steps.get(s.number)?.state === 'started')
    else await runTogether(r, group)
  }
}
