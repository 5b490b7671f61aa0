'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { changeWords } from '../../core/emit/folder.ts'
import type { FolderAnswer, FolderView, GateView } from '../../core/review/index.ts'
import { Breakable } from '../common/Breakable.tsx'
import { Complaint } from '../common/Complaint.tsx'
import { Difference } from '../common/Difference.tsx'
import { useSend } from '../common/useSend.ts'
import { Gate } from '../gate/Gate.tsx'

interface Props {
  readonly projectId: string
  readonly gate: GateView
  readonly root: string | null
  readonly into: string | null
  readonly answer: FolderAnswer<FolderView> | null
}

/** Code into a folder of the server: what would be written, file by file, before it is. */
export function FolderDesk({ projectId, gate, root, into, answer }: Props) {
  // It stays while what is left to do is shown.
  const [done, setDone] = useState<Done | null>(null)
  return (
    <main className="flex h-full min-h-0 flex-col">
      <header className="border-b border-rule px-4 py-2">
        <h1 className="text-lg">
          Code into a folder{' '}
          <Link className="link link-hover font-sans text-sm font-normal text-soft" href={`/p/${projectId}/code`}>
            back to the files
          </Link>
        </h1>
        {root === null ? (
          <p className="text-soft">
            This server writes to no folder: it is started with PELVOK_OUT set to the one that code may be written below. The zip has the same files.
          </p>
        ) : (
          <Where projectId={projectId} root={root} into={into} />
        )}
      </header>
      {answer === null ? null : answer.ok ? (
        <Shown key={answer.value.seen} projectId={projectId} gate={gate} view={answer.value} done={done} onDone={setDone} />
      ) : (
        <Complaint wording={answer.wording} />
      )}
    </main>
  )
}

interface Done {
  readonly full: string
  readonly written: number
  readonly left: number
}

function Where({ projectId, root, into }: { readonly projectId: string; readonly root: string; readonly into: string | null }) {
  const router = useRouter()
  const [folder, setFolder] = useState(into ?? projectId)
  return (
    <form
      className="mt-1 flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        router.push(`?into=${encodeURIComponent(folder.trim())}`)
      }}
    >
      <label className="flex items-center gap-1">
        <span className="db text-soft">{root}/</span>
        <input className="db input input-sm w-64" aria-label="Folder" value={folder} maxLength={400} onChange={(e) => setFolder(e.target.value)} />
      </label>
      <button type="submit" className="btn btn-sm" disabled={folder.trim() === ''}>
        Show what would be written
      </button>
    </form>
  )
}

interface ShownProps {
  readonly projectId: string
  readonly gate: GateView
  readonly view: FolderView
  readonly done: Done | null
  readonly onDone: (done: Done) => void
}

function Shown({ projectId, gate, view, done, onDone }: ShownProps) {
  const { wording, busy, send } = useSend()
  const [yes, setYes] = useState<ReadonlySet<string>>(new Set())
  const asked = view.changes.filter((c) => c.asks)
  const written = view.changes.filter((c) => !c.asks && c.does !== 'left').length + yes.size
  const toggle = (path: string) => {
    const next = new Set(yes)
    if (!next.delete(path)) next.add(path)
    setYes(next)
  }
  const write = () => void send<Done>(`/api/projects/${projectId}/folder`, { into: view.into, seen: view.seen, yes: [...yes] }).then((a) => a && onDone(a))
  const chosen = view.changes.find((c) => c.path === view.shown?.path)
  return (
    <>
      <div className="border-b border-rule px-4 py-2">
        <Gate projectId={projectId} gate={gate} of="classes">
          <p className="flex flex-wrap items-center gap-3">
            <button type="button" className="btn btn-sm btn-primary" disabled={busy || written === 0} onClick={write}>
              {written === 0 ? 'Nothing to write' : written === 1 ? 'Write one file' : `Write ${written} files`}
            </button>
            <span>
              {view.same === 0 ? '' : `${view.same} stay as they are. `}
              {asked.length === 0
                ? ''
                : `${asked.length === 1 ? 'One file is' : `${asked.length} files are`} not as Pelvok wrote ${asked.length === 1 ? 'it' : 'them'}, and overwritten only if you agree.`}
            </span>
          </p>
        </Gate>
        {done ? (
          <p role="status" className="mt-1">
            Written: {done.written} {done.written === 1 ? 'file' : 'files'} in <span className="db">{done.full}</span>
            {done.left > 0 ? `, ${done.left} left as they are` : ''}.
          </p>
        ) : null}
        {wording ? <Complaint wording={wording} /> : null}
        <Names view={view} />
      </div>
      {view.changes.length === 0 ? (
        <p className="p-6 font-serif text-base text-soft">The folder is what the model gives.</p>
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-[320px_1fr]">
          <nav aria-label="Changes" className="min-h-0 overflow-auto border-r border-rule py-1">
            <ul>
              {view.changes.map((c) => (
                <li
                  key={c.path}
                  className={`flex items-start gap-2 border-l-4 px-3 py-0.5 ${c.path === view.shown?.path ? 'border-ink bg-card' : 'border-transparent hover:bg-card'}`}
                >
                  {c.asks ? (
                    <input
                      type="checkbox"
                      className="checkbox checkbox-xs mt-1"
                      aria-label={`Write over ${c.path}`}
                      checked={yes.has(c.path)}
                      onChange={() => toggle(c.path)}
                    />
                  ) : null}
                  <Link
                    className="min-w-0 flex-1"
                    scroll={false}
                    aria-current={c.path === view.shown?.path ? 'page' : undefined}
                    href={`?into=${encodeURIComponent(view.into)}&file=${encodeURIComponent(c.path)}`}
                  >
                    <span className="db break-words">
                      <Breakable text={c.path} />
                    </span>{' '}
                    <span className={c.asks ? 'text-needs' : 'text-soft'}>
                      {c.from === null ? changeWords[c.does] : `${changeWords[c.does]} from ${c.from}`}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          </nav>
          <section aria-label="Difference" className="flex min-h-0 min-w-0 flex-col">
            <h2 className="db border-b border-rule px-4 py-1 text-sm break-all">{chosen?.full}</h2>
            <div className="min-h-0 flex-1">
              {view.shown ? <Difference before={view.shown.before} after={view.shown.after} label={`${view.shown.path}, what would change`} /> : null}
            </div>
          </section>
        </div>
      )}
    </>
  )
}

/** Classes that are called otherwise or are gone, and the lines that still speak of them. */
function Names({ view }: { readonly view: FolderView }) {
  if (view.renamed.length === 0 && view.removed.length === 0) return null
  return (
    <details className="mt-1" open={view.mentions.length > 0 && view.mentions.length <= 5}>
      <summary className="cursor-pointer">
        {[...view.renamed.map((r) => `${r.from} is called ${r.to} now`), ...view.removed.map((name) => `${name} is gone`)].slice(0, 5).join(', ')}
        {view.mentions.length === 0
          ? '; nothing else mentions it.'
          : `; ${view.mentions.length === 1 ? 'one line still mentions' : `${view.mentions.length} lines still mention`} it.`}
      </summary>
      <ul className="max-h-40 overflow-auto">
        {view.mentions.map((m) => (
          <li key={`${m.path} ${m.line} ${m.name}`} className="db">
            {m.path}:{m.line} <span className="text-soft">{m.text}</span>
          </li>
        ))}
      </ul>
    </details>
  )
}
