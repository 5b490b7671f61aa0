import { cancelJob } from '../../../../../server/jobs.ts'
import { guarded } from '../../../_http.ts'

export const POST = (_: Request, { params }: { params: Promise<{ job: string }> }): Promise<Response> =>
  guarded(async () => {
    await cancelJob(Number((await params).job))
    return Response.json({})
  })
