// The review of a project as a document, and what one entry of its ledger changed.
import { createTwoFilesPatch } from 'diff'
import { type Code, changedPaths, codeOf } from '../core/emit/typescript/index.ts'
import { foldAreas } from '../core/model/index.ts'
import { docketItems, placesOnMap, type Report, reportOf, reviewWith } from '../core/review/index.ts'
import { areasOn, mapOf } from '../core/strata/index.ts'
import { findProject } from '../store/index.ts'
import { readProjectReview } from './review.ts'

/** Null before the first survey is done. */
export async function reviewReport(projectId: string): Promise<Report | null> {
  const [project, found] = await Promise.all([findProject(projectId), readProjectReview(projectId)])
  if (!project || !found) return null
  const { base, review, statistics, entries } = found
  const scene = mapOf(base.catalog, base.findings, review.model, statistics, foldAreas(entries))
  const items = docketItems(review, placesOnMap(scene, review.model))
  return reportOf(`Review of ${project.name}`, new Date().toISOString(), review, items, areasOn(scene), entries)
}

export interface EntryChanges {
  /** Each file that the entry changed, as a unified diff (POSIX diff -u). */
  readonly files: readonly { readonly path: string; readonly patch: string }[]
}

/** What the code was before an entry and after it, with all that came before and nothing that came later; null where there is no such entry. */
export async function entryChanges(projectId: string, seq: number): Promise<EntryChanges | null> {
  const found = await readProjectReview(projectId)
  if (!found?.entries.some((e) => e.seq === seq)) return null
  const { entries } = found
  const modelAt = (last: number) =>
    reviewWith(
      found.base,
      found.hash,
      entries.filter((e) => e.seq <= last),
    ).model
  const [was, is] = [modelAt(seq - 1), modelAt(seq)]
  const [before, after] = [was, is].map((model) => codeOf(model, { snapshot: found.hash, evidence: null, ledger: 0, inference: 0 })) as [Code, Code]
  const textOf = (code: Code, path: string) => code.file(path)?.text ?? ''
  return {
    files: changedPaths(was, is).map((path) => ({
      path,
      patch: createTwoFilesPatch(path, path, textOf(before, path), textOf(after, path), '', '', { context: 1 }),
    })),
  }
}
