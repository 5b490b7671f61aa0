import { apart } from '../../../../../server/apart/index.ts'
import { archiveResponse } from '../_archive.ts'

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> => archiveResponse(params, 'code', true, apart.codeArchive)
