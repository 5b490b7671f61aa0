import { apart } from '../../../../../../server/apart/index.ts'
import { adoptInput } from '../../../../../../server/environments.ts'
import { identity } from '../../../../../_identity.ts'
import { outcome } from '../../../../_http.ts'

/** Record a plan as applied where its schema is there already; nothing runs. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, adoptInput, async (input) => apart.adopt((await params).id, input, (await identity()).name))
