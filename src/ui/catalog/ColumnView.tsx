'use client'

import { useEffect, useState } from 'react'
import type { Occurrences } from '../../core/browse/index.ts'
import type { AskCatalog } from '../common/useCatalog.ts'

interface Props {
  readonly name: string
  readonly ask: AskCatalog
  readonly onObject: (id: string) => void
  readonly onColumn: (name: string) => void
}

/** Where else a column's name occurs: with which types, in which keys, and what does not fit the others. */
export function ColumnView({ name, ask, onObject, onColumn }: Props) {
  const [found, setFound] = useState<Occurrences | null>(null)
  useEffect(() => {
    let current = true
    void ask({ ask: 'occurrences', name }).then((o) => current && setFound(o))
    return () => {
      current = false
    }
  }, [ask, name])
  if (found === null) return <p className="p-6 text-soft">Looking for {name} …</p>
  const odd = found.list.filter((o) => o.mismatches.length > 0).length
  return (
    <section aria-label="Column" className="min-h-0 overflow-auto px-6 py-4">
      <h2 className="text-xl">
        Where is there a column <span className="db">{name}</span>?
      </h2>
      <p className="font-serif text-base">
        {found.list.length === 0
          ? 'Nowhere in this snapshot.'
          : `In ${found.list.length === 1 ? 'one relation' : `${found.list.length.toLocaleString('en')} relations`}, as ${found.types.map(([type, n]) => (found.types.length === 1 ? type : `${type} (${n})`)).join(', ')}. `}
        {odd > 0 ? <b className="text-needs">{odd === 1 ? 'One does not fit the others.' : `${odd} do not fit the others.`}</b> : null}
      </p>
      {found.alike.length > 0 ? (
        <p className="mt-1">
          <span className="text-soft">Other spellings:</span>{' '}
          {found.alike.map((other) => (
            <button
              key={other}
              type="button"
              className="db mr-3 underline decoration-rule underline-offset-2 hover:decoration-ink"
              onClick={() => onColumn(other)}
            >
              {other}
            </button>
          ))}
        </p>
      ) : null}
      {found.list.length === 0 ? null : (
        <table className="table-sm mt-3 table w-full">
          <thead>
            <tr>
              <th>relation</th>
              <th>type</th>
              <th>null</th>
              <th>default</th>
              <th>keys</th>
            </tr>
          </thead>
          <tbody>
            {found.list.map((o) => (
              <tr key={`${o.relation} ${o.column}`} className="align-top">
                <td>
                  <button type="button" className="db underline decoration-rule underline-offset-2 hover:decoration-ink" onClick={() => onObject(o.relation)}>
                    {o.relation}
                  </button>
                  {o.kind === 'table' ? null : <span className="block text-[0.92em] text-soft">{o.kind}</span>}
                  {o.column === name ? null : <span className="db block text-soft">{o.column}</span>}
                </td>
                <td>
                  <span className="db">{o.type}</span>
                  {o.mismatches.map((m) => (
                    <span key={m} className="block font-semibold text-needs">
                      ◆ {m}
                    </span>
                  ))}
                </td>
                <td className={`whitespace-nowrap ${o.nullable ? '' : 'text-soft'}`}>{o.nullable ? 'null' : 'not null'}</td>
                <td className="db max-w-48 break-words">{o.default ?? ''}</td>
                <td>
                  {o.keys.map((k) => (
                    <span key={k} className="block">
                      {k}
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
