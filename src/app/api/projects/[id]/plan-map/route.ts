import { apart } from '../../../../../server/apart/index.ts'
import { parseWhich } from '../../../../../server/plans.ts'
import { guarded, refuse } from '../../../_http.ts'

/** What the map of a plan is drawn from, as gzipped JSON. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const { id } = await params
    const bytes = await apart.planMapBytes(id, parseWhich(new URL(request.url).searchParams.get('which') ?? undefined) ?? 'draft')
    if (!bytes) return refuse(409, 'there is no such plan', 'Reload the page.')
    return new Response(new Uint8Array(bytes), { headers: { 'content-type': 'application/gzip', 'cache-control': 'no-store' } })
  })
