// What the worker process does: surveys and rehearsals, with progress, a lease and cancelling that reaches the server.

import { z } from 'zod'
import { type Catalog, canonicalText, hashText } from '../core/catalog/index.ts'
import { describePlanProblem, type Plan, renameOf } from '../core/change/index.ts'
import { generateFixtures, namedFixtures } from '../core/fixtures/index.ts'
import { rowQuestions } from '../core/infer/index.ts'
import { lostSubjects } from '../core/lineage/index.ts'
import { schemaEditsOf } from '../core/model/index.ts'
import { claimQuestions, review } from '../core/review/index.ts'
import { evidenceHash } from '../core/rows/index.ts'
import { isTold } from '../core/text/told.ts'
import {
  connect,
  declaredLinks,
  describeFailure,
  type Location,
  parseUrl,
  plannedLinks,
  profile,
  readSample,
  rehearse,
  type Sample,
  SourceError,
  survey,
  surveySummary,
  type Wording,
} from '../engines/postgres/index.ts'
import {
  appendToLedger,
  claimJob,
  endJob,
  findJob,
  findSurvey,
  insertRowEvidence,
  insertSurvey,
  type JobKind,
  type JobRow,
  noteProof,
  readLedger,
  reportProgress,
} from '../store/index.ts'
import { makeReadyApart } from './apart/index.ts'
import { catalogOf } from './catalogs.ts'
import { apply, applyInput } from './environments.ts'
import { checkFixtures, type FixtureReport } from './fixtures.ts'
import { log } from './log.ts'
import { markOf, resolvePlan, which } from './plans.ts'
import { proofOf, type RehearsalResult } from './rehearsals.ts'
import { openLocation, SourceUnreadable } from './sources.ts'

/** Waits for a store that is away: what was worked out is not lost by it. */
async function stored<T>(work: () => Promise<T>): Promise<T> {
  for (let wait = 250; ; wait = Math.min(wait * 2, 5000)) {
    try {
      return await work()
    } catch (error) {
      if (!(isTold(error) && error.status === 503)) throw error
      log.warn({ message: error.message }, 'the store does not answer; tried again')
      await new Promise((resolve) => setTimeout(resolve, wait))
    }
  }
}

interface Work {
  readonly signal: AbortSignal
  readonly progress: (doing: string, done: number, total: number | null) => void
}

async function surveyWork(job: JobRow, w: Work): Promise<string> {
  const { sourceId, location } = await openLocation(job.projectId)
  let read = 0
  const onProgress = (reading: string, objects: number) => {
    read = Math.max(read, objects)
    w.progress(`reading ${reading}`, read, null)
  }
  const found = await survey(location, { schemas: null, signal: w.signal, onProgress })
  const text = canonicalText(found.structure)
  const hash = hashText(text)
  await stored(() =>
    insertSurvey({
      projectId: job.projectId,
      sourceId,
      hash,
      canonicalText: text,
      relations: found.structure.relations.length,
      unmodelled: found.structure.unmodelled.length,
      statistics: JSON.stringify(found.statistics),
      reading: JSON.stringify(found.reading),
    }),
  )
  await stored(() => carryRenames(job.projectId, found.structure))
  w.progress('working out what refers to what', read, null)
  await makeReadyApart(job.projectId).catch((error: unknown) =>
    // The survey stands: who opens the review is told why it is not shown.
    log.warn({ message: error instanceof Error ? error.message : String(error) }, 'a review could not be made ready'),
  )
  return JSON.stringify({ hash, summary: surveySummary(found) })
}

/** What was renamed by a plan is called so in the review, too: rulings move along. */
async function carryRenames(projectId: string, catalog: Catalog): Promise<void> {
  await appendToLedger(projectId, 'Pelvok', ({ entries }) => {
    const lost = new Set(lostSubjects(catalog, entries).map((l) => l.subject))
    const renames = schemaEditsOf(entries).flatMap((e) => e.edits.flatMap((x) => renameOf(x) ?? []))
    return { append: renames.filter((r) => lost.has(r.from)).map((r) => ({ kind: 'rebind' as const, ...r, note: null })) }
  })
}

/** Of each table, where rows are made up. */
const madeUp = { rows: 5, seed: 1 } as const

const rehearsalInput = z.object({ which: which.default('baseline'), rows: z.boolean().default(false), made: z.boolean().default(false) })

