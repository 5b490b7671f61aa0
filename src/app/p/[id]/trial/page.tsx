import { redirect } from 'next/navigation'
import { activeEntries, encodeEntry } from '../../../../core/model/index.ts'
import { trialPath } from '../../../../core/trial/index.ts'
import { apart } from '../../../../server/apart/index.ts'
import { NotYet } from '../../../../ui/frame/NotYet.tsx'
import { TrialDesk } from '../../../../ui/trial/TrialDesk.tsx'
import { headOf, projectNow } from '../../../_project.ts'
import { noTrialBecause } from '../_stages.ts'

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
  const [head, known] = await Promise.all([headOf(id), projectNow(id)])
  const because = head && noTrialBecause(head.dialect, known?.source ?? null)
  if (because) return <NotYet stage="Trial" because={because} />
  const [desk, now] = await Promise.all([apart.readTrialDesk(id, pathIn(path)), projectNow(id)])
  if (!desk || !now) redirect(`/p/${id}/source`)
  const { entries } = now
  const pins = activeEntries(entries).flatMap((e) => (e.kind === 'pin' ? [{ seq: e.seq as number, name: e.name, path: e.path, by: e.by }] : []))
  return (
    <TrialDesk
      projectId={id}
      view={desk.view}
      served={now.source === 'postgresql'}
      snapshot={desk.snapshot}
      rows={now.evidence}
      entries={now.source === 'postgresql' ? [] : entries.map(encodeEntry)}
      pins={pins}
      head={entries.at(-1)?.seq ?? 0}
      writes={desk.writes}
    />
  )
}
