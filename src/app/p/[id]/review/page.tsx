import { redirect } from 'next/navigation'
import { encodeEntry } from '../../../../core/model/index.ts'
import { renameQuestionsOf } from '../../../../server/history.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { findSource } from '../../../../server/projects.ts'
import { findLastRevision, findRowEvidence, findSurvey, readLedger } from '../../../../server/review.ts'
import { ReviewDesk } from '../../../../ui/review/ReviewDesk.tsx'

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ at?: string }> }) {
  const { id } = await params
  const survey = await findSurvey(id)
  if (!survey) redirect(`/p/${id}/source`)
  const [entries, sealed, questions, rows, source, job] = await Promise.all([
    readLedger(id),
    findLastRevision(id),
    renameQuestionsOf(id),
    findRowEvidence(id, survey.hash),
    findSource(id),
    findLastJob(id, 'rows'),
  ])
  return (
    <ReviewDesk
      projectId={id}
      hash={survey.hash}
      rows={rows?.hash ?? null}
      hasRows={source?.kind === 'postgresql'}
      rowsJob={job ? jobView(job) : null}
      statistics={survey.statistics}
      entries={entries.map(encodeEntry)}
      questions={questions}
      sealed={sealed ? sealed.ledger : null}
      initial={(await searchParams).at ?? null}
    />
  )
}
