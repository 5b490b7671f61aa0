// What the map of a plan is drawn from, for the worker that draws it.
import { touchedBy } from '../core/change/index.ts'
import type { Which } from '../core/lineage/index.ts'
import { encodeEntry } from '../core/model/index.ts'
import { findingsKey, type PlanMapSource } from '../core/review/index.ts'
import { resolvePlan } from './plans.ts'
import { gzippedJson, readProjectReview } from './review.ts'

/** Gzipped `PlanMapSource`; null where there is no such plan. */
export async function planMapBytes(projectId: string, which: Which): Promise<Buffer | null> {
  const [project, found] = await Promise.all([readProjectReview(projectId), resolvePlan(projectId, which)])
  if (!project || !found?.ok) return null
  const { plan, base, expected } = found.resolved
  const touched = touchedBy(plan, base, expected)
  const asSurveyed = base === null && plan.to === project.hash
  const source: PlanMapSource = {
    touched,
    entries: project.entries.map(encodeEntry),
    statistics: project.statistics,
    rows: project.review.revision.evidence,
    findings: asSurveyed ? findingsKey(project.base, project.hash) : null,
  }
  return gzippedJson(source)
}
