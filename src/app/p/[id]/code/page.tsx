import { redirect } from 'next/navigation'
import { revisionText } from '../../../../core/model/index.ts'
import { readGate } from '../../../../server/gate.ts'
import { readCode } from '../../../../server/outputs.ts'
import { CodeDesk } from '../../../../ui/code/CodeDesk.tsx'

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ file?: string }> }) {
  const { id } = await params
  const [code, gate] = await Promise.all([readCode(id), readGate(id)])
  if (!code || !gate) redirect(`/p/${id}/source`)
  const wanted = (await searchParams).file
  const file = code.files.find((f) => f.path === wanted) ?? code.files[0]
  return (
    <CodeDesk
      projectId={id}
      gate={gate}
      remarks={code.remarks}
      revision={revisionText(code.revision)}
      paths={code.files.map((f) => f.path)}
      file={file ?? { path: '', text: '' }}
    />
  )
}
