'use client'

import type { RowsView } from '../../core/review/index.ts'
import { JobStrip } from '../common/JobStrip.tsx'
import type { JobView } from '../common/job.ts'
import { timeText } from '../common/time.ts'
import { useJob } from '../common/useJob.ts'
import { FileRows } from './FileRows.tsx'

/** Whether rows were read as evidence, and what reading them would come to. */
interface Props {
  readonly projectId: string
  readonly snapshot: string
  readonly rows: RowsView
  readonly job: JobView | null
}

export function RowsRead({ projectId, snapshot, rows, job }: Props) {
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
              ? `Rows read ${timeText(read.at)}: ${read.inclusions} ${read.inclusions === 1 ? 'comparison' : 'comparisons'}, ${read.orphans} with rows that point nowhere${read.unread > 0 ? `, ${read.unread} not read` : ''}.`
              : 'No rows read yet; guesses rest on names and types.'}
          </span>
          {rows.dialect === 'sqlite' ? null : (
            <button type="button" className="btn btn-xs" onClick={handle.start} title={`Read-only, a sample first: ${amount}`}>
              {read ? 'Read again' : 'Read rows'}
            </button>
          )}
        </div>
      )}
      {rows.dialect === 'sqlite' ? (
        <FileRows
          projectId={projectId}
          snapshot={snapshot}
          label={read ? 'Choose the file and read again' : 'Choose the file and read rows'}
          title={`The file stays in this browser; only counts are kept: ${amount}`}
        />
      ) : null}
      {!read && !handle.busy ? <p className="text-[0.92em] text-soft">{amount}; read-only, a sample first.</p> : null}
      <JobStrip handle={handle} unit="sets of columns" />
    </div>
  )
}
