import { apart } from '../../../../../server/apart/index.ts'
import { keepInput } from '../../../../../server/plans.ts'
import { identity } from '../../../../_identity.ts'
import { answer, refuse } from '../../../_http.ts'

/** Keep the baseline or the draft under the next number. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, keepInput, async (input) => {
    const kept = await apart.keepPlan((await params).id, input, (await identity()).name)
    return kept.ok ? Response.json({ number: kept.number }) : refuse(409, kept.message, kept.hint)
  })
