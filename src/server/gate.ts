// The gate before outputs: code, notation and plans are made of a sealed revision, in which nothing that changes them is open.
import { z } from 'zod'
import { inferenceVersion } from '../core/infer/index.ts'
import { type Finding, sentenceText, settling, taking } from '../core/model/index.ts'
import { blockingOf, docketItems, type GateItem, type GateView, reviewWith } from '../core/review/index.ts'
import { evidenceHash } from '../core/rows/index.ts'
import { appendToLedger, findLastRevision, insertRevision } from '../store/index.ts'
import { baseFor, type LedgerAnswer, type LedgerRefusal, type ProjectReview, readProjectReview } from './review.ts'

/** Null before the first survey. */
export async function readGate(projectId: string, project?: ProjectReview): Promise<GateView | null> {
  const p = project ?? (await readProjectReview(projectId))
  if (!p) return null
  const sealed = await findLastRevision(projectId)
  const { review } = p
  const blocked = blockingOf(review)
  const now = review.revision
  return {
    head: now.ledger,
    open: blocked.length,
    asked: blocked.filter((f) => review.statuses.get(f.id) === 'asked').length,
    first: docketItems(review).find((i) => blocked.some((f) => f.id === i.id))?.id ?? null,
    sealed: sealed === null ? null : { ledger: sealed.ledger, by: sealed.by, at: sealed.at.toISOString() },
    isSealed:
      sealed !== null &&
      sealed.snapshot === now.snapshot &&
      sealed.ledger === now.ledger &&
      sealed.inference === now.inference &&
      sealed.evidence === (now.evidence ?? ''),
  }
}

/** What is open, the riskiest first. Null before the first survey. */
export async function gateItems(projectId: string): Promise<readonly GateItem[] | null> {
  const p = await readProjectReview(projectId)
  if (!p) return null
  const blocked = new Map<string, Finding>(blockingOf(p.review).map((f) => [f.id, f]))
  return docketItems(p.review).flatMap((i) =>
    blocked.has(i.id) ? [{ id: i.id, says: i.says.map(sentenceText).join(' '), confidence: i.confidence, status: i.status, changed: i.changed }] : [],
  )
}

export interface Shut {
  readonly message: string
  readonly hint: string
}

/** Why no output is made of the project as it is; null where it may be. */
export async function shut(projectId: string, project?: ProjectReview): Promise<Shut | null> {
  const gate = await readGate(projectId, project)
  if (!gate) return { message: 'there is no survey yet', hint: 'Survey the source first.' }
  if (gate.open > 0) return openRefusal(gate.open)
  return gate.isSealed ? null : { message: 'this state of the review is not sealed', hint: 'Seal it: outputs name the revision they were made from.' }
}

export const openRefusal = (open: number): Shut => ({
  message: open === 1 ? 'one finding is open that changes what comes out' : `${open} findings are open that change what comes out`,
  hint: 'Rule on them, or take the proposals as they stand.',
})

/** Seal the head of the ledger as a revision: what is sure enough and unruled is settled first, so that no later version changes it in silence. */
export async function sealRevision(projectId: string, by: string): Promise<{ readonly ledger: number } | { readonly refuse: LedgerRefusal }> {
  const decided: { readonly snapshot: string; readonly ledger: number; readonly evidence: string | null }[] = []
  const answer = await appendToLedger<LedgerRefusal>(projectId, by, async (now) => {
    if (!now.survey) return { refuse: { reason: 'no survey' } }
    const { entries, survey } = now
    const base = await baseFor(projectId, survey.hash, now)
    const open = blockingOf(reviewWith(base, survey.hash, entries)).length
    if (open > 0) return { refuse: { reason: 'gate', ...openRefusal(open) } }
    const settle = settling(base.findings, entries)
    decided.push({ snapshot: survey.hash, ledger: entries.length + (settle ? 1 : 0), evidence: base.rows === null ? null : evidenceHash(base.rows) })
    return { append: settle ? [settle] : [] }
  })
  if ('refuse' in answer) return answer
  // What was appended is what it was decided for last.
  const last = decided.at(-1)
  if (!last) throw new Error('a seal without a decision')
  await insertRevision(projectId, { ...last, inference: inferenceVersion }, by)
  return { ledger: last.ledger }
}

export const takeInput = z.strictObject({ findings: z.array(z.string().min(1)).min(1).max(100_000), note: z.string().trim().max(2000).nullable() })

/** Take what is proposed as it stands, in one entry. Refused where something is open that was not in the list. */
export async function takeProposals(projectId: string, input: z.infer<typeof takeInput>, by: string): Promise<LedgerAnswer> {
  const listed = new Set(input.findings)
  return appendToLedger<LedgerRefusal>(projectId, by, async (now) => {
    if (!now.survey) return { refuse: { reason: 'no survey' } }
    const { entries, survey } = now
    const review = reviewWith(await baseFor(projectId, survey.hash, now), survey.hash, entries)
    const blocked = blockingOf(review)
    const more = blocked.filter((f) => !listed.has(f.id)).length
    if (more > 0)
      return { refuse: { reason: 'gate', message: `${more} more ${more === 1 ? 'finding is' : 'findings are'} open by now`, hint: 'Read the list again.' } }
    return { append: blocked.length === 0 ? [] : [taking(blocked, review.statuses, input.note === '' ? null : input.note)] }
  })
}
