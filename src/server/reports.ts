// The review of a project as a document, and what one entry of its ledger changed.
import { createTwoFilesPatch } from 'diff'
import { emitTypeScript } from '../core/emit/typescript/index.ts'
import { foldAreas } from '../core/model/index.ts'
import { docketItems, placesOnMap, type Report, reportOf, reviewWith } from '../core/review/index.ts'
import { layoutMap, mapInput } from '../core/strata/index.ts'
import { findProject, readLedger } from '../store/index.ts'
import { readProjectReview } from './review.ts'

/** Null before the first survey is done. */
export async function reviewReport(projectId: string): Promise<Report | null> {
  const [project, found] = await Promise.all([findProject(projectId), readProjectReview(projectId)])
  if (!project || !found) return null
  const { base, review, statistics } = found
  const entries = await readLedger(projectId)
  const scene = layoutMap(mapInput(base.catalog, base.findings, review.model, statistics, foldAreas(entries)))
  const items = docketItems(review, placesOnMap(scene, review.model))
  return reportOf(
    `Review of ${project.name}`,
    new Date().toISOString(),
    review,
    items,
    scene.bands.map((b) => b.area),
    entries,
  )
}

export interface EntryChanges {
  /** Each file that the entry changed, as a unified diff (POSIX diff -u). */
  readonly files: readonly { readonly path: string; readonly patch: string }[]
}

/** What the code was before an entry and after it, with all that came before and nothing that came later; null where there is no such entry. */
export async function entryChanges(projectId: string, seq: number): Promise<EntryChanges | null> {
  const found = await readProjectReview(projectId)
  const entries = await readLedger(projectId)
  if (!found || !entries.some((e) => e.seq === seq)) return null
  const filesAt = (last: number) => {
    const { model } = reviewWith(
      found.base,
      found.hash,
      entries.filter((e) => e.seq <= last),
    )
    return new Map(emitTypeScript(model, { snapshot: found.hash, evidence: null, ledger: 0, inference: 0 }).map((f) => [f.path, f.text]))
  }
  const [before, after] = [filesAt(seq - 1), filesAt(seq)]
  const paths = [...new Set([...before.keys(), ...after.keys()])].filter((p) => before.get(p) !== after.get(p)).sort()
  return {
    files: paths.map((path) => ({ path, patch: createTwoFilesPatch(path, path, before.get(path) ?? '', after.get(path) ?? '', '', '', { context: 1 }) })),
  }
}
