'use client'

import Link from 'next/link'
import type { EditView } from '../../core/lineage/index.ts'
import { AskChange, newTable } from '../change/Asking.tsx'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'

interface Props {
  readonly projectId: string
  readonly edits: readonly EditView[]
}

/** Changes of the database that are asked for, what became of each, and where more are. */
export function Changes({ projectId, edits }: Props) {
  const { wording, busy, send } = useSend()
  return (
    <section aria-label="Schema changes" className="px-3 py-2">
      <h2 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Schema changes</h2>
      <p className="mt-1 font-serif text-base">
        {edits.length === 0 ? 'None yet. ' : ''}A change is asked for where the thing is: at a plate, a line or a finding of the{' '}
        <Link className="link" href={`/p/${projectId}/review`}>
          review
        </Link>
        , on a sheet, or at a table, a column or a key in the{' '}
        <Link className="link" href={`/p/${projectId}/catalog`}>
          catalog
        </Link>
        .
      </p>
      <p className="mt-1">
        <AskChange thing={newTable} label="A new table …" />
      </p>
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
              {e.thing ? <AskChange thing={e.thing} label="More about this table …" of={e.thing.table ?? ''} /> : null}
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
    </section>
  )
}
