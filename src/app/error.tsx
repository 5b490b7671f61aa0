'use client'

import { Fault } from '../ui/common/Fault.tsx'
import { useRetry } from '../ui/common/useRetry.ts'

export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  return (
    <main className="h-full overflow-auto">
      <Fault message={error.message} {...(error.digest ? { digest: error.digest } : {})} retry={useRetry(reset)} />
    </main>
  )
}
