'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import type { TrialPath } from '../../core/trial/index.ts'
import { post, type Wording } from '../common/api.ts'
import type { AskFile, TrialAnswer } from './answer.ts'

interface TrialHandle {
  readonly answer: TrialAnswer | null
  readonly wording: Wording | null
  readonly running: boolean
  /** Asks for a portion; what is still on its way is cancelled, on the server too. */
  readonly run: (path: TrialPath, after: readonly string[] | null, compare?: boolean) => void
  readonly cancel: () => void
}

/** Rows of one portion. */
const limit = 20

/** `ofFile` asks a file that is open in the browser; null where a server is asked. */
export function useTrial(projectId: string, ofFile: AskFile | null): TrialHandle {
  const [answer, setAnswer] = useState<TrialAnswer | null>(null)
  const [wording, setWording] = useState<Wording | null>(null)
  const [running, setRunning] = useState(false)
  const controller = useRef<AbortController | null>(null)
  const cancel = useCallback(() => controller.current?.abort(), [])
  useEffect(() => cancel, [cancel])
  const run = useCallback<TrialHandle['run']>(
    (path, after, compare = false) => {
      controller.current?.abort()
      const own = new AbortController()
      controller.current = own
      setRunning(true)
      setWording(null)
      const asked = ofFile
        ? ofFile(path, { limit, after }, compare)
        : post<TrialAnswer>(`/api/projects/${projectId}/trial`, { path, limit, after, compare }, own.signal)
      void asked.then((got) => {
        if (controller.current !== own) return
        setRunning(false)
        if (own.signal.aborted) setWording({ message: 'it was cancelled', detail: '', hint: '' })
        else if (got.ok) setAnswer(got.value)
        else {
          setAnswer(null)
          setWording(got.wording)
        }
      })
    },
    [projectId, ofFile],
  )
  return { answer, wording, running, run, cancel }
}
