import { useRouter } from 'next/navigation'
import { startTransition, useCallback } from 'react'

/** Tries a view again that failed on the server: it is asked for anew, and shown once it is there. */
export function useRetry(reset: () => void): () => void {
  const router = useRouter()
  return useCallback(
    () =>
      startTransition(() => {
        router.refresh()
        reset()
      }),
    [router, reset],
  )
}
