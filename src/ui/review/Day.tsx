'use client'

import { useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import type { ReviewView } from '../../core/review/index.ts'
import { type SinceVisit, type ThresholdView, thresholdEntry } from '../../core/review/index.ts'
import { timeText } from '../common/time.ts'
import { AsidePane } from './AsidePane.tsx'

interface Props {
  readonly view: ReviewView
  readonly onArea: (area: string) => void
  /** Show what changed since the last visit. */
  readonly onFresh: () => void
  readonly onStop: () => Promise<boolean>
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
  readonly onClose: () => void
}

const count = (n: number, one: string, many = `${one}s`) => (n === 0 ? [] : [`${n} ${n === 1 ? one : many}`])

/** How far the review is, what this day came to, what happened since the last visit, and a place to stop. */
export function Day({ view, onArea, onFresh, onStop, onAppend, onClose }: Props) {
  const [stopped, setStopped] = useState<'no' | 'yes' | 'failed'>('no')
  const sum = (of: 'open' | 'asked' | 'settled' | 'today') => view.progress.reduce((n, p) => n + p[of], 0)
  return (
    <AsidePane title="Day" onClose={onClose}>
      {view.since ? <Since since={view.since} onFresh={onFresh} /> : null}
      <h3 className="mt-3 border-b border-rule pb-0.5 font-sans text-sm font-semibold">Today</h3>
      {view.people === null ? <p className="mt-1 text-soft">Being worked out …</p> : null}
      {view.people?.length === 0 ? <p className="mt-1 text-soft">Nothing was ruled today.</p> : null}
      <ul className="mt-1">
        {view.people?.map((p) => (
          <li key={p.who}>
            <b>{p.who}</b>:{' '}
            {[
              ...count(p.rulings, 'ruling'),
              ...count(p.edits, 'edit'),
              ...count(p.asked, 'question'),
              ...count(p.takenBack, 'entry taken back', 'entries taken back'),
            ].join(', ')}
          </li>
        ))}
      </ul>
      <h3 className="mt-3 border-b border-rule pb-0.5 font-sans text-sm font-semibold">Area by area</h3>
      <table className="mt-1 w-full tabular-nums">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">area</th>
            {['today', 'settled', 'asked', 'open'].map((h) => (
              <th key={h} className="pl-2 text-right font-normal">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {view.progress.map((p) => (
            <tr key={p.text} className="border-t border-rule align-top">
              <td>
                <button type="button" className="link link-hover text-left break-words" onClick={() => onArea(p.text)}>
                  {p.text}
                </button>
              </td>
              <td className="pl-2 text-right">{p.today}</td>
              <td className="pl-2 text-right">{p.settled}</td>
              <td className="pl-2 text-right">{p.asked}</td>
              <td className={`pl-2 text-right ${p.open > 0 ? 'font-semibold text-needs' : ''}`}>{p.open}</td>
            </tr>
          ))}
          <tr className="border-t border-ink">
            <td>in all</td>
            {(['today', 'settled', 'asked', 'open'] as const).map((of) => (
              <td key={of} className="pl-2 text-right">
                {sum(of)}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <Needed threshold={view.threshold} onSet={(value) => void onAppend([thresholdEntry(value)])} />
      <h3 className="mt-3 border-b border-rule pb-0.5 font-sans text-sm font-semibold">A place to stop</h3>
      {stopped === 'yes' ? (
        <p className="mt-1">Stopped at entry {view.head}. Next time the docket stands as it does now, and says what others did meanwhile.</p>
      ) : (
        <>
          <p className="mt-1 text-soft">Every ruling is kept already. Stopping marks how far you have seen, so that next time you are told what changed.</p>
          <button type="button" className="btn btn-xs mt-1" onClick={() => void onStop().then((kept) => setStopped(kept ? 'yes' : 'failed'))}>
            Stop here
          </button>
          {stopped === 'failed' ? <p className="mt-1 text-needs">The place could not be kept; try again.</p> : null}
        </>
      )}
    </AsidePane>
  )
}

/** How sure a proposal must be to be taken without anybody ruling on it. */
function Needed({ threshold, onSet }: { threshold: ThresholdView; onSet: (value: number) => void }) {
  return (
    <>
      <h3 className="mt-3 border-b border-rule pb-0.5 font-sans text-sm font-semibold">What needs no ruling</h3>
      <label className="mt-1 flex flex-wrap items-baseline gap-x-2">
        Proposals that are
        <select className="select select-xs w-auto" value={threshold.value} onChange={(e) => onSet(Number(e.target.value))}>
          {threshold.choices.map((c) => (
            <option key={c.value} value={c.value}>
              {c.value.toFixed(2)} sure or surer: {c.waits} would wait
            </option>
          ))}
        </select>
      </label>
      <p className="mt-1 text-soft">
        {threshold.by === null ? 'As every project begins.' : `Set by ${threshold.by}.`} The next seal settles them. What was ruled on or sealed already stays
        as it is.
      </p>
    </>
  )
}

function Since({ since, onFresh }: { since: SinceVisit; onFresh: () => void }) {
  return (
    <>
      <h3 className="mt-2 border-b border-rule pb-0.5 font-sans text-sm font-semibold">Since you were here, {timeText(since.at)}</h3>
      <ul className="mt-1">
        {since.by.map((b) => (
          <li key={b.who}>
            <b>{b.who}</b>: {count(b.n, 'entry', 'entries')}
          </li>
        ))}
        {since.newSurvey ? <li>A new survey was read; findings whose answer has changed stand first among what waits.</li> : null}
        {since.newRows ? <li>Rows were read.</li> : null}
      </ul>
      {since.findings.length > 0 ? (
        <button type="button" className="btn btn-xs mt-1" onClick={onFresh}>
          Show the {since.findings.length === 1 ? 'finding' : `${since.findings.length} findings`} they are about
        </button>
      ) : null}
    </>
  )
}
