// The ledger: an append-only list of entries; undo appends. Kinds this version does not know are kept as they are.
import { z } from 'zod'
import { type Edit, edit, editKey, type LedgerSeq } from './edit.ts'

const scopeEdit = z.strictObject({ facet: z.literal('scope'), subject: z.string().min(1), value: z.enum(['in', 'out']) })
const note = z.string().max(10_000).nullable()

/** What an entry says, without who, when and where in the ledger. */
export const entryBody = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('rule'),
    finding: z.string().min(1),
    verdict: z.enum(['accept', 'amend', 'reject', 'ask']),
    edits: z.array(edit),
    /** What was seen when ruling; see `fingerprint`. */
    fingerprint: z.string(),
    note,
  }),
  z.strictObject({ kind: z.literal('edit'), edit, note }),
  /** What takes part from now on; see core/scope. */
  z.strictObject({ kind: z.literal('scope'), edits: z.array(scopeEdit).min(1), note }),
  z.strictObject({ kind: z.literal('note'), subject: z.string().min(1), text: z.string().min(1).max(10_000) }),
  /** Proposals taken because they were sure enough when a revision was sealed. */
  z.strictObject({ kind: z.literal('settle'), threshold: z.number().min(0).max(1), findings: z.array(z.string()), edits: z.array(edit) }),
  z.strictObject({ kind: z.literal('revert'), reverts: z.int().min(1) }),
])

const position = { seq: z.int().min(1), at: z.string().min(1), by: z.string().min(1).max(200) }
const anyEntry = z.looseObject({ ...position, kind: z.string().min(1) })

export type EntryBody = z.infer<typeof entryBody>
interface Position {
  readonly seq: LedgerSeq
  /** ISO 8601, UTC. */
  readonly at: string
  readonly by: string
}
export type KnownEntry = Position & EntryBody
/** An entry of a later version: kept, exported, and without effect here. */
export type OtherEntry = Position & { readonly kind: 'other'; readonly body: Readonly<Record<string, unknown>> }
export type LedgerEntry = KnownEntry | OtherEntry

const knownKinds: ReadonlySet<string> = new Set(entryBody.options.map((o) => o.shape.kind.value))

/** Read one entry from JSON. Throws a ZodError for a known kind with a wrong body; an unknown kind becomes an `other`. */
export function decodeEntry(value: unknown): LedgerEntry {
  const { seq, at, by, ...rest } = anyEntry.parse(value)
  const where = { seq: seq as LedgerSeq, at, by }
  if (!knownKinds.has(rest.kind)) return { ...where, kind: 'other', body: rest }
  return { ...where, ...entryBody.parse(rest) }
}

/** The JSON object of an entry, as the exchange file and the store keep it. */
export function encodeEntry(e: LedgerEntry): Readonly<Record<string, unknown>> {
  return e.kind === 'other' ? { seq: e.seq, at: e.at, by: e.by, ...e.body } : { ...e }
}

/** The edits an entry makes; none for notes and reverts. */
export function editsOf(e: LedgerEntry): readonly Edit[] {
  switch (e.kind) {
    case 'rule':
    case 'settle':
    case 'scope':
      return e.edits
    case 'edit':
      return [e.edit]
    case 'note':
    case 'revert':
    case 'other':
      return []
    default:
      return unreachable(e)
  }
}

function unreachable(e: never): never {
  throw new Error(`a ledger entry of no known kind: ${JSON.stringify(e)}`)
}

/** Seqs of entries that a revert in force takes back. A revert can be reverted, which brings the entry back. */
export function revertedSeqs(entries: readonly LedgerEntry[]): ReadonlySet<number> {
  const gone = new Set<number>()
  for (const e of entries.toSorted((a, b) => b.seq - a.seq)) if (e.kind === 'revert' && !gone.has(e.seq)) gone.add(e.reverts)
  return gone
}

/** Entries that count, in order. */
export function activeEntries(entries: readonly LedgerEntry[]): readonly LedgerEntry[] {
  const gone = revertedSeqs(entries)
  return entries.filter((e) => !gone.has(e.seq)).toSorted((a, b) => a.seq - b.seq)
}

export type RevertCheck =
  | { readonly ok: true }
  | { readonly ok: false; readonly reason: 'no such entry' | 'already reverted' }
  | { readonly ok: false; readonly reason: 'built on'; readonly by: LedgerEntry }

/** May the entry at `seq` be taken back? Not where a later one in force sets the same facet, or rules on the same finding. */
export function checkRevert(entries: readonly LedgerEntry[], seq: number): RevertCheck {
  const entry = entries.find((e) => e.seq === seq)
  if (!entry) return { ok: false, reason: 'no such entry' }
  const active = activeEntries(entries)
  if (!active.some((e) => e.seq === seq)) return { ok: false, reason: 'already reverted' }
  const keys = new Set(editsOf(entry).map(editKey))
  const later = active.find(
    (e) => e.seq > seq && (editsOf(e).some((d) => keys.has(editKey(d))) || (entry.kind === 'rule' && e.kind === 'rule' && e.finding === entry.finding)),
  )
  return later ? { ok: false, reason: 'built on', by: later } : { ok: true }
}

/** The first entry after `seen` by someone else that sets a facet `body` also sets; null where nobody did. */
export function findConflict(entries: readonly LedgerEntry[], body: EntryBody, seen: number, by: string): LedgerEntry | null {
  const keys = new Set(editsOf({ ...body, seq: 0 as LedgerSeq, at: '', by }).map(editKey))
  return activeEntries(entries).find((e) => e.seq > seen && e.by !== by && editsOf(e).some((d) => keys.has(editKey(d)))) ?? null
}
