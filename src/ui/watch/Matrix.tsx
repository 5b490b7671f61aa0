'use client'

import { useState } from 'react'
import type { EnvironmentView, KeptPlanView, PlanStateView } from '../../core/lineage/index.ts'
import { Complaint } from '../common/Complaint.tsx'
import { timeText } from '../common/time.ts'
import type { JobHandle } from '../common/useJob.ts'
import { useSend } from '../common/useSend.ts'
import { StepRows } from './StepRows.tsx'

interface Props {
  readonly projectId: string
  readonly plans: readonly KeptPlanView[]
  readonly environments: readonly EnvironmentView[]
  readonly handle: JobHandle
}

const shapes: Readonly<Record<PlanStateView['state'], string>> = {
  applied: '● applied',
  adopted: '● adopted',
  part: '◐ in part',
  'not applied': '○ not applied',
  changed: '▲ changed since',
  'other plan': '▲ another plan of this number',
  'unknown here': '▲ unknown here',
}

const neverApplied = { state: 'not applied', done: 0, at: null, by: null, unproven: null } as const

const named = (number: number, title: string) => `${String(number).padStart(4, '0')} ${title}`

/** Steps by environments, folded into their plans. */
export function Matrix({ projectId, plans, environments, handle }: Props) {
  const [open, setOpen] = useState<ReadonlySet<number>>(new Set())
  const fold = (n: number) => setOpen((before) => new Set(before.has(n) ? [...before].filter((x) => x !== n) : [...before, n]))
  const unknown = [
    ...new Map(
      environments.flatMap((e) => e.status ?? []).flatMap((s) => (s.state === 'unknown here' ? [[`${s.number} ${s.name}`, s] as const] : [])),
    ).values(),
  ].sort((a, b) => a.number - b.number)
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="border-collapse">
        <thead>
          <tr className="align-bottom">
            <th className="border-b border-ink py-1 pr-6 text-left font-sans text-sm">Plans and their steps</th>
            {environments.map((e) => (
              <th key={e.id} className="border-b border-ink px-4 py-1 text-left font-normal">
                <Head projectId={projectId} environment={e} />
              </th>
            ))}
          </tr>
        </thead>
        {plans.map((p) => (
          <tbody key={p.number}>
            <tr className="align-top">
              <th className="border-b border-rule py-1.5 pr-6 text-left font-normal">
                <a className="link link-hover" href={`/p/${projectId}/plan?plan=${p.number}`}>
                  {named(p.number, p.title)}
                </a>
                <button type="button" className="block text-soft hover:text-ink" aria-expanded={open.has(p.number)} onClick={() => fold(p.number)}>
                  {open.has(p.number) ? '▾' : '▸'} {p.steps === 1 ? 'one step' : `${p.steps} steps`}
                </button>
                {p.unproven ? <span className="text-[0.9em] text-needs">▲ {p.unproven}</span> : null}
              </th>
              {environments.map((e) => (
                <td key={e.id} className="border-b border-rule px-4 py-1.5">
                  <Cell projectId={projectId} environment={e} plan={p} plans={plans} handle={handle} />
                </td>
              ))}
            </tr>
            {open.has(p.number) ? <StepRows projectId={projectId} number={p.number} environments={environments} /> : null}
          </tbody>
        ))}
        {unknown.map((s) => (
          <tbody key={`${s.number} ${s.name}`}>
            <tr className="align-top">
              <th className="border-b border-rule py-1.5 pr-6 text-left font-normal">{named(s.number, s.name)}</th>
              {environments.map((e) => (
                <td key={e.id} className="border-b border-rule px-4 py-1.5">
                  {e.status?.some((x) => x.state === 'unknown here' && x.number === s.number && x.name === s.name) ? (
                    <span className="text-needs">
                      {shapes['unknown here']}: another branch applied it, {s.steps === 1 ? 'one step' : `${s.steps} steps`}
                    </span>
                  ) : null}
                </td>
              ))}
            </tr>
          </tbody>
        ))}
      </table>
    </div>
  )
}

function Head({ projectId, environment: e }: { projectId: string; environment: EnvironmentView }) {
  const { wording, busy, send } = useSend()
  return (
    <>
      <b className="font-serif text-base">{e.name}</b>{' '}
      <span className="text-soft">
        {e.kind}
        {e.protected ? ', protected' : ''}
      </span>
      <span className="db block max-w-72 truncate text-soft" title={e.label}>
        {e.label}
      </span>
      <span className="mt-1 flex items-center gap-2">
        <button
          type="button"
          className="btn btn-xs"
          disabled={busy}
          onClick={() => void send(`/api/projects/${projectId}/environments/watch`, { environment: e.id })}
        >
          {busy ? 'Looking …' : 'Look now'}
        </button>
        <button
          type="button"
          className="btn btn-xs"
          aria-label={`Forget the environment ${e.name}`}
          disabled={busy}
          onClick={() => void send(`/api/projects/${projectId}/environments/remove`, { environment: e.id })}
        >
          Forget
        </button>
        <span className="text-soft">{e.watchedAt === null ? 'never looked at' : timeText(e.watchedAt)}</span>
      </span>
      {wording ? <Complaint wording={wording} /> : null}
    </>
  )
}

