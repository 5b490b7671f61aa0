// A project's review as notation, and a notation taken into its ledger.
import { strToU8 } from 'fflate'
import { z } from 'zod'
import { entriesOf } from '../core/notation/index.ts'
import { notationText, notationView, readNotationOf, reviewNotation } from '../core/review/index.ts'
import { zipFiles } from './outputs.ts'
import { appendEntries, type LedgerAnswer, readProjectReview } from './review.ts'

/** Of a sealed revision only: see `shut`. Null before the first survey. */
export async function notationArchive(projectId: string): Promise<Uint8Array | null> {
  const p = await readProjectReview(projectId)
  if (!p) return null
  const files = reviewNotation(p.base, p.review, 'entity')
  return zipFiles(Object.fromEntries(files.map((f) => [`model/${f.file}`, strToU8(f.text)])))
}

/** One file, of a sealed revision only. */
export async function notationFile(projectId: string): Promise<string | null> {
  const p = await readProjectReview(projectId)
  return p && notationText(p.base, p.review)
}

export const notationInput = z.strictObject({ text: z.string().max(20_000_000) })

export type NotationAnswer = LedgerAnswer | { readonly problems: number }

/** Enters what a text changes. Refused whole where something is wrong with it, or somebody else changed the same thing since it was made. */
export async function takeNotation(projectId: string, { text }: z.infer<typeof notationInput>, by: string): Promise<NotationAnswer> {
  const p = await readProjectReview(projectId)
  if (!p) return { refuse: { reason: 'no survey' } }
  const reading = readNotationOf({ whole: p.catalog, hash: p.hash, entries: p.entries, known: p.base, now: p.review }, [{ file: 'model.pelvok', text }])
  if (reading.problems.length > 0) return { problems: notationView(reading).problems.length }
  const entries = entriesOf(reading.changes)
  if (entries.length === 0) return { added: [] }
  return appendEntries(projectId, { entries: [...entries], seen: reading.seen }, by)
}
