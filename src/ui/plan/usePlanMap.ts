'use client'

import { useEffect, useRef, useState } from 'react'
import type { Which } from '../../core/lineage/index.ts'
import type { PlanMap } from '../../core/review/index.ts'
import type { FromPlanMap, ToPlanMap } from '../../workers/planMapMessages.ts'

/** The map of a plan, worked out in a worker; `mark` tells one plan's text from another's. */
export function usePlanMap(projectId: string, which: Which, mark: string, whole: boolean) {
  const worker = useRef<Worker | null>(null)
  const wanted = useRef(whole)
  wanted.current = whole
  const [drawn, setDrawn] = useState<{ readonly of: string; readonly map: PlanMap } | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const of = `${which} ${mark}`
  useEffect(() => {
    const made = new Worker(new URL('../../workers/planMap.worker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    made.onmessage = ({ data }: MessageEvent<FromPlanMap>) => {
      setProblem(data.type === 'failed' ? data.message : null)
      if (data.type === 'map') setDrawn({ of, map: data.map })
    }
    made.onerror = () => setProblem('the worker did not start')
    made.postMessage({
      type: 'open',
      projectUrl: `${location.origin}/api/projects/${projectId}`,
      rowsUrl: `${location.origin}/api/rows`,
      which: String(which),
      whole: wanted.current,
    } satisfies ToPlanMap)
    return () => {
      made.terminate()
      worker.current = null
    }
  }, [projectId, which, of])
  useEffect(() => {
    worker.current?.postMessage({ type: 'show', whole } satisfies ToPlanMap)
  }, [whole])
  return { map: drawn?.of === of ? drawn.map : null, problem }
}
