'use client'

import { useEffect, useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import type { Bulk } from '../../core/review/index.ts'
import { Breakable } from '../common/Breakable.tsx'
import { useKeys } from './useKeys.ts'

interface Props {
  readonly id: string
  /** Position of the ledger: what a ruling comes to depends on it. */
  readonly head: number
  readonly ask: (id: string, left: readonly string[], batch: string) => Promise<Bulk | null>
  readonly onRule: (entries: readonly EntryBody[]) => void
  readonly onClose: () => void
}

/** One ruling for findings alike: all of them listed, each can be left alone, and what each answer would change stands above its button. */
export function BulkRuling({ id, head, ask, onRule, onClose }: Props) {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const [batch] = useState(() => crypto.randomUUID())
  const [bulk, setBulk] = useState<Bulk | null>(null)
  useEffect(() => {
    void ask(id, [...left], batch).then(setBulk)
  }, [ask, id, left, batch, head])
  const toggle = (member: string) => setLeft((before) => (before.has(member) ? new Set([...before].filter((x) => x !== member)) : new Set([...before, member])))
  const n = bulk ? bulk.members.length - left.size : 0
  // The answer may be of a moment before: what was left out since is not ruled on, and nothing is while one that was taken in again is not among it.
  const isWhole = bulk?.members.every((m) => !m.left || left.has(m.id)) ?? false
  const entriesOf = (a: Bulk['actions'][number]) => (isWhole ? a.entries.filter((e) => e.kind !== 'rule' || !left.has(e.finding)) : [])
  const rule = (a: Bulk['actions'][number]) => {
    const entries = entriesOf(a)
    if (entries.length > 0) onRule(entries)
  }
  useKeys(Object.fromEntries((bulk?.actions ?? []).map((a, i) => [String(i + 1), () => rule(a)])))
  return (
    <section aria-label="One ruling for all" className="min-h-0 overflow-auto border-l border-rule px-4 py-3">
      <div className="flex items-baseline">
        <h2 className="flex-1 text-lg">One ruling for {n === 0 ? 'all' : n}</h2>
        <button type="button" className="btn btn-xs" onClick={onClose}>
          <span className="key">Esc</span> Close
        </button>
      </div>
      {bulk ? (
        <>
          <p className="mt-1 font-serif text-base">
            {bulk.members.length} {bulk.because}.
          </p>
          {bulk.actions.map((a, i) => (
            <div key={a.key} className="mt-3 border-t border-rule pt-2">
              <button
                type="button"
                className="btn btn-xs h-auto max-w-full whitespace-normal break-words py-0.5 text-left"
                disabled={entriesOf(a).length === 0}
                onClick={() => rule(a)}
              >
                <span className="key">{i + 1}</span>{' '}
                {a.key === 'never' ? a.label.charAt(0).toUpperCase() + a.label.slice(1) : `For ${n === bulk.members.length ? `all ${n}` : n}: ${a.label}`}
              </button>
              {a.changes.map((c) => (
                <p key={c} className="mt-0.5 text-soft">
                  {c}
                </p>
              ))}
            </div>
          ))}
          <h3 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">Which</h3>
          <ul aria-label="Findings alike">
            {bulk.members.map((m) => (
              <li key={m.id} className="border-b border-rule py-0.5">
                <label className="flex items-baseline gap-2">
                  <input type="checkbox" className="checkbox checkbox-xs" checked={!left.has(m.id)} onChange={() => toggle(m.id)} />
                  <span className="db min-w-0 flex-1">
                    <Breakable text={m.subject} />
                  </span>
                  <span className="text-soft">{m.confidence.toFixed(2)}</span>
                </label>
              </li>
            ))}
          </ul>
        </>
      ) : (
        <p className="mt-2 text-soft">Looking for findings alike …</p>
      )}
    </section>
  )
}
