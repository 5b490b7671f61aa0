import { openScriptApart } from '../../../server/apart/index.ts'
import { scriptInput } from '../../../server/scripts.ts'
import { refusal } from '../../_access.ts'
import { identity, sessionToken } from '../../_identity.ts'
import { guarded, refuse } from '../_http.ts'

/** The body is the script, or a zip of several; it streams. Query: file, dialect, and name or project where it is to be kept. */
export const POST = (request: Request): Promise<Response> =>
  guarded(async () => {
    const refused = await refusal(request, '/api/scripts', await sessionToken())
    if (refused !== null) return refuse(refused.status, refused.message, refused.hint)
    const query = new URL(request.url).searchParams
    const input = scriptInput.safeParse(Object.fromEntries(['file', 'dialect', 'name', 'project', 'facts'].map((k) => [k, query.get(k) ?? ''])))
    if (!input.success) return refuse(400, input.error.issues[0]?.message ?? 'the request does not fit')
    if (!request.body) return refuse(400, 'there is nothing to read', 'Choose a file, or paste the script.')
    const answer = await openScriptApart(input.data, request.body, (await identity()).name)
    return answer.ok ? Response.json(answer) : Response.json(answer.wording, { status: 422 })
  })
