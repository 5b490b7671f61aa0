'use client'

import { useEffect, useState } from 'react'
import type { RowOrder as Order } from '../../core/review/index.ts'
import { AsidePane } from './AsidePane.tsx'

interface Props {
  /** Seq of the last ledger entry: another one may give another order. */
  readonly head: number
  readonly order: () => Promise<Order | null>
  readonly onSelect: (id: string) => void
  readonly onClose: () => void
}

/** In what order rows go in and out, portion by portion. */
export function RowOrder({ head, order, onSelect, onClose }: Props) {
  const [found, setFound] = useState<Order | null>(null)
  const [out, setOut] = useState(false)
  useEffect(() => {
    let gone = false
    void order().then((o) => !gone && setFound(o))
    return () => {
      gone = true
    }
  }, [head, order])
  const numbered = (found?.portions ?? []).map((tables, i) => ({ tables, n: i + 1 }))
  const listed = out ? numbered.toReversed() : numbered
  return (
    <AsidePane title="Row order" onClose={onClose}>
      <p className="mt-1 text-soft">Tables of one portion do not refer to each other, so their rows can go in or out together.</p>
      <div className="mt-2 flex gap-4" role="radiogroup" aria-label="Direction">
        {[false, true].map((way) => (
          <label key={String(way)} className="flex items-center gap-1.5">
            <input type="radio" className="radio radio-xs" name="direction" checked={out === way} onChange={() => setOut(way)} />
            {way ? 'to delete' : 'to insert or read'}
          </label>
        ))}
      </div>
      {found === null ? <p className="mt-3 text-soft">Working out …</p> : null}
      <ol aria-label="Portions" className="mt-3 space-y-3">
        {listed.map((p) => (
          <li key={p.n}>
            <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">
              {p.n}. <span className="font-normal text-soft">{p.n === 1 ? 'refer to nothing else' : 'refer to portions before only'}</span>
            </h3>
            <ul className="mt-1">
              {p.tables.map((t) => (
                <li key={t.id} className="flex flex-wrap items-baseline gap-x-2">
                  {t.name === '' ? (
                    <i className="text-soft">joins two</i>
                  ) : (
                    <button type="button" className="link link-hover" onClick={() => onSelect(`entity:${t.id}`)}>
                      {t.name}
                    </button>
                  )}
                  <span className="db text-soft">{t.table}</span>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      {found && found.knots.length > 0 ? (
        <>
          <h3 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">Knots</h3>
          <ul className="mt-1 list-disc pl-5">
            {found.knots.map((k) => (
              <li key={k} className="break-words">
                {k}.
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </AsidePane>
  )
}
