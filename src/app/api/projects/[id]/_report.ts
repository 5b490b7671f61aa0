import type { Report } from '../../../../core/review/index.ts'
import { apart } from '../../../../server/apart/index.ts'
import { guarded, refuse } from '../../_http.ts'

/** The review as a document to keep. */
export const reportResponse = (params: Promise<{ id: string }>, type: string, file: string, print: (r: Report) => string): Promise<Response> =>
  guarded(async () => {
    const report = await apart.reviewReport((await params).id)
    if (!report) return refuse(404, 'there is nothing to report yet', 'Survey the source first.')
    return new Response(print(report), { headers: { 'content-type': type, 'content-disposition': `attachment; filename="${file}"` } })
  })
