'use client'

import type { RowsView } from '../../workers/messages.ts'
import { JobStrip } from '../common/JobStrip.tsx'
import type { JobView } from '../common/job.ts'
import { timeText } from '../common/time.ts'
import { useJob } from '../common/useJob.ts'

/** Whether rows were read as evidence, and what reading them would come to. */
export function RowsRead({ projectId, rows, job }: { readonly projectId: string; readonly rows: RowsView; readonly job: JobView | null }) {
  const handle = useJob(projectId, 'rows', job)
  const { read } = rows
  const amount = `${rows.sets} sets of columns in ${rows.tables} tables${rows.rows === null ? '' : `, about ${rows.rows.toLocaleString('en')} rows`}`
  if (rows.sets === 0) return null
  return (
    <div className="border-b border-rule px-3 py-1.5">
      {handle.busy ? null : (
        <div className="flex items-baseline gap-2">
          <span className="flex-1 text-soft">
            {read
              ? `Rows read ${timeText(read.at)}: ${read.inclusions} comparisons, ${read.orphans} with rows that point nowhere${read.unread > 0 ? `, ${read.unread} not read` : ''}.`
              : 'No rows were read: names and types speak alone.'}
          </span>
          <button type="button" className="btn btn-xs" onClick={handle.start} title={`Read-only, a sample first: ${amount}`}>
            {read ? 'Read again' : 'Read rows'}
          </button>
        </div>
      )}
      {!read && !handle.busy ? <p className="text-[0.92em] text-soft">{amount}; read-only, a sample first.</p> : null}
      <JobStrip handle={handle} unit="sets of columns" />
    </div>
  )
}
