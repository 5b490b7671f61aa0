import type { SurveyCard } from '../../../../core/lineage/index.ts'
import { isTold, type Words } from '../../../../core/text/told.ts'
import { apart } from '../../../../server/apart/index.ts'
import { readHistory } from '../../../../server/history.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { findProject, findSource } from '../../../../server/projects.ts'
import { SourceView } from '../../../../ui/source/SourceView.tsx'

/** One that cannot be opened is told beside the way to survey again. */
const readingOf = (id: string): Promise<{ readonly survey: SurveyCard | null; readonly problem: Words | null }> =>
  apart.readSourceReading(id).then(
    (survey) => ({ survey, problem: null }),
    (error: unknown) => {
      if (isTold(error)) return { survey: null, problem: error.words }
      throw error
    },
  )

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  // The job first: where it is shown as done, what it read is shown too.
  const job = await findLastJob(id, 'survey')
  const [source, read, history, project] = await Promise.all([findSource(id), readingOf(id), readHistory(id), findProject(id)])
  return (
    <SourceView
      projectId={id}
      name={project?.name ?? ''}
      kind={source?.kind ?? ''}
      label={source?.label ?? ''}
      survey={read.survey}
      problem={read.problem}
      history={history}
      job={job ? jobView(job) : null}
    />
  )
}
