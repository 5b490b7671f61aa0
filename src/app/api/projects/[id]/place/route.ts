import { keepOwnPlace, placeInput } from '../../../../../server/visits.ts'
import { identity } from '../../../../_identity.ts'
import { answer, refuse } from '../../../_http.ts'

/** Where somebody is in the review, so that they find it again; or that they stop here. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, placeInput, async (input) => {
    const kept = await keepOwnPlace((await params).id, (await identity()).name, input)
    return kept ? Response.json({ kept: true }) : refuse(404, 'there is no visit to keep a place of', 'Reload the page.')
  })
