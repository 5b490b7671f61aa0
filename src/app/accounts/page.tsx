import type { Metadata } from 'next'
import { listAccounts, roles } from '../../server/accounts.ts'
import { Accounts } from '../../ui/accounts/Accounts.tsx'
import { HomeBar } from '../../ui/frame/HomeBar.tsx'
import { identity, signed, standing } from '../_identity.ts'

export const metadata: Metadata = { title: 'Accounts' }

/** Everybody may change their own password; who else there is, owners see. */
export default async function Page() {
  const [now, who] = await Promise.all([standing(), identity()])
  const accounts = who.role === null || who.role === 'owner' ? await listAccounts() : null
  return (
    <>
      <HomeBar who={signed(who)} />
      <main className="flex-1 overflow-auto">
        <Accounts
          accounts={accounts?.map((a) => ({ id: a.id, name: a.name, role: a.role, made: a.createdAt.toISOString().slice(0, 10), by: a.createdBy })) ?? null}
          roles={roles}
          own={now.signIn ? (now.account?.id ?? null) : null}
        />
      </main>
    </>
  )
}
