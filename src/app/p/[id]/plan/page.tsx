import { redirect } from 'next/navigation'
import { apart } from '../../../../server/apart/index.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { parseWhich } from '../../../../server/plans.ts'
import { findSource } from '../../../../server/projects.ts'
import { rehearsalView } from '../../../../server/rehearsals.ts'
import { NotYet } from '../../../../ui/frame/NotYet.tsx'
import { PlanDesk } from '../../../../ui/plan/PlanDesk.tsx'
import { headOf } from '../../../_project.ts'
import { noPlansBecause } from '../_stages.ts'

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ plan?: string; step?: string }> }

export default async function Page({ params, searchParams }: Props) {
  const [{ id }, { plan, step }] = await Promise.all([params, searchParams])
  const head = await headOf(id)
  const because = head && noPlansBecause(head.dialect)
  if (because) return <NotYet stage="Plan" because={because} />
  const [view, environments, job, source, gate] = await Promise.all([
    apart.readPlanDesk(id, parseWhich(plan), step === undefined ? null : Number(step)),
    apart.readEnvironments(id),
    findLastJob(id, 'rehearsal'),
    findSource(id),
    apart.readGate(id),
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
