import { environmentOnly, removeEnvironment } from '../../../../../../server/environments.ts'
import { answer } from '../../../../_http.ts'

/** Forget an environment; nothing in it changes. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, environmentOnly, async ({ environment }) => {
    await removeEnvironment((await params).id, environment)
    return Response.json({})
  })
