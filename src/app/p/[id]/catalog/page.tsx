import { redirect } from 'next/navigation'
import { encodeEntry } from '../../../../core/model/index.ts'
import { findSurvey, readLedger } from '../../../../server/review.ts'
import { CatalogDesk } from '../../../../ui/catalog/CatalogDesk.tsx'

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ at?: string; column?: string }> }

export default async function Page({ params, searchParams }: Props) {
  const { id } = await params
  const survey = await findSurvey(id)
  if (!survey) redirect(`/p/${id}/source`)
  const { at, column } = await searchParams
  return <CatalogDesk projectId={id} hash={survey.hash} entries={(await readLedger(id)).map(encodeEntry)} at={at ?? null} column={column ?? null} />
}
