import { redirect } from 'next/navigation'
import { revisionText } from '../../../../core/model/index.ts'
import { apart } from '../../../../server/apart/index.ts'
import { CodeDesk } from '../../../../ui/code/CodeDesk.tsx'

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ file?: string }> }) {
  const { id } = await params
  const { file } = await searchParams
  const [code, gate] = await Promise.all([apart.readCode(id, file ?? null), apart.readGate(id)])
  if (!code || !gate) redirect(`/p/${id}/source`)
  return (
    <CodeDesk
      projectId={id}
      gate={gate}
      remarks={code.remarks}
      revision={revisionText(code.revision)}
      settings={code.settings}
      files={code.files.map((f) => ({ path: f.path, isOwn: f.own !== null }))}
      file={code.file ?? { path: '', text: '' }}
    />
  )
}
