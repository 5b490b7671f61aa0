import { signIn, signInInput } from '../../../server/accounts.ts'
import { keepSession } from '../../_identity.ts'
import { answer, refuse } from '../_http.ts'

export const POST = (request: Request): Promise<Response> =>
  answer(request, signInInput, async (input) => {
    const result = await signIn(input)
    if (result.ok) {
      await keepSession(result.token)
      return Response.json({})
    }
    if (result.reason === 'wrong') return refuse(401, 'no account has this name and this password', 'Check both. An owner can give you a new password.')
    return refuse(429, `too many attempts under this name: try again in ${result.minutes} minutes`, 'An owner who is signed in can give you a new password.')
  })
