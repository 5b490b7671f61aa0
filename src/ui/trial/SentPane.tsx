'use client'

import { useState } from 'react'
import type { Level, WaysCompared, Writes } from '../../core/trial/index.ts'

interface Props {
  readonly levels: readonly Level[]
  readonly compared: WaysCompared | null
  readonly busy: boolean
  readonly onCompare: (() => void) | null
  readonly writes: Writes
  /** Whose rows those are. */
  readonly of: string
}

const time = (ms: number | null) => (ms === null ? 'not sent' : `${ms.toFixed(ms < 10 ? 1 : 0)} ms`)

/** The statements of each step, and the same rows read in other ways. */
export function SentPane({ levels, compared, busy, onCompare, writes, of }: Props) {
  return (
    <section aria-label="Sent" className="min-h-0 overflow-auto border-l border-rule px-4 py-3">
      <h2 className="text-lg">What was sent</h2>
      {levels.length === 0 ? <p className="text-soft">Nothing yet.</p> : null}
      {levels.map((l, i) => (
        <div key={`${l.entity} ${i}`} className="mt-2">
          <p className="flex items-baseline gap-2">
            <b className="min-w-0 flex-1 break-words">{l.property ?? l.name}</b>
            <span className="text-soft">
              {l.statements} {l.statements === 1 ? 'statement' : 'statements'}, {time(l.milliseconds)}
            </span>
          </p>
          {l.sql === '' ? <p className="text-soft">No row of the step before leads there: nothing was sent.</p> : <Sql text={l.sql} />}
        </div>
      ))}
      <p className="mt-2 text-soft">Only read; the counts of the conditions are sent beside it.</p>
      {onCompare && levels.length > 1 ? (
        <button type="button" className="btn btn-xs mt-3" onClick={onCompare} disabled={busy}>
          Compare the ways to read them
        </button>
      ) : null}
      {compared ? <Compared compared={compared} /> : null}
      <Never title={`What saving a row of ${of} would send`} steps={writes.save} />
      <Never title={`What deleting a row of ${of} would send`} steps={writes.remove} />
    </section>
  )
}

/** Statements that nobody sends, in their order. */
function Never({ title, steps }: { readonly title: string; readonly steps: Writes['save'] }) {
  if (steps.length === 0) return null
  return (
    <details className="mt-4">
      <summary className="cursor-pointer border-b border-rule pb-0.5 font-semibold">{title}</summary>
      <p className="mt-1 text-soft">Shown only: a trial never writes.</p>
      <ol className="list-decimal pl-5">
        {steps.map((s) => (
          <li key={`${s.says} ${s.sql ?? ''}`} className="mt-1">
            {s.says}
            {s.sql === null ? null : <pre className="db mt-0.5 border border-rule bg-card p-2 text-[0.92em] whitespace-pre-wrap break-words">{s.sql}</pre>}
          </li>
        ))}
      </ol>
    </details>
  )
}

function Compared({ compared }: { readonly compared: WaysCompared }) {
  return (
    <section aria-label="Ways compared" className="mt-3">
      <table className="w-full tabular-nums">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">way</th>
            <th className="pl-2 text-right font-normal">statements</th>
            <th className="pl-2 text-right font-normal">rows sent</th>
            <th className="pl-2 text-right font-normal">time</th>
          </tr>
        </thead>
        <tbody>
          {compared.ways.map((w) => (
            <tr key={w.way} className="border-t border-rule">
              <td>{w.way}</td>
              <td className="pl-2 text-right">{w.statements.toLocaleString('en')}</td>
              <td className="pl-2 text-right">{w.rows === null ? '' : w.rows.toLocaleString('en')}</td>
              <td className="pl-2 text-right">{time(w.milliseconds)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 font-serif text-base">{compared.advice}</p>
      {compared.ways.map((w) => (
        <details key={w.way} className="mt-1">
          <summary className="cursor-pointer text-soft">{w.way}</summary>
          <Sql text={w.sql} />
        </details>
      ))}
    </section>
  )
}

function Sql({ text }: { readonly text: string }) {
  const [copied, setCopied] = useState(false)
  return (
    <>
      <pre className="db mt-1 border border-rule bg-card p-2 text-[0.92em] whitespace-pre-wrap break-words">{text}</pre>
      <button type="button" className="btn btn-xs mt-1" onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}>
        {copied ? 'Copied' : 'Copy'}
      </button>
    </>
  )
}
