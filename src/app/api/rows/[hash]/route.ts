import { findRowEvidenceBytes } from '../../../../server/review.ts'
import { guarded, refuse } from '../../_http.ts'

/** What rows said, as it is kept. The worker unpacks it; the name is its hash, so it never changes. */
export const GET = (_: Request, { params }: { params: Promise<{ hash: string }> }): Promise<Response> =>
  guarded(async () => {
    const bytes = await findRowEvidenceBytes((await params).hash)
    if (!bytes) return refuse(404, 'there is no such row evidence')
    return new Response(new Uint8Array(bytes), {
      headers: { 'content-type': 'application/gzip', 'cache-control': 'private, max-age=31536000, immutable, no-transform' },
    })
  })
