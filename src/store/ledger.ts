// The ledger of a project: append-only, without gaps, one writer at a time.
import { decodeEntry, type EntryBody, encodeEntry, type LedgerEntry } from '../core/model/index.ts'
import { inTransaction, type StoreClient, store } from './pool.ts'

interface Row {
  readonly seq: number
  readonly at: Date
  readonly by: string
  readonly body: string
}

const decode = (r: Row): LedgerEntry => decodeEntry({ ...(JSON.parse(r.body) as object), seq: r.seq, at: r.at.toISOString(), by: r.by })

/** Entries after `after`, in order. */
export async function readLedger(projectId: string, after = 0, client: StoreClient = store()): Promise<readonly LedgerEntry[]> {
  const { rows } = await client.query<Row>('select seq, at, by, body from pelvok.ledger where project_id = $1 and seq > $2 order by seq', [projectId, after])
  return rows.map(decode)
}

/** Seq of the last entry; 0 where there is none. */
export async function findLedgerHead(projectId: string): Promise<number> {
  const { rows } = await store().query<{ head: number }>('select coalesce(max(seq), 0)::int as head from pelvok.ledger where project_id = $1', [projectId])
  return rows[0]?.head ?? 0
}

export type Decision<E> = { readonly append: readonly EntryBody[] } | { readonly refuse: E }

/**
 * Read the ledger and append what `decide` makes of it, while nobody else can append: two people at once are put in a row.
 * Gives the new entries, or the refusal with nothing written.
 */
export async function appendToLedger<E>(
  projectId: string,
  by: string,
  decide: (entries: readonly LedgerEntry[]) => Decision<E>,
): Promise<{ readonly added: readonly LedgerEntry[] } | { readonly refuse: E }> {
  return inTransaction(async (client) => {
    await client.query('select 1 from pelvok.project where id = $1 for update', [projectId])
    const entries = await readLedger(projectId, 0, client)
    const decision = decide(entries)
    if ('refuse' in decision) return decision
    const added: LedgerEntry[] = []
    for (const body of decision.append) {
      const seq = entries.length + added.length + 1
      const { rows } = await client.query<Row>(
        'insert into pelvok.ledger (project_id, seq, by, kind, body) values ($1, $2, $3, $4, $5) returning seq, at, by, body',
        [projectId, seq, by, body.kind, JSON.stringify(body)],
      )
      added.push(decode(rows[0] as Row))
    }
    if (added.length > 0) await client.query(`select pg_notify('pelvok_ledger', $1)`, [projectId])
    return { added }
  })
}

/** Take over entries of an exchange file as they are: kept are seq, who and when. Only onto a ledger that is their beginning. */
export async function importEntries(projectId: string, incoming: readonly LedgerEntry[]): Promise<{ readonly added: number } | { readonly differsAt: number }> {
  return inTransaction(async (client) => {
    await client.query('select 1 from pelvok.project where id = $1 for update', [projectId])
    const entries = await readLedger(projectId, 0, client)
    for (const [i, e] of entries.entries()) {
      if (JSON.stringify(encodeEntry(e)) !== JSON.stringify(encodeEntry(incoming[i] ?? e))) return { differsAt: i + 1 }
    }
    const fresh = incoming.slice(entries.length)
    for (const e of fresh) {
      const { seq, at, by, ...body } = encodeEntry(e) as Record<string, unknown>
      await client.query('insert into pelvok.ledger (project_id, seq, at, by, kind, body) values ($1, $2, $3, $4, $5, $6)', [
        projectId,
        seq,
        at,
        by,
        body['kind'],
        JSON.stringify(body),
      ])
    }
    if (fresh.length > 0) await client.query(`select pg_notify('pelvok_ledger', $1)`, [projectId])
    return { added: fresh.length }
  })
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
