// A job as pages get it from the server, and the events they follow.
import type { Wording } from './api.ts'

export interface JobView {
  readonly id: number
  readonly kind: 'survey' | 'rehearsal' | 'rows' | 'apply'
  readonly state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled'
  readonly doing: string
  readonly done: number
  readonly total: number | null
  readonly cancelRequested: boolean
  readonly error: Wording | null
}

export type ProjectEvent =
  | { readonly type: 'job'; readonly job: JobView }
  /** New entries of the ledger, encoded, and the seq of its last one. */
  | { readonly type: 'ledger'; readonly entries: readonly unknown[]; readonly head: number }
