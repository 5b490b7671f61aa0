'use client'

import { useVirtualizer } from '@tanstack/react-virtual'
import { useRouter } from 'next/navigation'
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { matchesObject, type ObjectGroup, type ObjectRow, objectGroups } from '../../core/browse/index.ts'
import { Pane } from '../common/Pane.tsx'
import { useCatalog } from '../common/useCatalog.ts'
import { CatalogOverview } from './CatalogOverview.tsx'
import { ColumnView } from './ColumnView.tsx'
import { ObjectView } from './ObjectView.tsx'

interface Props {
  readonly projectId: string
  readonly hash: string
  readonly entries: readonly unknown[]
  readonly at: string | null
  readonly column: string | null
}

const noRows: readonly ObjectRow[] = []

/** All objects of the snapshot: a list that is searched and filtered as one types, and the one that is chosen beside it. */
export function CatalogDesk({ projectId, hash, entries, at, column }: Props) {
  const router = useRouter()
  const ask = useCatalog(hash, entries)
  const [rows, setRows] = useState<readonly ObjectRow[]>(noRows)
  const [problem, setProblem] = useState<string | null>(null)
  const [search, setSearch] = useState('')
  const [group, setGroup] = useState<ObjectGroup | null>(null)
  const needle = useDeferredValue(search)
  useEffect(() => {
    let current = true
    ask({ ask: 'objects' }).then(
      (found) => current && setRows(found),
      (error: Error) => current && setProblem(error.message),
    )
    return () => {
      current = false
    }
  }, [ask])
  const found = useMemo(() => rows.filter((r) => matchesObject(r, needle)), [rows, needle])
  const shown = useMemo(() => (group === null ? found : found.filter((r) => r.group === group)), [found, group])
  const go = (query: Readonly<Record<string, string>>) => router.push(`/p/${projectId}/catalog?${new URLSearchParams(query)}`)
  return (
    <main className="grid h-full min-h-0 grid-cols-[340px_minmax(0,1fr)]">
      <section aria-label="Objects" className="flex min-h-0 flex-col border-r border-rule">
        <div className="border-b border-rule px-3 pt-2 pb-2">
          <div className="flex items-baseline gap-2">
            <h1 className="text-lg">Catalog</h1>
            <span className="text-soft">{shown.length.toLocaleString('en')} shown</span>
          </div>
          <fieldset className="mt-1 flex flex-wrap gap-1" aria-label="Which objects">
            {objectGroups.map((g) => {
              const n = found.filter((r) => r.group === g).length
              return (
                <button
                  key={g}
                  type="button"
                  aria-pressed={group === g}
                  onClick={() => setGroup(group === g ? null : g)}
                  className={`border px-1.5 text-[0.9em] ${group === g ? 'border-ink bg-card font-semibold' : 'border-rule text-soft hover:border-ink'}`}
                >
                  {g} {n.toLocaleString('en')}
                </button>
              )
            })}
          </fieldset>
          <input
            className="input input-sm mt-2 w-full"
            placeholder="Search names, kinds and comments"
            aria-label="Search the catalog"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
        </div>
        {problem === null ? null : <p className="px-3 py-3 text-needs">The snapshot could not be read: {problem}. Reload the page.</p>}
        <Pane>
          <ObjectList
            rows={shown}
            chosen={at}
            onChoose={(id) => go({ at: id })}
            empty={rows.length > 0 && search !== '' ? `Nothing matches “${search}”.` : ''}
          />
        </Pane>
      </section>
      {column !== null ? (
        <Pane of={column} key={column}>
          <ColumnView name={column} ask={ask} onObject={(id) => go({ at: id })} onColumn={(name) => go({ column: name })} />
        </Pane>
      ) : at !== null ? (
        <Pane of={at} key={at}>
          <ObjectView id={at} ask={ask} onObject={(id) => go({ at: id })} onColumn={(name) => go({ column: name })} />
        </Pane>
      ) : (
        <Pane>
          <CatalogOverview ask={ask} onObject={(id) => go({ at: id })} onColumn={(name) => go({ column: name })} />
        </Pane>
      )}
    </main>
  )
}

/** Renders only what is in view. */
function ObjectList({ rows, chosen, onChoose, empty }: { rows: readonly ObjectRow[]; chosen: string | null; onChoose: (id: string) => void; empty: string }) {
  const scroller = useRef<HTMLDivElement>(null)
  const at = rows.findIndex((r) => r.id === chosen)
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => 42, overscan: 10 })
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' })
  }, [at, virtual])
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
      {rows.length === 0 && empty !== '' ? <p className="px-3 py-3 font-serif text-base">{empty}</p> : null}
      <ol style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index] as ObjectRow
          return (
            <li key={row.id} className="absolute inset-x-0" style={{ height: item.size, transform: `translateY(${item.start}px)` }}>
              <button
                type="button"
                aria-current={row.id === chosen}
                onClick={() => onChoose(row.id)}
                title={row.comment ?? undefined}
                className={`block h-full w-full border-b border-l-4 border-b-rule px-3 text-left ${row.id === chosen ? 'border-l-needs bg-card' : 'border-l-transparent hover:bg-card'}`}
              >
                <span className="db block truncate">
                  {row.schema === '' ? '' : <span className="text-soft">{row.schema}.</span>}
                  {row.name}
                </span>
                <span className="block truncate text-[0.88em] text-soft">
                  {row.kind}
                  {row.says === '' ? '' : ` ${row.says}`}
                </span>
              </button>
            </li>
          )
        })}
      </ol>
    </div>
  )
}
