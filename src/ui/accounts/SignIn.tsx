'use client'

import { type FormEvent, useState } from 'react'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'

/** `to`: a path of our own to go to. */
export function SignIn({ to }: { to: string }) {
  const [wording, setWording] = useState<Wording | null>(null)
  const [busy, setBusy] = useState(false)
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const given = new FormData(event.currentTarget)
    setBusy(true)
    void post('/api/sign-in', { name: given.get('name'), password: given.get('password') }).then((answer) => {
      if (answer.ok) window.location.assign(to)
      else {
        setBusy(false)
        setWording(answer.wording)
      }
    })
  }
  return (
    <form onSubmit={submit} className="mx-auto mt-16 grid w-80 gap-3" aria-label="Sign in">
      <h1 className="text-2xl">Sign in</h1>
      {wording ? <Complaint wording={wording} /> : null}
      <label className="grid gap-1">
        Name
        <input name="name" className="input input-sm w-full" required maxLength={200} autoComplete="username" />
      </label>
      <label className="grid gap-1">
        Password
        <input name="password" type="password" className="input input-sm w-full" required maxLength={200} autoComplete="current-password" />
      </label>
      <button type="submit" className="btn btn-sm btn-primary" disabled={busy}>
        {busy ? 'Signing in …' : 'Sign in'}
      </button>
      <p className="text-soft">Owners make accounts, and give new passwords.</p>
    </form>
  )
}
