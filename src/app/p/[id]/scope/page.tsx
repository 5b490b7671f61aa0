import { redirect } from 'next/navigation'
import { encodeEntry } from '../../../../core/model/index.ts'
import { ScopeDesk } from '../../../../ui/scope/ScopeDesk.tsx'
import { projectNow } from '../../../_project.ts'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const now = await projectNow(id)
  if (!now?.survey) redirect(`/p/${id}/source`)
  return <ScopeDesk projectId={id} hash={now.survey.hash} entries={now.entries.map(encodeEntry)} />
}
