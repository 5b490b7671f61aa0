'use client'

import { useState } from 'react'
import type { DriftItem, EnvironmentView } from '../../core/lineage/index.ts'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'

const short = (text: string | null) => (text === null ? 'nothing' : text.length > 160 ? `${text.slice(0, 160)} …` : text)

/** What one environment has otherwise than the plans that are applied there lead to, each with what can be done about it. */
export function Drift({ projectId, environment: e }: { projectId: string; environment: EnvironmentView }) {
  const { wording, send } = useSend()
  return (
    <section aria-label={`Drift of ${e.name}`} className="border border-rule bg-card px-4 py-2">
      <h2 className="font-serif text-base font-semibold">{e.name}</h2>
      {e.drift === null ? (
        <p className="text-soft">
          {e.status?.some((s) => s.state === 'applied' || s.state === 'adopted')
            ? 'Not looked at since a plan ran: look now.'
            : 'Drift is told once a plan is adopted or applied here.'}
        </p>
      ) : e.drift.length === 0 ? (
        <p className="text-settled">✓ No drift: it is what the plans lead to.</p>
      ) : (
        <>
          <p className="text-needs">
            ▲ {e.drift.length === 1 ? 'One difference' : `${e.drift.length} differences`}.{' '}
            <a className="link" href={`/api/projects/${projectId}/environments/${e.id}/repair`} download>
              SQL that plans {e.drift.length === 1 ? 'it' : 'them'} away
            </a>{' '}
            ·{' '}
            <a className="link" href={`/p/${projectId}/source`}>
              survey the source to take {e.drift.length === 1 ? 'it' : 'them'} into the model
            </a>
          </p>
          <ul>
            {e.drift.map((d) => (
              <Item key={`${d.object} ${d.field}`} projectId={projectId} environment={e.id} item={d} />
            ))}
          </ul>
        </>
      )}
      {e.overlooked.length > 0 ? (
        <details className="mt-1">
          <summary className="cursor-pointer text-soft">{e.overlooked.length} left as they are</summary>
          <ul>
            {e.overlooked.map((o) => (
              <li key={o.id} className="flex items-baseline gap-2">
                <span className="min-w-0 flex-1 break-words">
                  <span className="db">
                    {o.object} {o.field}
                  </span>
                  : {o.reason} <span className="text-soft">({o.by})</span>
                </span>
                <button
                  type="button"
                  className="btn btn-xs"
                  onClick={() => void send(`/api/projects/${projectId}/environments/overlook`, { environment: e.id, again: o.id })}
                >
                  Show it again
                </button>
              </li>
            ))}
          </ul>
        </details>
      ) : null}
      {wording ? <Complaint wording={wording} /> : null}
    </section>
  )
}

function Item({ projectId, environment, item: d }: { projectId: string; environment: number; item: DriftItem }) {
  const { wording, busy, send } = useSend()
  const [reason, setReason] = useState<string | null>(null)
  return (
    <li className="mt-1.5 border-t border-rule pt-1">
      <p className="break-words">
        <b>{d.where}</b>: <span className="db">{d.object}</span>
        {d.field === '' ? null : (
          <>
            {' '}
            {d.field}: <span className="db">{short(d.is)}</span>, where <span className="db">{short(d.was)}</span> is expected
          </>
        )}
      </p>
      <p className="text-soft">
        Remedy: {d.remedy}; or{' '}
        {reason === null ? (
          <button type="button" className="link" onClick={() => setReason('')}>
            leave it as it is
          </button>
        ) : (
          'leave it as it is:'
        )}
        .
      </p>
      {reason === null ? null : (
        <form
          className="mt-1 flex gap-1"
          onSubmit={(e) => {
            e.preventDefault()
            void send(`/api/projects/${projectId}/environments/overlook`, { environment, object: d.object, field: d.field, found: d.is, reason })
          }}
        >
          <input
            className="input input-xs flex-1"
            aria-label="Reason"
            placeholder="The reason"
            required
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
          <button type="submit" className="btn btn-xs" disabled={busy}>
            Leave it
          </button>
        </form>
      )}
      {wording ? <Complaint wording={wording} /> : null}
    </li>
  )
}
