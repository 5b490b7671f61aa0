import { createProject, newProject } from '../../../server/projects.ts'
import { identity } from '../../_identity.ts'
import { answer } from '../_http.ts'

export const POST = (request: Request): Promise<Response> =>
  answer(request, newProject, async (input) => {
    const made = await createProject(input, (await identity()).name)
    return made.ok ? Response.json({ id: made.id }) : Response.json(made.wording, { status: 422 })
  })
