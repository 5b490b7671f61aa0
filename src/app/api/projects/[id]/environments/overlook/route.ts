import { z } from 'zod'
import { apart } from '../../../../../../server/apart/index.ts'
import { lookAgain, overlookInput } from '../../../../../../server/environments.ts'
import { identity } from '../../../../../_identity.ts'
import { outcome } from '../../../../_http.ts'

/** Leave one difference as it is, with the reason; or look at it again. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, z.union([overlookInput, z.strictObject({ environment: z.int(), again: z.int() })]), async (input) => {
    if ('again' in input) {
      await lookAgain(input.environment, input.again)
      return { ok: true, value: null }
    }
    return apart.overlook((await params).id, input, (await identity()).name)
  })
