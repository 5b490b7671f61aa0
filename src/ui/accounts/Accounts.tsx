'use client'

import { useRouter } from 'next/navigation'
import { type FormEvent, useState } from 'react'
import { type Answer, post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'

export interface AccountLine {
  readonly id: string
  readonly name: string
  readonly role: string
  /** The day, ISO 8601. */
  readonly made: string
  readonly by: string
}

interface Props {
  /** Null for those who may not see them. */
  readonly accounts: readonly AccountLine[] | null
  readonly roles: readonly string[]
  /** Id of the account that is signed in; null where nobody has to. */
  readonly own: string | null
}

const may: Readonly<Record<string, string>> = {
  reader: 'sees everything that was read and ruled, and can download it',
  reviewer: 'also rules, seals, surveys, reads rows and rehearses',
  owner: 'also makes projects, says where they are read from, and keeps the accounts',
}

export function Accounts({ accounts, roles, own }: Props) {
  const router = useRouter()
  const [wording, setWording] = useState<Wording | null>(null)
  const [said, setSaid] = useState<string | null>(null)
  const settle = (answer: Answer<unknown>, done: string): boolean => {
    setWording(answer.ok ? null : answer.wording)
    setSaid(answer.ok ? done : null)
    if (answer.ok) router.refresh()
    return answer.ok
  }
  const change = (a: AccountLine, what: object, done: string) => post(`/api/accounts/${a.id}`, what).then((answer) => settle(answer, done))
  return (
    <div className="mx-auto max-w-3xl px-6 py-8">
      <h1 className="text-2xl">Accounts</h1>
      {accounts?.length === 0 ? (
        <p className="mt-3 font-serif text-lg">
          Nobody signs in: whoever uses this machine may do everything. Make an account, and from then on everybody signs in, here as elsewhere.
        </p>
      ) : null}
      <div aria-live="polite" className="mt-3">
        {wording ? <Complaint wording={wording} /> : null}
        {said === null ? null : <p className="text-settled">{said}</p>}
      </div>
      {accounts && accounts.length > 0 ? (
        <table className="mt-3 w-full">
          <thead className="text-left text-soft">
            <tr>
              <th className="font-normal">name</th>
              <th className="font-normal">role</th>
              <th className="font-normal">made</th>
              <th className="font-normal">
                <span className="sr-only">what can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {accounts.map((a) => (
              <Line key={a.id} account={a} roles={roles} alone={accounts.length === 1} own={a.id === own} onChange={change} />
            ))}
          </tbody>
        </table>
      ) : null}
      {accounts ? <NewAccount roles={roles} first={accounts.length === 0} settle={settle} /> : null}
      {own === null ? null : <OwnPassword settle={settle} />}
    </div>
  )
}

interface LineProps {
  readonly account: AccountLine
  readonly roles: readonly string[]
  /** Is it the only one there is? */
  readonly alone: boolean
  readonly own: boolean
  readonly onChange: (a: AccountLine, what: object, done: string) => Promise<boolean>
}

function Line({ account: a, roles, alone, own, onChange }: LineProps) {
  const [open, setOpen] = useState<'password' | 'remove' | null>(null)
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const password = new FormData(event.currentTarget).get('password')
    void onChange(a, { password }, `${a.name} has a new password, and was signed out everywhere.`).then((done) => done && setOpen(null))
  }
  return (
    <>
      <tr className="border-t border-rule">
        <td className="py-1.5">
          {a.name}
          {own ? <span className="text-soft"> (you)</span> : null}
        </td>
        <td>
          <select
            aria-label={`Role of ${a.name}`}
            className="select select-xs w-28"
            value={a.role}
            onChange={(e) => void onChange(a, { role: e.target.value }, `${a.name} is ${e.target.value} now.`)}
          >
            {roles.map((r) => (
              <option key={r}>{r}</option>
            ))}
          </select>
        </td>
        <td className="text-soft">
          {a.made} by {a.by}
        </td>
        <td className="text-right whitespace-nowrap">
          {own ? null : (
            <button type="button" className="btn btn-xs" onClick={() => setOpen(open === 'password' ? null : 'password')}>
              New password
            </button>
          )}{' '}
          <button type="button" className="btn btn-xs" onClick={() => setOpen(open === 'remove' ? null : 'remove')}>
            Remove
          </button>
        </td>
      </tr>
      {open === null ? null : (
        <tr>
          <td colSpan={4} className="pb-2">
            {open === 'password' ? (
              <form onSubmit={submit} className="flex items-center gap-2">
                New password of {a.name}
                <input
                  name="password"
                  type="password"
                  aria-label={`New password of ${a.name}`}
                  className="input input-xs w-56"
                  required
                  minLength={12}
                  maxLength={200}
                  autoComplete="new-password"
                />
                <button type="submit" className="btn btn-xs btn-primary">
                  Set it
                </button>
              </form>
            ) : (
              <p className="flex flex-wrap items-center gap-2">
                {alone
                  ? 'This is the only account: without it nobody signs in any more, and whoever reaches Pelvok may do everything.'
                  : `${a.name} is signed out everywhere. What was ruled stays, signed with the name.`}
                <button
                  type="button"
                  className="btn btn-xs"
                  onClick={() => void onChange(a, { remove: true }, `${a.name} was removed.`).then((done) => done && setOpen(null))}
                >
                  Remove {a.name}
                </button>
              </p>
            )}
          </td>
        </tr>
      )}
    </>
  )
}

