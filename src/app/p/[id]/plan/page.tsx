import { redirect } from 'next/navigation'
import { describeHazard, describePlanProblem } from '../../../../core/change/index.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { readBaseline } from '../../../../server/outputs.ts'
import { rehearsalView } from '../../../../server/rehearsals.ts'
import { PlanDesk } from '../../../../ui/plan/PlanDesk.tsx'

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ step?: string }> }) {
  const { id } = await params
  const [baseline, job] = await Promise.all([readBaseline(id), findLastJob(id, 'rehearsal')])
  if (!baseline) redirect(`/p/${id}/source`)
  const { result } = baseline
  if (!result.ok) return <p className="p-6 font-serif text-lg">There is no baseline: {describePlanProblem(result.problem)}.</p>
  const wanted = Number((await searchParams).step)
  const step = result.plan.steps.find((s) => s.number === wanted) ?? result.plan.steps[0]
  return (
    <PlanDesk
      projectId={id}
      revision={baseline.revision}
      steps={result.plan.steps.map((s) => ({ number: s.number, kind: s.kind, object: s.object, hazards: s.hazards.map(describeHazard) }))}
      notSupported={result.plan.notSupported.map((u) => `${u.kind} ${u.identity}`)}
      step={step ? { number: step.number, object: step.object, up: step.up.join('\n'), down: step.down.join('\n') } : null}
      job={job ? jobView(job) : null}
      rehearsal={job?.state === 'done' && job.result ? rehearsalView(job.result, baseline.project.hash) : null}
    />
  )
}
