import { apart } from '../../../../server/apart/index.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { findSource } from '../../../../server/projects.ts'
import { WatchDesk } from '../../../../ui/watch/WatchDesk.tsx'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  const [plans, environments, job, source] = await Promise.all([apart.keptPlans(id), apart.readEnvironments(id), findLastJob(id, 'apply'), findSource(id)])
  return <WatchDesk projectId={id} plans={plans} environments={environments} hasSource={source?.kind === 'postgresql'} job={job ? jobView(job) : null} />
}
