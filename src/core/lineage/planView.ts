// What the pages of plans and environments show, as data.
import type { Catalog } from '../catalog/index.ts'
import type { Thing } from '../change/index.ts'
import type { ObjectChange } from './changes.ts'
import type { DriftItem } from './drift.ts'
import type { RenameDoubt } from './renames.ts'

/** Which plan: the baseline while it is not kept, what is not planned yet, or a kept one by its number. */
export type Which = 'baseline' | 'draft' | number
export interface HazardView {
  readonly says: string
  readonly source: string
  readonly grave: boolean
}

export interface StepView {
  readonly number: number
  readonly object: string
  readonly says: string
  readonly hazards: readonly HazardView[]
  readonly locks: readonly { readonly relation: string; readonly mode: string; readonly size: string }[]
  readonly transaction: number | null
  readonly checks: number
}

export interface EditView {
  readonly seq: number
  readonly by: string
  readonly parts: readonly { readonly says: string; readonly is: 'planned' | 'there' | 'refused'; readonly because: string }[]
  /** The table it is about, while it is there; another change of it may follow. */
  readonly thing: Thing | null
}

export interface PlanView {
  readonly which: Which
  readonly title: string
  readonly steps: readonly StepView[]
  readonly step: { readonly number: number; readonly object: string; readonly says: string; readonly up: string; readonly down: string } | null
  readonly leaves: readonly string[]
  readonly notSupported: readonly string[]
  readonly changes: readonly ObjectChange[]
  readonly doubts: readonly RenameDoubt[]
  readonly revision: string
  /** Position in the ledger that it was made at; null where its revision does not say. */
  readonly ledger: number | null
  /** Tells one plan's text from another's: which a rehearsal was of. */
  readonly mark: string
  /** Why no rehearsal stands behind it, to follow its name; null where one does. */
  readonly unproven: string | null
}

export interface PlanDeskView {
  readonly problem: string | null
  readonly plan: PlanView | null
  readonly plans: readonly { readonly which: Which; readonly title: string; readonly steps: number | null }[]
  readonly edits: readonly EditView[]
  /** Of the ledger. */
  readonly head: number
  readonly dialect: Catalog['dialect']
}

export interface EditPreview {
  readonly parts: EditView['parts']
  readonly steps: readonly string[]
  readonly hazards: readonly string[]
}

/** Consecutive steps whose last line in the journal of an environment is the same. */
export interface StepRunView {
  readonly first: number
  readonly last: number
  readonly state: 'started' | 'done' | 'adopted' | 'taken back'
  readonly at: string
  readonly by: string
}

/** A step of a kept plan, as the matrix lists it. */
export interface StepRow {
  readonly number: number
  readonly object: string
  readonly says: string
}

/** A kept plan for a list. */
export interface KeptPlanView {
  readonly number: number
  readonly title: string
  readonly steps: number
  /** Why no rehearsal stands behind it, to follow its name; null where one does. */
  readonly unproven: string | null
}

export interface PlanStateView {
  readonly number: number
  readonly name: string
  readonly state: 'applied' | 'adopted' | 'part' | 'not applied' | 'changed' | 'other plan' | 'unknown here'
  readonly done: number
  readonly steps: number
  readonly at: string | null
  readonly by: string | null
  /** Why it was not proven when it came there. */
  readonly unproven: string | null
  readonly runs: readonly StepRunView[]
}

export interface OverlookedView {
  readonly id: number
  readonly object: string
  readonly field: string
  readonly reason: string
  readonly by: string
}

export interface EnvironmentView {
  readonly id: number
  readonly name: string
  readonly kind: 'development' | 'preview' | 'production'
  readonly protected: boolean
  readonly label: string
  /** Null where it was not looked at yet. */
  readonly status: readonly PlanStateView[] | null
  readonly drift: readonly DriftItem[] | null
  readonly overlooked: readonly OverlookedView[]
  /** ISO 8601, UTC. */
  readonly watchedAt: string | null
}
