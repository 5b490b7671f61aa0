import { apart } from '../../../../../server/apart/index.ts'
import { identity } from '../../../../_identity.ts'
import { guarded } from '../../../_http.ts'
import { refusal } from '../ledger/_refusal.ts'

export const POST = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const sealed = await apart.sealRevision((await params).id, (await identity()).name)
    return 'refuse' in sealed ? refusal(sealed.refuse) : Response.json(sealed)
  })
