import { isShape } from '../../../../core/strata/index.ts'
import { guarded, refuse } from '../../_http.ts'

/** What is made of a project for a pane of the shape in the address: gzipped, to be unpacked by a worker. */
export const shaped = (params: Promise<{ id: string; shape: string }>, make: (id: string, shape: number) => Promise<Uint8Array | null>): Promise<Response> =>
  guarded(async () => {
    const { id, shape: text } = await params
    const shape = Number(text)
    if (!isShape(shape)) return refuse(404, 'no map is packed to this shape')
    const bytes = await make(id, shape)
    if (!bytes) return refuse(404, 'there is no survey yet')
    return new Response(new Uint8Array(bytes), { headers: { 'content-type': 'application/gzip', 'cache-control': 'no-store, no-transform' } })
  })
