// What was worked out and is shown at once the next time, under the state it belongs to.
import { store } from './pool.ts'

/** Gzipped JSON; null where nothing is kept of this state. */
export async function findKept(projectId: string, what: string, key: string): Promise<Buffer | null> {
  const { rows } = await store().query<{ bytes: Buffer }>('select bytes from pelvok.kept where project_id = $1 and what = $2 and key = $3', [
    projectId,
    what,
    key,
  ])
  return rows[0]?.bytes ?? null
}

/** What was kept last of whatever state, and under which key; null where nothing was. */
export async function findKeptLast(projectId: string, what: string): Promise<{ readonly key: string; readonly bytes: Buffer } | null> {
  const { rows } = await store().query<{ key: string; bytes: Buffer }>('select key, bytes from pelvok.kept where project_id = $1 and what = $2', [
    projectId,
    what,
  ])
  return rows[0] ?? null
}

/** In the place of what was kept of another state. A project that is gone keeps nothing. */
export async function keep(projectId: string, what: string, key: string, bytes: Uint8Array): Promise<void> {
  await store().query(
    `insert into pelvok.kept (project_id, what, key, bytes) select id, $2, $3, $4 from pelvok.project where id = $1
     on conflict (project_id, what) do update set key = excluded.key, bytes = excluded.bytes`,
    [projectId, what, key, bytes],
  )
}

/** Forgets what other programs than this one kept, but for where things stand on maps: they may have worked it out otherwise. */
export async function forgetOfOthers(program: string): Promise<void> {
  const { rows } = await store().query<{ program: string }>('select program from pelvok.kept_by')
  if (rows[0]?.program === program) return
  await store().query(`delete from pelvok.kept where what not like 'frame %'`)
  await store().query('insert into pelvok.kept_by (program) values ($1) on conflict (one) do update set program = excluded.program', [program])
}
