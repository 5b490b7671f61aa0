// Starting, cancelling and following long work. The work itself is in `work.ts`, which runs in the worker process.
import { findActiveJob, findLastJob, insertJob, type JobKind, type JobRow, requestCancel } from '../store/index.ts'
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
