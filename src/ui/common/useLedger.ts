'use client'

import { useEffect } from 'react'
import { decodeEntry, type LedgerEntry } from '../../core/model/index.ts'
import { get } from './api.ts'
import { follow } from './events.ts'

/** Entries that others add to a project's ledger, as they come; what was missed meanwhile is asked for. `last`: seq of the last entry that is known. */
export function useLedger(projectId: string, last: () => number, take: (entries: readonly LedgerEntry[]) => void): void {
  useEffect(
    () =>
      follow(projectId, (event) => {
        if (event.type !== 'ledger' || event.head <= last()) return
        const entries = event.entries.map(decodeEntry)
        const first = entries[0]
        if (first && first.seq <= last() + 1) return take(entries)
        void get<{ entries: unknown[] }>(`/api/projects/${projectId}/ledger?after=${last()}`).then((answer) => {
          if (answer) take(answer.entries.map(decodeEntry))
        })
      }),
    [projectId, last, take],
  )
}
