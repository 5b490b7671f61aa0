// Starting, cancelling and following long work. The work itself is in `work.ts`, which runs in the worker process.
import pg from 'pg'
import { findActiveJob, findJob, findLastJob, insertJob, type JobKind, type JobRow, requestCancel } from '../store/index.ts'
import { queue, queueName } from './queue.ts'

export { findLastJob }

/** Start a job, or give the id of the one of this kind that already waits or runs. */
export async function startJob(projectId: string, kind: JobKind, by: string, input: Readonly<Record<string, unknown>> = {}): Promise<number> {
  const active = await findActiveJob(projectId, kind)
  if (active) return active.id
  const id = await insertJob(projectId, kind, by, JSON.stringify(input))
  const boss = await queue('send')
  await boss.send(queueName, { jobId: id }, { retryLimit: 0 })
  return id
}

export async function cancelJob(id: number): Promise<void> {
  await requestCancel(id)
}

/** A job as the interface shows it. */
export interface JobView {
  readonly id: number
  readonly kind: JobKind
  readonly state: JobRow['state']
  readonly doing: string
  readonly done: number
  readonly total: number | null
  readonly cancelRequested: boolean
  readonly error: { readonly message: string; readonly detail: string; readonly hint: string } | null
}

export function jobView(j: JobRow): JobView {
  return {
    id: j.id,
    kind: j.kind,
    state: j.state,
    doing: j.doing,
    done: j.done,
    total: j.total,
    cancelRequested: j.cancelRequested,
    error: j.error === null ? null : (JSON.parse(j.error) as JobView['error']),
  }
}

export type ProjectEvent = { readonly type: 'job'; readonly job: JobView } | { readonly type: 'ledger' }

/**
 * Follow a project: every change of its jobs and its ledger until the signal aborts. One connection per listener, since LISTEN
 * belongs to a session (manual, LISTEN).
 */
export async function followProject(projectId: string, signal: AbortSignal, tell: (e: ProjectEvent) => void): Promise<void> {
  const client = new pg.Client({ connectionString: process.env['DATABASE_URL'], application_name: 'pelvok events' })
  // A store that goes away ends the stream: the browser comes back, to a connection of then.
  const lost = new Promise<void>((resolve) => {
    client.on('error', () => resolve())
    client.on('end', () => resolve())
  })
  await client.connect()
  client.on('notification', (n) => {
    if (n.channel === 'pelvok_ledger' && n.payload === projectId) tell({ type: 'ledger' })
    if (n.channel === 'pelvok_job') {
      void findJob(Number(n.payload)).then((job) => {
        if (job?.projectId === projectId && !signal.aborted) tell({ type: 'job', job: jobView(job) })
      })
    }
  })
  await client.query('listen pelvok_job')
  await client.query('listen pelvok_ledger')
  // How the newest ones stand, for someone who reloaded meanwhile: one may have ended between the page's reading and this.
  for (const kind of ['survey', 'rehearsal', 'rows', 'apply'] as const) {
    const job = await findLastJob(projectId, kind)
    if (job) tell({ type: 'job', job: jobView(job) })
  }
  const left = new Promise<void>((resolve) => {
    if (signal.aborted) resolve()
    signal.addEventListener('abort', () => resolve(), { once: true })
  })
  await Promise.race([left, lost])
  await client.end().catch(() => {})
}
