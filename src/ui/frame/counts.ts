'use client'

// What the bar says of a project, told by whoever knows it first: the desk after each ruling, without asking the server.
import { useEffect, useSyncExternalStore } from 'react'

export interface BarCounts {
  /** Findings that wait; null where that cannot be told. */
  readonly open: number | null
  /** Entries of the ledger. */
  readonly entries: number
}

const told = new Map<string, BarCounts>()
const listeners = new Set<() => void>()

export function tellCounts(projectId: string, counts: BarCounts): void {
  const before = told.get(projectId)
  if (before?.open === counts.open && before.entries === counts.entries) return
  told.set(projectId, counts)
  for (const hear of listeners) hear()
}

function subscribe(hear: () => void): () => void {
  listeners.add(hear)
  return () => listeners.delete(hear)
}

/** What the server gave with the page, or what was told since. */
export function useCounts(projectId: string, { open, entries }: BarCounts): BarCounts {
  // What the server says anew counts again, unless it is behind: a survey or rows change what waits and not the ledger.
  useEffect(() => {
    if (open !== null && (told.get(projectId)?.entries ?? 0) <= entries) told.delete(projectId)
  }, [projectId, open, entries])
  const now = useSyncExternalStore(
    subscribe,
    () => told.get(projectId) ?? null,
    () => null,
  )
  return now !== null && now.entries >= entries ? now : { open, entries }
}
