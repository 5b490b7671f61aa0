// What rows said, under its hash, apart from the catalogs.
import { gunzipSync, gzipSync } from 'node:zlib'
import type { SnapshotHash } from '../core/catalog/index.ts'
import { store } from './pool.ts'

export async function insertRowEvidence(projectId: string, snapshot: SnapshotHash, hash: string, text: string): Promise<void> {
  await store().query('insert into pelvok.row_evidence (project_id, snapshot, hash, bytes) values ($1, $2, $3, $4)', [
    projectId,
    snapshot,
    hash,
    gzipSync(text),
  ])
}

/** The newest reading of the rows of a snapshot; null where none was made. */
export async function findRowEvidence(projectId: string, snapshot: SnapshotHash): Promise<{ readonly hash: string; readonly at: Date } | null> {
  const { rows } = await store().query<{ hash: string; at: Date }>(
    'select hash, at from pelvok.row_evidence where project_id = $1 and snapshot = $2 order by id desc limit 1',
    [projectId, snapshot],
  )
  return rows[0] ?? null
}

/** Gzipped JSON text; null for a hash that is not kept. */
export async function findRowEvidenceBytes(hash: string): Promise<Buffer | null> {
  const { rows } = await store().query<{ bytes: Buffer }>('select bytes from pelvok.row_evidence where hash = $1 limit 1', [hash])
  return rows[0]?.bytes ?? null
}

/** JSON text. The hash must be kept. */
export async function readRowEvidenceText(hash: string): Promise<string> {
  const bytes = await findRowEvidenceBytes(hash)
  if (!bytes) throw new Error(`no row evidence is kept under ${hash}`)
  return gunzipSync(bytes).toString('utf8')
}
