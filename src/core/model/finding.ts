// A finding: a question about one subject, ranked answers with their evidence, and what the first of them would set.

import type { Edit, FindingId } from './edit.ts'
import { canonicalHash } from './fingerprint.ts'

export type FindingKind = 'entity' | 'reference' | 'join-table' | 'polymorphic' | 'structure'

/** One fact for (positive weight) or against (negative) an answer. */
export interface Evidence {
  /** A word for the kind of fact: what files of core/infer say, and for guesses the facts of core/infer/undeclared/facts.ts. */
  readonly kind: string
  /**
   * How much it moves the answer, and which way. Of a guessed reference in log-odds, so that the sum makes the confidence; else from
   * -1 to 1. Zero decides how many, not whether.
   */
  readonly weight: number
  /** A sentence without a final period, with the names the database uses. */
  readonly says: string
  /** The query that shows it, where rows were read. */
  readonly query?: string
}

export interface Alternative {
  /** Tells the alternatives of one finding apart and survives a change of their order. */
  readonly key: string
  readonly confidence: number
  readonly edits: readonly Edit[]
  readonly evidence: readonly Evidence[]
}

export interface Finding {
  readonly id: FindingId
  readonly kind: FindingKind
  /** What about the structure is asked; only there. */
  readonly topic?: string
  /** Canonical address of what the question is about. */
  readonly subject: string
  /** Best first; never empty. The edits of the first are the proposal. */
  readonly alternatives: readonly [Alternative, ...Alternative[]]
}

export const findingId = (kind: FindingKind, subject: string): FindingId => `${kind}:${subject}` as FindingId

/** The key of the answer that a set of columns refers to nothing. */
export const noReference = 'none'

/** Does this finding ask about columns that nothing declares to refer? */
export const isGuess = (f: Finding): boolean => f.kind === 'reference' && f.alternatives.some((a) => a.key === noReference)

/** `blocks`: an answer to it changes what comes out, so code, notation and plan wait for one. `tells`: it is worth knowing, and changes nothing. */
export type Severity = 'blocks' | 'tells'

export const severityOf = (f: Finding): Severity => (f.kind !== 'structure' || f.alternatives.some((a) => a.edits.length > 0) ? 'blocks' : 'tells')

/** What a reviewer saw when ruling, as a short hash: a later survey that answers otherwise has another one. */
export function fingerprint(f: Finding): string {
  return canonicalHash(f.alternatives.map((a) => [a.key, a.confidence, a.edits, a.evidence.map((e) => [e.kind, e.says])]))
}
