import { redirect } from 'next/navigation'
import { activeEntries, encodeEntry } from '../../../../core/model/index.ts'
import { trialPath, trialView, writesOf } from '../../../../core/trial/index.ts'
import { findSource } from '../../../../server/projects.ts'
import { findRowEvidence, readLedger, readProjectReview } from '../../../../server/review.ts'
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
  const [entries, rows] = await Promise.all([readLedger(id), findRowEvidence(id, project.hash)])
  const pins = activeEntries(entries).flatMap((e) => (e.kind === 'pin' ? [{ seq: e.seq as number, name: e.name, path: e.path, by: e.by }] : []))
  const view = trialView(project.review.model, pathIn(path))
  const last = view.places.at(-1)
  return (
    <TrialDesk
      projectId={id}
      view={view}
      served={source?.kind === 'postgresql'}
      snapshot={project.hash}
      rows={rows?.hash ?? null}
      entries={source?.kind === 'postgresql' ? [] : entries.map(encodeEntry)}
      pins={pins}
      head={entries.at(-1)?.seq ?? 0}
      writes={writesOf(project.base.catalog, project.review.model, last?.id ?? '')}
    />
  )
}