type Settle = (answer: Answer<unknown>, done: string) => boolean

function NewAccount({ roles, first, settle }: { roles: readonly string[]; first: boolean; settle: Settle }) {
  const [role, setRole] = useState(first ? 'owner' : 'reviewer')
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = event.currentTarget
    const given = new FormData(form)
    const name = String(given.get('name'))
    void post('/api/accounts', { name, role: first ? 'owner' : role, password: given.get('password') }).then((answer) => {
      if (settle(answer, `${name} can sign in.`)) form.reset()
    })
  }
  return (
    <form onSubmit={submit} className="mt-6 grid grid-cols-[7rem_16rem_1fr] items-center gap-x-3 gap-y-2" aria-label="New account">
      <h2 className="col-span-3 border-b border-rule text-lg">{first ? 'The first account' : 'New account'}</h2>
      <label htmlFor="new-name">Name</label>
      <input id="new-name" name="name" className="input input-sm" required maxLength={80} autoComplete="off" />
      <span className="text-soft">rulings are signed with it</span>
      <label htmlFor="new-password">Password</label>
      <input id="new-password" name="password" type="password" className="input input-sm" required minLength={12} maxLength={200} autoComplete="new-password" />
      <span className="text-soft">12 characters or more; a few words do well</span>
      {first ? (
        <p className="col-span-3 text-soft">It is an owner&rsquo;s account. You are signed in with it at once, in this browser.</p>
      ) : (
        <>
          <label htmlFor="new-role">Role</label>
          <select id="new-role" className="select select-sm" value={role} onChange={(e) => setRole(e.target.value)}>
            {roles.map((r) => (
              <option key={r}>{r}</option>
            ))}
          </select>
          <span className="text-soft">{may[role]}</span>
        </>
      )}
      <button type="submit" className="btn btn-sm btn-primary col-start-2 justify-self-start">
        Make the account
      </button>
    </form>
  )
}

function OwnPassword({ settle }: { settle: Settle }) {
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = event.currentTarget
    const given = new FormData(form)
    void post('/api/password', { old: given.get('old'), password: given.get('password') }).then((answer) => {
      if (settle(answer, 'You have a new password. Elsewhere you were signed out.')) form.reset()
    })
  }
  return (
    <form onSubmit={submit} className="mt-6 grid grid-cols-[7rem_16rem] items-center gap-x-3 gap-y-2" aria-label="Your password">
      <h2 className="col-span-2 border-b border-rule text-lg">Your password</h2>
      <label htmlFor="old-password">Old one</label>
      <input id="old-password" name="old" type="password" className="input input-sm" required maxLength={200} autoComplete="current-password" />
      <label htmlFor="own-password">New one</label>
      <input id="own-password" name="password" type="password" className="input input-sm" required minLength={12} maxLength={200} autoComplete="new-password" />
      <button type="submit" className="btn btn-sm col-start-2 justify-self-start">
        Change it
      </button>
    </form>
  )
}
