'use client'

import { useRouter } from 'next/navigation'
import { type FormEvent, useState } from 'react'
import { post } from '../common/api.ts'

/** Asked once: rulings are signed with it. */
export function NameQuestion({ proposed }: { proposed: string }) {
  const router = useRouter()
  const [name, setName] = useState(proposed)
  const [problem, setProblem] = useState<string | null>(null)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    void post('/api/name', { name }).then((answer) => {
      if (answer.ok) router.refresh()
      else setProblem(answer.wording.message)
    })
  }
  return (
    <form onSubmit={submit} className="flex shrink-0 items-center gap-3 border-t border-ink bg-card px-4 py-2" aria-label="Your name">
      <label htmlFor="by" className="font-serif text-base">
        Rulings are signed. By whom?
      </label>
      <input id="by" className="input input-sm w-52" value={name} onChange={(e) => setName(e.target.value)} required maxLength={80} />
      <button type="submit" className="btn btn-sm btn-primary">
        Sign with this name
      </button>
      {problem === null ? <span className="text-soft">Asked once on this browser.</span> : <span className="text-needs">{problem}</span>}
    </form>
  )
}
