import { apart } from '../../../../../server/apart/index.ts'
import { lookInput } from '../../../../../server/looks.ts'
import { answer, refuse } from '../../../_http.ts'

/** Rows that one of the review's own queries gives, read-only. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, lookInput, async (input) => {
    const found = await apart.lookAtRows((await params).id, input)
    return found.ok ? Response.json(found.looked) : refuse(409, found.wording.message, found.wording.hint, found.wording.detail)
  })
