import Link from 'next/link'

export default function NotFound() {
  return (
    <main className="m-auto max-w-md p-8">
      <h1 className="text-2xl">There is nothing at this address</h1>
      <p className="mt-2">The project may have been made in another store, or the link is cut off.</p>
      <Link className="link mt-4 inline-block" href="/">
        All projects
      </Link>
    </main>
  )
}
