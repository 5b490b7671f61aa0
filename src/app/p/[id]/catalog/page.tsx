import { redirect } from 'next/navigation'
import { encodeEntry } from '../../../../core/model/index.ts'
import { CatalogDesk } from '../../../../ui/catalog/CatalogDesk.tsx'
import { projectNow } from '../../../_project.ts'

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ at?: string; column?: string }> }

export default async function Page({ params, searchParams }: Props) {
  const { id } = await params
  const now = await projectNow(id)
  if (!now?.survey) redirect(`/p/${id}/source`)
  const { at, column } = await searchParams
  return <CatalogDesk projectId={id} hash={now.survey.hash} entries={now.entries.map(encodeEntry)} at={at ?? null} column={column ?? null} />
}
