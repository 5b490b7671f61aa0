'use client'

import { useState } from 'react'
import type { CheckAnswer } from '../../core/change/index.ts'
import type { EnvironmentView, Which } from '../../core/lineage/index.ts'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'

interface Props {
  readonly projectId: string
  readonly which: Which
  readonly count: number
  readonly environments: readonly EnvironmentView[]
  readonly head: number
}

/** Queries that tell before a step runs whether the rows let it, on an environment of one's choice. */
export function Checks({ projectId, which, count, environments, head }: Props) {
  const [environment, setEnvironment] = useState(environments[0]?.id ?? 0)
  const [answers, setAnswers] = useState<readonly CheckAnswer[] | null>(null)
  const [wording, setWording] = useState<Wording | null>(null)
  const [asking, setAsking] = useState(false)
  if (count === 0) return null
  const run = async () => {
    setAsking(true)
    const a = await post<readonly CheckAnswer[]>(`/api/projects/${projectId}/plans/check`, { environment, which })
    setAsking(false)
    setWording(a.ok ? null : a.wording)
    setAnswers(a.ok ? a.value : null)
  }
  const failing = answers?.filter((a) => a.count !== 0) ?? []
  return (
    <section aria-label="Pre-checks" className="mt-3">
      <h2 className="font-sans text-sm font-semibold">Pre-checks</h2>
      {environments.length === 0 ? (
        <p className="text-soft">
          {count === 1 ? 'One query tells' : `${count} queries tell`} whether the rows let it. Add an environment under Watch to ask there.
        </p>
      ) : (
        <p className="flex flex-wrap items-center gap-2">
          <span>{count === 1 ? 'One query' : `${count} queries`}, read-only, on</span>
          <select
            aria-label="Environment to ask"
            className="select select-xs w-auto"
            value={environment}
            onChange={(e) => setEnvironment(Number(e.target.value))}
          >
            {environments.map((e) => (
              <option key={e.id} value={e.id}>
                {e.name}
              </option>
            ))}
          </select>
          <button type="button" className="btn btn-xs" disabled={asking} onClick={() => void run()}>
            {asking ? 'Asking …' : 'Ask'}
          </button>
        </p>
      )}
      {wording ? <Complaint wording={wording} /> : null}
      {answers && failing.length === 0 ? (
        <p className="text-settled">✓ Nothing is in the way: {answers.length === 1 ? 'one query' : `${answers.length} queries`} answered.</p>
      ) : null}
      {failing.map((a) => (
        <Failing key={a.id} projectId={projectId} answer={a} head={head} onAgreed={() => setAnswers(null)} />
      ))}
    </section>
  )
}

function Failing({ projectId, answer: a, head, onAgreed }: { projectId: string; answer: CheckAnswer; head: number; onAgreed: () => void }) {
  const { wording, busy, send } = useSend()
  const [sql, setSql] = useState(a.cleaning ?? '')
  const agree = () =>
    void send(`/api/projects/${projectId}/ledger`, {
      entries: [
        {
          kind: 'schema-edit',
          edits: [{ do: 'clean rows', check: a.id, sql, says: sql === a.cleaning ? (a.cleaningSays ?? '') : 'a statement of one’s own' }],
          note: null,
        },
      ],
      seen: head,
    }).then((done) => done && onAgreed())
  return (
    <div className="mt-2 border-l-4 border-needs bg-card px-3 py-2">
      <p>
        <b className="text-needs">▲ Step {a.step} would stop.</b> {a.asks}{' '}
        <b>{a.count === null ? `The question was refused: ${a.said}` : `No: ${a.count.toLocaleString('en')} in the way.`}</b>
      </p>
      {a.rows.length > 0 ? (
        <table className="db mt-1">
          <thead>
            <tr>
              {a.columns.map((c) => (
                <th key={c} className="border-b border-rule pr-4 text-left font-normal text-soft">
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {a.rows.map((row) => (
              <tr key={row.join('\u0000')}>
                {row.map((v, i) => (
                  <td key={a.columns[i]} className="pr-4">
                    {v ?? <i className="text-soft">null</i>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {a.count === null ? null : (
        <>
          <label className="mt-2 block">
            <span className="text-soft">A statement that cleans them, as a step of its own before it. Read it, change it, and agree to it:</span>
            <textarea
              className="db textarea mt-1 h-20 w-full"
              value={sql}
              onChange={(e) => setSql(e.target.value)}
              spellCheck={false}
              placeholder="UPDATE … or DELETE …"
            />
          </label>
          <button type="button" className="btn btn-sm btn-primary mt-1" disabled={busy || sql.trim() === ''} onClick={agree}>
            Agree, and make it a step
          </button>
        </>
      )}
      {wording ? <Complaint wording={wording} /> : null}
    </div>
  )
}
