// Applying plans to a database: one process at a time, a journal written ahead, and after a crash each step is looked at before anything runs again.
import { hostname, userInfo } from 'node:os'
import type pg from 'pg'
import { type Catalog, type Difference, emptyCatalog } from '../../core/catalog/index.ts'
import { type CheckAnswer, lossesBack, type Proof, type Step, sessionSettings, unproven } from '../../core/change/index.ts'
import { compareWithServer } from '../../core/ddl/index.ts'
import { connect } from './connect.ts'
import { classifyFailure, type DatabaseFailure, SourceError } from './failure.ts'
import { checksumOf, forgetPlan, inForce, type JournalPlan, makeJournal, notePlan, noteStep, type PlanFiles, readJournal, type StepState } from './journal.ts'
import type { Location } from './location.ts'
import { answerChecks } from './preCheck.ts'
import { statementsOf } from './steps.ts'
import { surveyClient } from './survey.ts'

/** A plan with the catalogs it leads from and to. */
export interface AppliedPlan extends PlanFiles {
  /** Null for an empty database. */
  readonly base: Catalog | null
  readonly expected: Catalog
  /** Its last rehearsal; null where it was never rehearsed as it is. */
  readonly proof: Proof | null
}

export type ApplyRefusal =
  /** A file is not what was applied under its number. */
  | { readonly code: 'changed'; readonly number: number; readonly name: string; readonly was: { readonly up: string; readonly down: string } }
  /** Two branches gave one number to different plans. */
  | { readonly code: 'other plan'; readonly number: number; readonly name: string; readonly applied: string }
  /** The journal has a plan that the folder has not. */
  | { readonly code: 'unknown plan'; readonly number: number; readonly name: string }
  /** The database is not what the plan begins with, or not what it should have become. */
  | { readonly code: 'differs'; readonly number: number; readonly name: string; readonly differences: readonly Difference[] }
  /** Its last rehearsal failed, or there was none, and nobody said that they mean it. */
  | { readonly code: 'unproven'; readonly number: number; readonly name: string; readonly because: string }
  | { readonly code: 'busy' }
  /** The role may not make the journal's schema. */
  | { readonly code: 'no journal'; readonly user: string; readonly database: string }
  /** Taking back would lose what nothing brings back. */
  | {
      readonly code: 'no way back'
      readonly number: number
      readonly steps: readonly { readonly number: number; readonly object: string; readonly because: string }[]
    }
  /** Taking back would drop rows. */
  | {
      readonly code: 'rows lost'
      readonly number: number
      readonly losses: readonly { readonly step: number; readonly object: string; readonly rows: number }[]
    }
  | {
      readonly code: 'failed'
      readonly number: number
      readonly step: number
      readonly object: string
      readonly statement: string
      readonly failure: DatabaseFailure
    }
  | { readonly code: 'pre-check'; readonly number: number; readonly failing: readonly CheckAnswer[] }

export interface ApplyReport {
  readonly ok: boolean
  /** Steps that ran now: `12 of 0003`. */
  readonly ran: readonly {
    readonly plan: number
    readonly step: number
    readonly object: string
    readonly says: string
    readonly milliseconds: number
    readonly tries: number
  }[]
  readonly refusal: ApplyRefusal | null
}

export interface ApplyOptions {
  readonly by?: string
  readonly onProgress?: (doing: string, done: number, total: number) => void
  /** Heard between steps; what runs is let run. */
  readonly signal?: AbortSignal
  /** Take back every plan with a greater number. */
  readonly downTo?: number
  /** Lose what a step without a way back would lose, and the rows that a way back drops. */
  readonly acceptLoss?: boolean
  /**
   * What is done with a plan that no rehearsal proved: refused, refused only where its rehearsal failed (`tell` says the rest), or
   * agreed to, which the journal keeps. Refused by default.
   */
  readonly unproven?: 'refuse' | 'tell' | 'agree'
  readonly onUnproven?: (plan: AppliedPlan, because: string) => void
  /** How long a lock is waited for at a time, in milliseconds, and how often. */
  readonly lockTimeout?: number
  readonly lockTries?: number
  /** How long another process is waited for, in milliseconds. */
  readonly patience?: number
}

