// Snapshots under their hash, and the surveys that found them.
import { gunzipSync, gzipSync } from 'node:zlib'
import type { SnapshotHash } from '../core/catalog/index.ts'
import { Told } from '../core/text/told.ts'
import { inTransaction, store } from './pool.ts'

export interface SurveyRow {
  readonly id: number
  readonly hash: SnapshotHash
  readonly at: Date
  /** JSON text. */
  readonly statistics: string
  readonly reading: string
}

/** Keep a survey; a structure that is already kept is not stored again. */
export async function insertSurvey(s: {
  readonly projectId: string
  readonly sourceId: number
  readonly hash: SnapshotHash
  readonly canonicalText: string
  readonly relations: number
  readonly unmodelled: number
  readonly statistics: string
  readonly reading: string
}): Promise<void> {
  await inTransaction(async (client) => {
    await client.query('insert into pelvok.snapshot (hash, bytes) values ($1, $2) on conflict do nothing', [s.hash, gzipSync(s.canonicalText)])
    await client.query(
      'insert into pelvok.survey (project_id, source_id, hash, relations, unmodelled, statistics, reading) values ($1, $2, $3, $4, $5, $6, $7)',
      [s.projectId, s.sourceId, s.hash, s.relations, s.unmodelled, s.statistics, s.reading],
    )
  })
}

/** The project's newest survey; null before the first. */
export async function findSurvey(projectId: string): Promise<SurveyRow | null> {
  const { rows } = await store().query<SurveyRow>(
    'select id::int, hash, at, statistics, reading from pelvok.survey where project_id = $1 order by id desc limit 1',
    [projectId],
  )
  return rows[0] ?? null
}

/** Every survey of a project, newest first. */
export async function listSurveys(
  projectId: string,
): Promise<readonly (Omit<SurveyRow, 'statistics'> & { readonly relations: number; readonly unmodelled: number })[]> {
  const { rows } = await store().query<Omit<SurveyRow, 'statistics'> & { readonly relations: number; readonly unmodelled: number }>(
    'select id::int, hash, at, reading, relations, unmodelled from pelvok.survey where project_id = $1 order by id desc',
    [projectId],
  )
  return rows
}

/** Gzipped canonical bytes; null for a hash that is not kept. */
export async function findSnapshotBytes(hash: string): Promise<Buffer | null> {
  const { rows } = await store().query<{ bytes: Buffer }>('select bytes from pelvok.snapshot where hash = $1', [hash])
  return rows[0]?.bytes ?? null
}

export async function readSnapshotText(hash: SnapshotHash): Promise<string> {
  const bytes = await findSnapshotBytes(hash)
  if (!bytes) throw new Error(`snapshot ${hash} is not in the store`)
  try {
    return gunzipSync(bytes).toString('utf8')
  } catch (error) {
    // RFC 1952: cut off, or its check does not hold.
    throw new Told(
      {
        message: 'the snapshot is not whole in the store',
        detail: `It cannot be unpacked: ${error instanceof Error ? error.message : String(error)}.`,
        hint: 'Survey the source again; what was ruled moves along. Check the disk that the store is on.',
      },
      409,
    )
  }
}
