'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import { decodeEntry } from '../../core/model/index.ts'
import type { GateView } from '../../core/review/index.ts'
import type { NotationReadingView } from '../../workers/notationMessages.ts'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { Pane } from '../common/Pane.tsx'
import { Gate } from '../gate/Gate.tsx'
import { NotationChanges } from './NotationChanges.tsx'
import { type EditorHandle, NotationEditor } from './NotationEditor.tsx'
import { Outline } from './Outline.tsx'
import { type NotationSource, useNotation } from './useNotation.ts'

interface Props extends NotationSource {
  readonly gate: GateView
}

/** So long after the last key the text is read. */
const pause = 200

const nothing: NotationReadingView = { changes: [], problems: [], seen: 0, head: 0 }

/** What was typed and not entered, in this browser. */
const draftKey = (projectId: string) => `pelvok.notation.${projectId}`

/** The review as text that can be typed in; what it changes is shown, and entered in the ledger as a whole. */
export function NotationDesk(props: Props) {
  const { projectId, gate } = props
  const router = useRouter()
  const notation = useNotation(props)
  const { fresh, read, take } = notation
  const editor = useRef<EditorHandle | null>(null)
  const [initial, setInitial] = useState<string | null>(null)
  const [text, setText] = useState('')
  const [view, setView] = useState<NotationReadingView>(nothing)
  const [wording, setWording] = useState<Wording | null>(null)
  const [reading, setReading] = useState(false)
  const [said, setSaid] = useState('')
  const before = useRef<string | null>(null)
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)

  const look = useCallback(
    async (typed: string) => {
      const found = await read(typed)
      if (found === null) return
      setView(found)
      setReading(false)
    },
    [read],
  )
  const changed = useCallback(
    (typed: string) => {
      setText(typed)
      setReading(true)
      // Where the text follows the ledger, what was said of that is still to be read.
      if (typed !== before.current) setSaid('')
      if (timer.current) clearTimeout(timer.current)
      timer.current = setTimeout(() => void look(typed), pause)
      if (typed === before.current) localStorage.removeItem(draftKey(projectId))
      else localStorage.setItem(draftKey(projectId), typed)
    },
    [look, projectId],
  )
  // The first text, or what was typed here before; later ones only where nobody typed.
  useEffect(() => {
    if (fresh === null) return
    const last = before.current
    before.current = fresh
    if (last === null) {
      const draft = localStorage.getItem(draftKey(projectId))
      setInitial(draft ?? fresh)
      setText(draft ?? fresh)
      if (draft !== null) setSaid('What you typed here before is there again.')
      void look(draft ?? fresh)
    } else if (editor.current?.text() === last) editor.current.put(fresh)
    else if (editor.current) void look(editor.current.text())
  }, [fresh, look, projectId])

  const anew = () => {
    if (fresh !== null) editor.current?.put(fresh)
  }
  const layOut = () =>
    void notation.layOut(text).then((laid) => {
      if (laid === null) setWording({ message: 'a text with errors is not laid out', detail: '', hint: 'Mend what is told beside it first.' })
      else if (laid !== text) editor.current?.put(laid)
    })
  const enter = async () => {
    const answer = await post<{ entries: unknown[] }>(`/api/projects/${projectId}/notation`, { text })
    if (!answer.ok) return setWording(answer.wording)
    setWording(null)
    const added = answer.value.entries.map(decodeEntry)
    // What was typed is in the ledger: the text is that of the review again.
    before.current = text
    localStorage.removeItem(draftKey(projectId))
    take(added)
    router.refresh()
    setSaid(added.length === 1 ? 'One entry was added to the ledger.' : `${added.length} entries were added to the ledger.`)
  }
  const openFile = async (files: FileList | null) => {
    const [file] = files ?? []
    if (file) editor.current?.put(await file.text())
  }
  const isTyped = fresh !== null && text !== fresh
  return (
    <main className="grid h-full grid-cols-[230px_minmax(0,1fr)_340px]">
      <Pane>
        <Outline text={text} onGo={(offset) => editor.current?.go(offset)} />
      </Pane>
      <section className="flex min-h-0 min-w-0 flex-col" aria-label="Text">
        <div className="border-b border-rule px-4 py-2">
          <div className="flex flex-wrap items-center gap-2">
            <button type="button" className="btn btn-sm" disabled={initial === null} onClick={layOut}>
              Lay out
            </button>
            <button type="button" className="btn btn-sm" disabled={!isTyped} onClick={anew}>
              Back to the review
            </button>
            <label className="btn btn-sm">
              Open a file …
              <input type="file" accept=".pelvok" className="sr-only" onChange={(e) => void openFile(e.target.files)} />
            </label>
            <span className="text-soft" role="status">
              {said}
            </span>
            <Link className="link link-hover ml-auto text-soft" href={`/p/${projectId}/code`}>
              TypeScript
            </Link>
          </div>
          <div className="mt-1.5">
            <Gate projectId={projectId} gate={gate} of="files of it">
              <a className="btn btn-sm btn-primary" href={`/api/projects/${projectId}/model.pelvok`} download>
                Download one file
              </a>
              <a className="btn btn-sm ml-2" href={`/api/projects/${projectId}/notation.zip`} download>
                A file for each entity
              </a>
            </Gate>
          </div>
        </div>
        {notation.wording ? <Complaint wording={notation.wording} /> : null}
        <div className="min-h-0 flex-1">
          {initial === null ? (
            <p className="p-6 font-serif text-base text-soft">Writing the review down …</p>
          ) : (
            <Pane>
              <NotationEditor
                handle={editor}
                initial={initial}
                problems={view.problems.map((p) => ({ ...p.at, text: p.text }))}
                changed={view.changes.map((c) => c.at.from)}
                onChange={changed}
                complete={notation.complete}
              />
            </Pane>
          )}
        </div>
      </section>
      <Pane>
        <NotationChanges text={text} view={view} isReading={reading} wording={wording} onGo={(offset) => editor.current?.go(offset)} onEnter={enter} />
      </Pane>
    </main>
  )
}
