import { redirect } from 'next/navigation'
import { encodeEntry } from '../../../../../core/model/index.ts'
import { apart } from '../../../../../server/apart/index.ts'
import { findRowEvidence, findSurvey, readLedger } from '../../../../../server/review.ts'
import { NotationDesk } from '../../../../../ui/notation/NotationDesk.tsx'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const survey = await findSurvey(id)
  if (!survey) redirect(`/p/${id}/source`)
  const [entries, rows, findings, gate] = await Promise.all([readLedger(id), findRowEvidence(id, survey.hash), apart.findingsKeyOf(id), apart.readGate(id)])
  if (!gate) redirect(`/p/${id}/source`)
  return <NotationDesk projectId={id} hash={survey.hash} findings={findings} rows={rows?.hash ?? null} entries={entries.map(encodeEntry)} gate={gate} />
}
