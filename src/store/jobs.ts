// Jobs: what long work is doing, for whom, and how it ended.
import { store } from './pool.ts'

export type JobKind = 'survey' | 'rehearsal' | 'rows' | 'apply'
export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled'

export interface JobRow {
  readonly id: number
  readonly projectId: string
  readonly kind: JobKind
  readonly state: JobState
  /** What is being done now, in the job's own units. */
  readonly doing: string
  readonly done: number
  readonly total: number | null
  /** JSON text of the result, by kind. */
  readonly result: string | null
  /** JSON text of message, detail and hint. */
  readonly error: string | null
  /** JSON text: which plan, which environment. */
  readonly input: string
  readonly by: string
  readonly cancelRequested: boolean
  readonly createdAt: Date
  readonly endedAt: Date | null
}

const columns = `id::int, project_id as "projectId", kind, state, doing, done, total, result, error, input, by, cancel_requested as "cancelRequested", created_at as "createdAt", ended_at as "endedAt"`
const leaseSeconds = 15

export async function insertJob(projectId: string, kind: JobKind, by: string, input: string): Promise<number> {
  const { rows } = await store().query<{ id: number }>('insert into pelvok.job (project_id, kind, by, input) values ($1, $2, $3, $4) returning id::int', [
    projectId,
    kind,
    by,
    input,
  ])
  return (rows[0] as { id: number }).id
}

export async function findJob(id: number): Promise<JobRow | null> {
  const { rows } = await store().query<JobRow>(`select ${columns} from pelvok.job where id = $1`, [id])
  return rows[0] ?? null
}

/** The newest job of a kind. */
export async function findLastJob(projectId: string, kind: JobKind): Promise<JobRow | null> {
  const { rows } = await store().query<JobRow>(`select ${columns} from pelvok.job where project_id = $1 and kind = $2 order by id desc limit 1`, [
    projectId,
    kind,
  ])
  return rows[0] ?? null
}

/** The newest of each kind. */
export async function findLastJobs(projectId: string): Promise<readonly JobRow[]> {
  const { rows } = await store().query<JobRow>(`select distinct on (kind) ${columns} from pelvok.job j where project_id = $1 order by kind, j.id desc`, [
    projectId,
  ])
  return rows
}

/** A job of this kind that waits or runs. */
export async function findActiveJob(projectId: string, kind: JobKind): Promise<JobRow | null> {
  const { rows } = await store().query<JobRow>(
    `select ${columns} from pelvok.job where project_id = $1 and kind = $2 and state in ('waiting', 'running') order by id desc limit 1`,
    [projectId, kind],
  )
  return rows[0] ?? null
}

const told = (id: number) => store().query(`select pg_notify('pelvok_job', $1)`, [String(id)])

/** Take a waiting job; null where it was cancelled meanwhile or another worker has it. */
export async function claimJob(id: number): Promise<JobRow | null> {
  const { rows } = await store().query<JobRow>(
    `update pelvok.job set state = 'running', lease_until = now() + make_interval(secs => $2) where id = $1 and state = 'waiting' and not cancel_requested returning ${columns}`,
    [id, leaseSeconds],
  )
  await told(id)
  return rows[0] ?? null
}

/** Say what is being done and keep the lease. Gives whether cancelling was asked for. */
export async function reportProgress(id: number, doing: string, done: number, total: number | null): Promise<boolean> {
  const { rows } = await store().query<{ cancel: boolean }>(
    `update pelvok.job set doing = $2, done = $3, total = $4, lease_until = now() + make_interval(secs => $5) where id = $1 and state = 'running' returning cancel_requested as cancel`,
    [id, doing, done, total, leaseSeconds],
  )
  await told(id)
  return rows[0]?.cancel ?? true
}

export async function endJob(id: number, state: 'done' | 'failed' | 'cancelled', result: string | null, error: string | null): Promise<void> {
  await store().query(
    `update pelvok.job set state = $2, result = $3, error = $4, ended_at = now(), lease_until = null where id = $1 and state in ('waiting', 'running')`,
    [id, state, result, error],
  )
  await told(id)
}

/** Ask for the end of a job. One that still waits ends at once. */
export async function requestCancel(id: number): Promise<void> {
  await store().query(
    `update pelvok.job set cancel_requested = true, state = case when state = 'waiting' then 'cancelled' else state end, ended_at = case when state = 'waiting' then now() end where id = $1 and state in ('waiting', 'running')`,
    [id],
  )
  await told(id)
  await store().query(`select pg_notify('pelvok_cancel', $1)`, [String(id)])
}

/** Jobs that have waited for so long, and that no message in the queue is about: their sender ended between the two, or the worker that took the message did. */
export async function waitingUnsent(queueSchema: string, queueName: string, seconds: number): Promise<readonly number[]> {
  const { rows } = await store().query<{ id: number }>(
    `select j.id::int from pelvok.job j where j.state = 'waiting' and not j.cancel_requested and j.created_at < now() - make_interval(secs => $2)
       and not exists (select 1 from ${queueSchema}.job q where q.name = $1 and q.data ->> 'jobId' = j.id::text
         and (q.state in ('created', 'retry') or (q.state = 'active' and q.started_on > now() - make_interval(secs => $2))))`,
    [queueName, seconds],
  )
  return rows.map((r) => r.id)
}

/** Jobs whose worker died: their lease ran out. `own` are in good hands: they could not be prolonged while the store was away. Gives their ids. */
export async function failLostJobs(error: string, own: readonly number[]): Promise<readonly number[]> {
  const { rows } = await store().query<{ id: number }>(
    `update pelvok.job set state = 'failed', error = $1, ended_at = now() where state = 'running' and lease_until < now() and id <> all ($2::int[]) returning id::int`,
    [error, own],
  )
  for (const r of rows) await told(r.id)
  return rows.map((r) => r.id)
}
