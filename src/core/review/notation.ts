// A review as notation, and what a notation changes of it.
import { foldFacets, type LedgerEntry, revisionText } from '../model/index.ts'
import { type NotationBase, type NotationOptions, notationOf, printNotation } from '../notation/index.ts'
import type { Review, ReviewBase } from './review.ts'

/** What a notation is read against. */
export const notationBase = (base: ReviewBase, r: Review, entries: readonly LedgerEntry[]): NotationBase => ({
  model: r.model,
  catalog: base.catalog,
  whole: base.whole,
  findings: r.findings,
  facets: foldFacets(r.findings, entries),
  kinds: r.kinds,
})

/** One file with all of it. */
export const notationText = (base: ReviewBase, r: Review, o?: NotationOptions): string =>
  printNotation(notationOf(r.model, base.catalog, r.kinds, o), revisionText(r.revision))
