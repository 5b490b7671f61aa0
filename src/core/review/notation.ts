// A review as notation, and what a notation changes of it.
import type { Catalog, SnapshotHash } from '../catalog/index.ts'
import { foldFacets, type LedgerEntry, revisionLedger, revisionText, schemaEditsOf } from '../model/index.ts'
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
  parseNotation,
  readNotation,
} from '../notation/index.ts'
import { type Review, type ReviewBase, reviewBase, reviewWith } from './review.ts'

/** What a notation is read against. */
export const notationBase = (base: ReviewBase, r: Review, entries: readonly LedgerEntry[]): NotationBase => ({
  model: r.model,
  catalog: base.catalog,
  whole: base.whole,
  findings: r.findings,
  facets: foldFacets(r.findings, entries),
  kinds: r.kinds,
  formerly: new Map(),
  planned: schemaEditsOf(entries).flatMap((e) => e.edits),
})

/** Its files; `by`: how many. */
export const reviewNotation = (base: ReviewBase, r: Review, by: NotationLayout, o?: NotationOptions): readonly NotationFile[] =>
  notationFiles(notationOf(r.model, base.catalog, r.kinds, o), revisionText(r.revision), by)

/** One file with all of it. */
export const notationText = (base: ReviewBase, r: Review, o?: NotationOptions): string => reviewNotation(base, r, 'one', o)[0]?.text ?? ''

/** A project as a notation is read against it. */
export interface NotationProject {
  readonly whole: Catalog
  readonly hash: SnapshotHash
  readonly entries: readonly LedgerEntry[]
  /** What was made of the catalog already, and the review at the last entry. */
  readonly known: ReviewBase | null
  readonly now: Review | null
}

/**
 * What files change of a review. A text names the ledger position that it was made at: what it says as the review did then was not
 * typed, and takes nothing back that came since. `seen`: that position, or the last.
 */
export function readNotationOf(
  { whole, hash, entries, known, now: made }: NotationProject,
  files: readonly NotationFile[],
): NotationReading & { readonly seen: number } {
  const at = (some: readonly LedgerEntry[], review: Review | null) => {
    const base = reviewBase(whole, some, known)
    return notationBase(base, review ?? reviewWith(base, hash, some), some)
  }
  const head = entries.at(-1)?.seq ?? 0
  const parsed = parseNotation(files)
  const named = parsed.revision?.includes(`snapshot ${hash.slice(0, 12)}`) ? revisionLedger(parsed.revision) : null
  const seen = Math.min(named ?? head, head)
  if (seen === head) return { ...readNotation(files, at(entries, made), parsed), seen }
  const before = entries.filter((e) => e.seq <= seen)
  const then = at(before, null)
  const now = readNotation(files, { ...at(entries, made), formerly: new Map(then.model.entities.map((e) => [e.name, e.id])) }, parsed)
  if (now.problems.length > 0) return { ...now, seen }
  const typed = new Set(readNotation(files, then, parsed).changes.map((c) => JSON.stringify(c.is)))
  return { ...now, changes: now.changes.filter((c) => typed.has(JSON.stringify(c.is))), seen }
}

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
