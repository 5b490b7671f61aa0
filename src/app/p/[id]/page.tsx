import { redirect } from 'next/navigation'
import { projectNow } from '../../_project.ts'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  redirect((await projectNow(id))?.survey ? `/p/${id}/review` : `/p/${id}/source`)
}
