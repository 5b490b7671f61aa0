import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import type { ReactNode } from 'react'
import type { Dialect } from '../../../core/catalog/index.ts'
import { isTold } from '../../../core/text/told.ts'
import { log } from '../../../server/log.ts'
import { Asking } from '../../../ui/change/Asking.tsx'
import { ProjectBar } from '../../../ui/frame/ProjectBar.tsx'
import { identity, signed } from '../../_identity.ts'
import { headOf, projectNow } from '../../_project.ts'

type Props = { params: Promise<{ id: string }>; children: ReactNode }

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const project = await projectNow((await params).id)
  return { title: project?.name ?? 'Not found' }
}

/** Where it cannot be worked out, the bar goes without what is open, and the stage says what is the matter. */
async function barOf(id: string): Promise<{ readonly hash: string; readonly open: number | null; readonly dialect: Dialect | null } | null> {
  const survey = (await projectNow(id))?.survey
  if (!survey) return null
  return headOf(id).catch((error: unknown) => {
    if (!isTold(error)) log.error({ message: error instanceof Error ? error.message : String(error) }, 'head of a project')
    return { hash: survey.hash, open: null, dialect: null }
  })
}

export default async function ProjectLayout({ params, children }: Props) {
  const { id } = await params
  const project = await projectNow(id)
  if (!project) notFound()
  const [head, who] = await Promise.all([barOf(id), identity()])
  return (
    <>
      <ProjectBar id={id} name={project.name} hash={head?.hash ?? null} open={head?.open ?? null} entries={project.entries.length} who={signed(who)} />
      <div className="flex-1 min-h-0">
        <Asking projectId={id}>{children}</Asking>
      </div>
    </>
  )
}
