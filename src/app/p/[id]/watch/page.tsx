import { apart } from '../../../../server/apart/index.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { findSource } from '../../../../server/projects.ts'
import { NotYet } from '../../../../ui/frame/NotYet.tsx'
import { WatchDesk } from '../../../../ui/watch/WatchDesk.tsx'
import { headOf } from '../../../_project.ts'
import { noWatchBecause } from '../_stages.ts'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const head = await headOf(id)
  const because = head && noWatchBecause(head.dialect)
  if (because) return <NotYet stage="Watch" because={because} />
  const [plans, environments, job, source] = await Promise.all([apart.keptPlans(id), apart.readEnvironments(id), findLastJob(id, 'apply'), findSource(id)])
  return <WatchDesk projectId={id} plans={plans} environments={environments} hasSource={source?.kind === 'postgresql'} job={job ? jobView(job) : null} />
}
