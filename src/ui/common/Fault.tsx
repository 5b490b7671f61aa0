import { toldBy } from '../../core/text/told.ts'
import { Complaint } from './Complaint.tsx'

interface Props {
  readonly message: string
  readonly digest?: string
  readonly retry: () => void
}

/** An error boundary's view: what is the matter where that is known, and else our fault, said plainly. */
export function Fault({ message, digest, retry }: Props) {
  const words = toldBy(digest)
  return (
    <div className="m-auto max-w-lg p-8">
      {words ? (
        <Complaint wording={words} />
      ) : (
        <>
          <h2 className="text-2xl">This view failed</h2>
          <p className="mt-2">That is a fault in Pelvok. What you entered before is kept, and the rest of Pelvok works.</p>
          <p className="db mt-2 text-soft">{digest ? `Its number in the log is ${digest}.` : message}</p>
        </>
      )}
      <button type="button" className="btn btn-sm mt-4" onClick={retry}>
        Try again
      </button>
    </div>
  )
}
