import { redirect } from 'next/navigation'
import { apart } from '../../../../../server/apart/index.ts'
import { lastCodeFolder } from '../../../../../server/codeFolder.ts'
import { allowedRoot } from '../../../../../server/folders.ts'
import { FolderDesk } from '../../../../../ui/code/FolderDesk.tsx'

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ into?: string; file?: string }> }) {
  const { id } = await params
  const { into, file } = await searchParams
  const [gate, last] = await Promise.all([apart.readGate(id), lastCodeFolder(id)])
  if (!gate) redirect(`/p/${id}/source`)
  const answer = into === undefined ? null : await apart.readCodeFolder(id, into, file ?? null)
  return <FolderDesk projectId={id} gate={gate} root={allowedRoot()} into={into ?? last?.into ?? null} answer={answer} />
}
