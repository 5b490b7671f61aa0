import { apart } from '../../../../../server/apart/index.ts'
import { parseWhich } from '../../../../../server/plans.ts'
import { archiveResponse } from '../_archive.ts'

/** The folder of a plan: `?which=baseline`, `draft` or its number. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> => {
  const w = parseWhich(new URL(request.url).searchParams.get('which') ?? undefined) ?? 'baseline'
  // A kept plan was sealed when it was kept.
  return archiveResponse(params, w === 'baseline' ? 'baseline' : `plan-${w}`, typeof w !== 'number', (id) => apart.planArchive(id, w))
}
