'use client'

import { useState } from 'react'
import type { PlanView, StepView } from '../../core/lineage/index.ts'
import { Complaint } from '../common/Complaint.tsx'
import { LazySourceText } from '../common/LazySourceText.tsx'
import { useSend } from '../common/useSend.ts'

interface Props {
  readonly projectId: string
  readonly plan: PlanView
  readonly step: NonNullable<PlanView['step']>
  readonly about: StepView | null
}

/** One step: what it locks, and its SQL both ways. Of a kept plan it may be written by hand. */
export function StepPane({ projectId, plan, step, about }: Props) {
  const [editing, setEditing] = useState(false)
  return (
    <section aria-label="The step" className="border-t border-rule px-4 pb-4">
      <div className="flex items-baseline gap-3 pt-2">
        <h2 className="min-w-0 flex-1">
          <span className="db block text-base break-words">
            {step.number}. {step.object}
          </span>
          <span className="block text-sm font-normal text-soft">{step.says}</span>
        </h2>
        {typeof plan.which === 'number' && !editing ? (
          <button type="button" className="btn btn-xs" onClick={() => setEditing(true)}>
            Write it by hand
          </button>
        ) : null}
      </div>
      {about && about.locks.length > 0 ? (
        <p className="text-soft">
          Locks{' '}
          {about.locks.map((l, i) => (
            <span key={l.relation}>
              {i > 0 ? ', ' : ''}
              <span className="db text-ink">{l.relation}</span> {l.mode}
              {l.size === '' ? '' : ` (${l.size})`}
            </span>
          ))}
        </p>
      ) : null}
      {editing && typeof plan.which === 'number' ? (
        <EditStep key={step.number} projectId={projectId} number={plan.which} step={step} onDone={() => setEditing(false)} />
      ) : (
        <>
          <SqlPart title="Up" text={step.up} />
          <SqlPart title="Down" text={step.down === '' ? '-- nothing to do: another step takes it back, or there is no way back' : step.down} />
        </>
      )}
    </section>
  )
}

function SqlPart({ title, text }: { title: string; text: string }) {
  return (
    <div className="py-1">
      <h3 className="font-sans text-sm font-semibold text-soft">{title}</h3>
      <div className="border border-rule">
        <LazySourceText text={text} language="sql" label={`${title}, read-only`} numbers={false} />
      </div>
    </div>
  )
}

function EditStep({ projectId, number, step, onDone }: { projectId: string; number: number; step: NonNullable<PlanView['step']>; onDone: () => void }) {
  const [up, setUp] = useState(step.up)
  const [down, setDown] = useState(step.down)
  const { wording, busy, send } = useSend()
  return (
    <form
      aria-label="SQL by hand"
      onSubmit={(e) => {
        e.preventDefault()
        void send(`/api/projects/${projectId}/plans/edit`, { number, step: step.number, up, down }).then((done) => done && onDone())
      }}
    >
      {(
        [
          ['Up', up, setUp],
          ['Down', down, setDown],
        ] as const
      ).map(([title, value, set]) => (
        <label key={title} className="mt-1 block">
          <span className="font-sans text-sm font-semibold text-soft">{title}</span>
          <textarea className="db textarea h-32 w-full" spellCheck={false} value={value} onChange={(e) => set(e.target.value)} />
        </label>
      ))}
      {wording ? <Complaint wording={wording} /> : null}
      <p className="mt-1 flex gap-2">
        <button type="submit" className="btn btn-sm btn-primary" disabled={busy}>
          Keep it
        </button>
        <button type="button" className="btn btn-sm" onClick={onDone}>
          Leave it as it was
        </button>
        <span className="self-center text-soft">Rehearse it again afterwards: it was proven as it was.</span>
      </p>
    </form>
  )
}
