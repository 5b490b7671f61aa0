// What the review's page and its worker say to each other. A Catalog never crosses: the worker fetches the bytes itself.

import type { Statistics } from '../core/catalog/index.ts'
import type { FileFacts } from '../core/dialect/sqlite/crossCheck.ts'
import type { LedgerEntry, TrialPath } from '../core/model/index.ts'
import type { NamingRule } from '../core/names/index.ts'
import type { Bulk, Detail, EditableName, RenameCheck, Renaming, RowOrder, RowsView, Sheet, ViewPortion, Visit } from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import type { MapWish, SplitPart } from '../core/strata/index.ts'
import type { Portion, Trial, WaysCompared } from '../core/trial/index.ts'

export type ToWorker =
  | {
      readonly type: 'open'
      readonly snapshotUrl: string
      readonly rowsUrl: string | null
      /** What was inferred already; null, or gone, where it has to be worked out here. */
      readonly findingsUrl: string | null
      /** Where the map's frames are, each by its shape; `of` are the findings. */
      readonly framesUrl: string
      readonly of: string | null
      /** The one that the map's pane is thought to have. */
      readonly shape: number
      readonly statistics: Statistics
      readonly entries: readonly LedgerEntry[]
      /** Who is at the keyboard, and where their last visit ended. */
      readonly who: string
      readonly last: Visit | null
    }
  /** What the server keeps is shown already: only what is other than that is to be told. */
  | { readonly type: 'shown'; readonly portion: ViewPortion }
  /** `n` counts what the worker is told: its answers carry the last they know of. */
  | { readonly type: 'append'; readonly n: number; readonly entries: readonly LedgerEntry[] }
  | { readonly type: 'select'; readonly n: number; readonly id: string | null }
  /** Are sheets wanted in the place of the map? */
  | { readonly type: 'sheets'; readonly n: number; readonly on: boolean }
  /** What is wanted on the map. */
  | { readonly type: 'map'; readonly n: number; readonly wish: MapWish }
  /** Width over height of the pane that the map is packed for. */
  | { readonly type: 'shape'; readonly n: number; readonly shape: number }
  /** Findings like this one and what one ruling on them comes to; `left` are those that it leaves alone. */
  | { readonly type: 'bulk'; readonly ask: number; readonly id: string; readonly left: readonly string[]; readonly batch: string }
  /** The parts that an area falls into. */
  | { readonly type: 'split'; readonly ask: number; readonly area: string }
  /** In what order rows come and go. */
  | { readonly type: 'order'; readonly ask: number }
  /** What a name would come to; `ask` comes back with the answer. */
  | { readonly type: 'rename'; readonly ask: number; readonly name: EditableName; readonly wanted: string }
  /** What a rule would change; `ask` comes back with the answer. */
  | { readonly type: 'preview'; readonly ask: number; readonly rule: NamingRule }

export interface SelectionView {
  readonly id: string | null
  readonly detail: Detail | null
  /** Plates to light up. */
  readonly plates: readonly string[]
  /** Sheets of the entities it is about, where they are wanted: one, or both ends. */
  readonly sheets: readonly Sheet[]
}

export type FromWorker =
  /** What is to be shown instead of what was; the selection where it is known. */
  | { readonly type: 'view'; readonly heard: number; readonly portion: ViewPortion; readonly selection: SelectionView | null }
  | { readonly type: 'selection'; readonly heard: number; readonly selection: SelectionView }
  /** Worked out after the first view, which does not wait for it. */
  | { readonly type: 'amount'; readonly rows: RowsView }
  | { readonly type: 'preview'; readonly ask: number; readonly renamings: readonly Renaming[] }
  | { readonly type: 'bulk'; readonly ask: number; readonly bulk: Bulk | null }
  | { readonly type: 'split'; readonly ask: number; readonly parts: readonly SplitPart[] | null }
  | { readonly type: 'order'; readonly ask: number; readonly order: RowOrder | null }
  | { readonly type: 'rename'; readonly ask: number; readonly check: RenameCheck | null }
  /** What is being worked out before the first view, with how much of it there is. */
  | { readonly type: 'doing'; readonly what: string }
  | { readonly type: 'failed'; readonly message: string }

/** Answer to an SQLite file's bytes. */
export type FromSqlite = { readonly type: 'facts'; readonly facts: FileFacts } | { readonly type: 'failed'; readonly message: string }

/** A trial on an SQLite file: opened once, by its bytes, then asked for portions. `ask` comes back with the answer. */
export type ToSqliteTrial =
  | {
      readonly type: 'open'
      readonly name: string
      readonly bytes: ArrayBuffer
      readonly snapshot: string
      readonly rowsUrl: string | null
      readonly entries: readonly LedgerEntry[]
    }
  | { readonly type: 'entries'; readonly entries: readonly LedgerEntry[] }
  | { readonly type: 'run'; readonly ask: number; readonly path: TrialPath; readonly portion: Portion; readonly compare: boolean }
export type FromSqliteTrial =
  | { readonly type: 'open' }
  /** Its structure is not that of the snapshot. */
  | { readonly type: 'other file' }
  | { readonly type: 'answer'; readonly ask: number; readonly trial: Trial; readonly compared: WaysCompared | null }
  | { readonly type: 'failed'; readonly ask: number | null; readonly message: string }

/** An SQLite file's bytes, and the snapshot it must be of. */
export interface ToSqliteRows {
  readonly name: string
  readonly bytes: ArrayBuffer
  readonly snapshot: string
  /** ISO 8601, UTC. */
  readonly at: string
}
export type FromSqliteRows =
  | { readonly type: 'progress'; readonly done: number; readonly all: number }
  | { readonly type: 'rows'; readonly rows: RowEvidence }
  /** Its structure is not that of the snapshot. */
  | { readonly type: 'other file' }
  | { readonly type: 'failed'; readonly message: string }
