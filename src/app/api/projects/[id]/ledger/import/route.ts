import { ledgerInput, takeLedger } from '../../../../../../server/review.ts'
import { outcome } from '../../../../_http.ts'

/** Takes over the entries of an exchange file whose beginning is the ledger as it is. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  outcome(request, ledgerInput, async (input) => takeLedger((await params).id, input))
