import { z } from 'zod'
import { startJob } from '../../../../../server/jobs.ts'
import { which } from '../../../../../server/plans.ts'
import { identity } from '../../../../_identity.ts'
import { answer } from '../../../_http.ts'

/** Rehearse a plan on a scratch database, with rows of the source, with rows that are made up for it, or without. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  answer(request, z.strictObject({ which, rows: z.boolean(), made: z.boolean().default(false) }), async (input) =>
    Response.json({ id: await startJob((await params).id, 'rehearsal', (await identity()).name, input) }),
  )
