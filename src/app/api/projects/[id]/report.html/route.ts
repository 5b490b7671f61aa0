import { reportHtml } from '../../../../../core/review/index.ts'
import { reportResponse } from '../_report.ts'

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  reportResponse(params, 'text/html; charset=utf-8', 'review.html', reportHtml)
