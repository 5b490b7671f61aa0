'use client'

import { useRouter } from 'next/navigation'
import { type FormEvent, useState } from 'react'
import type { TrialPath } from '../../core/trial/index.ts'
import { type Answer, post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'

/** A path that somebody kept. */
export interface Pin {
  readonly seq: number
  readonly name: string
  readonly path: TrialPath
  readonly by: string
}

interface Props {
  readonly projectId: string
  readonly pins: readonly Pin[]
  readonly path: TrialPath
  readonly head: number
  readonly onShow: (path: TrialPath) => void
}

/** Paths kept in the ledger: shown again, and let go. */
export function Pins({ projectId, pins, path, head, onShow }: Props) {
  const router = useRouter()
  const [wording, setWording] = useState<Wording | null>(null)
  const settle = (answer: Answer<unknown>) => {
    setWording(answer.ok ? null : answer.wording)
    if (answer.ok) router.refresh()
    return answer.ok
  }
  const keep = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = event.currentTarget
    const name = String(new FormData(form).get('name') ?? '').trim()
    if (name !== '')
      void post(`/api/projects/${projectId}/ledger`, { entries: [{ kind: 'pin', name, path }], seen: head }).then((a) => settle(a) && form.reset())
  }
  return (
    <>
      <h2 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">Kept</h2>
      {wording ? <Complaint wording={wording} /> : null}
      <ul>
        {pins.map((p) => (
          <li key={p.seq} className="mt-1 flex items-baseline gap-2">
            <button type="button" className="link link-hover min-w-0 flex-1 text-left break-words" onClick={() => onShow(p.path)}>
              {p.name} <span className="text-soft">{p.by}</span>
            </button>
            <button
              type="button"
              className="btn btn-xs"
              aria-label={`Let ${p.name} go`}
              onClick={() => void post(`/api/projects/${projectId}/ledger/revert`, { seq: p.seq }).then(settle)}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <form onSubmit={keep} className="mt-1 flex gap-1" aria-label="Keep this path">
        <input name="name" aria-label="Name of this path" placeholder="Name of this path" className="input input-xs min-w-0 flex-1" maxLength={120} required />
        <button type="submit" className="btn btn-xs">
          Keep
        </button>
      </form>
    </>
  )
}
