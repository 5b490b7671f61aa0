import { revertedSeqs } from '../../../../core/model/index.ts'
import { entryText } from '../../../../core/review/index.ts'
import { LedgerList } from '../../../../ui/ledger/LedgerList.tsx'
import { projectNow } from '../../../_project.ts'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const entries = (await projectNow(id))?.entries ?? []
  const gone = revertedSeqs(entries)
  return (
    <LedgerList
      projectId={id}
      entries={entries.toReversed().map((e) => ({ seq: e.seq, by: e.by, at: e.at, what: entryText(e), reverted: gone.has(e.seq), kind: e.kind }))}
    />
  )
}
