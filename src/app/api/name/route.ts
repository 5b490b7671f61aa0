import { cookies } from 'next/headers'
import { z } from 'zod'
import { nameCookie, standing } from '../../_identity.ts'
import { answer, refuse } from '../_http.ts'

const input = z.strictObject({ name: z.string().trim().min(1, 'enter a name').max(80, 'at most 80 characters') })

export const POST = (request: Request): Promise<Response> =>
  answer(request, input, async ({ name }) => {
    if ((await standing()).signIn) return refuse(409, 'people sign in here', 'Rulings are signed with the name of the account.')
    ;(await cookies()).set(nameCookie, name, { httpOnly: true, sameSite: 'strict', path: '/', maxAge: 60 * 60 * 24 * 365 })
    return Response.json({ name })
  })
