'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { type FormEvent, useState } from 'react'
import type { RehearsalView } from '../../core/change/index.ts'
import type { EnvironmentView, PlanDeskView, PlanView } from '../../core/lineage/index.ts'
import type { GateView } from '../../core/review/index.ts'
import { Complaint } from '../common/Complaint.tsx'
import { JobStrip } from '../common/JobStrip.tsx'
import type { JobView } from '../common/job.ts'
import { Pane } from '../common/Pane.tsx'
import { useJob } from '../common/useJob.ts'
import { useSend } from '../common/useSend.ts'
import { Gate } from '../gate/Gate.tsx'
import { Stale } from '../gate/Stale.tsx'
import { Changes } from './Changes.tsx'
import { Checks } from './Checks.tsx'
import { PlanMapPane } from './PlanMapPane.tsx'
import { RehearsalReport } from './RehearsalReport.tsx'
import { StepList } from './StepList.tsx'
import { StepPane } from './StepPane.tsx'

interface Props {
  readonly projectId: string
  readonly view: PlanDeskView
  readonly gate: GateView
  readonly environments: readonly EnvironmentView[]
  /** Has the source rows that a rehearsal may take along? */
  readonly hasRows: boolean
  readonly job: JobView | null
  readonly rehearsal: RehearsalView | null
}

const numbered = (which: PlanDeskView['plans'][number]['which']) => (typeof which === 'number' ? `${String(which).padStart(4, '0')} ` : '')

/** Plans: the steps on the left; in the middle hazards, the map, and the chosen step; the schema changes that are asked for on the right. */
export function PlanDesk({ projectId, view, gate, environments, hasRows, job, rehearsal }: Props) {
  const { plan } = view
  return (
    <main className="grid h-full" style={{ gridTemplateColumns: 'clamp(260px,23.4vw,400px) minmax(0,1fr) clamp(300px,27vw,460px)' }}>
      <nav aria-label="Steps" className="flex min-h-0 flex-col border-r border-rule">
        <div className="border-b border-rule px-3 py-2">
          <h1 className="sr-only">Plan</h1>
          <ul className="flex flex-wrap gap-1" aria-label="Plans">
            {view.plans.map((p) => (
              <li key={p.which}>
                <Link
                  href={`?plan=${p.which}`}
                  aria-current={plan?.which === p.which ? 'page' : undefined}
                  className={`block border px-1.5 ${plan?.which === p.which ? 'border-ink bg-card font-semibold' : 'border-rule text-soft hover:border-ink'}`}
                >
                  {numbered(p.which)}
                  {p.title}
                </Link>
              </li>
            ))}
          </ul>
          {plan ? <Counted plan={plan} /> : null}
        </div>
        {plan ? <StepList steps={plan.steps} which={plan.which} chosen={plan.step?.number ?? null} /> : null}
      </nav>
      <section aria-label="The plan" className="min-h-0 min-w-0">
        {view.problem === null ? null : <p className="p-4 font-serif text-lg">{view.problem}</p>}
        {plan ? (
          <Pane>
            <Middle projectId={projectId} plan={plan} view={view} gate={gate} environments={environments} hasRows={hasRows} job={job} rehearsal={rehearsal} />
          </Pane>
        ) : null}
      </section>
      <aside className="min-h-0 overflow-auto border-l border-rule">
        <Pane>
          <Changes projectId={projectId} edits={view.edits} />
        </Pane>
      </aside>
    </main>
  )
}

function Counted({ plan }: { plan: PlanView }) {
  const transactions = new Set(plan.steps.flatMap((s) => (s.transaction === null ? [] : [s.transaction]))).size
  const outside = plan.steps.filter((s) => s.transaction === null).length
  return (
    <p className="mt-1 text-soft">
      {plan.steps.length === 1 ? 'one step' : `${plan.steps.length} steps`}
      {plan.steps.length > 0
        ? `, ${transactions === 1 ? 'one transaction' : `${transactions} transactions`}${outside > 0 ? `, ${outside} outside of any` : ''}`
        : ''}
      <br />
      {plan.revision}
    </p>
  )
}

