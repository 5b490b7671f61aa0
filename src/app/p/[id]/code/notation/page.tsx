import { redirect } from 'next/navigation'
import { encodeEntry } from '../../../../../core/model/index.ts'
import { apart } from '../../../../../server/apart/index.ts'
import { NotationDesk } from '../../../../../ui/notation/NotationDesk.tsx'
import { headOf, projectNow } from '../../../../_project.ts'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const [now, head, gate] = await Promise.all([projectNow(id), headOf(id), apart.readGate(id)])
  if (!now?.survey || !gate) redirect(`/p/${id}/source`)
  return (
    <NotationDesk
      projectId={id}
      hash={now.survey.hash}
      findings={head?.findings ?? null}
      rows={now.evidence}
      entries={now.entries.map(encodeEntry)}
      gate={gate}
    />
  )
}
