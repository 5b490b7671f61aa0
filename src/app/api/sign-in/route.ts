import { signIn, signInInput } from '../../../server/accounts.ts'
import { deviceOf, keepDevice, keepSession } from '../../_identity.ts'
import { answer, refuse } from '../_http.ts'

/**
 * The address a request came from, as the nearest server says it: a proxy puts it last, and without one it is the connection's own. Of an
 * IPv6 address the half that one subscriber has (RFC 6177).
 */
function addressOf(request: Request): string {
  const last = request.headers.get('x-forwarded-for')?.split(',').at(-1)?.trim() ?? ''
  return last.includes(':') && !last.includes('.') ? last.split(':').slice(0, 4).join(':') : last.slice(0, 60)
}

export const POST = (request: Request): Promise<Response> =>
  answer(request, signInInput, async (input) => {
    const result = await signIn(input, { address: addressOf(request), device: await deviceOf(input.name) })
    if (result.ok) {
      await keepSession(result.token)
      await keepDevice(input.name, result.device)
      return Response.json({})
    }
    if (result.reason === 'wrong') return refuse(401, 'no account has this name and this password', 'Check both. An owner can give you a new password.')
    if (result.reason === 'busy') return refuse(429, 'too many people sign in at this moment', 'Try again in a few seconds.')
    return refuse(429, `too many attempts: try again in ${result.minutes} minutes`, 'A browser that was signed in under this name before is let in as ever.')
  })
