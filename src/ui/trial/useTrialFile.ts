'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import { decodeEntry } from '../../core/model/index.ts'
import type { FromSqliteTrial, ToSqliteTrial } from '../../workers/messages.ts'
import type { Answer, Wording } from '../common/api.ts'
import type { AskFile, TrialAnswer } from './answer.ts'

interface TrialFile {
  readonly state: 'none' | 'opening' | 'open'
  readonly wording: Wording | null
  readonly choose: (file: File) => Promise<void>
  readonly ask: AskFile
}

/** An SQLite file that is chosen again and stays in the browser; its rows are asked in a worker. */
export function useTrialFile(snapshot: string, rows: string | null, encoded: readonly unknown[]): TrialFile {
  const [state, setState] = useState<TrialFile['state']>('none')
  const [wording, setWording] = useState<Wording | null>(null)
  const worker = useRef<Worker | null>(null)
  const waiting = useRef(new Map<number, (answer: Answer<TrialAnswer>) => void>())
  const asked = useRef(0)
  useEffect(() => () => worker.current?.terminate(), [])
  const latest = useRef(encoded)
  latest.current = encoded
  // What was ruled or kept meanwhile is in the model as well.
  useEffect(() => worker.current?.postMessage({ type: 'entries', entries: encoded.map(decodeEntry) } satisfies ToSqliteTrial), [encoded])

  const choose = useCallback(
    async (file: File) => {
      setState('opening')
      setWording(null)
      const fail = (message: string, detail: string, hint: string) => {
        worker.current?.terminate()
        worker.current = null
        setState('none')
        setWording({ message, detail, hint })
      }
      const bytes = await file.arrayBuffer()
      const made = new Worker(new URL('../../workers/sqliteTrial.worker.ts', import.meta.url), { type: 'module' })
      worker.current?.terminate()
      worker.current = made
      made.onerror = () => fail('the rows could not be read', 'The worker did not start.', 'Reload the page and try again.')
      made.onmessage = ({ data }: MessageEvent<FromSqliteTrial>) => {
        if (data.type === 'open') setState('open')
        else if (data.type === 'other file')
          fail(`"${file.name}" is not the file of this snapshot`, 'Its tables or columns differ.', 'Choose the file this project was made from.')
        else if (data.type === 'answer') {
          waiting.current.get(data.ask)?.({ ok: true, value: { trial: data.trial, compared: data.compared } })
          waiting.current.delete(data.ask)
        } else if (data.ask === null) fail(`"${file.name}" could not be read`, data.message, 'Choose the file this project was made from.')
        else {
          const hint = 'Check the values of the conditions.'
          waiting.current.get(data.ask)?.({ ok: false, wording: { message: 'the file refused the query', detail: data.message, hint } })
          waiting.current.delete(data.ask)
        }
      }
      const rowsUrl = rows === null ? null : `${location.origin}/api/rows/${rows}`
      const entries = latest.current.map(decodeEntry)
      made.postMessage({ type: 'open', name: file.name, bytes, snapshot, rowsUrl, entries } satisfies ToSqliteTrial, [bytes])
    },
    [snapshot, rows],
  )
  const ask = useCallback<AskFile>(
    (path, portion, compare) =>
      new Promise((answer) => {
        asked.current += 1
        waiting.current.set(asked.current, answer)
        worker.current?.postMessage({ type: 'run', ask: asked.current, path, portion, compare } satisfies ToSqliteTrial)
      }),
    [],
  )
  return { state, wording, choose, ask }
}
