import { redirect } from 'next/navigation'
import { activeEntries, encodeEntry } from '../../../../core/model/index.ts'
import { trialPath } from '../../../../core/trial/index.ts'
import { apart } from '../../../../server/apart/index.ts'
import { findSource } from '../../../../server/projects.ts'
import { findRowEvidence, readLedger } from '../../../../server/review.ts'
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
  const [desk, source] = await Promise.all([apart.readTrialDesk(id, pathIn(path)), findSource(id)])
  if (!desk) redirect(`/p/${id}/source`)
  const [entries, rows] = await Promise.all([readLedger(id), findRowEvidence(id, desk.snapshot)])
  const pins = activeEntries(entries).flatMap((e) => (e.kind === 'pin' ? [{ seq: e.seq as number, name: e.name, path: e.path, by: e.by }] : []))
  return (
    <TrialDesk
      projectId={id}
      view={desk.view}
      served={source?.kind === 'postgresql'}
      snapshot={desk.snapshot}
      rows={rows?.hash ?? null}
      entries={source?.kind === 'postgresql' ? [] : entries.map(encodeEntry)}
      pins={pins}
      head={entries.at(-1)?.seq ?? 0}
      writes={desk.writes}
    />
  )
}
