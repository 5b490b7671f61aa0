'use client'

import { useVirtualizer } from '@tanstack/react-virtual'
import { type ReactNode, useEffect, useRef } from 'react'
import {
  type DocketItem,
  type DocketLine,
  foundIn,
  type Heading,
  narrowings,
  type Order,
  orders,
  type Show,
  type SinceVisit,
  shows,
} from '../../core/review/index.ts'
import { Breakable } from '../common/Breakable.tsx'
import { SentenceText } from './SentenceText.tsx'
import { StatusWord, stateWord } from './Status.tsx'
import type { DocketHandle } from './useDocket.ts'

interface Props {
  /** What comes before all findings. */
  readonly before: ReactNode
  readonly docket: DocketHandle
  readonly selected: string | null
  readonly onSelect: (id: string) => void
  readonly since: SinceVisit | null
  /** Back to the finding that was worked on; null while it is the one selected. */
  readonly back: (() => void) | null
}

const emptyTexts: Readonly<Record<Show, string>> = {
  waiting: 'Nothing waits for a ruling. What is certain needs none.',
  relationships: 'No relationship here.',
  classes: 'No class here.',
  structure: 'Nothing about types, keys and structure is remarkable here.',
  ruled: 'Nothing has been ruled yet.',
  asked: 'Nobody is asked anything.',
  folded: 'Nothing is too unlikely to ask about.',
}

/** The queue of findings. Renders only what is in view: thousands of items cost no more than a few. */
export function Docket({ before, docket, selected, onSelect, since, back }: Props) {
  const { lines, items, counts, complete, arrangement, change } = docket
  const { show, order, search } = arrangement
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (lines[i]?.kind === 'heading' ? 30 : 78),
    overscan: 8,
    getItemKey: (i) => lineKey(lines[i], i),
  })
  const at = lines.findIndex((l) => l.kind === 'item' && l.item.id === selected)
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' })
  }, [at, virtual])
  return (
    <section aria-label="Docket" className="flex min-h-0 flex-col border-r border-rule">
      <div className="border-b border-rule px-3 pt-2 pb-2">
        <div className="flex items-baseline gap-2">
          <h1 className="text-lg">Docket</h1>
          <span className="text-soft">{counts === null ? 'being worked out' : complete ? `${items.length} shown` : `${items.length} shown so far`}</span>
          <label className="ml-auto">
            <span className="sr-only">Order</span>
            <select className="select select-xs w-auto" value={order} onChange={(e) => change({ order: e.target.value as Order })}>
              {orders.map((o) => (
                <option key={o}>{o}</option>
              ))}
            </select>
          </label>
        </div>
        <fieldset className="mt-1 flex flex-wrap gap-1" aria-label="Which findings">
          {shows.map((f) => (
            <button
              key={f}
              type="button"
              aria-pressed={show === f}
              onClick={() => change({ show: f })}
              className={`border px-1.5 text-[0.9em] ${show === f ? 'border-ink bg-card font-semibold' : 'border-rule text-soft hover:border-ink'}`}
            >
              {f}
              {counts === null ? '' : ' '}
              {counts === null ? null : <span className={f === 'waiting' && counts[f] > 0 ? 'text-needs' : ''}>{counts[f]}</span>}
            </button>
          ))}
        </fieldset>
        <input
          id="docket-search"
          className="input input-sm mt-2 w-full"
          placeholder="Search, key /"
          value={search}
          onChange={(e) => change({ search: e.target.value })}
          aria-label="Search the docket"
        />
        <Narrow docket={docket} since={since} />
      </div>
      {back ? (
        <button type="button" className="border-b border-rule px-3 py-1 text-left text-soft hover:bg-card" onClick={back}>
          <span className="key">P</span> Back to where I was
        </button>
      ) : null}
      {before}
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
        {lines.length === 0 ? <Empty docket={docket} /> : null}
        <ol style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((row) => {
            const line = lines[row.index] as DocketLine
            return (
              <li
                key={row.key}
                data-index={row.index}
                ref={virtual.measureElement}
                style={{ position: 'absolute', top: 0, left: 0, width: '100%', transform: `translateY(${row.start}px)` }}
              >
                {line.kind === 'heading' ? (
                  <GroupHeading heading={line.heading} />
                ) : (
                  <DocketRow item={line.item} chosen={line.item.id === selected} onSelect={onSelect} />
                )}
              </li>
            )
          })}
        </ol>
      </div>
    </section>
  )
}

const lineKey = (line: DocketLine | undefined, i: number) => (line === undefined ? i : line.kind === 'item' ? line.item.id : `heading ${line.heading.text}`)

