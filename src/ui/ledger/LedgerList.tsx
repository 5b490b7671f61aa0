'use client'

import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { get, post, type Wording } from '../common/api.ts'
import { Breakable } from '../common/Breakable.tsx'
import { Complaint } from '../common/Complaint.tsx'
import { timeText } from '../common/time.ts'

export interface LedgerLine {
  readonly seq: number
  readonly by: string
  readonly at: string
  readonly what: string
  readonly reverted: boolean
  readonly kind: string
}

/** Every entry, newest first. Taking one back appends; nothing is deleted. */
export function LedgerList({ projectId, entries }: { projectId: string; entries: readonly LedgerLine[] }) {
  const router = useRouter()
  const [wording, setWording] = useState<Wording | null>(null)
  const [taken, setTaken] = useState<number | null>(null)
  const takeIn = async (input: HTMLInputElement) => {
    const [file] = input.files ?? []
    if (!file) return
    const answer = await post<{ added: number }>(`/api/projects/${projectId}/ledger/import`, { text: await file.text() })
    // The same file can be chosen again.
    input.value = ''
    setWording(answer.ok ? null : answer.wording)
    setTaken(answer.ok ? answer.value.added : null)
    router.refresh()
  }
  const takeBack = (seq: number) =>
    void post(`/api/projects/${projectId}/ledger/revert`, { seq }).then((answer) => {
      setWording(answer.ok ? null : answer.wording)
      router.refresh()
    })
  return (
    <main className="mx-auto h-full max-w-5xl overflow-auto px-6 py-6">
      <h1 className="text-2xl">Ledger</h1>
      <div className="flex flex-wrap items-baseline gap-2">
        <p className="flex-1 text-soft">Every ruling, by whom and when. Taking one back appends an entry; nothing is ever deleted.</p>
        <span className="text-soft">The whole review as</span>
        <a className="btn btn-xs" href={`/api/projects/${projectId}/report.html`} download>
          HTML
        </a>
        <a className="btn btn-xs" href={`/api/projects/${projectId}/report.md`} download>
          Markdown
        </a>
        <span className="ml-2 text-soft">The ledger as a file</span>
        <a className="btn btn-xs" href={`/api/projects/${projectId}/ledger.jsonl`} download>
          Download
        </a>
        <label className="btn btn-xs">
          Take in …
          <input type="file" accept=".jsonl" className="sr-only" onChange={(e) => void takeIn(e.currentTarget)} />
        </label>
      </div>
      {taken === null ? null : (
        <p className="mt-3" role="status">
          {taken === 0 ? 'All of that file stands here already.' : `${taken} ${taken === 1 ? 'entry was' : 'entries were'} taken in.`}
        </p>
      )}
      {wording ? (
        <div className="mt-3">
          <Complaint wording={wording} />
        </div>
      ) : null}
      {entries.length === 0 ? (
        <p className="mt-6 font-serif text-lg">Nothing has been ruled yet.</p>
      ) : (
        <ol className="mt-4 border-t border-ink">
          {entries.map((e) => (
            <li
              key={e.seq}
              id={`entry-${e.seq}`}
              className={`grid scroll-mt-4 target:bg-card grid-cols-[3rem_1fr_auto_6rem] items-baseline gap-3 border-b border-rule py-1.5 ${e.reverted ? 'text-soft' : ''}`}
            >
              <span className="text-right">{e.seq}</span>
              <span className="db break-words">
                <span className={e.reverted ? 'line-through' : ''}>
                  <Breakable text={e.what} />
                </span>
                <Changes projectId={projectId} seq={e.seq} />
              </span>
              <span className="text-soft">
                {e.by}, {timeText(e.at)}
              </span>
              {e.reverted ? (
                <span>taken back</span>
              ) : (
                <button type="button" className="btn btn-xs" onClick={() => takeBack(e.seq)}>
                  Take back
                </button>
              )}
            </li>
          ))}
        </ol>
      )}
    </main>
  )
}

interface ChangesView {
  readonly files: readonly { readonly path: string; readonly patch: string }[]
}

/** What an entry changed, fetched when it is asked for. */
function Changes({ projectId, seq }: { readonly projectId: string; readonly seq: number }) {
  const [state, setState] = useState<'unasked' | 'asked' | 'failed' | ChangesView>('unasked')
  const ask = () => {
    if (state === 'asked' || typeof state === 'object') return
    setState('asked')
    void get<ChangesView>(`/api/projects/${projectId}/ledger/${seq}/changes`).then((v) => setState(v ?? 'failed'))
  }
  return (
    <details className="font-sans" onToggle={(e) => e.currentTarget.open && ask()}>
      <summary className="cursor-pointer text-[0.92em] text-soft no-underline">what it changed</summary>
      {state === 'asked' ? <p className="text-soft">Looking …</p> : null}
      {state === 'failed' ? <p className="text-needs">That could not be worked out; open it again.</p> : null}
      {typeof state === 'object' ? (
        <>
          <p className="text-soft">
            {state.files.length === 0 ? 'No file of the code.' : `${state.files.length} ${state.files.length === 1 ? 'file' : 'files'} of the code.`} No schema
            change.
          </p>
          {state.files.slice(0, 20).map((f) => (
            <pre key={f.path} className="db mt-1 border border-rule bg-card p-2 text-[0.9em] break-words whitespace-pre-wrap">
              {f.patch.split('\n').slice(2).join('\n')}
            </pre>
          ))}
          {state.files.length > 20 ? <p className="text-soft">and {state.files.length - 20} more</p> : null}
        </>
      ) : null}
    </details>
  )
}
