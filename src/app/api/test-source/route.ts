import { sourceInput, testSource } from '../../../server/sources.ts'
import { answer } from '../_http.ts'

export const POST = (request: Request): Promise<Response> =>
  answer(request, sourceInput, async (input) => {
    const result = await testSource(input)
    return result.ok ? Response.json({ steps: result.steps }) : Response.json(result.wording, { status: 422 })
  })
