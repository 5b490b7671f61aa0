'use client'

import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { Look } from '../../core/review/index.ts'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { Cell, ScrolledRows } from '../common/ScrolledRows.tsx'

/** The chart is a large library, fetched when there is something to draw. */
const SpreadChart = dynamic(() => import('./SpreadChart.tsx'), { ssr: false })

interface Looked {
  readonly columns: readonly string[]
  readonly rows: readonly (readonly (string | null)[])[]
  readonly milliseconds: number
}

type Asked = { readonly finding: string; readonly look: Look['key'] } | { readonly query: string }

/** What runs one of the review's queries; null where no server has the rows. */
export type RunLook = ((asked: Asked) => Promise<{ readonly ok: true; readonly value: Looked } | { readonly ok: false; readonly wording: Wording }>) | null

export const runLookOf =
  (projectId: string): NonNullable<RunLook> =>
  (asked) =>
    post<Looked>(`/api/projects/${projectId}/look`, asked)

/** Queries over the rows of a finding, each to be copied, run, and its rows seen. */
export function Looks({ id, looks, run }: { readonly id: string; readonly looks: readonly Look[]; readonly run: RunLook }) {
  if (looks.length === 0) return null
  return (
    <div className="mt-4">
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">In the rows</h3>
      {run === null ? <p className="mt-1 text-soft">Pelvok has no server to ask for these rows; the queries can be run where they are.</p> : null}
      {looks.map((l) => (
        <QueryBox key={l.key} label={l.label} sql={l.sql} run={run && (() => run({ finding: id, look: l.key }))} chart={l.key === 'spread'} />
      ))}
    </div>
  )
}

interface BoxProps {
  readonly label: string
  readonly sql: string
  readonly run: (() => ReturnType<NonNullable<RunLook>>) | null
  /** The rows say how many parents have how many children. */
  readonly chart?: boolean
}

/** One query: its text, copied or run, and what it gave. */
export function QueryBox({ label, sql, run, chart = false }: BoxProps) {
  const [copied, setCopied] = useState(false)
  const [state, setState] = useState<'idle' | 'running' | { readonly looked: Looked } | { readonly wording: Wording }>('idle')
  const go = () => {
    if (!run) return
    setState('running')
    void run().then((a) => setState(a.ok ? { looked: a.value } : { wording: a.wording }))
  }
  return (
    <div className="mt-1">
      <div className="flex flex-wrap items-baseline gap-2">
        <span className="min-w-0 flex-1 break-words">{label}</span>
        {run ? (
          <button type="button" className="btn btn-xs" onClick={go} disabled={state === 'running'} aria-label={`Run: ${label}`}>
            {state === 'running' ? 'Running …' : typeof state === 'object' ? 'Run again' : 'Run'}
          </button>
        ) : null}
      </div>
      {typeof state === 'object' && 'looked' in state ? chart ? <Spread looked={state.looked} /> : <RowTable looked={state.looked} /> : null}
      {typeof state === 'object' && 'wording' in state ? <Complaint wording={state.wording} /> : null}
      <details>
        <summary className="cursor-pointer text-soft">the query</summary>
        <pre className="db mt-1 border border-rule bg-card p-2 text-[0.92em] whitespace-pre-wrap break-words">{sql}</pre>
        <button type="button" className="btn btn-xs mt-1" onClick={() => void navigator.clipboard.writeText(sql).then(() => setCopied(true))}>
          {copied ? 'Copied' : 'Copy'}
        </button>
      </details>
    </div>
  )
}

/** `412 over 37, 0 to 41 each, median 9`, and how many parents have how many. */
function Spread({ looked }: { readonly looked: Looked }) {
  const counts = looked.rows.map(([n, parents]) => ({ n: Number(n), parents: Number(parents) }))
  const parents = counts.reduce((s, c) => s + c.parents, 0)
  if (parents === 0) return <p className="text-soft">There are no rows to count for.</p>
  const children = counts.reduce((s, c) => s + c.n * c.parents, 0)
  let seen = 0
  const median = counts.find((c) => {
    seen += c.parents
    return seen * 2 >= parents
  })
  const without = counts.find((c) => c.n === 0)?.parents ?? 0
  const says = `${children.toLocaleString('en')} over ${parents.toLocaleString('en')}, ${counts[0]?.n ?? 0} to ${counts.at(-1)?.n ?? 0} each, median ${median?.n ?? 0}${without > 0 ? `; ${without.toLocaleString('en')} have none` : ''}.`
  return (
    <>
      <p className="font-serif text-base">{says}</p>
      <SpreadChart counts={counts} says={says} />
      <p className="text-soft">{looked.milliseconds} ms</p>
    </>
  )
}

function RowTable({ looked }: { readonly looked: Looked }) {
  if (looked.rows.length === 0) return <p className="text-soft">No row. {looked.milliseconds} ms</p>
  return (
    <>
      <ScrolledRows
        label="Rows"
        height="max-h-56"
        head={looked.columns.map((c, i) => (
          <th key={i} className="border-b border-rule px-1.5 font-semibold whitespace-nowrap">
            {c}
          </th>
        ))}
      >
        {looked.rows.map((r, i) => (
          <tr key={i} className="border-b border-rule">
            {r.map((v, k) => (
              <Cell key={k} value={v} />
            ))}
          </tr>
        ))}
      </ScrolledRows>
      <p className="text-soft">
        {looked.rows.length} {looked.rows.length === 1 ? 'row' : 'rows'}, {looked.milliseconds} ms
      </p>
    </>
  )
}
