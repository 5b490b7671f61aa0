// A rehearsal: a plan runs up, down and up again on a scratch database, and each time a survey says whether the result is what was planned.
import type pg from 'pg'
import { type Catalog, type Difference, emptyCatalog, type Unmodelled } from '../../core/catalog/index.ts'
import { type Plan, type Step, searchPathSetting } from '../../core/change/index.ts'
import { compareWithServer } from '../../core/ddl/index.ts'
import { cancelRunning, connect } from './connect.ts'
import { classifyFailure, type DatabaseFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'
import { createScratch } from './scratch.ts'
import { surveyClient } from './survey.ts'

/** A step the scratch role could not run, or that needs one it could not run. */
export interface SkippedStep {
  readonly step: number
  readonly object: string
  readonly reason: 'needs a higher role' | 'extension not on this server' | 'needs a skipped object'
  readonly said: string
}

export interface Phase {
  readonly direction: 'up' | 'down' | 'up again'
  readonly steps: number
  readonly milliseconds: number
  /** Against the planned structure (up) or an empty database (down). */
  readonly differences: readonly Difference[]
  /** Of those a schema read from a script may have, how many there are; see core/ddl/allowed.ts. */
  readonly allowed: number
}

export interface Rehearsal {
  /** Every phase ran, nothing differs and nothing was skipped. */
  readonly ok: boolean
  readonly server: string
  readonly phases: readonly Phase[]
  readonly skipped: readonly SkippedStep[]
  /** Objects of the snapshot that the plan does not make because they are not modelled yet. */
  readonly notSupported: readonly Unmodelled[]
  readonly failure: {
    readonly direction: Phase['direction']
    readonly step: number
    readonly object: string
    readonly statement: string
    readonly failure: DatabaseFailure
  } | null
}

export interface RehearseOptions {
  readonly onProgress?: (doing: string, done: number, total: number) => void
  readonly signal?: AbortSignal
}

const missingObject = new Set(['42P01', '42883', '42704', '3F000', '42703'])

function skipReason(f: DatabaseFailure, skippedBefore: boolean): SkippedStep['reason'] | null {
  if (f.sqlState === '42501') return 'needs a higher role'
  if (f.sqlState === '58P01' || (f.sqlState === '0A000' && /extension/.test(f.message)) || (f.sqlState === '22023' && /installation script/.test(f.message)))
    return 'extension not on this server'
  if (skippedBefore && missingObject.has(f.sqlState)) return 'needs a skipped object'
  return null
}

class StepFailed extends Error {
  constructor(
    readonly step: Step,
    readonly statement: string,
    readonly failure: DatabaseFailure,
  ) {
    super(failure.message)
  }
}

const settings =
  "set local check_function_bodies = off; set local standard_conforming_strings = on; set local client_min_messages = warning; set local statement_timeout = '120s'; set local lock_timeout = '10s'"

/** Run steps in one transaction, each behind a savepoint, so that one the role may not run is skipped and named. */
async function runSteps(
  client: pg.Client,
  plan: Plan,
  direction: 'up' | 'down',
  skipped: Map<number, SkippedStep>,
  tick: (object: string) => void,
  signal?: AbortSignal,
): Promise<void> {
  await client.query('begin')
  await client.query(`${searchPathSetting(plan)} ${settings}`)
  for (const step of direction === 'up' ? plan.steps : plan.steps.toReversed()) {
    signal?.throwIfAborted()
    tick(step.object)
    if (direction === 'down' && skipped.has(step.number)) continue
    await client.query('savepoint step')
    for (const statement of direction === 'up' ? step.up : step.down) {
      try {
        if (step.kind === 'refresh') await client.query('set local search_path = default')
        await client.query(statement)
      } catch (error) {
        signal?.throwIfAborted()
        const failure = classifyFailure(error)
        if (failure.kind !== 'database') throw error
        const reason = direction === 'up' ? skipReason(failure, skipped.size > 0) : null
        if (reason === null) throw new StepFailed(step, statement, failure)
        skipped.set(step.number, { step: step.number, object: step.object, reason, said: failure.message })
        await client.query('rollback to savepoint step')
        break
      }
    }
    await client.query('release savepoint step')
  }
  await client.query('commit')
}

/** What is compared: all but objects that are not modelled, which are listed apart. */
const modelled = (c: Catalog): Catalog => ({ ...c, unmodelled: [] })

/** Rehearse on a fresh scratch database of `server`, which is dropped afterwards whatever happens. Throws SourceError, or the signal's reason. */
export async function rehearse(plan: Plan, expected: Catalog, server: Location, o: RehearseOptions): Promise<Rehearsal> {
  const scratch = await createScratch(server)
  let client: pg.Client | null = null
  const cancel = () => {
    if (client) void cancelRunning(client, scratch.location).catch(() => {})
  }
  o.signal?.addEventListener('abort', cancel, { once: true })
  const phases: Phase[] = []
  const skipped = new Map<number, SkippedStep>()
  const total = plan.steps.length * 3
  let done = 0
  let version = ''
  let failed: Rehearsal['failure'] = null
  try {
    client = await connect(scratch.location)
    for (const direction of ['up', 'down', 'up again'] as const) {
      const started = performance.now()
      try {
        await runSteps(
          client,
          plan,
          direction === 'down' ? 'down' : 'up',
          skipped,
          (object) => o.onProgress?.(`${direction}: ${object}`, ++done, total),
          o.signal,
        )
      } catch (error) {
        if (!(error instanceof StepFailed)) throw error
        failed = { direction, step: error.step.number, object: error.step.object, statement: error.statement, failure: error.failure }
        break
      }
      const milliseconds = Math.round(performance.now() - started)
      const found = await surveyClient(client, { schemas: null, ...(o.signal ? { signal: o.signal } : {}) })
      version = found.reading.server
      const target = direction === 'down' ? emptyCatalog(plan.dialect) : expected
      phases.push({ direction, steps: plan.steps.length, milliseconds, ...compareWithServer(modelled(target), modelled(found.structure)) })
    }
  } catch (error) {
    o.signal?.throwIfAborted()
    throw error instanceof SourceError ? error : new SourceError(classifyFailure(error), scratch.location)
  } finally {
    o.signal?.removeEventListener('abort', cancel)
    await client?.end().catch(() => {})
    await scratch.drop()
  }
  const list = [...skipped.values()]
  return {
    ok: failed === null && list.length === 0 && phases.length === 3 && phases.every((p) => p.differences.length === 0),
    server: version,
    phases,
    skipped: list,
    notSupported: expected.unmodelled,
    failure: failed,
  }
}
