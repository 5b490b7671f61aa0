import { apart } from '../../../../../server/apart/index.ts'
import { folderInput } from '../../../../../server/codeFolder.ts'
import { identity } from '../../../../_identity.ts'
import { outcome } from '../../../_http.ts'

/** Write the code into a folder, as it was shown. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, folderInput, async (input) => apart.writeCodeFolder((await params).id, input, (await identity()).name))
