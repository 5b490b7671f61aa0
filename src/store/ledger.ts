// The ledger of a project: append-only, without gaps. Who appends says after which entry; the key of the table puts two at once in a row.
import { type EntryBody, encodeEntry, type LedgerEntry } from '../core/model/index.ts'
import { entryOf, type ProjectNow, readProjectNow } from './now.ts'
import { store } from './pool.ts'

interface Row {
  readonly seq: number
  readonly at: Date
  readonly by: string
  readonly body: string
}

/** Entries after `after`, in order. */
export async function readLedger(projectId: string, after = 0): Promise<readonly LedgerEntry[]> {
  const { rows } = await store().query<Row>('select seq, at, by, body from pelvok.ledger where project_id = $1 and seq > $2 order by seq', [projectId, after])
  return rows.map((r) => entryOf(r.seq, r.at, r.by, r.body))
}

/** Seq of the last entry; 0 where there is none. */
export async function findLedgerHead(projectId: string): Promise<number> {
  const { rows } = await store().query<{ head: number }>('select coalesce(max(seq), 0)::int as head from pelvok.ledger where project_id = $1', [projectId])
  return rows[0]?.head ?? 0
}

interface Fresh {
  /** Null for now. */
  readonly at: string | null
  readonly by: string
  readonly body: Readonly<Record<string, unknown>>
}

/** Appends right after the entry `head`, all or none, and tells whoever follows; null where somebody else was there first. */
async function insertAfter(projectId: string, head: number, fresh: readonly Fresh[]): Promise<readonly LedgerEntry[] | null> {
  const bodies = fresh.map((f) => JSON.stringify(f.body))
  try {
    const { rows } = await store().query<{ seq: number; at: Date }>(
      `with added as (
         insert into pelvok.ledger (project_id, seq, at, by, kind, body)
         select $1, r.seq, coalesce(r.at, now()), r.by, r.kind, r.body
         from unnest($2::int[], $3::timestamptz[], $4::text[], $5::text[], $6::text[]) as r (seq, at, by, kind, body)
         returning seq, at)
       select seq, at, pg_notify('pelvok_ledger', $1) from added order by seq`,
      [projectId, fresh.map((_, i) => head + 1 + i), fresh.map((f) => f.at), fresh.map((f) => f.by), fresh.map((f) => f.body['kind']), bodies],
    )
    return rows.map((r, i) => entryOf(r.seq, r.at, fresh[i]?.by ?? '', bodies[i] ?? ''))
  } catch (error) {
    // unique_violation (manual, Appendix A): the number is taken.
    if ((error as { readonly code?: unknown }).code === '23505') return null
    throw error
  }
}

/** One after the other in this process; between processes the table decides. */
const turns = new Map<string, Promise<unknown>>()
function inTurn<T>(projectId: string, work: () => Promise<T>): Promise<T> {
  const done = (turns.get(projectId) ?? Promise.resolve()).then(work)
  const settled = done
    .catch(() => {})
    .then(() => {
      if (turns.get(projectId) === settled) turns.delete(projectId)
    })
  turns.set(projectId, settled)
  return done
}

export type Decision<E> = { readonly append: readonly EntryBody[] } | { readonly refuse: E }

/**
 * Append what `decide` makes of the project as it is, and nobody appended meanwhile; where somebody did, it decides again on what is then.
 * Two statements. Gives the new entries, or the refusal with nothing written.
 */
export async function appendToLedger<E>(
  projectId: string,
  by: string,
  decide: (now: ProjectNow) => Decision<E> | Promise<Decision<E>>,
): Promise<{ readonly added: readonly LedgerEntry[] } | { readonly refuse: E }> {
  return inTurn(projectId, async () => {
    for (;;) {
      const now = await projectThere(projectId)
      const decision = await decide(now)
      if ('refuse' in decision) return decision
      if (decision.append.length === 0) return { added: [] }
      const fresh = decision.append.map((body) => ({ at: null, by, body: body as unknown as Readonly<Record<string, unknown>> }))
      const added = await insertAfter(projectId, now.entries.at(-1)?.seq ?? 0, fresh)
      if (added) return { added }
    }
  })
}

/** Take over entries of an exchange file as they are: kept are seq, who and when. Only onto a ledger that is their beginning. */
export async function importEntries(projectId: string, incoming: readonly LedgerEntry[]): Promise<{ readonly added: number } | { readonly differsAt: number }> {
  return inTurn(projectId, async () => {
    for (;;) {
      const { entries } = await projectThere(projectId)
      for (const [i, e] of entries.entries()) {
        if (JSON.stringify(encodeEntry(e)) !== JSON.stringify(encodeEntry(incoming[i] ?? e))) return { differsAt: i + 1 }
      }
      const fresh = incoming.slice(entries.length).map((e) => {
        const { seq: _, at, by, ...body } = encodeEntry(e) as { seq: number; at: string; by: string }
        return { at, by, body }
      })
      if (fresh.length === 0 || (await insertAfter(projectId, entries.length, fresh))) return { added: fresh.length }
    }
  })
}

async function projectThere(projectId: string): Promise<ProjectNow> {
  const now = await readProjectNow(projectId)
  if (!now) throw new Error(`there is no project "${projectId}"`)
  return now
}

/** Note that a revision was sealed; sealing the same one again changes nothing. */
export async function insertRevision(
  projectId: string,
  r: { readonly snapshot: string; readonly ledger: number; readonly inference: number; readonly evidence: string | null },
  by: string,
): Promise<void> {
  await store().query(
    'insert into pelvok.revision (project_id, snapshot, ledger_seq, inference, by, evidence) values ($1, $2, $3, $4, $5, $6) on conflict do nothing',
    [projectId, r.snapshot, r.ledger, r.inference, by, r.evidence ?? ''],
  )
}

export interface SealedRevision {
  readonly snapshot: string
  readonly ledger: number
  readonly inference: number
  /** Hash of the row evidence; "" where no rows had been read. */
  readonly evidence: string
  readonly at: Date
  readonly by: string
}

export async function findLastRevision(projectId: string): Promise<SealedRevision | null> {
  const { rows } = await store().query<SealedRevision>(
    'select snapshot, ledger_seq as ledger, inference, evidence, at, by from pelvok.revision where project_id = $1 order by at desc limit 1',
    [projectId],
  )
  return rows[0] ?? null
}
