import { apart } from '../../../../../server/apart/index.ts'
import { guarded, refuse } from '../../../_http.ts'

/** What `?text=` is found in, beside the snapshot: the review, classes, ledger, plans, trials. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const text = (new URL(request.url).searchParams.get('text') ?? '').slice(0, 200)
    const found = await apart.findText((await params).id, text)
    return found ? Response.json(found) : refuse(409, 'there is no survey yet', 'Survey the source first.')
  })
