import { revertedSeqs } from '../../../../core/model/index.ts'
import { entryText } from '../../../../core/review/index.ts'
import { readLedger } from '../../../../server/review.ts'
import { LedgerList } from '../../../../ui/ledger/LedgerList.tsx'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const entries = await readLedger(id)
  const gone = revertedSeqs(entries)
  return (
    <LedgerList
      projectId={id}
      entries={entries.toReversed().map((e) => ({ seq: e.seq, by: e.by, at: e.at, what: entryText(e), reverted: gone.has(e.seq), kind: e.kind }))}
    />
  )
}
