import { findSnapshotBytes } from '../../../../server/review.ts'
import { immutable } from '../../_http.ts'

/** The canonical bytes as they are kept. */
export const GET = (_: Request, { params }: { params: Promise<{ hash: string }> }): Promise<Response> =>
  immutable(findSnapshotBytes, params, 'there is no such snapshot')