/** Any number nobody else is likely to use on this database: the letters "plan". */
const lockKey = 0x706c616e

/**
 * The advisory lock is polled, with no transaction open: a blocking wait would deadlock with CREATE INDEX CONCURRENTLY, which waits for
 * every transaction that is older than it (manual, CREATE INDEX, Building Indexes Concurrently).
 */
async function lease(client: pg.Client, patience: number, signal?: AbortSignal): Promise<boolean> {
  const until = Date.now() + patience
  for (;;) {
    signal?.throwIfAborted()
    const { rows } = await client.query<{ got: boolean }>('select pg_catalog.pg_try_advisory_lock($1) as got', [lockKey])
    if (rows[0]?.got) return true
    if (Date.now() > until) return false
    await new Promise((resolve) => setTimeout(resolve, 200))
  }
}

class Refused extends Error {
  constructor(readonly refusal: ApplyRefusal) {
    super(refusal.code)
  }
}

const who = () => `${userInfo().username}@${hostname()}`

async function withLease<T>(l: Location, o: ApplyOptions, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = await connect(l)
  try {
    await client.query("set application_name = 'pelvok apply'; set idle_in_transaction_session_timeout = '120s'")
    const { rows } = await client.query<{ onlyReads: boolean }>(
      `select pg_catalog.pg_is_in_recovery() or pg_catalog.current_setting('transaction_read_only')::boolean as "onlyReads"`,
    )
    if (rows[0]?.onlyReads) throw new SourceError({ kind: 'only reads' }, l)
    if (!(await lease(client, o.patience ?? 60_000, o.signal))) throw new Refused({ code: 'busy' })
    return await work(client)
  } catch (error) {
    if (error instanceof Refused || error instanceof SourceError) throw error
    o.signal?.throwIfAborted()
    if (error instanceof Error && !('code' in error) && !/Connection terminated|not queryable|Client has encountered/i.test(error.message)) throw error
    throw new SourceError(classifyFailure(error), l)
  } finally {
    await client.query('select pg_catalog.pg_advisory_unlock($1)', [lockKey]).catch(() => {})
    await client.end().catch(() => {})
  }
}

async function journalIn(client: pg.Client, l: Location): Promise<void> {
  try {
    await makeJournal(client)
  } catch (error) {
    await client.query('rollback').catch(() => {})
    if ((error as { code?: string }).code === '42501') throw new Refused({ code: 'no journal', user: l.user, database: l.database })
    throw error
  }
}

/** The plans of a folder against the journal: changed, foreign and unknown ones are refused. */
function against(plans: readonly AppliedPlan[], journal: readonly JournalPlan[]): void {
  const known = new Map(plans.map((p) => [p.number, p]))
  for (const j of journal) {
    if (inForce(j).size === 0 && ![...j.steps.values()].some((s) => s.state === 'started')) continue
    const p = known.get(j.number)
    if (!p) throw new Refused({ code: 'unknown plan', number: j.number, name: j.name })
    if (p.name !== j.name) throw new Refused({ code: 'other plan', number: j.number, name: p.name, applied: j.name })
    if (checksumOf(p) !== j.checksum) throw new Refused({ code: 'changed', number: j.number, name: j.name, was: { up: j.up, down: j.down } })
  }
}

const modelled = (c: Catalog): Catalog => ({ ...c, unmodelled: [] })

async function differences(client: pg.Client, expected: Catalog): Promise<readonly Difference[]> {
  const found = await surveyClient(client, { schemas: null })
  return compareWithServer(modelled(expected), modelled(found.structure)).differences.filter(
    (d) => !d.field.endsWith('columns order') && !/(^|\.)dependsOn/.test(d.field),
  )
}

