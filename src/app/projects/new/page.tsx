import type { Metadata } from 'next'
import { HomeBar } from '../../../ui/frame/HomeBar.tsx'
import { NewProject } from '../../../ui/newProject/NewProject.tsx'
import { identity, signed } from '../../_identity.ts'

export const metadata: Metadata = { title: 'New project' }

export default async function Page() {
  const who = await identity()
  return (
    <>
      <HomeBar who={signed(who)} />
      <main className="flex-1 overflow-auto">
        <NewProject />
      </main>
    </>
  )
}
