import { printLedger } from '../../../../../core/model/index.ts'
import { findProject } from '../../../../../server/projects.ts'
import { readLedger } from '../../../../../server/review.ts'
import { guarded, refuse } from '../../../_http.ts'

/** The ledger as its exchange file. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  guarded(async () => {
    const { id } = await params
    if (!(await findProject(id))) return refuse(404, 'there is no such project')
    return new Response(printLedger(await readLedger(id)), {
      headers: { 'content-type': 'application/x-ndjson; charset=utf-8', 'content-disposition': `attachment; filename="${id}.ledger.jsonl"` },
    })
  })
