import { codeArchive } from '../../../../../server/outputs.ts'
import { archiveResponse } from '../_archive.ts'

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> => archiveResponse(params, 'code', true, codeArchive)
