'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import type { Trial, TrialPath, WaysCompared } from '../../core/trial/index.ts'
import { post, type Wording } from '../common/api.ts'

export interface Answer {
  readonly trial: Trial
  readonly compared: WaysCompared | null
}

interface TrialHandle {
  readonly answer: Answer | null
  readonly wording: Wording | null
  readonly running: boolean
  /** Asks for a portion; what is still on its way is cancelled, on the server too. */
  readonly run: (path: TrialPath, after: readonly string[] | null, compare?: boolean) => void
  readonly cancel: () => void
}

/** Rows of one portion. */
const limit = 20

export function useTrial(projectId: string): TrialHandle {
  const [answer, setAnswer] = useState<Answer | null>(null)
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
      void post<Answer>(`/api/projects/${projectId}/trial`, { path, limit, after, compare }, own.signal).then((got) => {
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
    [projectId],
  )
  return { answer, wording, running, run, cancel }
}
