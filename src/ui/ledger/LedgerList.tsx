'use client'

import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { post, type Wording } from '../common/api.ts'
import { Breakable } from '../common/Breakable.tsx'
import { Complaint } from '../common/Complaint.tsx'
import { timeText } from '../common/time.ts'

export interface LedgerLine {
  readonly seq: number
  readonly by: string
  readonly at: string
  readonly what: string
  readonly reverted: boolean
  readonly kind: string
}

/** Every entry, newest first. Taking one back appends; nothing is deleted. */
export function LedgerList({ projectId, entries }: { projectId: string; entries: readonly LedgerLine[] }) {
  const router = useRouter()
  const [wording, setWording] = useState<Wording | null>(null)
  const takeBack = (seq: number) =>
    void post(`/api/projects/${projectId}/ledger/revert`, { seq }).then((answer) => {
      setWording(answer.ok ? null : answer.wording)
      router.refresh()
    })
  return (
    <main className="mx-auto h-full max-w-5xl overflow-auto px-6 py-6">
      <h1 className="text-2xl">Ledger</h1>
      <p className="text-soft">Every ruling, by whom and when. Taking one back appends an entry; nothing is ever deleted.</p>
      {wording ? (
        <div className="mt-3">
          <Complaint wording={wording} />
        </div>
      ) : null}
      {entries.length === 0 ? (
        <p className="mt-6 font-serif text-lg">Nothing has been ruled yet.</p>
      ) : (
        <ol className="mt-4 border-t border-ink">
          {entries.map((e) => (
            <li key={e.seq} className={`grid grid-cols-[3rem_1fr_auto_6rem] items-baseline gap-3 border-b border-rule py-1.5 ${e.reverted ? 'text-soft' : ''}`}>
              <span className="text-right">{e.seq}</span>
              <span className={`db break-words ${e.reverted ? 'line-through' : ''}`}>
                <Breakable text={e.what} />
              </span>
              <span className="text-soft">
                {e.by}, {timeText(e.at)}
              </span>
              {e.reverted ? (
                <span>taken back</span>
              ) : (
                <button type="button" className="btn btn-xs" onClick={() => takeBack(e.seq)}>
                  Take back
                </button>
              )}
            </li>
          ))}
        </ol>
      )}
    </main>
  )
}
