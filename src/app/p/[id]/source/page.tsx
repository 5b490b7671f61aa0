import { readHistory } from '../../../../server/history.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { findProject, findSource } from '../../../../server/projects.ts'
import { readProjectReview } from '../../../../server/review.ts'
import { SourceView } from '../../../../ui/source/SourceView.tsx'

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  // The job first: where it is shown as done, what it read is shown too.
  const job = await findLastJob(id, 'survey')
  const [source, project, history, own] = await Promise.all([findSource(id), readProjectReview(id), readHistory(id), findProject(id)])
  const c = project?.catalog
  const survey =
    project && c
      ? {
          hash: project.hash,
          at: project.surveyedAt.toISOString(),
          server: project.reading.server,
          user: project.reading.user,
          counts: [
            ['schemas', c.schemas.length],
            ['tables', c.relations.filter((r) => r.kind === 'table' || r.kind === 'partitioned table').length],
            ['partitions', c.relations.filter((r) => r.kind === 'partition').length],
            ['views', c.relations.filter((r) => r.kind === 'view' || r.kind === 'materialized view').length],
            ['columns', c.relations.reduce((n, r) => n + r.columns.length, 0)],
            ['foreign keys', c.relations.reduce((n, r) => n + r.foreignKeys.length, 0)],
            ['indexes', c.relations.reduce((n, r) => n + r.indexes.length, 0)],
            ['types', c.enums.length + c.domains.length + c.composites.length],
            ['sequences', c.sequences.length],
            ['routines', c.routines.length],
          ] as [string, number][],
          census: project.reading.census,
          unmodelled: c.unmodelled,
          notReadable: project.reading.notReadable.map((r) => `${r.schema}.${r.name}`),
          withGrants: project.reading.withGrants,
          ownOptions: project.reading.ownOptions ?? [],
          script: project.reading.script ?? null,
        }
      : null
  return (
    <SourceView
      projectId={id}
      name={own?.name ?? ''}
      kind={source?.kind ?? ''}
      label={source?.label ?? ''}
      survey={survey}
      history={history}
      job={job ? jobView(job) : null}
    />
  )
}
