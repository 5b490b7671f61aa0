import { apart } from '../../../../../server/apart/index.ts'
import { settingsInput } from '../../../../../server/codeFolder.ts'
import { answer, refuse } from '../../../_http.ts'

/** What other settings of the code would change; nothing is set. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, settingsInput, async ({ settings }) => {
    const preview = await apart.previewSettings((await params).id, settings)
    return preview ? Response.json(preview) : refuse(409, 'there is no survey yet', 'Survey the source first.')
  })
