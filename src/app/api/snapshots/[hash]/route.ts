import { findSnapshotBytes } from '../../../../server/review.ts'
import { guarded, refuse } from '../../_http.ts'

/** The canonical bytes as they are kept. The worker unpacks them; the name is their hash, so they never change. */
export const GET = (_: Request, { params }: { params: Promise<{ hash: string }> }): Promise<Response> =>
  guarded(async () => {
    const bytes = await findSnapshotBytes((await params).hash)
    if (!bytes) return refuse(404, 'there is no such snapshot')
    return new Response(new Uint8Array(bytes), {
      headers: { 'content-type': 'application/gzip', 'cache-control': 'private, max-age=31536000, immutable, no-transform' },
    })
  })
