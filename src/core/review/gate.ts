// What stands between a review and its outputs.
import { blocking, type Finding, type FindingStatus } from '../model/index.ts'
import type { Review } from './review.ts'

/** Whether outputs may be made, and of which revision. */
export interface GateView {
  /** Seq of the last ledger entry. */
  readonly head: number
  /** Findings that are open and change what comes out; so many of them were asked of somebody. */
  readonly open: number
  readonly asked: number
  /** The riskiest of them. */
  readonly first: string | null
  /** The last revision that was sealed. */
  readonly sealed: { readonly ledger: number; readonly by: string; readonly at: string } | null
  /** Is that the state of now? */
  readonly isSealed: boolean
}

export interface GateItem {
  readonly id: string
  readonly says: string
  readonly confidence: number
  readonly status: FindingStatus
  /** Ruled on, and answering otherwise since. */
  readonly changed: boolean
}

/** Halves of a many-to-many are ruled on with it. */
export function blockingOf(r: Review): readonly Finding[] {
  const halves = new Set<string>(r.model.joinHalves.map((h) => h.id))
  return blocking(r.findings, r.statuses, r.changed).filter((f) => !halves.has(f.id))
}
