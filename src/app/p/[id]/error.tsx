'use client'

import { Fault } from '../../../ui/common/Fault.tsx'
import { useRetry } from '../../../ui/common/useRetry.ts'

/** A stage that fails leaves the bar and the other stages as they are. */
export default function StageError({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  return (
    <main className="h-full overflow-auto">
      <Fault message={error.message} {...(error.digest ? { digest: error.digest } : {})} retry={useRetry(reset)} />
    </main>
  )
}
