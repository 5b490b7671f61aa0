// Text looked for in all that a project has beside its snapshot.
import { decodePlan } from '../core/change/index.ts'
import { type Found, findIn } from '../core/review/index.ts'
import { listEnvironments, listPlans } from '../store/index.ts'
import { readProjectReview } from './review.ts'

/** Null before the first survey. */
export async function findText(projectId: string, text: string): Promise<readonly Found[] | null> {
  const project = await readProjectReview(projectId)
  if (!project) return null
  const [plans, environments] = await Promise.all([listPlans(projectId), listEnvironments(projectId)])
  const kept = plans.map((p) => ({ number: p.number, steps: decodePlan(JSON.parse(p.body)).plan.steps }))
  return findIn(
    text,
    project.review,
    project.entries,
    kept,
    environments.map((e) => e.name),
  )
}
