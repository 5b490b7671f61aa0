import { apart } from '../../../../../server/apart/index.ts'
import { parseWhich } from '../../../../../server/plans.ts'
import { guarded, refuse } from '../../../_http.ts'

/** A plan as text for a pull request. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const { id } = await params
    const w = parseWhich(new URL(request.url).searchParams.get('which') ?? undefined) ?? 'draft'
    const no = typeof w === 'number' ? null : await apart.shut(id)
    if (no) return refuse(409, no.message, no.hint)
    const text = await apart.planText(id, w)
    if (text === null) return refuse(409, 'there is no such plan', 'Reload the page.')
    return new Response(text, { headers: { 'content-type': 'text/markdown; charset=utf-8', 'content-disposition': `attachment; filename="${id}-plan-${w}.md"` } })
  })
