'use client'

import { useEffect, useState } from 'react'

const key = 'pelvok-folded'
type Pane = 'docket' | 'evidence'

/** As this browser remembers. */
export const foldedPanes = (): readonly Pane[] => (localStorage.getItem(key)?.split(',') ?? []).filter((p): p is Pane => p === 'docket' || p === 'evidence')

/** Which panes are folded away; this browser remembers. */
export function usePanes() {
  const [folded, setFolded] = useState<readonly Pane[]>([])
  useEffect(() => {
    setFolded(foldedPanes())
  }, [])
  const toggle = (pane: Pane) => {
    const next = folded.includes(pane) ? folded.filter((p) => p !== pane) : [...folded, pane]
    localStorage.setItem(key, next.join(','))
    setFolded(next)
  }
  return { folded, toggle }
}
