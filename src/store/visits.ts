// Where each person is in a review, and where their last visit ended.
import type { Visit } from '../core/review/index.ts'
import { store } from './pool.ts'

/** What a person sees now. */
export interface Seen {
  readonly seq: number
  readonly snapshot: string
  /** Hash of the row evidence; null where none was read. */
  readonly rows: string | null
}

interface Row {
  readonly place: string
  readonly last_seq: number | null
  readonly last_at: Date | null
  readonly last_snapshot: string | null
  readonly last_rows: string | null
}

/**
 * A visit goes on until the person stops it, or is away for an hour; then the next begins, and what they had seen by then is where the last
 * one ended. Gives the place as JSON text.
 */
export async function enterVisit(projectId: string, person: string, now: Seen): Promise<{ readonly place: string; readonly last: Visit | null }> {
  const { rows } = await store().query<Row>(
    `insert into pelvok.visit as v (project_id, person, seq, snapshot, rows) values ($1, $2, $3, $4, $5)
     on conflict (project_id, person) do update set
       last_seq = case when v.ended or v.at < now() - interval '1 hour' then v.seq else v.last_seq end,
       last_at = case when v.ended or v.at < now() - interval '1 hour' then v.at else v.last_at end,
       last_snapshot = case when v.ended or v.at < now() - interval '1 hour' then v.snapshot else v.last_snapshot end,
       last_rows = case when v.ended or v.at < now() - interval '1 hour' then v.rows else v.last_rows end,
       seq = excluded.seq, snapshot = excluded.snapshot, rows = excluded.rows, at = now(), ended = false
     returning place, last_seq, last_at, last_snapshot, last_rows`,
    [projectId, person, now.seq, now.snapshot, now.rows],
  )
  const r = rows[0] as Row
  const last =
    r.last_seq === null || r.last_at === null ? null : { seq: r.last_seq, at: r.last_at.toISOString(), snapshot: r.last_snapshot ?? '', rows: r.last_rows }
  return { place: r.place, last }
}

/** Keeps the place; `ended` where the person stops here. Gives whether there is such a visit. */
export async function keepPlace(projectId: string, person: string, place: string, seq: number, ended: boolean): Promise<boolean> {
  const { rowCount } = await store().query(
    'update pelvok.visit set place = $3, seq = greatest(seq, $4), at = now(), ended = $5 where project_id = $1 and person = $2',
    [projectId, person, place, seq, ended],
  )
  return rowCount === 1
}
