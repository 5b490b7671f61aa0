// What the worker process does: surveys and rehearsals, with progress, a lease and cancelling that reaches the server.

import { type Catalog, canonicalText, hashText } from '../core/catalog/index.ts'
import { describePlanProblem } from '../core/change/index.ts'
import { rowQuestions } from '../core/infer/index.ts'
import { evidenceHash } from '../core/rows/index.ts'
import { describeFailure, parseUrl, profile, rehearse, SourceError, survey, surveySummary, type Wording } from '../engines/postgres/index.ts'
import {
  claimJob,
  endJob,
  findJob,
  findSurvey,
  insertRowEvidence,
  insertSurvey,
  type JobKind,
  type JobRow,
  readSnapshotText,
  reportProgress,
} from '../store/index.ts'
import { log } from './log.ts'
import { readBaseline } from './outputs.ts'
import type { RehearsalResult } from './rehearsals.ts'
import { openLocation, SourceUnreadable } from './sources.ts'

interface Work {
  readonly signal: AbortSignal
  readonly progress: (doing: string, done: number, total: number | null) => void
}

async function surveyWork(job: JobRow, w: Work): Promise<string> {
  const { sourceId, location } = await openLocation(job.projectId)
  const found = await survey(location, { schemas: null, signal: w.signal, onProgress: (reading, objects) => w.progress(`reading ${reading}`, objects, null) })
  const text = canonicalText(found.structure)
  const hash = hashText(text)
  await insertSurvey({
    projectId: job.projectId,
    sourceId,
    hash,
    canonicalText: text,
    relations: found.structure.relations.length,
    unmodelled: found.structure.unmodelled.length,
    statistics: JSON.stringify(found.statistics),
    reading: JSON.stringify(found.reading),
  })
  return JSON.stringify({ hash, summary: surveySummary(found) })
}

async function rehearsalWork(job: JobRow, w: Work): Promise<string> {
  const baseline = await readBaseline(job.projectId)
  if (!baseline) throw new Refusal({ message: 'there is nothing to rehearse yet', detail: 'The project has no survey.', hint: 'Survey the source first.' })
  if (!baseline.result.ok)
    throw new Refusal({
      message: 'there is no baseline to rehearse',
      detail: `${describePlanProblem(baseline.result.problem)}.`,
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
  const rehearsal = await rehearse(baseline.result.plan, baseline.project.catalog, server.location, { signal: w.signal, onProgress: w.progress })
  const result: RehearsalResult = { rehearsal, hash: baseline.project.hash }
  return JSON.stringify(result)
}

async function rowsWork(job: JobRow, w: Work): Promise<string> {
  const found = await findSurvey(job.projectId)
  if (!found) throw new Refusal({ message: 'there is nothing to read rows for yet', detail: 'The project has no survey.', hint: 'Survey the source first.' })
  const { location } = await openLocation(job.projectId)
  const catalog = JSON.parse(await readSnapshotText(found.hash)) as Catalog
  const rows = await profile(location, rowQuestions(catalog), {
    at: new Date().toISOString(),
    signal: w.signal,
    onProgress: (done, all) => w.progress('counting', done, all),
  })
  const hash = evidenceHash(rows)
  await insertRowEvidence(job.projectId, found.hash, hash, JSON.stringify(rows))
  return JSON.stringify({ hash })
}

const workOf: Readonly<Record<JobKind, (job: JobRow, w: Work) => Promise<string>>> = { survey: surveyWork, rehearsal: rehearsalWork, rows: rowsWork }

class Refusal extends Error {
  constructor(readonly wording: Wording) {
    super(wording.message)
  }
}

function wordingOf(error: unknown): Wording {
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
    await reportProgress(id, latest.doing, latest.done, latest.total)
    await endJob(id, 'done', result, null)
  } catch (error) {
    clearInterval(beat)
    if (abort.signal.aborted) await endJob(id, 'cancelled', null, null)
    else await endJob(id, 'failed', null, JSON.stringify(wordingOf(error)))
  } finally {
    forget()
    const ended = await findJob(id)
    log.info({ job: id, kind: job.kind, state: ended?.state }, 'job ended')
  }
}
