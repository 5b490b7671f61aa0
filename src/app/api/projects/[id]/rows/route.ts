import { apart } from '../../../../../server/apart/index.ts'
import { rowsInput } from '../../../../../server/review.ts'
import { answer, refuse } from '../../../_http.ts'

/** Row evidence that a browser read from a file. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, rowsInput, async (input) => {
    const hash = await apart.takeRowEvidence((await params).id, input)
    if (hash === null)
      return refuse(409, 'there is a newer survey', 'Reload the page and read the rows again.', 'The rows were read for a snapshot that is not the last one.')
    return Response.json({ hash })
  })
