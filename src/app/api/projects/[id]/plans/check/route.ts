import { apart } from '../../../../../../server/apart/index.ts'
import { checkInput } from '../../../../../../server/environments.ts'
import { outcome } from '../../../../_http.ts'

/** The pre-checks of a plan on one environment, read-only. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, checkInput, async (input) => apart.checkPlan((await params).id, input))
