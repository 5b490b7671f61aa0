'use client'

import Link from 'next/link'
import type { RehearsalView } from '../../core/change/index.ts'
import { JobStrip } from '../common/JobStrip.tsx'
import type { JobView } from '../common/job.ts'
import { SourceText } from '../common/SourceText.tsx'
import { useJob } from '../common/useJob.ts'
import { RehearsalReport } from './RehearsalReport.tsx'

export interface StepLine {
  readonly number: number
  readonly kind: string
  readonly object: string
  readonly hazards: readonly string[]
}

interface Props {
  readonly projectId: string
  readonly revision: string
  readonly steps: readonly StepLine[]
  readonly notSupported: readonly string[]
  readonly step: { readonly number: number; readonly object: string; readonly up: string; readonly down: string } | null
  readonly job: JobView | null
  readonly rehearsal: RehearsalView | null
}

/** The baseline: hazards first, steps in order with their SQL both ways, and the proof on a scratch database. */
export function PlanDesk({ projectId, revision, steps, notSupported, step, job, rehearsal }: Props) {
  const handle = useJob(projectId, 'rehearsal', job)
  const hazards = steps.filter((s) => s.hazards.length > 0)
  return (
    <main className="grid h-full grid-cols-[340px_1fr]">
      <nav aria-label="Steps" className="flex min-h-0 flex-col border-r border-rule">
        <div className="border-b border-rule px-4 py-2">
          <h1 className="text-lg">
            Baseline <span className="font-sans text-sm font-normal text-soft">{steps.length} steps, one transaction</span>
          </h1>
          <p className="text-soft">{revision}</p>
        </div>
        <ol className="min-h-0 flex-1 overflow-auto">
          {steps.map((s) => (
            <li key={s.number}>
              <Link
                href={`?step=${s.number}`}
                aria-current={s.number === step?.number ? 'step' : undefined}
                className={`grid grid-cols-[2.4rem_1fr] gap-2 border-l-4 px-2 py-0.5 ${s.number === step?.number ? 'border-ink bg-card font-semibold' : 'border-transparent hover:bg-card'}`}
              >
                <span className="text-right text-soft">{s.number}</span>
                <span className="db truncate" title={s.object}>
                  {s.hazards.length > 0 ? (
                    <span className="font-sans font-semibold text-needs" title={s.hazards.join('; ')}>
                      ▲{' '}
                    </span>
                  ) : null}
                  {s.object}
                </span>
              </Link>
            </li>
          ))}
        </ol>
      </nav>
      <section className="flex min-h-0 min-w-0 flex-col overflow-auto">
        <div className="flex items-center gap-3 border-b border-rule px-4 py-2">
          <button type="button" className="btn btn-sm btn-primary" onClick={handle.start} disabled={handle.busy}>
            Rehearse on a scratch database
          </button>
          <a className="btn btn-sm" href={`/api/projects/${projectId}/baseline.zip`} download>
            Download the folder
          </a>
          <span className="text-soft">up, down and up again; each time the result is surveyed and compared</span>
        </div>
        <div className="px-4 py-2">
          <JobStrip handle={handle} unit="steps" />
          {rehearsal && !handle.busy ? <RehearsalReport r={rehearsal} /> : null}
          {notSupported.length > 0 ? (
            <div className="mt-2 text-needs">
              <b>{notSupported.length} not supported yet, and so not made:</b>
              <ul className="db ml-4 list-disc">
                {notSupported.map((u) => (
                  <li key={u}>{u}</li>
                ))}
              </ul>
            </div>
          ) : null}
          {hazards.length > 0 ? (
            <div className="mt-2">
              <b className="text-needs">Hazards</b>
              <ul className="ml-4 list-disc">
                {hazards.flatMap((s) =>
                  s.hazards.map((h) => (
                    <li key={`${s.number} ${h}`}>
                      step {s.number}: {h}
                    </li>
                  )),
                )}
              </ul>
            </div>
          ) : null}
        </div>
        {step ? (
          <div className="flex min-h-64 flex-1 flex-col border-t border-rule">
            <h2 className="db px-4 pt-2 text-base">
              {step.number}. {step.object}
            </h2>
            <SqlPart title="Up" text={step.up} />
            <SqlPart title="Down" text={step.down === '' ? '-- removed together with what it belongs to' : step.down} />
          </div>
        ) : null}
      </section>
    </main>
  )
}

function SqlPart({ title, text }: { title: string; text: string }) {
  return (
    <div className="px-4 py-1">
      <h3 className="font-sans text-sm font-semibold text-soft">{title}</h3>
      <div className="border border-rule">
        <SourceText text={text} language="sql" label={`${title}, read-only`} numbers={false} />
      </div>
    </div>
  )
}
