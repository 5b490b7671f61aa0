'use client'

import { useState } from 'react'
import type { ScopeRow, ScopeView } from '../../core/scope/index.ts'
import type { Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { type ScopeDraft, takesPart } from './draft.ts'

interface Props {
  readonly view: ScopeView
  readonly draft: ScopeDraft
  readonly busy: boolean
  readonly wording: Wording | null
  readonly onTake: (rows: readonly ScopeRow[]) => void
  readonly onNeighbours: (subject: string, distance: number) => void
  readonly onRecord: () => void
  readonly onForget: () => void
}

const kinds = [
  ['table', 'tables'],
  ['view', 'views'],
  ['routine', 'routines'],
] as const

/** What takes part in numbers, what is proposed to be left out, one table and what is around it, and the entry that keeps it. */
export function ScopeSide({ view, draft, busy, wording, onTake, onNeighbours, onRecord, onForget }: Props) {
  const { rows, partitions, extensions } = view
  const proposed = rows.filter((r) => r.proposal !== null)
  const waiting = proposed.filter((r) => takesPart(r, draft))
  return (
    <aside className="flex min-h-0 flex-col overflow-auto px-4 py-4" aria-label="The scope in numbers">
      <dl className="grid grid-cols-3 border-t border-l border-rule">
        {kinds.map(([kind, label]) => {
          const of = rows.filter((r) => r.kind === kind)
          return (
            <div key={kind} className="border-r border-b border-rule bg-card px-2 py-1.5">
              <dd className="font-serif text-lg">
                {of.filter((r) => takesPart(r, draft)).length.toLocaleString('en')} <span className="text-soft">of {of.length.toLocaleString('en')}</span>
              </dd>
              <dt className="text-soft">{label}</dt>
            </div>
          )
        })}
      </dl>
      <h2 className="mt-4 text-lg">Proposed to leave out</h2>
      {proposed.length === 0 ? (
        <p className="text-soft">Nothing looks like a backup, an archive, a temporary table or a journal of schema changes.</p>
      ) : (
        <>
          <ul className="mt-1 max-h-72 overflow-auto border-t border-rule">
            {proposed.map((r) => (
              <li key={r.id} className="border-b border-rule py-1">
                <span className={`db ${takesPart(r, draft) ? '' : 'text-soft line-through'}`}>{r.id}</span>
                <span className="block text-soft">{r.proposal}</span>
              </li>
            ))}
          </ul>
          {waiting.length === 0 ? (
            <p className="mt-2 text-soft">All of these are left out.</p>
          ) : (
            <button type="button" className="btn btn-sm mt-2 self-start" onClick={() => onTake(waiting)}>
              Leave out {waiting.length === 1 ? 'it' : `these ${waiting.length}`}
            </button>
          )}
        </>
      )}
      {partitions > 0 ? (
        <p className="mt-2 text-soft">
          {partitions === 1 ? '1 partition takes part as a part of its table' : `${partitions} partitions take part as parts of their tables`}.
        </p>
      ) : null}
      {extensions.length > 0 ? <p className="mt-2 text-soft">What belongs to {extensions.join(', ')} was not read: an extension brings its own.</p> : null}
      <Neighbours rows={rows} onNeighbours={onNeighbours} />
      <div className="mt-auto pt-4" aria-live="polite">
        {wording ? <Complaint wording={wording} /> : null}
        {draft.size === 0 ? (
          <p className="text-soft">Every choice is in the ledger.</p>
        ) : (
          <div className="flex items-center gap-2">
            <button type="button" className="btn btn-primary btn-sm" onClick={onRecord} disabled={busy}>
              Record {draft.size === 1 ? 'one choice' : `${draft.size.toLocaleString('en')} choices`}
            </button>
            <button type="button" className="btn btn-sm" onClick={onForget} disabled={busy}>
              Forget
            </button>
          </div>
        )}
      </div>
    </aside>
  )
}

/** Only one table and what is linked with it, to a distance. */
function Neighbours({ rows, onNeighbours }: { rows: readonly ScopeRow[]; onNeighbours: Props['onNeighbours'] }) {
  const [table, setTable] = useState('')
  const [distance, setDistance] = useState(1)
  const found = rows.find((r) => r.kind !== 'routine' && r.id === table)
  return (
    <>
      <h2 className="mt-4 text-lg">One table and what is around it</h2>
      <div className="mt-1 flex items-center gap-2">
        <input
          className="input input-sm db min-w-0 flex-1"
          list="scope-tables"
          placeholder="schema.table"
          aria-label="Table"
          value={table}
          onChange={(e) => setTable(e.target.value)}
        />
        <datalist id="scope-tables">
          {rows
            .filter((r) => r.kind !== 'routine')
            .map((r) => (
              <option key={r.id} value={r.id} />
            ))}
        </datalist>
        <select className="select select-sm w-28" aria-label="Distance" value={distance} onChange={(e) => setDistance(Number(e.target.value))}>
          {[1, 2, 3, 4].map((n) => (
            <option key={n} value={n}>
              {n === 1 ? '1 step' : `${n} steps`}
            </option>
          ))}
        </select>
      </div>
      <button type="button" className="btn btn-sm mt-2 self-start" disabled={!found} onClick={() => found && onNeighbours(found.id, distance)}>
        Leave out all others
      </button>
    </>
  )
}
