import { accountChange, changeAccount } from '../../../../server/accounts.ts'
import { answer, refuse } from '../../_http.ts'

export const POST = (request: Request, { params }: { params: Promise<{ account: string }> }): Promise<Response> =>
  answer(request, accountChange, async (input) => {
    const { account } = await params
    const result = /^\d+$/.test(account) ? await changeAccount(account, input) : 'no such account'
    if (result === 'done') return Response.json({})
    if (result === 'no such account') return refuse(404, 'there is no such account', 'Reload; somebody may have removed it.')
    return refuse(409, 'this is the only owner', 'Make another account an owner first: somebody must be able to change accounts.')
  })
