import { isShape } from '../../../../../../core/strata/index.ts'
import { apart } from '../../../../../../server/apart/index.ts'
import { keptFirst } from '../../../../../../server/first.ts'
import { guarded, refuse } from '../../../../_http.ts'

/** What is shown of a review first, packed to a pane of this shape; gzipped, to be unpacked by a worker. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string; shape: string }> }): Promise<Response> =>
  guarded(async () => {
    const { id, shape: text } = await params
    const shape = Number(text)
    if (!isShape(shape)) return refuse(404, 'no map is packed to this shape')
    const bytes = (await keptFirst(id, shape)) ?? (await apart.makeFirst(id, shape))
    if (!bytes) return refuse(404, 'there is no survey yet')
    return new Response(new Uint8Array(bytes), { headers: { 'content-type': 'application/gzip', 'cache-control': 'no-store, no-transform' } })
  })
