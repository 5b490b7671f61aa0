import { z } from 'zod'
import { addEnvironment, addSourceEnvironment, environmentInput } from '../../../../../server/environments.ts'
import { identity } from '../../../../_identity.ts'
import { outcome } from '../../../_http.ts'

/** Add an environment by its URL, or the source's own database. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, z.union([environmentInput, z.strictObject({ from: z.literal('source') })]), async (input) => {
    const { id } = await params
    const by = (await identity()).name
    return 'from' in input ? addSourceEnvironment(id, by) : addEnvironment(id, input, by)
  })
