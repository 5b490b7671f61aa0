import Link from 'next/link'
import type { StepView, Which } from '../../core/lineage/index.ts'

interface Props {
  readonly steps: readonly StepView[]
  readonly which: Which
  readonly chosen: number | null
}

/** Steps in order, in the transactions they run in. */
export function StepList({ steps, which, chosen }: Props) {
  return (
    <ol aria-label="Steps in order" className="min-h-0 flex-1 overflow-auto">
      {steps.map((s, i) => {
        const before = steps[i - 1]
        const opens = !before || before.transaction !== s.transaction || s.transaction === null
        return (
          <li key={s.number}>
            {opens && steps.at(-1)?.transaction !== 1 ? (
              <p className="border-t border-rule px-3 pt-1 text-[0.86em] text-soft">
                {s.transaction === null ? 'outside of any transaction' : `transaction ${s.transaction}`}
              </p>
            ) : null}
            <Link
              href={`?plan=${which}&step=${s.number}`}
              aria-current={s.number === chosen ? 'step' : undefined}
              className={`grid grid-cols-[2rem_1fr] gap-2 border-l-4 px-2 py-0.5 ${s.number === chosen ? 'border-ink bg-card font-semibold' : 'border-transparent hover:bg-card'}`}
            >
              <span className="text-right text-soft">{s.number}</span>
              <span className="min-w-0" title={`${s.object} ${s.says}`}>
                <span className="db block truncate">
                  {s.hazards.length > 0 ? (
                    <span className="font-sans font-semibold text-needs" title={s.hazards.map((h) => h.says).join('; ')}>
                      {s.hazards.some((h) => h.grave) ? '▲' : '△'}{' '}
                    </span>
                  ) : null}
                  {s.object}
                </span>
                {s.says === 'is made' && which === 'baseline' ? null : <span className="block truncate text-[0.9em] font-normal text-soft">{s.says}</span>}
              </span>
            </Link>
          </li>
        )
      })}
    </ol>
  )
}
