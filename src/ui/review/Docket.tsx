'use client'

import { useVirtualizer } from '@tanstack/react-virtual'
import { type ReactNode, useEffect, useRef } from 'react'
import type { DocketItem } from '../../core/review/index.ts'
import { SentenceText } from './SentenceText.tsx'
import { StatusWord, stateWord } from './Status.tsx'
import { type DocketFilter, filters } from './useDocket.ts'

interface Props {
  /** What comes before all findings. */
  readonly before: ReactNode
  readonly items: readonly DocketItem[]
  readonly counts: Readonly<Record<DocketFilter, number>>
  readonly filter: DocketFilter
  readonly onFilter: (filter: DocketFilter) => void
  readonly search: string
  readonly onSearch: (text: string) => void
  readonly selected: string | null
  readonly onSelect: (id: string) => void
}

const labels: Readonly<Record<DocketFilter, string>> = {
  waiting: 'waiting',
  relationships: 'relationships',
  classes: 'classes',
  ruled: 'ruled',
  asked: 'asked',
  folded: 'folded',
}
const emptyTexts: Readonly<Record<DocketFilter, string>> = {
  waiting: 'Nothing waits for a ruling. What is certain needs none.',
  relationships: 'No relationship here.',
  classes: 'No class here.',
  ruled: 'Nothing has been ruled yet.',
  asked: 'Nobody is asked anything.',
  folded: 'Nothing is too unlikely to ask about.',
}

/** The queue of findings. Renders only what is in view: thousands of items cost no more than a few. */
export function Docket({ before, items, counts, filter, onFilter, search, onSearch, selected, onSelect }: Props) {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 78,
    overscan: 8,
    getItemKey: (i) => items[i]?.id ?? i,
  })
  const at = items.findIndex((i) => i.id === selected)
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' })
  }, [at, virtual])
  return (
    <section aria-label="Docket" className="flex min-h-0 flex-col border-r border-rule">
      <div className="border-b border-rule px-3 pt-2 pb-2">
        <div className="flex items-baseline gap-2">
          <h1 className="text-lg">Docket</h1>
          <span className="text-soft">{items.length} shown</span>
        </div>
        <fieldset className="mt-1 flex flex-wrap gap-1" aria-label="Which findings">
          {filters.map((f) => (
            <button
              key={f}
              type="button"
              aria-pressed={filter === f}
              onClick={() => onFilter(f)}
              className={`border px-1.5 text-[0.9em] ${filter === f ? 'border-ink bg-card font-semibold' : 'border-rule text-soft hover:border-ink'}`}
            >
              {labels[f]} <span className={f === 'waiting' && counts[f] > 0 ? 'text-needs' : ''}>{counts[f]}</span>
            </button>
          ))}
        </fieldset>
        <input
          id="docket-search"
          className="input input-sm mt-2 w-full"
          placeholder="Search, key /"
          value={search}
          onChange={(e) => onSearch(e.target.value)}
          aria-label="Search the docket"
        />
      </div>
      {before}
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
        {items.length === 0 ? <p className="px-3 py-4 font-serif text-base">{search === '' ? emptyTexts[filter] : `Nothing matches “${search}”.`}</p> : null}
        <ol style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((row) => {
            const item = items[row.index] as DocketItem
            return (
              <li
                key={row.key}
                data-index={row.index}
                ref={virtual.measureElement}
                style={{ position: 'absolute', top: 0, left: 0, width: '100%', transform: `translateY(${row.start}px)` }}
              >
                <DocketRow item={item} chosen={item.id === selected} onSelect={onSelect} />
              </li>
            )
          })}
        </ol>
      </div>
    </section>
  )
}

function DocketRow({ item, chosen, onSelect }: { item: DocketItem; chosen: boolean; onSelect: (id: string) => void }) {
  return (
    <button
      type="button"
      aria-current={chosen}
      onClick={() => onSelect(item.id)}
      className={`block w-full border-b border-l-4 border-b-rule px-3 py-1.5 text-left ${chosen ? 'border-l-needs bg-card' : 'border-l-transparent hover:bg-card'}`}
    >
      <span className="block font-serif text-[15px] leading-snug">
        {item.says.map((s, i) => (
          <span key={i}>
            {i > 0 ? ' ' : ''}
            <SentenceText sentence={s} />
          </span>
        ))}
      </span>
      <span className="flex items-baseline gap-3 text-[0.88em]">
        {item.changed ? <span className="font-semibold text-needs">◆ changed since it was</span> : null}
        <StatusWord status={item.status} />
        {item.state ? <span className="text-soft">{stateWord(item.state)}</span> : null}
        <span className="ml-auto text-soft">{item.confidence.toFixed(2)}</span>
      </span>
      {chosen ? (
        <span className="mt-1 flex flex-wrap gap-2 text-[0.88em]" aria-hidden="true">
          <span>
            <span className="key">A</span> accept
          </span>
          {item.state || item.kind === 'entity' ? (
            <span>
              <span className="key">M</span> rename
            </span>
          ) : null}
          {item.state || item.kind === 'polymorphic' ? (
            <span>
              <span className="key">X</span> reject
            </span>
          ) : null}
          {item.kind !== 'entity' && item.state !== 'enforced' && item.state !== 'declared' ? (
            <span>
              <span className="key">E</span> switch
            </span>
          ) : null}
          <span>
            <span className="key">U</span> undo
          </span>
        </span>
      ) : null}
    </button>
  )
}
