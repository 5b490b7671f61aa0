// What a user does with projects.
import { z } from 'zod'
import { describeFailure, describeLocation, testConnection, type Wording } from '../engines/postgres/index.ts'
import { deleteProject, findProject, insertProject } from '../store/index.ts'
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

export const removal = z.strictObject({ typed: z.string() })

/** Delete a project and all it kept; its name has to be typed. The database it was read from is not touched. */
export async function removeProject(
  id: string,
  typed: string,
): Promise<{ readonly ok: true; readonly value: null } | { readonly ok: false; readonly wording: Wording }> {
  const refused = (message: string, hint: string) => ({ ok: false, wording: { message, detail: '', hint } }) as const
  const project = await findProject(id)
  if (!project) return refused('there is no such project', 'Go back to the list.')
  if (typed.trim() !== project.name) return refused('that is not the name of the project', `Type ${project.name} to say that you mean it.`)
  return (await deleteProject(id)) ? { ok: true, value: null } : refused('something of this project is running', 'Cancel it, or wait until it has ended.')
}
