// Which entries of a ledger count, which may be taken back, and when two people disagree.
import { makes, type SchemaEdit, schemaEditKey, touches } from '../change/schemaEdit.ts'
import { keptWith } from '../memo/memo.ts'
import { editKey, type LedgerSeq } from './edit.ts'
import { type EntryBody, editsOf, type KnownEntry, type LedgerEntry } from './ledger.ts'
import { rebound, subjectsOf } from './rebind.ts'

/** Seqs of entries that a revert in force takes back. A revert can be reverted, which brings the entry back. */
export function revertedSeqs(entries: readonly LedgerEntry[]): ReadonlySet<number> {
  const gone = new Set<number>()
  for (const e of entries.toSorted((a, b) => b.seq - a.seq)) if (e.kind === 'revert' && !gone.has(e.seq)) gone.add(e.reverts)
  return gone
}

/** What an entry says something of: two entries that share one say the same thing, each in its own way. */
const keysOf = (e: LedgerEntry): readonly string[] => (e.kind === 'schema-edit' ? e.edits.map(schemaEditKey) : editsOf(e).map(editKey))

/** Changes of the database that count, in order. */
export const schemaEditsOf = (
  entries: readonly LedgerEntry[],
): readonly { readonly seq: LedgerSeq; readonly by: string; readonly edits: readonly SchemaEdit[] }[] =>
  activeEntries(entries).flatMap((e) => (e.kind === 'schema-edit' ? [{ seq: e.seq, by: e.by, edits: e.edits }] : []))

/** Entries that count, in order, under the names their subjects have now. */
export const activeEntries = keptWith((entries: readonly LedgerEntry[]): readonly LedgerEntry[] => {
  const gone = revertedSeqs(entries)
  return rebound(entries.filter((e) => !gone.has(e.seq)).toSorted((a, b) => a.seq - b.seq))
})

/** The entry's seq with those of all rulings and edits in force that were given at once with it, latest first. */
export function batchOf(entries: readonly LedgerEntry[], seq: number): readonly number[] {
  const one = entries.find((e) => e.seq === seq)
  const batch = one?.kind === 'rule' || one?.kind === 'edit' ? one.batch : undefined
  if (batch === undefined) return [seq]
  const gone = revertedSeqs(entries)
  return entries.flatMap((e) => ((e.kind === 'rule' || e.kind === 'edit') && e.batch === batch && !gone.has(e.seq) ? [e.seq as number] : [])).reverse()
}

export type RevertCheck =
  | { readonly ok: true }
  | { readonly ok: false; readonly reason: 'no such entry' | 'already reverted' }
  | { readonly ok: false; readonly reason: 'built on'; readonly by: LedgerEntry }

/** May the entry at `seq` be taken back? Not where a later one in force sets the same facet, or rules on the same finding. */
export function checkRevert(entries: readonly LedgerEntry[], seq: number): RevertCheck {
  if (!entries.some((e) => e.seq === seq)) return { ok: false, reason: 'no such entry' }
  if (revertedSeqs(entries).has(seq)) return { ok: false, reason: 'already reverted' }
  const active = activeEntries(entries)
  const entry = active.find((e) => e.seq === seq)
  // What it was about is gone for good: nothing can build on it.
  if (!entry) return { ok: true }
  if (entry.kind === 'rebind') return checkRebind(active, entry)
  const keys = new Set(keysOf(entry))
  const made = new Set(entry.kind === 'schema-edit' ? entry.edits.flatMap(makes) : [])
  const later = active.find(
    (e) =>
      e.seq > seq &&
      (keysOf(e).some((k) => keys.has(k)) ||
        (e.kind === 'schema-edit' && made.size > 0 && e.edits.some((x) => touches(x).some((t) => made.has(t)))) ||
        (entry.kind === 'rule' && e.kind === 'rule' && e.finding === entry.finding)),
  )
  return later ? { ok: false, reason: 'built on', by: later } : { ok: true }
}

/** Rulings on the new name would be left without their subject. */
function checkRebind(active: readonly LedgerEntry[], entry: Extract<KnownEntry, { kind: 'rebind' }>): RevertCheck {
  const relation = entry.to === null ? null : (entry.to.split('(')[0] as string)
  const isOf = (s: string) => s === relation || s.startsWith(`${relation}(`)
  const later = active.find((e) => e.seq > entry.seq && relation !== null && subjectsOf(e, editsOf(e)).some(isOf))
  return later ? { ok: false, reason: 'built on', by: later } : { ok: true }
}

/** The first entry after `seen` by someone else that sets a facet `body` also sets; null where nobody did. */
export function findConflict(entries: readonly LedgerEntry[], body: EntryBody, seen: number, by: string): LedgerEntry | null {
  const keys = new Set(keysOf({ ...body, seq: 0 as LedgerSeq, at: '', by }))
  return activeEntries(entries).find((e) => e.seq > seen && e.by !== by && keysOf(e).some((k) => keys.has(k))) ?? null
}
