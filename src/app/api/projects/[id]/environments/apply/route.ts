import { apart } from '../../../../../../server/apart/index.ts'
import { applyInput } from '../../../../../../server/environments.ts'
import { startJob } from '../../../../../../server/jobs.ts'
import { identity } from '../../../../../_identity.ts'
import { outcome } from '../../../../_http.ts'

/** Start applying plans to an environment, or taking them back. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, applyInput, async (input) => {
    const { id } = await params
    const may = await apart.mayApply(id, input)
    return may.ok ? { ok: true, value: { id: await startJob(id, 'apply', (await identity()).name, input) } } : may
  })
