'use client'

import { useEffect, useState } from 'react'
import type { EnvironmentView, StepRow, StepRunView } from '../../core/lineage/index.ts'
import { get } from '../common/api.ts'
import { timeText } from '../common/time.ts'

const words: Readonly<Record<StepRunView['state'], string>> = {
  started: '◐ begun, its end is not known',
  done: '● done',
  adopted: '● adopted',
  'taken back': '○ taken back',
}
/** More rows than this are shown on request. */
const portion = 300

/** The steps of one plan, each with where it is done. */
export function StepRows({ projectId, number, environments }: { projectId: string; number: number; environments: readonly EnvironmentView[] }) {
  const [steps, setSteps] = useState<readonly StepRow[] | null>(null)
  const [problem, setProblem] = useState(false)
  const [most, setMost] = useState(portion)
  useEffect(() => {
    void get<{ steps: readonly StepRow[] }>(`/api/projects/${projectId}/plans/steps?number=${number}`).then((answer) => {
      setSteps(answer?.steps ?? null)
      setProblem(answer === null)
    })
  }, [projectId, number])
  const across = environments.length + 1
  if (!steps)
    return (
      <tr>
        <td colSpan={across} className="py-1 pl-4 text-soft" role="status">
          {problem ? 'The steps could not be read. Reload the page.' : 'Reading the steps …'}
        </td>
      </tr>
    )
  return (
    <>
      {steps.slice(0, most).map((s) => (
        <tr key={s.number} className="align-top">
          <th scope="row" className="max-w-lg border-b border-rule py-0.5 pr-6 pl-4 text-left font-normal">
            <a className="grid grid-cols-[2rem_1fr] gap-2 hover:underline" href={`/p/${projectId}/plan?plan=${number}&step=${s.number}`}>
              <span className="text-right text-soft">{s.number}</span>
              <span className="min-w-0">
                <span className="db">{s.object}</span> <span className="text-soft">{s.says}</span>
              </span>
            </a>
          </th>
          {environments.map((e) => (
            <td key={e.id} className="border-b border-rule px-4 py-0.5">
              <StepState environment={e} number={number} step={s.number} />
            </td>
          ))}
        </tr>
      ))}
      {steps.length > most ? (
        <tr>
          <td colSpan={across} className="py-1 pl-4">
            <button type="button" className="btn btn-xs" onClick={() => setMost(steps.length)}>
              Show all {steps.length} steps
            </button>
          </td>
        </tr>
      ) : null}
    </>
  )
}

function StepState({ environment: e, number, step }: { environment: EnvironmentView; number: number; step: number }) {
  if (e.status === null) return <span className="text-soft">not looked at yet</span>
  const own = e.status.find((s) => s.number === number)
  if (own?.state === 'other plan') return <span className="text-needs">▲ another plan’s</span>
  const run = own?.runs.find((r) => r.first <= step && step <= r.last)
  if (!run) return <span className="text-soft">○ not applied</span>
  return (
    <span
      className={run.state === 'started' ? 'text-needs' : run.state === 'taken back' ? 'text-soft' : 'text-settled'}
      title={`${timeText(run.at)} by ${run.by}`}
    >
      {words[run.state]}
    </span>
  )
}
