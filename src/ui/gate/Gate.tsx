'use client'

import Link from 'next/link'
import { type ReactNode, useState } from 'react'
import type { GateItem, GateView } from '../../core/review/index.ts'
import { get } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { timeText } from '../common/time.ts'
import { useSend } from '../common/useSend.ts'

interface Props {
  readonly projectId: string
  readonly gate: GateView
  /** What is made of a sealed revision: "code", "plans". */
  readonly of: string
  /** The outputs, once they may be made. */
  readonly children: ReactNode
}

/** What stands before outputs: what is open, or the seal; behind it the outputs. */
export function Gate({ projectId, gate, of, children }: Props) {
  const { wording, busy, send } = useSend()
  if (gate.isSealed) return children
  return (
    <section aria-label="Gate" className="min-w-0">
      {gate.open > 0 ? (
        <Closed projectId={projectId} gate={gate} of={of} />
      ) : (
        <p className="flex flex-wrap items-center gap-2">
          <button type="button" className="btn btn-sm btn-primary" disabled={busy} onClick={() => void send(`/api/projects/${projectId}/seal`, {})}>
            Seal this revision
          </button>
          <span className="text-soft">{sinceSeal(gate)}</span>
        </p>
      )}
      {wording ? <Complaint wording={wording} /> : null}
    </section>
  )
}

function sinceSeal({ sealed, head }: GateView): string {
  if (sealed === null) return 'Nothing is open, and nothing was sealed yet.'
  const since = head - sealed.ledger
  const what =
    since === 0 ? 'the survey or what is inferred from it has changed since' : since === 1 ? 'one entry has come since' : `${since} entries have come since`
  return `Nothing is open. Sealed at ledger ${sealed.ledger} by ${sealed.by}, ${timeText(sealed.at)}; ${what}.`
}

function Closed({ projectId, gate, of }: Omit<Props, 'children'>) {
  const [items, setItems] = useState<readonly GateItem[] | null>(null)
  const read = () => void get<{ items: readonly GateItem[] }>(`/api/projects/${projectId}/gate`).then((answer) => setItems(answer?.items ?? null))
  return (
    <>
      <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Link className="btn btn-sm btn-primary" href={`/p/${projectId}/review${gate.first === null ? '' : `?at=${encodeURIComponent(gate.first)}`}`}>
          {gate.open === 1 ? 'One finding is open' : `${gate.open} findings are open`}
          {gate.asked > 0 ? `, ${gate.asked} asked` : ''}
        </Link>
        <button type="button" className="btn btn-sm" aria-expanded={items !== null} onClick={() => (items === null ? read() : setItems(null))}>
          Take the proposals as they stand …
        </button>
        <span className="text-soft">An answer to them changes what comes out; {of} are made of a sealed revision.</span>
      </p>
      {items === null ? null : <Take projectId={projectId} items={items} onStale={read} />}
    </>
  )
}

/** More are listed on request; all are taken. */
const portion = 200

function Take({ projectId, items, onStale }: { projectId: string; items: readonly GateItem[]; onStale: () => void }) {
  const { wording, busy, send } = useSend()
  const [note, setNote] = useState('')
  const [most, setMost] = useState(portion)
  return (
    <form
      aria-label="Take the proposals as they stand"
      className="mt-2 border border-rule bg-card px-3 py-2"
      onSubmit={(e) => {
        e.preventDefault()
        void send(`/api/projects/${projectId}/take`, { findings: items.map((i) => i.id), note: note.trim() === '' ? null : note.trim() }).then(
          (done) => done ?? onStale(),
        )
      }}
    >
      <p>
        One entry in the ledger says that {items.length === 1 ? 'this proposal was' : `these ${items.length} proposals were`} taken without being looked at one
        by one. It can be undone, and each can still be ruled on.
      </p>
      <ul className="my-1 max-h-72 overflow-auto border-y border-rule py-1">
        {items.slice(0, most).map((i) => (
          <li key={i.id} className="grid grid-cols-[1fr_auto] gap-3">
            <Link className="hover:underline" href={`/p/${projectId}/review?at=${encodeURIComponent(i.id)}`}>
              {i.says}
            </Link>
            <span className="text-soft">
              {i.changed ? 'its answer has changed since it was ruled on, ' : i.status === 'asked' ? 'asked, ' : ''}
              {i.confidence.toFixed(2)}
            </span>
          </li>
        ))}
        {items.length > most ? (
          <li>
            <button type="button" className="btn btn-xs" onClick={() => setMost(items.length)}>
              Show all {items.length}
            </button>
          </li>
        ) : null}
      </ul>
      <p className="flex gap-2">
        <input
          className="input input-sm w-72"
          placeholder="Why, if it should be known"
          aria-label="Note"
          maxLength={2000}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <button type="submit" className="btn btn-sm" disabled={busy}>
          Take {items.length === 1 ? 'it' : `these ${items.length}`} as {items.length === 1 ? 'it stands' : 'they stand'}
        </button>
      </p>
      {wording ? <Complaint wording={wording} /> : null}
    </form>
  )
}
