import { apart } from '../../../../../../server/apart/index.ts'
import { findKept } from '../../../../../../server/review.ts'
import { immutable } from '../../../../_http.ts'

/** What is inferred, under the key of all it follows from. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string; key: string }> }): Promise<Response> =>
  immutable(
    async (key) => {
      const { id } = await params
      return (await findKept(id, 'findings', key)) ?? apart.findFindingsBytes(id, key)
    },
    params.then(({ key }) => ({ hash: key })),
    'the findings are others now',
  )
