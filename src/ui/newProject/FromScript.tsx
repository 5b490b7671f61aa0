'use client'

import { useRouter } from 'next/navigation'
import { useEffect, useRef, useState } from 'react'
import type { Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { ScriptFindings, type ScriptReportView } from './ScriptFindings.tsx'
import { bodyOf, filesOfDrop, type ScriptBody, scriptLimit } from './scriptFiles.ts'
import { isSqlite, sqliteBody, sqliteLimit } from './sqliteFile.ts'

const dialects = [
  ['', 'guess'],
  ['postgresql', 'PostgreSQL'],
  ['sqlite', 'SQLite'],
  ['mysql:8.0', 'MySQL 8.0'],
  ['mysql:5.7', 'MySQL 5.7'],
  ['mariadb:10.11', 'MariaDB 10.11'],
] as const

interface Opened {
  readonly report: ScriptReportView
  readonly project: string | null
}

async function send(
  script: ScriptBody,
  query: Readonly<Record<string, string>>,
): Promise<{ readonly ok: true; readonly value: Opened } | { readonly ok: false; readonly wording: Wording }> {
  try {
    const response = await fetch(`/api/scripts?${new URLSearchParams({ file: script.name, ...(script.facts ? { facts: script.facts } : {}), ...query })}`, {
      method: 'POST',
      body: script.body,
    })
    const value: unknown = await response.json()
    return response.ok ? { ok: true, value: value as Opened } : { ok: false, wording: value as Wording }
  } catch {
    return {
      ok: false,
      wording: { message: 'Pelvok does not answer', detail: '', hint: 'Start it again with npm start; the files are still where they were.' },
    }
  }
}

/** A project from scripts: dropped, chosen or pasted; looked at first, then kept. With `project`, a newer version for that project. */
export function FromScript({ name, project, onKept }: { name: string; project?: string; onKept?: () => void }) {
  const router = useRouter()
  const [script, setScript] = useState<ScriptBody | null>(null)
  const [pasted, setPasted] = useState('')
  const [dialect, setDialect] = useState('')
  const [busy, setBusy] = useState(false)
  const [over, setOver] = useState(false)
  const [report, setReport] = useState<ScriptReportView | null>(null)
  const [wording, setWording] = useState<Wording | null>(null)

  const look = async (body: ScriptBody | null, as: string) => {
    setScript(body)
    setReport(null)
    if (!body)
      return setWording({
        message: 'none of these files is a script',
        detail: '',
        hint: 'Scripts end in .sql, notations in .pelvok; a zip of them is fine too.',
      })
    if (body.body.size > scriptLimit)
      return setWording({
        message: `${body.name} has more than 100 MB`,
        detail: 'That is too much for a browser; most of it will be rows.',
        hint: `Read it on the command line, which takes any size: npx pelvok survey ${body.name}`,
      })
    setWording(null)
    setBusy(true)
    const answer = await send(body, { dialect: as })
    setBusy(false)
    if (answer.ok) setReport(answer.value.report)
    else setWording(answer.wording)
  }
  const keep = async () => {
    if (!script) return
    setBusy(true)
    const answer = await send(script, { dialect, ...(project ? { project } : { name }) })
    setBusy(false)
    if (!answer.ok) return setWording(answer.wording)
    onKept?.()
    router.push(`/p/${answer.value.project}/source`)
    router.refresh()
  }
  const take = async (files: readonly File[]) => {
    const [only] = files
    if (files.length === 1 && only && (await isSqlite(only))) return takeDatabase(only)
    await look(await bodyOf(files), dialect)
  }
  const takeDatabase = async (file: File) => {
    setReport(null)
    if (file.size > sqliteLimit)
      return setWording({
        message: `${file.name} has more than 256 MB`,
        detail: 'A browser would hold all of it in memory.',
        hint: `Read it on the command line: npx pelvok survey ${file.name}`,
      })
    setBusy(true)
    const answer = await sqliteBody(file)
    setBusy(false)
    if (answer.ok) await look(answer.body, '')
    else setWording({ message: `${file.name} cannot be opened as an SQLite database`, detail: answer.message, hint: 'It may be encrypted, or cut off.' })
  }
  const choose = (list: FileList | null) => list && list.length > 0 && void take([...list])

  // Anywhere on the page, so that nothing has to be aimed at.
  const takeDrop = useRef<(items: DataTransferItemList) => void>(() => {})
  takeDrop.current = (items) => void filesOfDrop(items).then(take)
  useEffect(() => {
    const ending = new AbortController()
    const on = (type: 'dragover' | 'dragleave' | 'drop', act: (e: DragEvent) => void) => window.addEventListener(type, act, { signal: ending.signal })
    on('dragover', (e) => {
      e.preventDefault()
      setOver(true)
    })
    on('dragleave', (e) => e.relatedTarget === null && setOver(false))
    on('drop', (e) => {
      e.preventDefault()
      setOver(false)
      if (e.dataTransfer) takeDrop.current(e.dataTransfer.items)
    })
    return () => ending.abort()
  }, [])

  return (
    <div className="mt-3">
      <div className={`border border-dashed px-4 py-5 ${over ? 'border-needs bg-card' : 'border-soft'}`}>
        <p className="font-serif text-base">
          Drop scripts, a folder of them, a zip, an SQLite file, or a model as notation (.pelvok) anywhere on this page. Scripts are read in the order of their
          names, and never run; of an SQLite file only the structure leaves this browser.
        </p>
        <div className="mt-3 flex flex-wrap gap-3">
          <label className="btn btn-sm">
            Choose files
            <input
              type="file"
              multiple
              accept=".sql,.ddl,.psql,.mysql,.txt,.zip,.gz,.db,.sqlite,.sqlite3,.db3,.pelvok"
              className="sr-only"
              onChange={(e) => choose(e.target.files)}
            />
          </label>
          <label className="btn btn-sm">
            Choose a folder
            <input type="file" className="sr-only" onChange={(e) => choose(e.target.files)} {...{ webkitdirectory: '' }} />
          </label>
          <label className="ml-auto flex items-center gap-2">
            Dialect
            <select
              className="select select-sm"
              value={dialect}
              onChange={(e) => {
                setDialect(e.target.value)
                if (script) void look(script, e.target.value)
              }}
            >
              {dialects.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </select>
          </label>
        </div>
        <label className="mt-3 block" htmlFor="pasted-script">
          or paste one
        </label>
        <textarea
          id="pasted-script"
          className="textarea db mt-1 h-24 w-full"
          value={pasted}
          onChange={(e) => setPasted(e.target.value)}
          placeholder="CREATE TABLE …"
          spellCheck={false}
        />
        {pasted.trim() === '' ? null : (
          <button
            type="button"
            className="btn btn-sm mt-2"
            disabled={busy}
            onClick={() => void look({ name: 'pasted.sql', body: new Blob([pasted]) }, dialect)}
          >
            Read what is pasted
          </button>
        )}
      </div>
      <div className="mt-4" aria-live="polite">
        {busy ? <p>Reading {script?.name} …</p> : null}
        {wording ? <Complaint wording={wording} /> : null}
        {report && script ? <ScriptFindings file={script.name} report={report} /> : null}
      </div>
      {report ? (
        <button type="button" className="btn btn-primary btn-sm mt-4" disabled={busy || (!project && name.trim() === '')} onClick={() => void keep()}>
          {project ? 'Take this version' : 'Make the project'}
        </button>
      ) : null}
      {report && !project && name.trim() === '' ? <span className="ml-3 text-soft">Give the project a name first.</span> : null}
    </div>
  )
}
