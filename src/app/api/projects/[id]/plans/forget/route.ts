import { z } from 'zod'
import { forgetPlan } from '../../../../../../server/plans.ts'
import { answer } from '../../../../_http.ts'

/** Forget the last kept plan; what was applied of it stays where it is. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, z.strictObject({ number: z.int().min(1) }), async ({ number }) => {
    await forgetPlan((await params).id, number)
    return Response.json({})
  })
