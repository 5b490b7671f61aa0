// A project as it is now, in one statement: its newest survey, what rows said of it, and its ledger.
import type { SnapshotHash } from '../core/catalog/index.ts'
import { decodeEntry, type LedgerEntry } from '../core/model/index.ts'
import { store } from './pool.ts'
import type { SurveyRow } from './snapshots.ts'

export interface ProjectNow {
  readonly name: string
  /** What kind of source it is read from last. */
  readonly source: string | null
  /** Null before the first. */
  readonly survey: SurveyRow | null
  /** Hash of the newest reading of its rows; null where none was made. */
  readonly evidence: string | null
  /** The whole ledger. */
  readonly entries: readonly LedgerEntry[]
}

interface Row {
  readonly created: Date
  readonly name: string
  readonly source: string | null
  readonly survey: number | null
  readonly hash: SnapshotHash | null
  readonly at: Date | null
  readonly statistics: string | null
  readonly reading: string | null
  readonly evidence: string | null
  readonly entries: readonly (readonly [seq: number, at: string, by: string, body: string])[]
}

/** What this process read last of a project: ledgers only grow, and a survey never changes, so that only what came since is read again. */
interface Known extends ProjectNow {
  readonly created: number
}
const known = new Map<string, Known>()
const keep = 16

const statement = `
select p.created_at as created, p.name, o.kind as source, s.id::int as survey, s.hash, s.at,
  case when s.id is distinct from $3 then s.statistics end as statistics, case when s.id is distinct from $3 then s.reading end as reading,
  e.hash as evidence,
  (select coalesce(json_agg(json_build_array(l.seq, l.at, l.by, l.body) order by l.seq), '[]'::json) from pelvok.ledger l where l.project_id = p.id and l.seq > $2) as entries
from pelvok.project p
  left join lateral (select * from pelvok.survey where project_id = p.id order by id desc limit 1) s on true
  left join lateral (select kind from pelvok.source where project_id = p.id order by id desc limit 1) o on true
  left join lateral (select hash from pelvok.row_evidence where project_id = p.id and snapshot = s.hash order by id desc limit 1) e on true
where p.id = $1`

/** Null where there is no such project. */
export async function readProjectNow(projectId: string): Promise<ProjectNow | null> {
  for (;;) {
    const before = known.get(projectId)
    const { rows } = await store().query<Row>(statement, [projectId, before?.entries.at(-1)?.seq ?? 0, before?.survey?.id ?? null])
    const row = rows[0]
    if (!row || (before && before.created !== row.created.getTime())) {
      // Deleted, and perhaps made anew under the same name.
      known.delete(projectId)
      if (row) continue
      return null
    }
    const fresh = row.entries.map(([seq, at, by, body]) => entryOf(seq, new Date(at), by, body))
    const now: Known = {
      created: row.created.getTime(),
      name: row.name,
      source: row.source,
      survey: surveyOf(row, before?.survey ?? null),
      evidence: row.evidence,
      entries: !before ? fresh : fresh.length === 0 ? before.entries : [...before.entries, ...fresh],
    }
    known.delete(projectId)
    known.set(projectId, now)
    if (known.size > keep) known.delete(known.keys().next().value as string)
    return now
  }
}

function surveyOf(row: Row, before: SurveyRow | null): SurveyRow | null {
  if (row.survey === null || row.hash === null || row.at === null) return null
  if (before?.id === row.survey) return before
  return { id: row.survey, hash: row.hash, at: row.at, statistics: row.statistics ?? '', reading: row.reading ?? '' }
}

export const entryOf = (seq: number, at: Date, by: string, body: string): LedgerEntry =>
  decodeEntry({ ...(JSON.parse(body) as object), seq, at: at.toISOString(), by })
