// What a user does with projects.
import { z } from 'zod'
import { describeFailure, describeLocation, testConnection, type Wording } from '../engines/postgres/index.ts'
import { insertProject } from '../store/index.ts'
import { startJob } from './jobs.ts'
import { locationOf, refuseStore, sourceInput } from './sources.ts'

export { findProject, findSource, listProjects } from '../store/index.ts'

export const newProject = z.strictObject({ name: z.string().trim().min(1, 'enter a name').max(80, 'at most 80 characters'), source: sourceInput })

export type NewProjectAnswer = { readonly ok: true; readonly id: string } | { readonly ok: false; readonly wording: Wording }

/** Make a project and start its first survey. Refused, with nothing kept, where the source cannot be reached. */
export async function createProject(input: z.infer<typeof newProject>, by: string): Promise<NewProjectAnswer> {
  const answer = locationOf(input.source)
  if (!answer.ok) return answer
  const tested = await testConnection(answer.location)
  if (!tested.ok) return { ok: false, wording: describeFailure(tested.failure, answer.location) }
  const refused = await refuseStore(answer.location)
  if (refused) return { ok: false, wording: refused }
  const id = await insertProject({
    name: input.name,
    by,
    kind: 'postgresql',
    label: describeLocation(answer.location),
    location: answer.kept,
    secret: answer.secret,
  })
  await startJob(id, 'survey', by)
  return { ok: true, id }
}
