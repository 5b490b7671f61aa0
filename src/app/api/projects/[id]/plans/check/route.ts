import { checkInput, checkPlan } from '../../../../../../server/environments.ts'
import { outcome } from '../../../../_http.ts'

/** The pre-checks of a plan on one environment, read-only. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, checkInput, async (input) => checkPlan((await params).id, input))
