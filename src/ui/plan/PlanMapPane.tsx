'use client'

import { useRouter } from 'next/navigation'
import { useMemo, useState } from 'react'
import type { PlanView } from '../../core/lineage/index.ts'
import { StrataMap } from '../map/StrataMap.tsx'
import { usePlanMap } from './usePlanMap.ts'

const nothing: readonly never[] = []

/** The map beside the steps: what the plan touches is marked, what the chosen step touches is lit, and a click on a plate goes to the next step about it. */
export function PlanMapPane({ projectId, plan }: { projectId: string; plan: PlanView }) {
  const router = useRouter()
  const [whole, setWhole] = useState(false)
  const [told, setTold] = useState<string | null>(null)
  const { map, problem } = usePlanMap(projectId, plan.which, plan.mark, whole)
  const at = (plan.step?.number ?? 1) - 1
  const step = map?.steps[at]
  const becomes = useMemo(() => (map ? new Map(Object.entries(map.becomes)) : undefined), [map])
  if (!map)
    return (
      <p className="p-4 font-serif text-base text-soft" role="status">
        {problem === null ? 'Laying out what the schema will be …' : `The map could not be drawn: ${problem}. Reload the page.`}
      </p>
    )
  const go = (id: string) => {
    const plate = map.scene.lines.find((l) => l.id === id)?.child ?? id.replace(/^entity:/, '')
    const own = map.steps.flatMap((s, i) => (s.about.includes(plate) ? [i] : []))
    const next = own.find((i) => i > at) ?? own[0]
    setTold(next === undefined ? `No step is about ${plate}.` : null)
    if (next !== undefined) router.push(`?plan=${plan.which}&step=${next + 1}`, { scroll: false })
  }
  /** Of an empty database everything is new. */
  const partly = Object.keys(map.becomes).length > 0
  const left = map.absent.length > 0 ? ` Not drawn, as it does not take part: ${map.absent.join(', ')}.` : ''
  const says = `${told ?? (map.whole ? '' : 'What the plan touches, and what is one step from it.')}${left}`
  return (
    <div className="grid h-full min-h-0 grid-rows-[auto_minmax(0,1fr)]">
      {/* Empty it still holds the first row: without it the map would stand there, and be as small as it can. */}
      <p
        className={
          partly || says !== '' ? 'flex flex-wrap items-baseline gap-x-3 border-b border-rule px-3 py-1 text-[0.92em] text-soft' : 'h-0 overflow-hidden'
        }
      >
        {partly ? (
          <label className="flex items-center gap-1 text-ink">
            <input type="checkbox" className="checkbox checkbox-xs" checked={whole} onChange={(e) => setWhole(e.target.checked)} />
            the whole map
          </label>
        ) : null}
        <span aria-live="polite">{says}</span>
      </p>
      <StrataMap scene={map.scene} selected={step?.selected ?? null} plates={step?.plates ?? nothing} becomes={becomes} progress={nothing} onSelect={go} />
    </div>
  )
}
