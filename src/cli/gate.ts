// The gate before outputs, as in the app: nothing comes out while a finding is open that changes it, unless its proposal is taken as it stands.
import type { Finding } from '../core/model/index.ts'
import { blockingOf } from '../core/review/index.ts'
import { ExitError } from './exit.ts'
import type { ReadReview } from './reading.ts'

/** What is open and changes what comes out. Of a notation nothing is: it says all of the model. */
export const openIn = (read: Pick<ReadReview, 'review' | 'isNotation'>): readonly Finding[] => (read.isNotation ? [] : blockingOf(read.review))

/** `0.85  reference:field.crate(bay_id): field.bay(id)` */
const openLine = (f: Finding) => `open, ${f.alternatives[0].confidence.toFixed(2)}  ${f.id}: ${f.alternatives[0].key}`.replaceAll('%20', ' ')

/** Throws ExitError 1 where something is open and not taken, with all of it listed before. Gives what is taken as it stands. */
export function gate(read: ReadReview, take: boolean, say: (line: string) => void): readonly Finding[] {
  const open = openIn(read)
  if (open.length === 0) return []
  const many = open.length === 1 ? 'one finding is' : `${open.length} findings are`
  if (take) {
    say(`${many} open: what ${open.length === 1 ? 'it proposes' : 'they propose'} was taken as it stands`)
    return open
  }
  for (const f of open) say(openLine(f))
  throw new ExitError(1, {
    message: `${many} open that ${open.length === 1 ? 'changes' : 'change'} what comes out; nothing was written`,
    detail: '',
    hint: 'Rule on what is listed above and give the ledger with --ledger, or take the proposals as they stand with --take.',
  })
}
