// A folder as it is shown before code is written into it.
import type { FileChange, FolderPlan, Mention } from '../emit/folder.ts'

export interface FolderChange {
  readonly path: string
  /** Resolved. */
  readonly full: string
  readonly does: FileChange['does']
  readonly own: boolean
  readonly from: string | null
  readonly asks: boolean
}

export interface FolderView {
  readonly root: string
  readonly into: string
  readonly full: string
  /** Without those that stay the same. */
  readonly changes: readonly FolderChange[]
  readonly same: number
  readonly renamed: FolderPlan['renamed']
  readonly removed: readonly string[]
  readonly mentions: readonly Mention[]
  /** One file's texts, where one is looked at. */
  readonly shown: { readonly path: string; readonly before: string; readonly after: string } | null
  /** Names what was shown: only that is written. */
  readonly seen: string
}

export type FolderAnswer<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly wording: { readonly message: string; readonly detail: string; readonly hint: string } }
