import type { LedgerRefusal } from '../../../../../server/review.ts'
import { refuse } from '../../../_http.ts'

/** A refusal of the ledger as an answer. */
export function refusal(r: LedgerRefusal): Response {
  switch (r.reason) {
    case 'conflict':
      return refuse(409, `${r.with.by} changed the same thing meanwhile (entry ${r.with.seq})`, 'Look at it as it is now, then decide again.')
    case 'no survey':
      return refuse(409, 'this project has no survey yet', 'Survey the source first.')
    case 'gate':
      return refuse(409, r.message, r.hint)
    case 'name':
    case 'subject':
    case 'revert':
    case 'kind':
      return refuse(422, r.message)
    default:
      return unreachable(r)
  }
}

function unreachable(r: never): never {
  throw new Error(`a refusal of no known reason: ${JSON.stringify(r)}`)
}
