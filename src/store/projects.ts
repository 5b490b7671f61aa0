// Projects and their sources.
import { inTransaction, store } from './pool.ts'
import { seal, unseal } from './secret.ts'

export interface ProjectRow {
  readonly id: string
  readonly name: string
  readonly createdAt: Date
  readonly createdBy: string
}

/** A project for the list: where it is read from, what its newest survey found, how far the review is. */
export interface ProjectSummary extends ProjectRow {
  readonly source: string | null
  readonly surveyedAt: Date | null
  readonly relations: number | null
  readonly entries: number
  /** What was worked out of it last, gzipped JSON, and the state it is of; null where nothing was. */
  readonly head: { readonly key: string; readonly bytes: Buffer } | null
  /** What that state would be called now: its newest survey and its rows. */
  readonly survey: number | null
  readonly hash: string | null
  readonly evidence: string | null
  /** Seq of the entry that the last seal was made at; null before the first. */
  readonly sealed: number | null
  /** The last plan that was kept. */
  readonly plan: { readonly number: number; readonly title: string } | null
  /** Differences that stood when its environments were looked at last, without those that somebody left; null where none was looked at. */
  readonly drift: number | null
}

export interface SourceRow {
  readonly id: number
  readonly kind: string
  readonly label: string
  /** Host, port, user and so on; never the password. */
  readonly location: Readonly<Record<string, unknown>>
}

const projectColumns = `p.id, p.name, p.created_at as "createdAt", p.created_by as "createdBy"`

export async function listProjects(): Promise<readonly ProjectSummary[]> {
  type Row = Omit<ProjectSummary, 'head' | 'plan'> & {
    readonly key: string | null
    readonly bytes: Buffer | null
    readonly plan: number | null
    readonly title: string | null
  }
  const { rows } = await store().query<Row>(
    `select ${projectColumns}, s.label as source, v.at as "surveyedAt", v.relations, v.id::int as survey, v.hash, e.hash as evidence,
       coalesce(l.seq, 0) as entries, k.key, k.bytes, r.ledger_seq as sealed, n.number as plan, n.title, w.drift
     from pelvok.project p
       left join lateral (select label from pelvok.source where project_id = p.id order by id desc limit 1) s on true
       left join lateral (select id, at, relations, hash from pelvok.survey where project_id = p.id order by id desc limit 1) v on true
       left join lateral (select hash from pelvok.row_evidence where project_id = p.id and snapshot = v.hash order by id desc limit 1) e on true
       left join lateral (select seq from pelvok.ledger where project_id = p.id order by seq desc limit 1) l on true
       left join lateral (select ledger_seq from pelvok.revision where project_id = p.id order by at desc limit 1) r on true
       left join lateral (select number, title from pelvok.plan where project_id = p.id order by number desc limit 1) n on true
       left join lateral (
         select count(d)::int as drift
         from pelvok.environment n join pelvok.watch w on w.environment_id = n.id and w.drift is not null
           left join lateral jsonb_array_elements(w.drift::jsonb) d on not exists (
             select from pelvok.overlooked o where o.environment_id = n.id and o.object = d ->> 'object' and o.field = d ->> 'field' and o.found is not distinct from d ->> 'is')
         where n.project_id = p.id having count(w) > 0) w on true
       left join pelvok.kept k on k.project_id = p.id and k.what = 'head'
     order by p.created_at, p.id`,
  )
  return rows.map(({ key, bytes, plan, title, ...r }) => ({
    ...r,
    head: key !== null && bytes ? { key, bytes } : null,
    plan: plan === null ? null : { number: plan, title: title ?? '' },
  }))
}

export async function findProject(id: string): Promise<ProjectRow | null> {
  const { rows } = await store().query<ProjectRow>(`select ${projectColumns} from pelvok.project p where p.id = $1`, [id])
  return rows[0] ?? null
}

/** Make a project with one source. A second project of the same name gets a number in its id. */
export async function insertProject(p: {
  readonly name: string
  readonly by: string
  readonly kind: string
  readonly label: string
  readonly location: Readonly<Record<string, unknown>>
  readonly secret: string | null
}): Promise<string> {
  const slug =
    p.name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/\p{M}+/gu, '')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 40) || 'project'
  return inTransaction(async (client) => {
    await client.query('lock table pelvok.project in share row exclusive mode')
    const { rows } = await client.query<{ id: string }>('select id from pelvok.project where id = $1 or id like $2', [slug, `${slug}-%`])
    const taken = new Set(rows.map((r) => r.id))
    let id = slug
    for (let n = 2; taken.has(id); n += 1) id = `${slug}-${n}`
    await client.query('insert into pelvok.project (id, name, created_by) values ($1, $2, $3)', [id, p.name, p.by])
    await client.query('insert into pelvok.source (project_id, kind, label, location, secret) values ($1, $2, $3, $4, $5)', [
      id,
      p.kind,
      p.label,
      JSON.stringify(p.location),
      p.secret === null ? null : seal(p.secret),
    ])
    return id
  })
}

/** The project's newest source. */
export async function findSource(projectId: string): Promise<SourceRow | null> {
  const { rows } = await store().query<SourceRow>('select id::int, kind, label, location from pelvok.source where project_id = $1 order by id desc limit 1', [
    projectId,
  ])
  return rows[0] ?? null
}

export async function readSecret(sourceId: number): Promise<string | null> {
  const { rows } = await store().query<{ secret: Buffer | null }>('select secret from pelvok.source where id = $1', [sourceId])
  const sealed = rows[0]?.secret
  return sealed ? unseal(sealed) : null
}

/** Give a source another location, where its server moved. */
export async function updateSource(sourceId: number, label: string, location: Readonly<Record<string, unknown>>, secret: string | null): Promise<void> {
  await store().query('update pelvok.source set label = $2, location = $3, secret = $4 where id = $1', [
    sourceId,
    label,
    JSON.stringify(location),
    secret === null ? null : seal(secret),
  ])
}

/** Delete a project with all it kept, and snapshots that nobody else has. False where a job of it runs. */
export async function deleteProject(id: string): Promise<boolean> {
  return inTransaction(async (client) => {
    await client.query('select 1 from pelvok.project where id = $1 for update', [id])
    const busy = await client.query("select 1 from pelvok.job where project_id = $1 and state = 'running'", [id])
    if (busy.rows.length > 0) return false
    await client.query('delete from pelvok.project where id = $1', [id])
    await client.query(
      `delete from pelvok.snapshot s where not exists (select 1 from pelvok.survey v where v.hash = s.hash) and not exists (select 1 from pelvok.revision r where r.snapshot = s.hash)
         and not exists (select 1 from pelvok.row_evidence e where e.snapshot = s.hash) and not exists (select 1 from pelvok.plan p where s.hash in (p.base, p.expected))`,
    )
    return true
  })
}
