import { encodeEntry } from '../../../../../core/model/index.ts'
import { apart } from '../../../../../server/apart/index.ts'
import { readLedger, ruleInput } from '../../../../../server/review.ts'
import { identity } from '../../../../_identity.ts'
import { answer, guarded } from '../../../_http.ts'
import { refusal } from './_refusal.ts'

type Context = { params: Promise<{ id: string }> }

/** Entries after `?after=`. */
export const GET = (request: Request, { params }: Context): Promise<Response> =>
  guarded(async () => {
    const after = Number(new URL(request.url).searchParams.get('after') ?? 0)
    return Response.json({ entries: (await readLedger((await params).id, Number.isInteger(after) ? after : 0)).map(encodeEntry) })
  })

export const POST = (request: Request, { params }: Context): Promise<Response> =>
  answer(request, ruleInput, async (input) => {
    const result = await apart.appendEntries((await params).id, input, (await identity()).name)
    return 'added' in result ? Response.json({ entries: result.added.map(encodeEntry) }) : refusal(result.refuse)
  })
