'use client'

import { useEffect, useState } from 'react'
import type { CatalogOverview as Overview } from '../../core/browse/index.ts'
import { AskChange, newTable } from '../change/Asking.tsx'
import { Breakable } from '../common/Breakable.tsx'
import type { AskCatalog } from '../common/useCatalog.ts'

interface Props {
  readonly ask: AskCatalog
  readonly onObject: (id: string) => void
  readonly onColumn: (name: string) => void
}

/** What stands in the place of an object before one is chosen: the snapshot at a glance. */
export function CatalogOverview({ ask, onObject, onColumn }: Props) {
  const [overview, setOverview] = useState<Overview | null>(null)
  useEffect(() => {
    let current = true
    ask({ ask: 'overview' }).then(
      (o) => current && setOverview(o),
      // What is wrong is told beside the list.
      () => {},
    )
    return () => {
      current = false
    }
  }, [ask])
  if (!overview) return <p className="p-6 font-serif text-lg text-soft">Reading the snapshot …</p>
  const { schemas, referred, widest, columns, keyless, alone } = overview
  return (
    <section aria-label="Overview" className="min-h-0 overflow-auto px-6 py-5">
      <h2 className="text-xl">At a glance</h2>
      <table className="mt-3 w-auto tabular-nums">
        <thead className="text-left text-soft">
          <tr>
            {['schema', 'tables', 'views', 'routines'].map((h, i) => (
              <th key={h} className={`font-normal ${i === 0 ? 'pr-6' : 'pl-6 text-right'}`}>
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {schemas.map((s) => (
            <tr key={s.name} className="border-t border-rule">
              <td className="db pr-6">{s.name === '' ? 'without a schema' : s.name}</td>
              {[s.tables, s.views, s.routines].map((n, i) => (
                <td key={i} className="pl-6 text-right">
                  {n.toLocaleString('en')}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {overview.changeable ? (
        <p className="mt-2">
          <AskChange thing={newTable} label="A new table …" />
        </p>
      ) : null}
      <div className="mt-6 grid grid-cols-[repeat(auto-fit,minmax(240px,1fr))] gap-x-8 gap-y-6">
        <Listed title="Referred to most" rows={referred} onChoose={onObject} empty="No foreign key is declared." />
        <Listed title="Most columns" rows={widest} onChoose={onObject} empty="There is no table." />
        <Listed title="Column names that occur most" rows={columns} onChoose={onColumn} empty="There is no column." />
        <Listed {...some('Without a primary key', keyless)} onChoose={onObject} empty="Every table has one." />
        <Listed {...some('No foreign key to or from', alone)} onChoose={onObject} empty="Every table is linked to another." />
      </div>
    </section>
  )
}

/** How many there are, and the first of them. */
const some = (title: string, { n, first }: Overview['keyless']) => ({
  title: n > 0 ? `${title}: ${n.toLocaleString('en')}` : title,
  rows: first.map((of) => [of, null] as const),
  more: n - first.length,
})

interface ListedProps {
  readonly title: string
  /** Names, with how much of something each has; null where there is nothing to count. */
  readonly rows: readonly (readonly [of: string, n: number | null])[]
  /** Beyond those. */
  readonly more?: number
  readonly onChoose: (of: string) => void
  readonly empty: string
}

function Listed({ title, rows, more = 0, onChoose, empty }: ListedProps) {
  return (
    <section aria-label={title}>
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">{title}</h3>
      {rows.length === 0 ? <p className="mt-1 text-soft">{empty}</p> : null}
      <ul className="mt-1">
        {rows.map(([of, n]) => (
          <li key={of} className="flex items-baseline gap-3">
            <button type="button" className="db link link-hover min-w-0 flex-1 text-left break-words" onClick={() => onChoose(of)}>
              <Breakable text={of} />
            </button>
            {n === null ? null : <span className="text-soft tabular-nums">{n.toLocaleString('en')}</span>}
          </li>
        ))}
        {more > 0 ? <li className="text-soft">and {more.toLocaleString('en')} more</li> : null}
      </ul>
    </section>
  )
}
