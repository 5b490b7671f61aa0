'use client'

import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { TrialPath, TrialView } from '../../core/trial/index.ts'
import { Complaint } from '../common/Complaint.tsx'
import { Levels } from './Levels.tsx'
import { PathPane } from './PathPane.tsx'
import { SentPane } from './SentPane.tsx'
import { useTrial } from './useTrial.ts'

interface Props {
  readonly projectId: string
  readonly view: TrialView
  /** Is there a server to ask for rows? */
  readonly asks: boolean
}

/** Real rows through the reviewed model: the path on the left, its rows in the middle, what was sent for them on the right. */
export function TrialDesk({ projectId, view, asks }: Props) {
  const router = useRouter()
  const { path } = view
  const text = JSON.stringify(path)
  const [after, setAfter] = useState<readonly (readonly string[])[]>([])
  const [chosen, setChosen] = useState<readonly (number | null)[]>([])
  const trial = useTrial(projectId)
  const { run } = trial
  const latest = useRef(path)
  latest.current = path
  const show = useCallback((next: TrialPath) => router.push(`?path=${encodeURIComponent(JSON.stringify(next))}`, { scroll: false }), [router])
  // Another path begins at its first portion.
  useEffect(() => {
    setAfter([])
    setChosen([])
    if (asks) run(latest.current, null)
  }, [text, asks, run])
  const turn = (next: readonly (readonly string[])[]) => {
    setAfter(next)
    setChosen([])
    run(path, next.at(-1) ?? null)
  }
  return (
    <main className="grid h-full" style={{ gridTemplateColumns: 'clamp(250px,23.4vw,400px) minmax(0,1fr) clamp(280px,26.6vw,480px)' }}>
      <PathPane view={view} counts={trial.answer?.trial.counts ?? null} countedTo={trial.answer?.trial.countedTo ?? 0} onShow={show} />
      <section aria-label="Rows" className="min-h-0 min-w-0 overflow-auto px-4 py-3">
        {view.problem === null ? null : <Complaint wording={{ message: view.problem, detail: 'The path in the address was left.', hint: '' }} />}
        {asks ? null : (
          <p className="font-serif text-base">
            Pelvok has no server to ask for these rows: this project was read from a file. Connect to a server that has them.
          </p>
        )}
        {trial.wording ? <Complaint wording={trial.wording} /> : null}
        {trial.running ? (
          <p role="status" className="flex items-baseline gap-3 text-soft">
            Asking for rows …{' '}
            <button type="button" className="btn btn-xs" onClick={trial.cancel}>
              Cancel
            </button>
          </p>
        ) : null}
        {trial.answer ? (
          <>
            <Levels levels={trial.answer.trial.levels} chosen={chosen} onChoose={setChosen} />
            {after.length > 0 || trial.answer.trial.next ? (
              <p className="mt-3 flex gap-2">
                <button type="button" className="btn btn-xs" disabled={after.length === 0} onClick={() => turn(after.slice(0, -1))}>
                  Rows before
                </button>
                <button
                  type="button"
                  className="btn btn-xs"
                  disabled={trial.answer.trial.next === null}
                  onClick={() => turn([...after, trial.answer?.trial.next ?? []])}
                >
                  Rows after
                </button>
              </p>
            ) : null}
          </>
        ) : null}
      </section>
      <SentPane
        levels={trial.answer?.trial.levels ?? []}
        compared={trial.answer?.compared ?? null}
        busy={trial.running}
        onCompare={asks ? () => run(path, after.at(-1) ?? null, true) : null}
      />
    </main>
  )
}
