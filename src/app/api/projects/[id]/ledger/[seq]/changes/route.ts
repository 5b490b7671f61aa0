import { apart } from '../../../../../../../server/apart/index.ts'
import { guarded, refuse } from '../../../../../_http.ts'

/** What one entry changed in the code. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string; seq: string }> }): Promise<Response> =>
  guarded(async () => {
    const { id, seq } = await params
    const changes = /^\d{1,9}$/.test(seq) ? await apart.entryChanges(id, Number(seq)) : null
    return changes ? Response.json(changes) : refuse(404, `there is no entry ${seq}`, 'Reload the page.')
  })
