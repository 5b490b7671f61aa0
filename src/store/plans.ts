// Plans that were kept, the databases they are applied to, and what is known of those.
import { gzipSync } from 'node:zlib'
import type { Proof } from '../core/change/index.ts'
import { inTransaction, store } from './pool.ts'
import { seal, unseal } from './secret.ts'

export interface PlanRow {
  readonly number: number
  readonly name: string
  readonly title: string
  /** plan.json as text. */
  readonly body: string
  readonly up: string
  readonly down: string
  /** Hash of the snapshot it begins with; null for an empty database. */
  readonly base: string | null
  readonly expected: string
  readonly revision: string
  readonly at: Date
  readonly by: string
}

const planColumns = 'number, name, title, body, up, down, base, expected, revision, at, by'

export async function listPlans(projectId: string): Promise<readonly PlanRow[]> {
  return (await store().query<PlanRow>(`select ${planColumns} from pelvok.plan where project_id = $1 order by number`, [projectId])).rows
}

/** Keep a plan under the next number, with its catalogs. Gives the number. */
export async function insertPlan(
  projectId: string,
  p: Omit<PlanRow, 'number' | 'at' | 'body' | 'up' | 'down'>,
  texts: Readonly<Record<string, string>>,
  filesOf: (number: number) => Pick<PlanRow, 'body' | 'up' | 'down'>,
): Promise<number> {
  return inTransaction(async (client) => {
    await client.query('select 1 from pelvok.project where id = $1 for update', [projectId])
    for (const [hash, text] of Object.entries(texts))
      await client.query('insert into pelvok.snapshot (hash, bytes) values ($1, $2) on conflict do nothing', [hash, gzipSync(text)])
    const { rows } = await client.query<{ number: number }>('select coalesce(max(number), 0) + 1 as number from pelvok.plan where project_id = $1', [projectId])
    const number = rows[0]?.number ?? 1
    const f = filesOf(number)
    await client.query(
      'insert into pelvok.plan (project_id, number, name, title, body, up, down, base, expected, revision, by) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)',
      [projectId, number, p.name, p.title, f.body, f.up, f.down, p.base, p.expected, p.revision, p.by],
    )
    return number
  })
}

/** Other scripts for a plan. */
export async function updatePlan(projectId: string, number: number, f: Pick<PlanRow, 'body' | 'up' | 'down'>): Promise<void> {
  await store().query('update pelvok.plan set body = $3, up = $4, down = $5 where project_id = $1 and number = $2', [projectId, number, f.body, f.up, f.down])
}

/** Forget the plan of the highest number. */
export async function deletePlan(projectId: string, number: number): Promise<void> {
  await store().query(
    'delete from pelvok.plan where project_id = $1 and number = $2 and number = (select max(number) from pelvok.plan where project_id = $1)',
    [projectId, number],
  )
}

/** What the last rehearsal of scripts with this mark said. */
export async function noteProof(projectId: string, mark: string, p: Proof): Promise<void> {
  await store().query(
    `insert into pelvok.proof (project_id, mark, ok, server, says, at) values ($1, $2, $3, $4, $5, $6)
     on conflict (project_id, mark) do update set ok = excluded.ok, server = excluded.server, says = excluded.says, at = excluded.at`,
    [projectId, mark, p.ok, p.server, p.says, p.at],
  )
}

/** By the mark of the scripts. */
export async function readProofs(projectId: string): Promise<ReadonlyMap<string, Proof>> {
  const { rows } = await store().query<Omit<Proof, 'at'> & { mark: string; at: Date }>(
    'select mark, ok, server, says, at from pelvok.proof where project_id = $1',
    [projectId],
  )
  return new Map(rows.map(({ mark, at, ...p }) => [mark, { ...p, at: at.toISOString() }]))
}

export const environmentKinds = ['development', 'preview', 'production'] as const
export type EnvironmentKind = (typeof environmentKinds)[number]

export interface EnvironmentRow {
  readonly id: number
  readonly name: string
  readonly kind: EnvironmentKind
  /** Its name has to be typed before anything runs on it. */
  readonly protected: boolean
  readonly label: string
  readonly location: Readonly<Record<string, unknown>>
  /** What was last found out: JSON texts. */
  readonly status: string | null
  readonly drift: string | null
  readonly watchedAt: Date | null
}

