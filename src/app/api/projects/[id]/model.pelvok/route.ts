import { apart } from '../../../../../server/apart/index.ts'
import { guarded, refuse } from '../../../_http.ts'

/** The review as notation, in one file. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const { id } = await params
    const no = await apart.shut(id)
    if (no) return refuse(409, no.message, no.hint)
    const text = await apart.notationFile(id)
    if (text === null) return refuse(409, 'there is no notation yet', 'Survey the source first.')
    return new Response(text, { headers: { 'content-type': 'text/plain; charset=utf-8', 'content-disposition': `attachment; filename="${id}.pelvok"` } })
  })