/** Another process holds a lock that is waited for, or both wait for each other: tried again. */
const passing = new Set(['55P03', '40P01', '40001'])

interface Run {
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

async function runPlan(r: Run, journal: JournalPlan | undefined): Promise<void> {
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

/** Plans in order of number, up to the last, or down to `downTo`. Never throws for what is refused; throws SourceError, or the signal's reason. */
export async function applyPlans(l: Location, plans: readonly AppliedPlan[], o: ApplyOptions): Promise<ApplyReport> {
  const ran: ApplyReport['ran'][number][] = []
  try {
    await withLease(l, o, async (client) => {
      await journalIn(client, l)
      const journal = new Map((await readJournal(client)).map((j) => [j.number, j]))
      against(plans, [...journal.values()])
      const by = o.by ?? who()
      if (o.downTo === undefined) await goUp(client, plans, journal, o, by, ran)
      else await goDown(client, plans, journal, o, by, ran)
    })
    return { ok: true, ran, refusal: null }
  } catch (error) {
    if (error instanceof Refused) return { ok: false, ran, refusal: error.refusal }
    throw error
  }
}

/** What the journal is to say of a plan that is not proven; null of one that is. Refused where nobody agreed. */
function wordOf(p: AppliedPlan, o: ApplyOptions): string | null {
  const because = unproven(p.proof)
  if (because === null) return null
  if (o.unproven === 'agree') return `${because}; agreed to`
  if (o.unproven !== 'tell' || p.proof !== null) throw new Refused({ code: 'unproven', number: p.number, name: p.name, because })
  o.onUnproven?.(p, because)
  return because
}

const isWhole = (p: AppliedPlan, j: JournalPlan | undefined) => j !== undefined && p.plan.steps.every((s) => inForce(j).has(s.number))
const isBegun = (j: JournalPlan | undefined) => j !== undefined && [...j.steps.values()].some((s) => s.state !== 'taken back')

async function goUp(
  client: pg.Client,
  plans: readonly AppliedPlan[],
  journal: ReadonlyMap<number, JournalPlan>,
  o: ApplyOptions,
  by: string,
  ran: ApplyReport['ran'][number][],
): Promise<void> {
  const due = plans.filter((p) => !isWhole(p, journal.get(p.number)) || p.plan.steps.length === 0)
  const total = due.reduce((n, p) => n + p.plan.steps.length, 0)
  for (const p of due) {
    const j = journal.get(p.number)
    if (!isBegun(j)) {
      const found = await differences(client, p.base ?? emptyCatalog('postgresql'))
      if (found.length > 0) throw new Refused({ code: 'differs', number: p.number, name: p.name, differences: found })
      const word = wordOf(p, o)
      const failing = (await answerChecks(client, p.plan.steps)).filter((c) => c.count !== 0)
      if (failing.length > 0) throw new Refused({ code: 'pre-check', number: p.number, failing })
      if (j) await forgetPlan(client, p.number)
      await notePlan(client, p, word)
    }
    await runPlan(
      { client, plan: p, direction: 'up', o, by, ran, tick: (s) => o.onProgress?.(`${s.object} ${s.says}`, ran.length, total) },
      isBegun(j) ? j : undefined,
    )
    const left = await differences(client, p.expected)
    if (left.length > 0) throw new Refused({ code: 'differs', number: p.number, name: p.name, differences: left })
  }
}

async function goDown(
  client: pg.Client,
  plans: readonly AppliedPlan[],
  journal: ReadonlyMap<number, JournalPlan>,
  o: ApplyOptions,
  by: string,
  ran: ApplyReport['ran'][number][],
): Promise<void> {
  const due = plans.filter((p) => p.number > (o.downTo ?? 0) && isBegun(journal.get(p.number))).toReversed()
  for (const p of due) {
    const there = inForce(journal.get(p.number) as JournalPlan)
    const lost = p.plan.steps.flatMap((s) =>
      there.has(s.number) ? s.hazards.flatMap((h) => (h.code === 'no-way-back' ? [{ number: s.number, object: s.object, because: h.because }] : [])) : [],
    )
    if (lost.length > 0 && !o.acceptLoss) throw new Refused({ code: 'no way back', number: p.number, steps: lost })
    // What was changed by hand since would be undone half, or be in the way.
    const found = isWhole(p, journal.get(p.number)) && p === due[0] ? await differences(client, p.expected) : []
    if (found.length > 0) throw new Refused({ code: 'differs', number: p.number, name: p.name, differences: found })
    const losses = o.acceptLoss ? [] : await rowsLost(client, p, there)
    if (losses.length > 0) throw new Refused({ code: 'rows lost', number: p.number, losses })
  }
  const total = due.reduce((n, p) => n + p.plan.steps.length, 0)
  for (const p of due) {
    const j = journal.get(p.number) as JournalPlan
    const there = inForce(j)
    await runPlan({ client, plan: p, direction: 'down', o, by, ran, tick: (s) => o.onProgress?.(`${s.object}`, ran.length, total) }, j)
    // What has no way back stays otherwise, and that was agreed to.
    const returns = isWhole(p, j) && !p.plan.steps.some((s) => there.has(s.number) && s.hazards.some((h) => h.code === 'no-way-back'))
    const left = returns ? await differences(client, p.base ?? emptyCatalog('postgresql')) : []
    if (left.length > 0) throw new Refused({ code: 'differs', number: p.number, name: p.name, differences: left })
  }
}

/** Rows in what the way back of a plan drops, as far as its objects are there now. */
async function rowsLost(client: pg.Client, p: AppliedPlan, there: ReadonlySet<number>): Promise<Extract<ApplyRefusal, { code: 'rows lost' }>['losses']> {
  const losses: { step: number; object: string; rows: number }[] = []
  for (const l of lossesBack(p.plan.steps.filter((s) => there.has(s.number)))) {
    try {
      await client.query("begin transaction read only; set local search_path = pg_catalog; set local statement_timeout = '120s'")
      const rows = Number((await client.query<{ count: string }>(l.count)).rows[0]?.count ?? 0)
      if (rows > 0) losses.push({ step: l.step, object: l.object, rows })
    } catch (error) {
      // A later plan that is taken back first may have made it what it is not yet again.
      const f = classifyFailure(error)
      if (f.kind !== 'database' || !['42P01', '42703'].includes(f.sqlState)) throw error
    } finally {
      await client.query('rollback').catch(() => {})
    }
  }
  return losses
}

/** Record a plan as applied on the schema it leads to, running nothing. Refused with the differences where the database is another one. */
export async function adoptPlan(l: Location, p: AppliedPlan, o: ApplyOptions = {}): Promise<ApplyReport> {
  try {
    await withLease(l, o, async (client) => {
      const journal = await readJournal(client)
      against([p, ...journal.filter((j) => j.number !== p.number).map((j) => ({ ...p, number: j.number, name: j.name, up: j.up, down: j.down }))], journal)
      const found = await differences(client, p.expected)
      if (found.length > 0) throw new Refused({ code: 'differs', number: p.number, name: p.name, differences: found })
      const word = wordOf(p, o)
      await journalIn(client, l)
      const before = journal.find((j) => j.number === p.number)
      await notePlan(client, p, word)
      for (const s of p.plan.steps)
        if (!before || !inForce(before).has(s.number)) await noteStep(client, p.number, s.number, 'adopted', 'up', '', o.by ?? who())
    })
    return { ok: true, ran: [], refusal: null }
  } catch (error) {
    if (error instanceof Refused) return { ok: false, ran: [], refusal: error.refusal }
    throw error
  }
}
