// Whether a request may go on: who sent it, and whether their role does for what it asks.
import { mayAct, roleNeeded, servesElsewhere } from '../server/access.ts'
import { standingOf } from '../server/accounts.ts'
import { foreign } from './_guard.ts'

export const sessionCookie = 'pelvok-session'

export interface Refused {
  readonly status: 401 | 403
  readonly message: string
  readonly hint: string
}

/** Null where the request may go on. `token` is what its session cookie says. */
export async function refusal(request: { readonly method: string; readonly headers: Headers }, path: string, token: string | null): Promise<Refused | null> {
  const reason = foreign(request)
  if (reason !== null) return { status: 403, message: reason, hint: '' }
  const needed = roleNeeded(request.method, path)
  if (needed === null) return null
  const standing = await standingOf(token)
  if (!standing.signIn) {
    if (!servesElsewhere()) return null
    return {
      status: 403,
      message: 'Pelvok can be reached from beyond this machine, and there is no account',
      hint: 'Start it without PELVOK_LISTEN and PELVOK_URL, make the first account under /accounts, and start it again.',
    }
  }
  if (!standing.account) return { status: 401, message: 'nobody is signed in', hint: 'Sign in again in another tab, then repeat this.' }
  if (mayAct(standing.account.role, needed)) return null
  return {
    status: 403,
    message: `this is for the role ${needed}, and you are a ${standing.account.role}`,
    hint: 'An owner can give you another role, under Accounts.',
  }
}
