import { redirect } from 'next/navigation'
import { readEnvironments } from '../../../../server/environments.ts'
import { readGate } from '../../../../server/gate.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { parseWhich, readPlanDesk } from '../../../../server/plans.ts'
import { findSource } from '../../../../server/projects.ts'
import { rehearsalView } from '../../../../server/rehearsals.ts'
import { PlanDesk } from '../../../../ui/plan/PlanDesk.tsx'

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ plan?: string; step?: string }> }

export default async function Page({ params, searchParams }: Props) {
  const [{ id }, { plan, step }] = await Promise.all([params, searchParams])
  const [view, environments, job, source, gate] = await Promise.all([
    readPlanDesk(id, parseWhich(plan), step === undefined ? null : Number(step)),
    readEnvironments(id),
    findLastJob(id, 'rehearsal'),
    findSource(id),
    readGate(id),
  ])
  if (!view || !gate) redirect(`/p/${id}/source`)
  return (
    <PlanDesk
      projectId={id}
      view={view}
      gate={gate}
      environments={environments}
      hasRows={source?.kind === 'postgresql'}
      job={job ? jobView(job) : null}
      rehearsal={job?.state === 'done' && job.result && view.plan ? rehearsalView(job.result, view.plan.mark) : null}
    />
  )
}
