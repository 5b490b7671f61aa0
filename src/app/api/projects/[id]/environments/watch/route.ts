import { apart } from '../../../../../../server/apart/index.ts'
import { environmentOnly } from '../../../../../../server/environments.ts'
import { outcome } from '../../../../_http.ts'

/** How far plans are on an environment, and its drift. Reads only. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, environmentOnly, async ({ environment }) => apart.watch((await params).id, environment))
