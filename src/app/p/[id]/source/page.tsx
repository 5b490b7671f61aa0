import { apart } from '../../../../server/apart/index.ts'
import { readHistory } from '../../../../server/history.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { findProject, findSource } from '../../../../server/projects.ts'
import { SourceView } from '../../../../ui/source/SourceView.tsx'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  // The job first: where it is shown as done, what it read is shown too.
  const job = await findLastJob(id, 'survey')
  const [source, survey, history, project] = await Promise.all([findSource(id), apart.readSourceReading(id), readHistory(id), findProject(id)])
  return (
    <SourceView
      projectId={id}
      name={project?.name ?? ''}
      kind={source?.kind ?? ''}
      label={source?.label ?? ''}
      survey={survey}
      history={history}
      job={job ? jobView(job) : null}
    />
  )
}
