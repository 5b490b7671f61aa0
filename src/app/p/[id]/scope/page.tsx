import { redirect } from 'next/navigation'
import { encodeEntry } from '../../../../core/model/index.ts'
import { findSurvey, readLedger } from '../../../../server/review.ts'
import { ScopeDesk } from '../../../../ui/scope/ScopeDesk.tsx'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const survey = await findSurvey(id)
  if (!survey) redirect(`/p/${id}/source`)
  return <ScopeDesk projectId={id} hash={survey.hash} entries={(await readLedger(id)).map(encodeEntry)} />
}
