'use client'

import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import { post, type Wording } from './api.ts'
import { follow } from './events.ts'
import type { JobView } from './job.ts'

export interface JobHandle {
  readonly job: JobView | null
  readonly busy: boolean
  readonly wording: Wording | null
  readonly start: () => void
  /** Start one that has a way in of its own. */
  readonly startAt: (path: string, body: unknown) => void
  readonly cancel: () => void
}

const hasEnded = (job: JobView) => job.state === 'done' || job.state === 'failed' || job.state === 'cancelled'

/** Start, follow and cancel one kind of job of a project. When one ends, the server's view is read again. */
export function useJob(projectId: string, kind: JobView['kind'], initial: JobView | null): JobHandle {
  const router = useRouter()
  const [job, setJob] = useState(initial)
  const [wording, setWording] = useState<Wording | null>(null)
  /** The job whose end the page shows already. */
  const ended = useRef(initial && hasEnded(initial) ? initial.id : null)
  useEffect(() => {
    return follow(projectId, (event) => {
      if (event.type !== 'job' || event.job.kind !== kind) return
      setJob(event.job)
      if (!hasEnded(event.job) || ended.current === event.job.id) return
      ended.current = event.job.id
      router.refresh()
    })
  }, [projectId, kind, router])
  const startAt = useCallback(
    (path: string, body: unknown) => {
      setWording(null)
      void post<{ id: number }>(path, body).then((answer) => {
        if (!answer.ok) setWording(answer.wording)
        else
          setJob((now) =>
            now?.id === answer.value.id
              ? now
              : { id: answer.value.id, kind, state: 'waiting', doing: '', done: 0, total: null, cancelRequested: false, error: null },
          )
      })
    },
    [kind],
  )
  const start = useCallback(() => startAt(`/api/projects/${projectId}/jobs`, { kind }), [startAt, projectId, kind])
  const id = job?.id
  const cancel = useCallback(() => {
    if (id === undefined) return
    setJob((now) => (now ? { ...now, cancelRequested: true } : now))
    void post(`/api/jobs/${id}/cancel`, {})
  }, [id])
  return { job, busy: job?.state === 'waiting' || job?.state === 'running', wording, start, startAt, cancel }
}
