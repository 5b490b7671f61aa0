'use client'

import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { TrialPath, TrialView, Writes } from '../../core/trial/index.ts'
import { Complaint } from '../common/Complaint.tsx'
import { Pane } from '../common/Pane.tsx'
import { Levels } from './Levels.tsx'
import { PathPane } from './PathPane.tsx'
import { type Pin, Pins } from './Pins.tsx'
import { SentPane } from './SentPane.tsx'
import { useTrial } from './useTrial.ts'
import { useTrialFile } from './useTrialFile.ts'

interface Props {
  readonly projectId: string
  readonly view: TrialView
  /** Is there a server to ask for rows? Else they are in an SQLite file. */
  readonly served: boolean
  readonly snapshot: string
  /** Hash of the row evidence; null where none was read. */
  readonly rows: string | null
  readonly entries: readonly unknown[]
  readonly pins: readonly Pin[]
  /** Seq of the ledger's last entry. */
  readonly head: number
  /** Of the last entity of the path. */
  readonly writes: Writes
}

/** Real rows through the reviewed model: the path on the left, its rows in the middle, what was sent for them on the right. */
export function TrialDesk({ projectId, view, served, snapshot, rows, entries, pins, head, writes }: Props) {
  const router = useRouter()
  const { path } = view
  const text = JSON.stringify(path)
  const [after, setAfter] = useState<readonly (readonly string[])[]>([])
  const [chosen, setChosen] = useState<readonly (number | null)[]>([])
  const file = useTrialFile(snapshot, rows, entries)
  const asks = served || file.state === 'open'
  const trial = useTrial(projectId, served ? null : file.ask)
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
      <Pane>
        <PathPane view={view} counts={trial.answer?.trial.counts ?? null} countedTo={trial.answer?.trial.countedTo ?? 0} onShow={show}>
          <Pins projectId={projectId} pins={pins} path={path} head={head} onShow={show} />
        </PathPane>
      </Pane>
      <section aria-label="Rows" className="min-h-0 min-w-0 overflow-auto px-4 py-3">
        {view.problem === null ? null : (
          <Complaint wording={{ message: view.problem, detail: 'The path in the address does not hold any more, and was dropped.', hint: '' }} />
        )}
        {asks ? null : <ChooseFile file={file} />}
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
            <Pane>
              <Levels levels={trial.answer.trial.levels} chosen={chosen} onChoose={setChosen} />
            </Pane>
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
      <Pane>
        <SentPane
          levels={trial.answer?.trial.levels ?? []}
          compared={trial.answer?.compared ?? null}
          busy={trial.running}
          writes={writes}
          of={view.places.at(-1)?.name ?? ''}
          onCompare={asks ? () => run(path, after.at(-1) ?? null, true) : null}
        />
      </Pane>
    </main>
  )
}

/** The file was never kept: it is chosen again, and stays in the browser. */
function ChooseFile({ file }: { readonly file: ReturnType<typeof useTrialFile> }) {
  return (
    <>
      {file.wording ? <Complaint wording={file.wording} /> : null}
      <label className="mt-2 block">
        <span className="font-serif text-base">Choose the SQLite file this project was made from. It stays in this browser; nothing of it is sent.</span>
        <input
          type="file"
          className="mt-2 block"
          aria-label="The SQLite file"
          disabled={file.state === 'opening'}
          onChange={(e) => {
            const [chosen] = e.target.files ?? []
            if (chosen) void file.choose(chosen)
          }}
        />
      </label>
      {file.state === 'opening' ? (
        <p role="status" className="mt-2 text-soft">
          Opening the file …
        </p>
      ) : null}
    </>
  )
}
