'use client'

import type { EditView } from '../../core/lineage/index.ts'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'
import { EditForm } from './EditForm.tsx'

interface Props {
  readonly projectId: string
  readonly edits: readonly EditView[]
  readonly head: number
}

/** Changes of the database that the review asks for, what became of each, and a form for more. */
export function Changes({ projectId, edits, head }: Props) {
  const { wording, busy, send } = useSend()
  return (
    <section aria-label="Schema changes" className="px-3 py-2">
      <h2 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Schema changes</h2>
      {edits.length === 0 ? (
        <p className="mt-1 font-serif text-base">None yet. A finding offers some, on the review’s right side; others are asked for here.</p>
      ) : null}
      <ul>
        {edits.map((e) => (
          <li key={e.seq} className="mt-1.5 flex gap-2">
            <div className="min-w-0 flex-1">
              {e.parts.map((p) => (
                <p key={p.says} className="break-words">
                  {p.says}
                  {p.is === 'there' ? <span className="text-settled"> ✓ there already</span> : null}
                  {p.is === 'refused' ? <span className="text-needs"> ▲ left out: {p.because}</span> : null}
                </p>
              ))}
              <p className="text-[0.9em] text-soft">
                entry {e.seq} by {e.by}
              </p>
            </div>
            <button
              type="button"
              className="btn btn-xs"
              disabled={busy}
              aria-label={`Take back entry ${e.seq}`}
              onClick={() => void send(`/api/projects/${projectId}/ledger/revert`, { seq: e.seq })}
            >
              Take back
            </button>
          </li>
        ))}
      </ul>
      {wording ? <Complaint wording={wording} /> : null}
      <EditForm projectId={projectId} head={head} />
    </section>
  )
}
