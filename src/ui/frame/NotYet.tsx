interface Props {
  readonly stage: string
  readonly because: string
}

/** A stage that there is not for a project, and why. */
export function NotYet({ stage, because }: Props) {
  return (
    <main className="mx-auto h-full max-w-3xl overflow-auto px-6 py-6">
      <h1 className="text-2xl">{stage}</h1>
      <p className="mt-4 font-serif text-lg">{because}</p>
    </main>
  )
}
