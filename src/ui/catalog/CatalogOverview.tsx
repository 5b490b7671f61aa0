'use client'

import { type ReactNode, useEffect, useState } from 'react'
import type { CatalogOverview as Overview } from '../../core/browse/index.ts'
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
      <div className="mt-6 grid grid-cols-[repeat(auto-fit,minmax(240px,1fr))] gap-x-8 gap-y-6">
        <Ranked title="Referred to most" rows={referred} onChoose={onObject} empty="No foreign key is declared." />
        <Ranked title="Most columns" rows={widest} onChoose={onObject} empty="There is no table." />
        <Ranked title="Column names that occur most" rows={columns} onChoose={onColumn} empty="There is no column." />
        <Listed title="Without a primary key" of={keyless} onChoose={onObject} empty="Every table has one." />
        <Listed title="No foreign key to or from" of={alone} onChoose={onObject} empty="Every table is linked to another." />
      </div>
    </section>
  )
}

function List({ title, empty, children }: { title: string; empty: string | null; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">{title}</h3>
      {empty === null ? <ul className="mt-1">{children}</ul> : <p className="mt-1 text-soft">{empty}</p>}
    </section>
  )
}

function Name({ of, onChoose }: { of: string; onChoose: (id: string) => void }) {
  return (
    <button type="button" className="db link link-hover min-w-0 flex-1 text-left break-words" onClick={() => onChoose(of)}>
      <Breakable text={of} />
    </button>
  )
}

interface RankedProps {
  readonly title: string
  readonly rows: Overview['referred']
  readonly onChoose: (id: string) => void
  readonly empty: string
}

function Ranked({ title, rows, onChoose, empty }: RankedProps) {
  return (
    <List title={title} empty={rows.length === 0 ? empty : null}>
      {rows.map(([of, n]) => (
        <li key={of} className="flex items-baseline gap-3">
          <Name of={of} onChoose={onChoose} />
          <span className="text-soft tabular-nums">{n.toLocaleString('en')}</span>
        </li>
      ))}
    </List>
  )
}

interface ListedProps {
  readonly title: string
  readonly of: Overview['keyless']
  readonly onChoose: (id: string) => void
  readonly empty: string
}

function Listed({ title, of, onChoose, empty }: ListedProps) {
  return (
    <List title={of.n > 0 ? `${title}: ${of.n.toLocaleString('en')}` : title} empty={of.n === 0 ? empty : null}>
      {of.first.map((id) => (
        <li key={id} className="flex">
          <Name of={id} onChoose={onChoose} />
        </li>
      ))}
      {of.n > of.first.length ? <li className="text-soft">and {(of.n - of.first.length).toLocaleString('en')} more</li> : null}
    </List>
  )
}
