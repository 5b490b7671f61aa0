import { findRowEvidenceBytes } from '../../../../server/review.ts'
import { immutable } from '../../_http.ts'

/** What rows said, as it is kept. */
export const GET = (_: Request, { params }: { params: Promise<{ hash: string }> }): Promise<Response> =>
  immutable(findRowEvidenceBytes, params, 'there is no such row evidence')