function Middle({
  projectId,
  plan,
  view,
  gate,
  environments,
  hasRows,
  job,
  rehearsal,
}: Omit<Props, 'view'> & { readonly plan: PlanView; readonly view: PlanDeskView }) {
  const handle = useJob(projectId, 'rehearsal', job)
  const checks = plan.steps.reduce((n, s) => n + s.checks, 0)
  if (plan.steps.length === 0)
    return (
      <p className="p-4 font-serif text-lg">
        There is nothing to change{view.plans.length > 2 ? ': what is asked for is in the plans that are kept' : ''}. A schema change is asked for where the
        thing is; the right side says where.
      </p>
    )
  const rehearse = (rows: boolean, made = false) => handle.startAt(`/api/projects/${projectId}/rehearse`, { which: plan.which, rows, made })
  return (
    <div className="grid h-full min-h-0 grid-rows-[auto_minmax(0,5fr)_minmax(0,6fr)]">
      <div className="border-b border-rule px-4 py-2">
        <div className="flex flex-wrap items-center gap-2">
          <button type="button" className="btn btn-sm btn-primary" onClick={() => rehearse(false)} disabled={handle.busy}>
            Rehearse on a scratch database
          </button>
          {hasRows && plan.which !== 'baseline' && plan.which !== 1 ? (
            <button type="button" className="btn btn-sm" onClick={() => rehearse(true)} disabled={handle.busy}>
              Rehearse with rows
            </button>
          ) : null}
          <button
            type="button"
            className="btn btn-sm"
            title="Rows that the schema accepts are stored at the end, read back through the emitted stores, and compared"
            onClick={() => rehearse(false, true)}
            disabled={handle.busy}
          >
            With made-up rows
          </button>
          {typeof plan.which === 'number' || gate.isSealed ? (
            <>
              <a className="btn btn-sm" href={`/api/projects/${projectId}/plan.zip?which=${plan.which}`} download>
                Download the folder
              </a>
              <a className="btn btn-sm" href={`/api/projects/${projectId}/plan.md?which=${plan.which}`} download>
                As text
              </a>
            </>
          ) : null}
        </div>
        <div className="max-h-36 overflow-auto">
          <Told plan={plan} />
        </div>
      </div>
      <Pane>
        <PlanMapPane projectId={projectId} plan={plan} />
      </Pane>
      <div className="min-h-0 overflow-auto border-t border-ink">
        <div className="px-4 py-2">
          {typeof plan.which === 'number' ? (
            <Kept projectId={projectId} plan={plan} number={plan.which} head={view.head} />
          ) : (
            <Gate projectId={projectId} gate={gate} of="plans">
              <Keep projectId={projectId} plan={plan} last={Math.max(0, ...view.plans.flatMap((p) => (typeof p.which === 'number' ? [p.which] : [])))} />
            </Gate>
          )}
          <JobStrip handle={handle} unit="steps" />
          {rehearsal && !handle.busy ? <RehearsalReport r={rehearsal} /> : null}
          <Checks key={plan.mark} projectId={projectId} which={plan.which} count={checks} environments={environments} head={view.head} />
        </div>
        {plan.step ? (
          <StepPane projectId={projectId} plan={plan} step={plan.step} about={plan.steps.find((s) => s.number === plan.step?.number) ?? null} />
        ) : null}
        <Difference plan={plan} />
      </div>
    </div>
  )
}

