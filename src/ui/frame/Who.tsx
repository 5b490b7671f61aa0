'use client'

import Link from 'next/link'
import { post } from '../common/api.ts'

export interface Signed {
  readonly name: string
  /** Null where nobody has to sign in. */
  readonly role: string | null
}

/** Who is at the keyboard, and what they can do about it. */
export function Who({ who }: { who: Signed }) {
  // The whole page again, so that nothing of whoever signed out stays on the screen.
  const leave = () => void post('/api/sign-out', {}).then((answer) => answer.ok && window.location.assign('/'))
  return (
    <details className="dropdown dropdown-end">
      <summary className="max-w-40 cursor-pointer list-none truncate text-soft hover:text-ink" title={who.role === null ? 'Who signs' : 'Who is signed in'}>
        {who.name}
      </summary>
      <div className="dropdown-content z-20 mt-2 grid w-44 gap-1 border border-ink bg-card p-2">
        <span className="text-soft">{who.role === null ? 'signs what is ruled' : `signed in as ${who.role}`}</span>
        <Link href="/accounts" className="link link-hover">
          Accounts
        </Link>
        {who.role === null ? null : (
          <button type="button" className="link link-hover text-left" onClick={leave}>
            Sign out
          </button>
        )}
      </div>
    </details>
  )
}
