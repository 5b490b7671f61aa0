import { Complaint } from './Complaint.tsx'
import type { JobHandle } from './useJob.ts'

/** What a job is doing, in its own units, with a way to end it; afterwards how it ended, where it did not end well. */
export function JobStrip({ handle, unit }: { handle: JobHandle; unit: string }) {
  const { job, busy, wording } = handle
  return (
    <div aria-live="polite">
      {wording ? <Complaint wording={wording} /> : null}
      {busy && job ? (
        <div className="flex items-center gap-3">
          <progress className="progress w-48" {...(job.total ? { value: job.done, max: job.total } : {})} aria-label="progress" />
          <span>
            {job.state === 'waiting' ? 'Waiting for its turn' : job.total ? `${job.done} of ${job.total} ${unit}` : `${job.done} ${unit}`}
            {job.doing === '' ? '' : `, ${job.doing}`}
          </span>
          <button type="button" className="btn btn-xs" onClick={handle.cancel} disabled={job.cancelRequested}>
            {job.cancelRequested ? 'Ending …' : 'Cancel'}
          </button>
        </div>
      ) : null}
      {job?.state === 'failed' && job.error ? <Complaint wording={job.error} /> : null}
      {job?.state === 'cancelled' ? (
        <p className="text-soft">
          {job.kind === 'apply' ? 'Ended between two steps. What ran stays; applying again goes on from there.' : 'Cancelled. Nothing was kept of it.'}
        </p>
      ) : null}
    </div>
  )
}