const emptyText = ({ arrangement: a, narrowed }: DocketHandle) =>
  a.search !== ''
    ? `Nothing among ${a.show} matches “${a.search}”${narrowed ? ' as narrowed' : ''}.`
    : narrowed
      ? 'Nothing here as narrowed.'
      : emptyTexts[a.show]

/** Why nothing is listed, and where there is something. */
function Empty({ docket }: { docket: DocketHandle }) {
  const { arrangement, change, complete, counts, all, narrowed } = docket
  if (!complete) return <p className="px-3 py-4 font-serif text-base">Being worked out …</p>
  const elsewhere = narrowed ? [] : foundIn(all, arrangement).filter((f) => f.show !== arrangement.show)
  const others =
    arrangement.search !== ''
      ? elsewhere
      : arrangement.show === 'waiting' && (counts?.relationships ?? 0) > 0
        ? [{ show: 'relationships' as const, n: counts?.relationships ?? 0 }]
        : []
  return (
    <div className="px-3 py-4">
      <p className="font-serif text-base">{emptyText(docket)}</p>
      {others.length > 0 ? (
        <p className="mt-2 flex flex-wrap gap-1">
          {others.map((o) => (
            <button key={o.show} type="button" className="btn btn-xs" onClick={() => change({ show: o.show })}>
              {o.n} among {o.show}
            </button>
          ))}
        </p>
      ) : null}
    </div>
  )
}

/** What the docket is narrowed to: folded until something is. */
function Narrow({ docket, since }: { docket: DocketHandle; since: SinceVisit | null }) {
  const { arrangement, change, choices, narrowed } = docket
  return (
    <details className="mt-1" open={narrowed}>
      <summary className="cursor-pointer text-soft">Narrow to …</summary>
      <div className="mt-1 grid grid-cols-2 gap-1">
        {narrowings.map((n) => (
          <select
            key={n}
            aria-label={`Narrow by ${n}`}
            className={`select select-xs w-full ${arrangement[n] === null ? 'text-soft' : ''}`}
            value={arrangement[n] ?? ''}
            onChange={(e) => change({ [n]: e.target.value === '' ? null : e.target.value })}
          >
            <option value="">any {n}</option>
            {[...choices[n], ...[arrangement[n] ?? []].flat().filter((v) => !choices[n].includes(v))].map((v) => (
              <option key={v}>{v}</option>
            ))}
          </select>
        ))}
      </div>
      <p className="mt-1 flex items-center gap-2">
        {since && since.findings.length > 0 ? (
          <label className="flex flex-1 items-center gap-1">
            <input type="checkbox" className="checkbox checkbox-xs" checked={arrangement.fresh} onChange={(e) => change({ fresh: e.target.checked })} />
            only what changed since my last visit
          </label>
        ) : null}
        {narrowed ? (
          <button
            type="button"
            className="btn btn-xs ml-auto"
            onClick={() => change({ kind: null, area: null, table: null, state: null, confidence: null, fresh: false })}
          >
            All again
          </button>
        ) : null}
      </p>
    </details>
  )
}

/** A group of findings, and how far its review is. */
function GroupHeading({ heading: h }: { heading: Heading }) {
  return (
    <h2 className="flex items-baseline gap-3 border-b border-rule bg-card px-3 py-1 font-sans text-sm font-semibold">
      <span className="min-w-0 flex-1 break-words">{h.text}</span>
      <span className="font-normal text-[0.92em] text-soft">
        {h.open > 0 ? <span className="text-needs">{h.open} open</span> : 'none open'}
        {h.asked > 0 ? `, ${h.asked} asked` : ''}, {h.settled} settled
      </span>
    </h2>
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
      <span className="block font-serif text-[15px] leading-snug break-words">
        {item.says.map((s, i) => (
          <span key={i}>
            {i > 0 ? ' ' : ''}
            <SentenceText sentence={s} />
          </span>
        ))}
      </span>
      <span className="flex items-baseline gap-3 text-[0.88em]">
        {item.changed ? <span className="font-semibold text-needs">◆ changed since it was</span> : null}
        <StatusWord status={item.status} by={item.by} />
        {item.state ? <span className="text-soft">{stateWord(item.state)}</span> : null}
        <span className="ml-auto text-soft">{item.confidence.toFixed(2)}</span>
      </span>
      {item.ruled === null ? null : (
        <span className="block text-[0.88em] break-words">
          <Breakable text={item.ruled} />
        </span>
      )}
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
            <span className="key">S</span> skip
          </span>
          <span>
            <span className="key">U</span> undo
          </span>
        </span>
      ) : null}
    </button>
  )
}
