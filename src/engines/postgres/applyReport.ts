// What applying plans is asked for and what comes of it.
import type { Catalog, Difference } from '../../core/catalog/index.ts'
import type { CheckAnswer, Proof } from '../../core/change/index.ts'
import type { DatabaseFailure } from './failure.ts'
import type { PlanFiles } from './journal.ts'

/** A plan with the catalogs it leads from and to. */
export interface AppliedPlan extends PlanFiles {
  /** Null for an empty database. */
  readonly base: Catalog | null
  readonly expected: Catalog
  /** Its last rehearsal; null where it was never rehearsed as it is. */
  readonly proof: Proof | null
}

export type ApplyRefusal =
  /** A file is not what was applied under its number. */
  | { readonly code: 'changed'; readonly number: number; readonly name: string; readonly was: { readonly up: string; readonly down: string } }
  /** Two branches gave one number to different plans. */
  | { readonly code: 'other plan'; readonly number: number; readonly name: string; readonly applied: string }
  /** The journal has a plan that the folder has not. */
  | { readonly code: 'unknown plan'; readonly number: number; readonly name: string }
  /** The database is not what the plan begins with, or not what it should have become. */
  | { readonly code: 'differs'; readonly number: number; readonly name: string; readonly differences: readonly Difference[] }
  /** Its last rehearsal failed, or there was none, and nobody said that they mean it. */
  | { readonly code: 'unproven'; readonly number: number; readonly name: string; readonly because: string }
  | { readonly code: 'busy' }
  /** The role may not make the journal's schema. */
  | { readonly code: 'no journal'; readonly user: string; readonly database: string }
  /** Taking back would lose what nothing brings back. */
  | {
      readonly code: 'no way back'
      readonly number: number
      readonly steps: readonly { readonly number: number; readonly object: string; readonly because: string }[]
    }
  /** Taking back would drop rows. */
  | {
      readonly code: 'rows lost'
      readonly number: number
      readonly losses: readonly { readonly step: number; readonly object: string; readonly rows: number }[]
    }
  | {
      readonly code: 'failed'
      readonly number: number
      readonly step: number
      readonly object: string
      readonly statement: string
      readonly failure: DatabaseFailure
    }
  | { readonly code: 'pre-check'; readonly number: number; readonly failing: readonly CheckAnswer[] }

export interface ApplyReport {
  readonly ok: boolean
  /** Steps that ran now: `12 of 0003`. */
  readonly ran: readonly {
    readonly plan: number
    readonly step: number
    readonly object: string
    readonly says: string
    readonly milliseconds: number
    readonly tries: number
  }[]
  readonly refusal: ApplyRefusal | null
}

export interface ApplyOptions {
  readonly by?: string
  readonly onProgress?: (doing: string, done: number, total: number) => void
  /** Heard between steps; what runs is let run. */
  readonly signal?: AbortSignal
  /** Take back every plan with a greater number. */
  readonly downTo?: number
  /** Lose what a step without a way back would lose, and the rows that a way back drops. */
  readonly acceptLoss?: boolean
  /**
   * What is done with a plan that no rehearsal proved: refused, refused only where its rehearsal failed (`tell` says the rest), or
   * agreed to, which the journal keeps. Refused by default.
   */
  readonly unproven?: 'refuse' | 'tell' | 'agree'
  readonly onUnproven?: (plan: AppliedPlan, because: string) => void
  /** How long a lock is waited for at a time, in milliseconds, and how often. */
  readonly lockTimeout?: number
  readonly lockTries?: number
  /** How long another process is waited for, in milliseconds. */
  readonly patience?: number
}

/** Ends a run with its answer. */
export class Refused extends Error {
  constructor(readonly refusal: ApplyRefusal) {
    super(refusal.code)
  }
}
