'use client'

import { useEffect } from 'react'
import { decodeEntry, type LedgerEntry } from '../../core/model/index.ts'
import { get } from './api.ts'
import { follow } from './events.ts'

/** Asked again so long after the server did not answer, in milliseconds. */
const again = 2000

/** Entries that others add to a project's ledger, as they come; what was missed meanwhile is asked for. `last`: seq of the last entry that is known. */
export function useLedger(projectId: string, last: () => number, take: (entries: readonly LedgerEntry[]) => void): void {
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    const catchUp = (head: number) => {
      clearTimeout(timer)
      if (head <= last()) return
      void get<{ entries: unknown[] }>(`/api/projects/${projectId}/ledger?after=${last()}`).then((answer) => {
        if (answer) take(answer.entries.map(decodeEntry))
        else timer = setTimeout(() => catchUp(head), again)
      })
    }
    const leave = follow(projectId, (event) => {
      if (event.type !== 'ledger') return
      const entries = event.entries.map(decodeEntry)
      const first = entries[0]
      if (first && first.seq <= last() + 1) take(entries)
      else catchUp(event.head)
    })
    return () => {
      clearTimeout(timer)
      leave()
    }
  }, [projectId, last, take])
}
