import { z } from 'zod'
import { encodeEntry } from '../../../../../../core/model/index.ts'
import { revertEntry } from '../../../../../../server/review.ts'
import { identity } from '../../../../../_identity.ts'
import { answer } from '../../../../_http.ts'
import { refusal } from '../_refusal.ts'

/** `batch`: with all that was ruled at once with it. */
const input = z.strictObject({ seq: z.int().min(1), batch: z.boolean().default(false) })

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, input, async ({ seq, batch }) => {
    const result = await revertEntry((await params).id, seq, (await identity()).name, batch)
    return 'added' in result ? Response.json({ entries: result.added.map(encodeEntry) }) : refusal(result.refuse)
  })
