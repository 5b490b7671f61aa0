import { reportMarkdown } from '../../../../../core/review/index.ts'
import { reportResponse } from '../_report.ts'

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  reportResponse(params, 'text/markdown; charset=utf-8', 'review.md', reportMarkdown)