const environmentColumns = `e.id::int, e.name, e.kind, e.protected, e.label, e.location, w.status, w.drift, w.at as "watchedAt"`
const environments = 'pelvok.environment e left join pelvok.watch w on w.environment_id = e.id'

export async function listEnvironments(projectId: string): Promise<readonly EnvironmentRow[]> {
  return (await store().query<EnvironmentRow>(`select ${environmentColumns} from ${environments} where e.project_id = $1 order by e.id`, [projectId])).rows
}

export async function findEnvironment(projectId: string, id: number): Promise<EnvironmentRow | null> {
  const { rows } = await store().query<EnvironmentRow>(`select ${environmentColumns} from ${environments} where e.project_id = $1 and e.id = $2`, [
    projectId,
    id,
  ])
  return rows[0] ?? null
}

/** False where the project has one of this name already. */
export async function insertEnvironment(
  projectId: string,
  e: Pick<EnvironmentRow, 'name' | 'kind' | 'protected' | 'label' | 'location'>,
  secret: string | null,
  by: string,
): Promise<boolean> {
  const { rowCount } = await store().query(
    'insert into pelvok.environment (project_id, name, kind, protected, label, location, secret, by) values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict (project_id, name) do nothing',
    [projectId, e.name, e.kind, e.protected, e.label, JSON.stringify(e.location), secret === null ? null : seal(secret), by],
  )
  return rowCount === 1
}

/** Give an environment that `by` made another location, where its server moved; one that somebody else made stays. */
export async function moveEnvironment(
  projectId: string,
  name: string,
  by: string,
  e: Pick<EnvironmentRow, 'label' | 'location'>,
  secret: string | null,
): Promise<void> {
  await store().query('update pelvok.environment set label = $4, location = $5, secret = $6 where project_id = $1 and name = $2 and by = $3', [
    projectId,
    name,
    by,
    e.label,
    JSON.stringify(e.location),
    secret === null ? null : seal(secret),
  ])
}

export async function deleteEnvironment(projectId: string, id: number): Promise<void> {
  await store().query('delete from pelvok.environment where project_id = $1 and id = $2', [projectId, id])
}

export async function readEnvironmentSecret(id: number): Promise<string | null> {
  const { rows } = await store().query<{ secret: Buffer | null }>('select secret from pelvok.environment where id = $1', [id])
  const sealed = rows[0]?.secret
  return sealed ? unseal(sealed) : null
}

/** Keep what was found out; what is undefined stays as it was. */
export async function noteWatch(environmentId: number, w: { readonly status?: string; readonly drift?: string | null }): Promise<void> {
  await store().query(
    `insert into pelvok.watch (environment_id, status, drift) values ($1, $2, $3)
     on conflict (environment_id) do update set status = coalesce($2, pelvok.watch.status), drift = case when $4 then $3 else pelvok.watch.drift end, at = now()`,
    [environmentId, w.status ?? null, w.drift ?? null, w.drift !== undefined],
  )
}

export interface OverlookedRow {
  readonly id: number
  readonly environmentId: number
  readonly object: string
  readonly field: string
  readonly found: string | null
  readonly reason: string
  readonly by: string
}

export async function listOverlooked(projectId: string): Promise<readonly OverlookedRow[]> {
  const { rows } = await store().query<OverlookedRow>(
    `select o.id::int, o.environment_id::int as "environmentId", o.object, o.field, o.found, o.reason, o.by from pelvok.overlooked o join pelvok.environment e on e.id = o.environment_id where e.project_id = $1 order by o.id`,
    [projectId],
  )
  return rows
}

export async function insertOverlooked(o: Omit<OverlookedRow, 'id'>): Promise<void> {
  await store().query('insert into pelvok.overlooked (environment_id, object, field, found, reason, by) values ($1, $2, $3, $4, $5, $6)', [
    o.environmentId,
    o.object,
    o.field,
    o.found,
    o.reason,
    o.by,
  ])
}

export async function deleteOverlooked(environmentId: number, id: number): Promise<void> {
  await store().query('delete from pelvok.overlooked where environment_id = $1 and id = $2', [environmentId, id])
}
