import { apart } from '../../../../../../server/apart/index.ts'
import { editInput } from '../../../../../../server/plans.ts'
import { answer, refuse } from '../../../../_http.ts'

/** SQL of one step of a kept plan, written by hand. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, editInput, async (input) => {
    const edited = await apart.editStep((await params).id, input)
    return edited.ok ? Response.json({}) : refuse(409, edited.message, edited.hint)
  })
