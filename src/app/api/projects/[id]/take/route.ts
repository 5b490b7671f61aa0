import { encodeEntry } from '../../../../../core/model/index.ts'
import { apart } from '../../../../../server/apart/index.ts'
import { takeInput } from '../../../../../server/gate.ts'
import { identity } from '../../../../_identity.ts'
import { answer } from '../../../_http.ts'
import { refusal } from '../ledger/_refusal.ts'

/** Take what is proposed as it stands. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, takeInput, async (input) => {
    const result = await apart.takeProposals((await params).id, input, (await identity()).name)
    return 'added' in result ? Response.json({ entries: result.added.map(encodeEntry) }) : refusal(result.refuse)
  })
