import { changeOwnPassword, ownPassword } from '../../../server/accounts.ts'
import { sessionToken, standing } from '../../_identity.ts'
import { answer, refuse } from '../_http.ts'

export const POST = (request: Request): Promise<Response> =>
  answer(request, ownPassword, async (input) => {
    const [now, token] = await Promise.all([standing(), sessionToken()])
    if (!now.signIn || !now.account || token === null) return refuse(401, 'nobody is signed in')
    const result = await changeOwnPassword(now.account, token, input)
    if (result === 'done') return Response.json({})
    return result === 'wrong' ? refuse(403, 'the old password is another one') : refuse(429, 'too many attempts: try again in a quarter of an hour')
  })