/** Hazards, the grave ones first, and what is left as it is. */
function Told({ plan }: { plan: PlanView }) {
  const hazards = plan.steps
    .flatMap((s) => s.hazards.map((h) => ({ ...h, step: s.number })))
    .sort((a, b) => Number(b.grave) - Number(a.grave) || a.step - b.step)
  return (
    <>
      {hazards.length > 0 ? (
        <div className="mt-2">
          <h2 className="font-sans text-sm font-semibold text-needs">Hazards</h2>
          <ul>
            {hazards.map((h) => (
              <li key={`${h.step} ${h.says}`} className={`ml-1 ${h.grave ? 'font-semibold' : ''}`} title={h.source}>
                <span className="text-needs">{h.grave ? '▲' : '△'}</span>{' '}
                <Link className="link link-hover" href={`?plan=${plan.which}&step=${h.step}`}>
                  step {h.step}
                </Link>
                : {h.says}
              </li>
            ))}
          </ul>
        </div>
      ) : null}
      {plan.doubts.map((d) => (
        <p key={d.from} className="mt-2 border-l-4 border-needs bg-card px-3 py-1">
          <b>Is it a rename?</b> <span className="db">{d.from}</span> is dropped and <span className="db">{d.to}</span> is made, and they are alike: {d.because}
          . What is there stays only where a rename is asked for.
        </p>
      ))}
      {[...plan.leaves, ...plan.notSupported.map((u) => `not supported yet, and so not made: ${u}`)].map((l) => (
        <p key={l} className="mt-1 text-soft">
          Stays: {l}.
        </p>
      ))}
    </>
  )
}

function Kept({ projectId, plan, number, head }: { projectId: string; plan: PlanView; number: number; head: number }) {
  return (
    <p className="mb-1 text-soft">
      Kept as {String(number).padStart(4, '0')}. It is adopted or applied under{' '}
      <Link className="link" href={`/p/${projectId}/watch`}>
        Watch
      </Link>
      . <Stale made={plan.ledger} head={head} />
      {plan.unproven ? <span className="text-needs"> ▲ It {plan.unproven}.</span> : null}
    </p>
  )
}

/** `last`: number of the last plan that was kept; 0 before the baseline is. */
function Keep({ projectId, plan, last }: { projectId: string; plan: PlanView; last: number }) {
  const router = useRouter()
  const { wording, busy, send } = useSend()
  const [title, setTitle] = useState(plan.which === 'baseline' ? 'baseline' : '')
  if (plan.which === 'draft' && last === 0)
    return <p className="mb-1 text-soft">Keep the baseline first: environments that have the schema already adopt it, and this one follows it.</p>
  const keep = (event: FormEvent) => {
    event.preventDefault()
    void send<{ number: number }>(`/api/projects/${projectId}/plans`, { which: plan.which, title }).then((kept) => kept && router.push(`?plan=${kept.number}`))
  }
  return (
    <form onSubmit={keep} className="mb-1 flex flex-wrap items-center gap-2" aria-label="Keep this plan">
      <input
        aria-label="Title of the plan"
        placeholder="Title of the plan"
        className="input input-sm w-64"
        maxLength={80}
        required
        value={title}
        onChange={(e) => setTitle(e.target.value)}
      />
      <button type="submit" className="btn btn-sm" disabled={busy}>
        Keep as plan {String(last + 1).padStart(4, '0')}
      </button>
      {plan.unproven ? <span className="text-needs">▲ It {plan.unproven}. Rehearse it before it is applied anywhere.</span> : null}
      {wording ? <Complaint wording={wording} /> : null}
    </form>
  )
}

/** The difference of the catalogs, object by object. */
function Difference({ plan }: { plan: PlanView }) {
  if (plan.changes.length === 0) return null
  return (
    <section aria-label="What changes in the catalog" className="border-t border-rule px-4 py-2">
      <h2 className="font-sans text-sm font-semibold">What changes in the catalog</h2>
      <ul>
        {plan.changes.map((c) => (
          <li key={c.object} className="mt-1">
            <span className="db">{c.object}</span> is {c.what}
            <ul className="ml-4">
              {c.fields.map((f) => (
                <li key={f.field} className="break-words">
                  <span className="text-soft">{f.field}:</span> <span className="db">{f.was ?? 'nothing'}</span> →{' '}
                  <span className="db">{f.is ?? 'nothing'}</span>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </section>
  )
}
