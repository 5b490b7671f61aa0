// Applying plans to a database: one process at a time, a journal written ahead, and after a crash each step is looked at before anything runs again.
import { hostname, userInfo } from 'node:os'
import type pg from 'pg'
import { type Catalog, type Difference, emptyCatalog } from '../../core/catalog/index.ts'
import { lossesBack, unproven } from '../../core/change/index.ts'
import { compareWithServer } from '../../core/ddl/index.ts'
import { type AppliedPlan, type ApplyOptions, type ApplyRefusal, type ApplyReport, Refused } from './applyReport.ts'
import { runPlan } from './applySteps.ts'
import { connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import { checksumOf, forgetPlan, inForce, type JournalPlan, makeJournal, notePlan, noteStep, readJournal } from './journal.ts'
import type { Location } from './location.ts'
import { answerChecks } from './preCheck.ts'
import { surveyClient } from './survey.ts'

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
