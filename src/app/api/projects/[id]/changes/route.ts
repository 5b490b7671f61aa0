import { apart } from '../../../../../server/apart/index.ts'
import { previewInput } from '../../../../../server/plans.ts'
import { answer, refuse } from '../../../_http.ts'

/** What schema edits would come to, while somebody types. Nothing is kept. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, previewInput, async (input) => {
    const preview = await apart.previewEdits((await params).id, input)
    return preview ? Response.json(preview) : refuse(409, 'there is no survey yet', 'Survey the source first.')
  })
