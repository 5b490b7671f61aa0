'use client'

import { Fault } from '../ui/common/Fault.tsx'
import './globals.css'

/** Where not even the frame around all pages can be made. */
export default function FrameError({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  return (
    <html lang="en">
      <body>
        <main>
          <Fault message={error.message} {...(error.digest ? { digest: error.digest } : {})} retry={reset} />
        </main>
      </body>
    </html>
  )
}
