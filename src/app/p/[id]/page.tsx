import { redirect } from 'next/navigation'
import { findSurvey } from '../../../server/review.ts'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  redirect((await findSurvey(id)) ? `/p/${id}/review` : `/p/${id}/source`)
}
