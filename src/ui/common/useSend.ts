'use client'

import { useRouter } from 'next/navigation'
import { useCallback, useState } from 'react'
import { post, type Wording } from './api.ts'

/** Send something and read the page again; a refusal is kept to be shown. */
export function useSend(): {
  readonly wording: Wording | null
  readonly busy: boolean
  /** Gives the answer's value, or null where it was refused. */
  readonly send: <T>(path: string, body: unknown) => Promise<T | null>
} {
  const router = useRouter()
  const [wording, setWording] = useState<Wording | null>(null)
  const [busy, setBusy] = useState(false)
  const send = useCallback(
    async <T>(path: string, body: unknown): Promise<T | null> => {
      setBusy(true)
      setWording(null)
      const answer = await post<T>(path, body)
      setBusy(false)
      if (!answer.ok) {
        setWording(answer.wording)
        return null
      }
      router.refresh()
      return answer.value
    },
    [router],
  )
  return { wording, busy, send }
}
