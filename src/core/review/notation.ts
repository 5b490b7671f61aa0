// A review as notation, and what a notation changes of it.
import { foldFacets, type LedgerEntry, revisionText, schemaEditsOf } from '../model/index.ts'
import {
  describeNotationProblem,
  type NotationBase,
  type NotationFile,
  type NotationLayout,
  type NotationOptions,
  type NotationReading,
  notationFiles,
  notationOf,
  type Place,
} from '../notation/index.ts'
import type { Review, ReviewBase } from './review.ts'

/** What a notation is read against. */
export const notationBase = (base: ReviewBase, r: Review, entries: readonly LedgerEntry[]): NotationBase => ({
  model: r.model,
  catalog: base.catalog,
  whole: base.whole,
  findings: r.findings,
  facets: foldFacets(r.findings, entries),
  kinds: r.kinds,
  planned: schemaEditsOf(entries).flatMap((e) => e.edits),
})

/** Its files; `by`: how many. */
export const reviewNotation = (base: ReviewBase, r: Review, by: NotationLayout, o?: NotationOptions): readonly NotationFile[] =>
  notationFiles(notationOf(r.model, base.catalog, r.kinds, o), revisionText(r.revision), by)

/** One file with all of it. */
export const notationText = (base: ReviewBase, r: Review, o?: NotationOptions): string => reviewNotation(base, r, 'one', o)[0]?.text ?? ''

export interface NotationView {
  /** In order of place; what cannot be a change is a problem. */
  readonly changes: readonly {
    readonly at: Place
    readonly of: string
    readonly before: string | null
    readonly after: string | null
    readonly schema: boolean
  }[]
  readonly problems: readonly { readonly at: Place; readonly text: string }[]
}

/** What a notation changes, as people read it. */
export const notationView = (reading: NotationReading): NotationView => ({
  changes: reading.changes.map(({ at, of, before, after, is }) => ({ at, of, before, after, schema: is.kind === 'schema' })),
  problems: reading.problems.map((p) => ({ at: p.at, text: describeNotationProblem(p) })),
})
