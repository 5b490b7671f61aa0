import { apart } from '../../../../../../../server/apart/index.ts'
import { guarded, refuse } from '../../../../../_http.ts'

/** SQL that makes an environment what the plans that are applied there lead to. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string; environment: string }> }): Promise<Response> =>
  guarded(async () => {
    const { id, environment } = await params
    const result = await apart.repairScript(id, Number(environment))
    if (!result.ok) return refuse(409, result.wording.message, result.wording.hint, result.wording.detail)
    return new Response(result.value, {
      headers: { 'content-type': 'application/sql; charset=utf-8', 'content-disposition': 'attachment; filename="repair.sql"' },
    })
  })
