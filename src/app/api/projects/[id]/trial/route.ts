import { apart } from '../../../../../server/apart/index.ts'
import { trialInput } from '../../../../../server/trials.ts'
import { answer, refuse } from '../../../_http.ts'

/** A portion of rows read through the model, read-only. Cancelled with the request. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, trialInput, async (input) => {
    try {
      const found = await apart.tryRows((await params).id, input, request.signal)
      return found.ok
        ? Response.json({ trial: found.trial, compared: found.compared })
        : refuse(409, found.wording.message, found.wording.hint, found.wording.detail)
    } catch (error) {
      if (request.signal.aborted) return refuse(499, 'it was cancelled')
      throw error
    }
  })
