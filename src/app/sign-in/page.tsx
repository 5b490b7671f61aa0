import type { Metadata } from 'next'
import { redirect } from 'next/navigation'
import { SignIn } from '../../ui/accounts/SignIn.tsx'
import { HomeBar } from '../../ui/frame/HomeBar.tsx'
import { standing } from '../_identity.ts'

export const metadata: Metadata = { title: 'Sign in' }

/** Only paths of our own: what begins with two slashes, or a backslash, is another site's address (URL standard, 4.4). */
const ownPath = (to: string | undefined): string => (to !== undefined && /^\/(?![/\\])/.test(to) ? to : '/')

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  const [{ to }, now] = await Promise.all([searchParams, standing()])
  if (!now.signIn || now.account) redirect(ownPath(to))
  return (
    <>
      <HomeBar who={null} />
      <main className="flex-1 overflow-auto">
        <SignIn to={ownPath(to)} />
      </main>
    </>
  )
}