interface CellProps {
  readonly projectId: string
  readonly environment: EnvironmentView
  readonly plan: KeptPlanView
  readonly plans: readonly KeptPlanView[]
  readonly handle: JobHandle
}

/** The word of agreement that a plan takes which no rehearsal proved. */
function Meant({ because, meant, onChange }: { because: string; meant: boolean; onChange: (meant: boolean) => void }) {
  return (
    <label className="mt-1 flex max-w-72 items-start gap-1 text-[0.9em] text-needs">
      <input type="checkbox" className="checkbox checkbox-xs mt-0.5" checked={meant} onChange={(x) => onChange(x.target.checked)} />
      <span>Not proven: it {because}. I mean it as it is.</span>
    </label>
  )
}

/** One plan on one environment: its state, and the one thing that can be done next. */
function Cell({ projectId, environment: e, plan, plans, handle }: CellProps) {
  const { wording, busy, send } = useSend()
  const [typed, setTyped] = useState('')
  const [loss, setLoss] = useState(false)
  const [meant, setMeant] = useState(false)
  if (e.status === null) return <span className="text-soft">not looked at yet</span>
  // A plan that was kept since somebody looked cannot be there yet.
  const own = e.status.find((s) => s.number === plan.number) ?? { ...neverApplied, steps: plan.steps }
  const is = (n: number) => e.status?.find((s) => s.number === n)?.state
  const done = (n: number) => is(n) === 'applied' || is(n) === 'adopted'
  const before = plans.filter((p) => p.number < plan.number).every((p) => done(p.number))
  const last = done(plan.number) && plans.every((p) => p.number <= plan.number || (is(p.number) ?? 'not applied') === 'not applied')
  const open = own.state === 'not applied' || own.state === 'part'
  const confirm = e.protected && (open ? before : last)
  const off = busy || handle.busy || (e.protected && typed !== e.name)
  // Those that would run by this button, from the first that is not there.
  const bare = open && before && plan.unproven !== null
  const held = off || (bare && !meant)
  const at = `/api/projects/${projectId}/environments`
  return (
    <div>
      <p className={own.state === 'applied' || own.state === 'adopted' ? 'text-settled' : open ? '' : 'text-needs'}>
        {shapes[own.state]}
        {own.state === 'part' ? `, ${own.done} of ${own.steps} steps` : ''}
      </p>
      {own.at ? (
        <p className="text-[0.9em] text-soft">
          {timeText(own.at)} by {own.by}
        </p>
      ) : null}
      {own.unproven ? <p className="text-[0.9em] text-soft">When it came here, it {own.unproven}.</p> : null}
      {bare ? <Meant because={plan.unproven ?? ''} meant={meant} onChange={setMeant} /> : null}
      {confirm ? (
        <input
          className="input input-xs mt-1 w-48"
          placeholder={`Type ${e.name} to confirm`}
          aria-label={`Name of ${e.name}, to confirm`}
          value={typed}
          onChange={(x) => setTyped(x.target.value)}
        />
      ) : null}
      <p className="mt-1 flex gap-1">
        {open && before && plan.number === 1 && own.state === 'not applied' ? (
          <button
            type="button"
            className="btn btn-xs"
            disabled={held}
            onClick={() => void send(`${at}/adopt`, { environment: e.id, number: 1, typed, unproven: meant })}
          >
            Adopt: it is there already
          </button>
        ) : null}
        {open && before ? (
          <button
            type="button"
            className="btn btn-xs"
            disabled={held}
            onClick={() =>
              handle.startAt(`${at}/apply`, { environment: e.id, number: plan.number, direction: 'up', acceptLoss: false, typed, unproven: meant })
            }
          >
            {own.state === 'part' ? 'Go on applying' : 'Apply'}
          </button>
        ) : null}
        {last && own.state === 'applied' ? (
          <>
            <button
              type="button"
              className="btn btn-xs"
              disabled={off}
              onClick={() => handle.startAt(`${at}/apply`, { environment: e.id, number: plan.number - 1, direction: 'down', acceptLoss: loss, typed })}
            >
              Take back
            </button>
            <label className="flex items-center gap-1 text-[0.9em] text-soft">
              <input type="checkbox" className="checkbox checkbox-xs" checked={loss} onChange={(x) => setLoss(x.target.checked)} /> also what has rows, or no
              way back
            </label>
          </>
        ) : null}
      </p>
      {wording ? <Complaint wording={wording} /> : null}
    </div>
  )
}
