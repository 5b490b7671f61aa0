import { folderInput, writeCodeFolder } from '../../../../../server/codeFolder.ts'
import { identity } from '../../../../_identity.ts'
import { outcome } from '../../../_http.ts'

/** Write the code into a folder, as it was shown. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, folderInput, async (input) => writeCodeFolder((await params).id, input, (await identity()).name))
