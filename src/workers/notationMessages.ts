// What the page of the notation and its worker say to each other. A Catalog never crosses: the worker fetches the bytes itself.
import type { LedgerEntry } from '../core/model/index.ts'
import type { Completions } from '../core/notation/index.ts'
import type { NotationView } from '../core/review/index.ts'

export type ToNotation =
  | {
      readonly type: 'open'
      readonly snapshotUrl: string
      readonly rowsUrl: string | null
      readonly findingsUrl: string | null
      readonly entries: readonly LedgerEntry[]
    }
  /** What came since, our own and other people's. */
  | { readonly type: 'append'; readonly entries: readonly LedgerEntry[] }
  /** `ask` comes back with the answer. */
  | { readonly type: 'read'; readonly ask: number; readonly text: string }
  | { readonly type: 'layOut'; readonly ask: number; readonly text: string }
  | { readonly type: 'complete'; readonly ask: number; readonly text: string; readonly at: number }

export interface NotationReadingView extends NotationView {
  /** The ledger position that the text was made at, and the last one. */
  readonly seen: number
  readonly head: number
}

export type FromNotation =
  /** The review as it is, as notation. */
  | { readonly type: 'text'; readonly text: string }
  | { readonly type: 'read'; readonly ask: number; readonly view: NotationReadingView }
  /** Null where it has errors. */
  | { readonly type: 'laidOut'; readonly ask: number; readonly text: string | null }
  | { readonly type: 'completions'; readonly ask: number; readonly found: Completions }
  | { readonly type: 'failed'; readonly message: string }
