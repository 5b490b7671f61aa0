'use client'

import { useRouter } from 'next/navigation'
import { type FormEvent, useState } from 'react'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'

/** Folded away at the end of Source: nothing of the project is left afterwards. */
export function DeleteProject({ projectId, name }: { projectId: string; name: string }) {
  const router = useRouter()
  const { wording, busy, send } = useSend()
  const [typed, setTyped] = useState('')
  const remove = (event: FormEvent) => {
    event.preventDefault()
    void send(`/api/projects/${projectId}/remove`, { typed }).then((done) => done && router.push('/'))
  }
  return (
    <details className="mt-8 border-t border-rule pt-2">
      <summary className="cursor-pointer text-soft">Delete this project</summary>
      <form onSubmit={remove} className="mt-2 flex flex-wrap items-center gap-2" aria-label="Delete this project">
        <p className="w-full">
          Its surveys, rulings, plans and environments go, for everybody, and nothing brings them back. The database it was read from is not touched.
        </p>
        <input
          aria-label={`Name of the project, ${name}, to confirm`}
          placeholder={`Type ${name} to confirm`}
          className="input input-sm w-72"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <button type="submit" className="btn btn-sm" disabled={busy || typed.trim() !== name}>
          Delete it for good
        </button>
        {wording ? <Complaint wording={wording} /> : null}
      </form>
    </details>
  )
}
