import { apart } from '../../../../../../server/apart/index.ts'
import { guarded, refuse } from '../../../../_http.ts'

/** The steps of a kept plan, for the matrix. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const steps = await apart.stepRows((await params).id, Number(new URL(request.url).searchParams.get('number')))
    return steps ? Response.json({ steps }) : refuse(404, 'there is no such plan', 'Reload the page.')
  })
