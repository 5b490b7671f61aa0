import { signOut } from '../../../server/accounts.ts'
import { keepSession, sessionToken } from '../../_identity.ts'
import { guarded } from '../_http.ts'

export const POST = (): Promise<Response> =>
  guarded(async () => {
    const token = await sessionToken()
    if (token !== null) await signOut(token)
    await keepSession(null)
    return Response.json({})
  })
