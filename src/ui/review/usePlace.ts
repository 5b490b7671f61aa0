'use client'

import { useCallback, useEffect, useRef } from 'react'
import type { Place } from '../../core/review/index.ts'

/** Places of this page's life: what the browser keeps of a page may be older. */
const kept = new Map<string, Place>()
const pause = 400

export const placeOf = (projectId: string, given: Place): Place => kept.get(projectId) ?? given

/** Keeps the place of the reader on the server, a moment after it changed and when the page goes. Gives what stops the visit here. */
export function usePlace(projectId: string, place: Place, seq: number): { readonly stop: () => Promise<boolean> } {
  const latest = useRef({ place, seq, dirty: false })
  const text = JSON.stringify(place)
  const send = useCallback(
    async (stop: boolean) => {
      latest.current.dirty = false
      const body = JSON.stringify({ place: latest.current.place, seq: latest.current.seq, stop })
      const headers = { 'content-type': 'application/json' }
      return fetch(`/api/projects/${projectId}/place`, { method: 'POST', headers, body, keepalive: true }).then(
        (r) => r.ok,
        () => false,
      )
    },
    [projectId],
  )
  useEffect(() => {
    const now = JSON.parse(text) as Place
    kept.set(projectId, now)
    latest.current = { ...latest.current, place: now, dirty: true }
    const timer = setTimeout(() => {
      // Unless it was sent meanwhile, as what stops the visit.
      if (latest.current.dirty) void send(false)
    }, pause)
    return () => clearTimeout(timer)
  }, [projectId, text, send])
  latest.current.seq = seq
  useEffect(() => {
    const flush = () => {
      if (latest.current.dirty) void send(false)
    }
    window.addEventListener('pagehide', flush)
    return () => {
      window.removeEventListener('pagehide', flush)
      flush()
    }
  }, [send])
  return { stop: useCallback(() => send(true), [send]) }
}
