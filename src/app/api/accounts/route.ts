import { accountInput, makeAccount } from '../../../server/accounts.ts'
import { identity, keepSession, standing } from '../../_identity.ts'
import { answer, refuse } from '../_http.ts'

/** The first account makes whoever made it sign in by it. */
export const POST = (request: Request): Promise<Response> =>
  answer(request, accountInput, async (input) => {
    const [now, who] = await Promise.all([standing(), identity()])
    const made = await makeAccount(input, who.name, !now.signIn)
    if (!made) return refuse(409, now.signIn ? `there is an account ${input.name}` : 'somebody made the first account meanwhile', now.signIn ? '' : 'Sign in.')
    if (made.token !== null) await keepSession(made.token)
    return Response.json({})
  })