async function rehearsalWork(job: JobRow, w: Work): Promise<string> {
  const input = rehearsalInput.parse(JSON.parse(job.input))
  const found = await resolvePlan(job.projectId, input.which)
  if (!found) throw new Refusal({ message: 'there is nothing to rehearse yet', detail: 'The project has no survey.', hint: 'Survey the source first.' })
  if (!found.ok)
    throw new Refusal({
      message: 'there is no plan to rehearse',
      detail: `${describePlanProblem(found.problem)}.`,
      hint: 'Break a cycle in the source; a schema of another engine has its classes and relationships here, and no migrations yet.',
    })
  const url = process.env['PELVOK_SCRATCH_URL']
  const server = url ? parseUrl(url) : null
  if (!server?.ok)
    throw new Refusal({
      message: 'no server for scratch databases is set',
      detail: 'PELVOK_SCRATCH_URL is empty or not a postgresql:// URL.',
      hint: 'Start Pelvok with "npm start", which makes one, or set the variable.',
    })
  const { plan, base, expected } = found.resolved
  const sample = input.rows && base ? await sampleOf(job.projectId, base, plan, w) : null
  let fixtures: FixtureReport | null = null
  const entries = input.made ? await readLedger(job.projectId) : []
  const withRows = input.made
    ? {
        onScratch: async (scratch: Location) => {
          const { model, revision } = review(expected, hashText(canonicalText(expected)), entries)
          fixtures = await checkFixtures(scratch, namedFixtures(expected, model, generateFixtures(expected, madeUp.seed, madeUp.rows)), model, revision)
        },
      }
    : {}
  const rehearsal = await rehearse(plan, expected, server.location, { base, sample, signal: w.signal, onProgress: w.progress, ...withRows })
  const result: RehearsalResult = { rehearsal, fixtures, mark: markOf(plan) }
  const proof = proofOf(result, new Date().toISOString())
  await stored(() => noteProof(job.projectId, result.mark, proof))
  return JSON.stringify(result)
}

/** Rows of the source, closed under what is declared and what the plan declares. */
async function sampleOf(projectId: string, base: Catalog, plan: Plan, w: Work): Promise<Sample> {
  const { location } = await openLocation(projectId)
  const client = await connect(location)
  try {
    return await readSample(client, base, [...declaredLinks(base), ...plannedLinks(plan)], {
      seed: 1,
      perTable: 100,
      atMost: 5000,
      signal: w.signal,
      onProgress: (table) => w.progress(`rows of ${table}`, 0, null),
    })
  } finally {
    await client.end().catch(() => {})
  }
}

async function applyWork(job: JobRow, w: Work): Promise<string> {
  const outcome = await apply(job.projectId, applyInput.parse(JSON.parse(job.input)), job.by, w)
  if (!outcome.ok) throw new Refusal(outcome.wording)
  return JSON.stringify(outcome.value)
}

async function rowsWork(job: JobRow, w: Work): Promise<string> {
  const found = await findSurvey(job.projectId)
  if (!found) throw new Refusal({ message: 'there is nothing to read rows for yet', detail: 'The project has no survey.', hint: 'Survey the source first.' })
  const { location } = await openLocation(job.projectId)
  const catalog = await catalogOf(found.hash)
  const rows = await profile(location, rowQuestions(catalog, claimQuestions(catalog, await readLedger(job.projectId))), {
    at: new Date().toISOString(),
    signal: w.signal,
    onProgress: (done, all) => w.progress('counting', done, all),
  })
  const hash = evidenceHash(rows)
  await stored(() => insertRowEvidence(job.projectId, found.hash, hash, JSON.stringify(rows)))
  return JSON.stringify({ hash })
}

const workOf: Readonly<Record<JobKind, (job: JobRow, w: Work) => Promise<string>>> = {
  survey: surveyWork,
  rehearsal: rehearsalWork,
  rows: rowsWork,
  apply: applyWork,
}

class Refusal extends Error {
  constructor(readonly wording: Wording) {
    super(wording.message)
  }
}

function wordingOf(error: unknown): Wording {
  if (isTold(error)) return error.words
  if (error instanceof Refusal || error instanceof SourceUnreadable) return error.wording
  if (error instanceof SourceError) return describeFailure(error.failure, error.location)
  log.error({ message: error instanceof Error ? error.message : String(error), stack: error instanceof Error ? error.stack : null }, 'job')
  return {
    message: 'this failed because of a fault in Pelvok',
    detail: error instanceof Error ? error.message : String(error),
    hint: 'Try again; if it happens again, report it with this text.',
  }
}

const heartbeatMs = 300

/** Do one job to its end, whatever the end is. `cancelled` hears ids that people want to end. */
export async function doJob(id: number, onCancel: (id: number, abort: () => void) => () => void): Promise<void> {
  const job = await claimJob(id)
  if (!job) return
  const abort = new AbortController()
  const forget = onCancel(id, () => abort.abort(new Error('cancelled')))
  let latest = { doing: '', done: 0, total: null as number | null }
  const beat = setInterval(() => {
    void reportProgress(id, latest.doing, latest.done, latest.total)
      .then((cancel) => {
        if (cancel) abort.abort(new Error('cancelled'))
      })
      .catch(() => {})
  }, heartbeatMs)
  log.info({ job: id, kind: job.kind }, 'job started')
  try {
    const result = await workOf[job.kind](job, {
      signal: abort.signal,
      progress: (doing, done, total) => {
        latest = { doing, done, total }
      },
    })
    clearInterval(beat)
    await stored(() => reportProgress(id, latest.doing, latest.done, latest.total))
    await stored(() => endJob(id, 'done', result, null))
  } catch (error) {
    clearInterval(beat)
    const words = abort.signal.aborted ? null : JSON.stringify(wordingOf(error))
    await stored(() => endJob(id, words === null ? 'cancelled' : 'failed', null, words))
  } finally {
    forget()
    const ended = await findJob(id).catch(() => null)
    log.info({ job: id, kind: job.kind, state: ended?.state }, 'job ended')
  }
}
