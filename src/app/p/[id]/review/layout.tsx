import { redirect } from 'next/navigation'
import type { ReactNode } from 'react'
import type { Reading } from '../../../../core/catalog/index.ts'
import { unreadOf } from '../../../../core/lineage/index.ts'
import { encodeEntry } from '../../../../core/model/index.ts'
import { lastCodeFolder } from '../../../../server/codeFolder.ts'
import { findLastJob, jobView } from '../../../../server/jobs.ts'
import { findLastRevision } from '../../../../server/review.ts'
import { enter } from '../../../../server/visits.ts'
import { ReviewDesk } from '../../../../ui/review/ReviewDesk.tsx'
import { identity } from '../../../_identity.ts'
import { headOf, projectNow } from '../../../_project.ts'

/** The desk stands in the layout: a page is made anew when its address changes, and with it the filter, the place and all that is open would be lost. */
export default async function Layout({ children, params }: { children: ReactNode; params: Promise<{ id: string }> }) {
  const { id } = await params
  const now = await projectNow(id)
  if (!now?.survey) redirect(`/p/${id}/source`)
  const { survey, entries, evidence } = now
  const [sealed, head, job, { name: who }, code] = await Promise.all([
    findLastRevision(id),
    headOf(id),
    findLastJob(id, 'rows'),
    identity(),
    lastCodeFolder(id),
  ])
  const visit = await enter(id, who, { seq: entries.at(-1)?.seq ?? 0, snapshot: survey.hash, rows: evidence })
  return (
    <>
      <ReviewDesk
        projectId={id}
        hash={survey.hash}
        findings={head?.findings ?? null}
        rows={evidence}
        hasRows={now.source === 'postgresql'}
        rowsJob={job ? jobView(job) : null}
        unread={unreadOf(JSON.parse(survey.reading) as Reading)}
        statistics={survey.statistics}
        entries={entries.map(encodeEntry)}
        questions={head?.questions ?? []}
        sealed={sealed ? sealed.ledger : null}
        visitor={{ who, last: visit.last }}
        place={visit.place}
        overridden={code?.overridden ?? {}}
      />
      {children}
    </>
  )
}
