import { redirect } from 'next/navigation'
import { trialPath, trialView } from '../../../../core/trial/index.ts'
import { findSource } from '../../../../server/projects.ts'
import { readProjectReview } from '../../../../server/review.ts'
import { TrialDesk } from '../../../../ui/trial/TrialDesk.tsx'

/** The path stands in the address, as JSON; one that is none is as if there were none. */
function pathIn(text: string | undefined) {
  try {
    const parsed = trialPath.safeParse(JSON.parse(text ?? ''))
    return parsed.success ? parsed.data : null
  } catch {
    return null
  }
}

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ path?: string }> }) {
  const [{ id }, { path }] = await Promise.all([params, searchParams])
  const [project, source] = await Promise.all([readProjectReview(id), findSource(id)])
  if (!project) redirect(`/p/${id}/source`)
  return <TrialDesk projectId={id} view={trialView(project.review.model, pathIn(path))} asks={source?.kind === 'postgresql'} />
}
