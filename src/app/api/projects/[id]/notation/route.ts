import { encodeEntry } from '../../../../../core/model/index.ts'
import { apart } from '../../../../../server/apart/index.ts'
import { notationInput } from '../../../../../server/notation.ts'
import { identity } from '../../../../_identity.ts'
import { answer, refuse } from '../../../_http.ts'
import { refusal } from '../ledger/_refusal.ts'

/** Enter in the ledger what a notation changes. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, notationInput, async (input) => {
    const result = await apart.takeNotation((await params).id, input, (await identity()).name)
    if ('problems' in result)
      return refuse(
        422,
        result.problems === 1 ? 'one thing is wrong in the text' : `${result.problems} things are wrong in the text`,
        'Nothing was entered. Mend them first.',
      )
    return 'added' in result ? Response.json({ entries: result.added.map(encodeEntry) }) : refusal(result.refuse)
  })
