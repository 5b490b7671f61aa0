// Where code was written to.
import { store } from './pool.ts'

export interface CodeFolder {
  /** Below the allowed root. */
  readonly into: string
  /** JSON text. */
  readonly overridden: string
}

export async function keepCodeFolder(projectId: string, f: CodeFolder, by: string): Promise<void> {
  await store().query(
    `insert into pelvok.code_folder (project_id, into_folder, overridden, by) values ($1, $2, $3, $4)
     on conflict (project_id) do update set into_folder = excluded.into_folder, overridden = excluded.overridden, at = now(), by = excluded.by`,
    [projectId, f.into, f.overridden, by],
  )
}

export async function findCodeFolder(projectId: string): Promise<CodeFolder | null> {
  const { rows } = await store().query<CodeFolder>('select into_folder as "into", overridden from pelvok.code_folder where project_id = $1', [projectId])
  return rows[0] ?? null
}
