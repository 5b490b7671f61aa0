import { apart } from '../../../../../server/apart/index.ts'
import { previewInput } from '../../../../../server/plans.ts'
import { answer, guarded, refuse } from '../../../_http.ts'

const noSurvey = () => refuse(409, 'there is no survey yet', 'Survey the source first.')

/** What a change of `?table=` can be asked with; without it, of a new table. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const choices = await apart.readChangeChoices((await params).id, new URL(request.url).searchParams.get('table'))
    return choices ? Response.json(choices) : noSurvey()
  })

/** What schema edits would come to, while somebody types. Nothing is kept. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, previewInput, async (input) => {
    const preview = await apart.previewEdits((await params).id, input)
    return preview ? Response.json(preview) : noSurvey()
  })
