// Reading real rows through the reviewed model: read-only, a portion at a time, before any code exists.
import { z } from 'zod'
import type { SnapshotHash } from '../core/catalog/index.ts'
import {
  compareWays,
  type Resolved,
  resolve,
  runTrial,
  type Trial,
  type TrialPath,
  type TrialView,
  trialPath,
  trialView,
  type WaysCompared,
  Writer,
  type Writes,
  writesOf,
} from '../core/trial/index.ts'
import { describeFailure, readRows, SourceError, type Wording } from '../engines/postgres/index.ts'
import { readProjectReview } from './review.ts'
import { openLocation, SourceUnreadable } from './sources.ts'

export const trialInput = z.strictObject({
  path: trialPath,
  limit: z.int().min(1).max(200),
  after: z.array(z.string().max(10_000)).max(32).nullable(),
  /** Read the same rows in the other ways too, and compare. */
  compare: z.boolean(),
})

export type TrialAnswer =
  | { readonly ok: true; readonly trial: Trial; readonly compared: WaysCompared | null }
  | { readonly ok: false; readonly wording: Wording }

const refused = (message: string, hint: string): TrialAnswer => ({ ok: false, wording: { message, detail: '', hint } })

/** What the stage shows before rows are read; null before the first survey. */
export async function readTrialDesk(
  projectId: string,
  path: TrialPath | null,
): Promise<{ readonly snapshot: SnapshotHash; readonly view: TrialView; readonly writes: Writes } | null> {
  const project = await readProjectReview(projectId)
  if (!project) return null
  const view = trialView(project.review.model, path)
  return { snapshot: project.hash, view, writes: writesOf(project.base.catalog, project.review.model, view.places.at(-1)?.id ?? '') }
}

/** Throws an AbortError where `signal` aborted: nobody waits for the answer. */
export async function tryRows(projectId: string, input: z.infer<typeof trialInput>, signal: AbortSignal): Promise<TrialAnswer> {
  const project = await readProjectReview(projectId)
  if (!project) return refused('there is no survey yet', 'Survey the source first.')
  const { base, review } = project
  const found = resolve(review.model, input.path)
  if (!found.ok) return refused(found.problem, 'The model is another now: reload the page.')
  try {
    const { location } = await openLocation(projectId)
    const writer = new Writer(base.catalog)
    const portion = { limit: input.limit, after: input.after }
    return await readRows(location, signal, async (ask) => {
      const trial = await runTrial(found.trial, writer, ask, portion)
      return { ok: true, trial, compared: input.compare ? await compareWays(found.trial, trial, writer, ask, portion) : null }
    })
  } catch (error) {
    if (error instanceof SourceError) return { ok: false, wording: aboutValue(describeFailure(error.failure, error.location), found.trial) }
    if (error instanceof SourceUnreadable) return { ok: false, wording: error.wording }
    throw error
  }
}

/** A value that is none of its column's type is refused by the server: it is said which may be meant. */
function aboutValue(wording: Wording, t: Resolved): Wording {
  const typed = t.conditions.filter((c) => c.is === 'equal' || c.is === 'other' || c.is === 'less' || c.is === 'more')
  if (typed.length === 0 || !/invalid input|out of range|malformed|syntax for type/i.test(`${wording.message} ${wording.detail}`)) return wording
  return { ...wording, hint: `Check the values of the conditions: ${typed.map((c) => `${c.property.name} is a ${c.property.type}`).join(', ')}.` }
}
