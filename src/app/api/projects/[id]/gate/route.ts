import { apart } from '../../../../../server/apart/index.ts'
import { guarded, refuse } from '../../../_http.ts'

/** What is open and changes what comes out. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const items = await apart.gateItems((await params).id)
    return items ? Response.json({ items }) : refuse(409, 'there is no survey yet', 'Survey the source first.')
  })
