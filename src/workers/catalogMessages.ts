// Questions to the worker that holds a snapshot, and what each is answered with.
import type { CatalogOverview, ObjectDetail, ObjectRow, Occurrences } from '../core/browse/index.ts'
import type { ObjectChange } from '../core/lineage/index.ts'
import type { LedgerEntry } from '../core/model/index.ts'
import type { ScopeColumn, ScopeView } from '../core/scope/index.ts'

export type CatalogQuestion =
  | { readonly ask: 'scope' }
  | { readonly ask: 'columns'; readonly subject: string }
  /** Hashes of two snapshots. */
  | { readonly ask: 'changes'; readonly was: string; readonly is: string }
  | { readonly ask: 'objects' }
  | { readonly ask: 'overview' }
  | { readonly ask: 'object'; readonly id: string }
  | { readonly ask: 'occurrences'; readonly name: string }
  /** For the palette: objects and column names that match. */
  | { readonly ask: 'find'; readonly text: string }
  | { readonly ask: 'neighbours'; readonly subject: string; readonly distance: number }

export interface CatalogAnswers {
  readonly scope: ScopeView
  readonly columns: readonly ScopeColumn[]
  readonly changes: readonly ObjectChange[]
  readonly objects: readonly ObjectRow[]
  readonly overview: CatalogOverview
  readonly object: ObjectDetail | null
  readonly occurrences: Occurrences
  readonly find: { readonly objects: readonly ObjectRow[]; readonly columns: readonly (readonly [string, number])[] }
  readonly neighbours: readonly string[]
}

export type ToCatalog =
  | { readonly type: 'open'; readonly snapshotUrl: string; readonly entries: readonly LedgerEntry[] }
  | { readonly type: 'entries'; readonly entries: readonly LedgerEntry[] }
  | { readonly type: 'ask'; readonly id: number; readonly question: CatalogQuestion }

export type FromCatalog =
  | { readonly id: number; readonly ok: true; readonly value: unknown }
  | { readonly id: number; readonly ok: false; readonly message: string }
