import type { Wording } from '../common/api.ts'

/** One step of a connection test, as the server answers it. */
export interface WalkStepView {
  readonly step: string
  readonly state: 'passed' | 'attention' | 'failed' | 'not reached'
  readonly says: string
  readonly wording: Wording | null
}

const marks: Readonly<Record<WalkStepView['state'], readonly [string, string]>> = {
  passed: ['✓', 'text-settled'],
  attention: ['!', 'text-needs'],
  failed: ['✕', 'text-needs'],
  'not reached': ['·', 'text-soft'],
}

/** From the host to the privileges: what each step found, and at the one that failed the next thing to do. */
export function WalkSteps({ steps }: { steps: readonly WalkStepView[] }) {
  return (
    <ol className="border border-rule bg-card" aria-label="The connection, step by step">
      {steps.map((s) => {
        const [mark, colour] = marks[s.state]
        return (
          <li key={s.step} className="grid grid-cols-[1.2rem_6rem_1fr] gap-x-2 border-b border-rule px-3 py-1.5 last:border-b-0">
            <span className={`font-semibold ${colour}`} title={s.state}>
              {mark}
            </span>
            <span className={s.state === 'not reached' ? 'text-soft' : 'font-semibold'}>{s.step}</span>
            <span className={s.state === 'not reached' ? 'text-soft' : ''}>
              {s.state === 'not reached' ? 'not reached' : s.says}
              {s.wording ? (
                <>
                  {s.wording.detail === '' ? null : <span className="block text-soft">{s.wording.detail}</span>}
                  {s.wording.hint === '' ? null : <span className="block font-semibold">{s.wording.hint}</span>}
                </>
              ) : null}
            </span>
          </li>
        )
      })}
    </ol>
  )
}
