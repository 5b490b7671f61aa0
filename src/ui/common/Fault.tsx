/** The error boundary's view: our fault, said plainly. */
export function Fault({ message, digest, retry }: { message: string; digest?: string; retry: () => void }) {
  return (
    <main className="m-auto max-w-lg p-8">
      <h1 className="text-2xl">This view failed</h1>
      <p className="mt-2">That is a fault in Pelvok. What you entered before is kept.</p>
      <p className="db mt-2 text-soft">{digest ? `${message} (${digest})` : message}</p>
      <button type="button" className="btn btn-sm mt-4" onClick={retry}>
        Try again
      </button>
    </main>
  )
}
