'use client'

import { useCallback, useMemo, useState } from 'react'
import type { ReviewView } from '../../core/review/index.ts'
import { type Arrangement, arrange, choicesOf, narrowings } from '../../core/review/index.ts'

const nothing: readonly never[] = []

/** The docket as it is laid out, and what is in it. */
export function useDocket(view: ReviewView | null, initial: Arrangement) {
  const [arrangement, setArrangement] = useState(initial)
  const change = useCallback((part: Partial<Arrangement>) => setArrangement((before) => ({ ...before, ...part })), [])
  const all = view?.docket ?? nothing
  const areas = view?.areas ?? nothing
  const since = view?.since ?? null
  /** Null while nothing is known. */
  const counts = view?.counts ?? null
  const choices = useMemo(() => choicesOf(all, arrangement.show, areas), [all, arrangement.show, areas])
  const lines = useMemo(() => arrange(all, arrangement, areas, new Set(since?.findings)), [all, arrangement, areas, since])
  const items = useMemo(() => lines.flatMap((l) => (l.kind === 'item' ? [l.item] : [])), [lines])
  const narrowed = arrangement.fresh || narrowings.some((n) => arrangement[n] !== null)
  return { arrangement, change, counts, choices, lines, items, narrowed, all, complete: view?.complete ?? false }
}

export type DocketHandle = ReturnType<typeof useDocket>
