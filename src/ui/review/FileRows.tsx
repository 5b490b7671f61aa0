'use client'

import { useRouter } from 'next/navigation'
import { useRef, useState } from 'react'
import type { FromSqliteRows, ToSqliteRows } from '../../workers/messages.ts'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'

interface Props {
  readonly projectId: string
  readonly snapshot: string
  /** What the button says. */
  readonly label: string
  readonly title: string
}

type Reading =
  | { readonly state: 'idle' }
  | { readonly state: 'busy'; readonly done: number; readonly all: number | null }
  | { readonly state: 'failed'; readonly wording: Wording }

/** Reads rows of an SQLite file that is chosen again: it was never kept. It stays in the browser, only counts go on. */
export function FileRows({ projectId, snapshot, label, title }: Props) {
  const router = useRouter()
  const input = useRef<HTMLInputElement>(null)
  const worker = useRef<Worker | null>(null)
  const [reading, setReading] = useState<Reading>({ state: 'idle' })
  const end = (next: Reading) => {
    worker.current?.terminate()
    worker.current = null
    setReading(next)
  }
  const fail = (message: string, detail: string, hint: string) => end({ state: 'failed', wording: { message, detail, hint } })

  const take = async (data: Exclude<FromSqliteRows, { type: 'progress' }>, name: string) => {
    if (data.type === 'failed') return fail(`"${name}" could not be read`, data.message, 'Choose the file this project was made from.')
    if (data.type === 'other file')
      return fail(
        `"${name}" is not the file of this snapshot`,
        'Its tables or columns differ.',
        'Choose the file this project was made from, or read this one as a newer version under Source.',
      )
    const answer = await post<{ hash: string }>(`/api/projects/${projectId}/rows`, { snapshot, rows: data.rows })
    end(answer.ok ? { state: 'idle' } : { state: 'failed', wording: answer.wording })
    if (answer.ok) router.refresh()
  }

  const read = async (file: File) => {
    setReading({ state: 'busy', done: 0, all: null })
    const bytes = await file.arrayBuffer()
    const made = new Worker(new URL('../../workers/sqliteRows.worker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    made.onerror = () => fail('the rows could not be read', 'The worker did not start.', 'Reload the page and try again.')
    made.onmessage = ({ data }: MessageEvent<FromSqliteRows>) => {
      if (data.type === 'progress') setReading({ state: 'busy', done: data.done, all: data.all })
      else void take(data, file.name)
    }
    made.postMessage({ name: file.name, bytes, snapshot, at: new Date().toISOString() } satisfies ToSqliteRows, [bytes])
  }

  return (
    <>
      <input
        ref={input}
        type="file"
        className="hidden"
        aria-label="The SQLite file"
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file) void read(file)
        }}
      />
      {reading.state === 'busy' ? (
        <p className="flex items-baseline gap-2">
          <span className="flex-1 text-soft">{reading.all === null ? 'Opening the file …' : `${reading.done} of ${reading.all} sets of columns`}</span>
          <button type="button" className="btn btn-xs" onClick={() => end({ state: 'idle' })}>
            Cancel
          </button>
        </p>
      ) : (
        <button type="button" className="btn btn-xs" title={title} onClick={() => input.current?.click()}>
          {label}
        </button>
      )}
      {reading.state === 'failed' ? <Complaint wording={reading.wording} /> : null}
    </>
  )
}
