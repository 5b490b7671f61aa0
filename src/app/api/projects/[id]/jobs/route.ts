import { z } from 'zod'
import { startJob } from '../../../../../server/jobs.ts'
import { findProject } from '../../../../../server/projects.ts'
import { identity } from '../../../../_identity.ts'
import { answer, refuse } from '../../../_http.ts'

const input = z.strictObject({ kind: z.enum(['survey', 'rows']) })

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, input, async ({ kind }) => {
    const { id } = await params
    if (!(await findProject(id))) return refuse(404, `there is no project "${id}"`)
    return Response.json({ id: await startJob(id, kind, (await identity()).name) })
  })
