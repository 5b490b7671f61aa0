// What the review's page and its worker say to each other. A Catalog never crosses: the worker fetches the bytes itself.

import type { Statistics } from '../core/catalog/index.ts'
import type { FileFacts } from '../core/dialect/sqlite/crossCheck.ts'
import type { LedgerEntry } from '../core/model/index.ts'
import type { Detail, DocketItem } from '../core/review/index.ts'
import type { Scene } from '../core/strata/index.ts'

export type ToWorker =
  | {
      readonly type: 'open'
      readonly snapshotUrl: string
      readonly rowsUrl: string | null
      readonly statistics: Statistics
      readonly entries: readonly LedgerEntry[]
    }
  | { readonly type: 'append'; readonly entries: readonly LedgerEntry[] }
  | { readonly type: 'select'; readonly id: string | null }

export interface ReviewView {
  readonly scene: Scene
  readonly docket: readonly DocketItem[]
  /** Seq of the last entry it was made with. */
  readonly head: number
  readonly diagnostics: readonly string[]
  /** What reading rows would come to, and whether they were read. */
  readonly rows: RowsView
}

export interface RowsView {
  /** Sets of columns, tables, and rows in them by the server's own estimate; null where it has none. */
  readonly sets: number
  readonly tables: number
  readonly rows: number | null
  /** When and how much was read; null where nothing was. */
  readonly read: { readonly at: string; readonly inclusions: number; readonly orphans: number; readonly unread: number } | null
}

export interface SelectionView {
  readonly id: string | null
  readonly detail: Detail | null
  /** Plates to light up. */
  readonly plates: readonly string[]
}

export type FromWorker =
  | { readonly type: 'view'; readonly view: ReviewView; readonly selection: SelectionView }
  | { readonly type: 'selection'; readonly selection: SelectionView }
  | { readonly type: 'failed'; readonly message: string }

/** Answer to an SQLite file's bytes. */
export type FromSqlite = { readonly type: 'facts'; readonly facts: FileFacts } | { readonly type: 'failed'; readonly message: string }
