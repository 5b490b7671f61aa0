import { apart } from '../../../../../server/apart/index.ts'
import { archiveResponse } from '../_archive.ts'

/** The review as notation, a file for each entity. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  archiveResponse(params, 'notation', true, apart.notationArchive)
