import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import type { ReactNode } from 'react'
import { lostSubjects } from '../../../core/lineage/index.ts'
import { findProject, findSource } from '../../../server/projects.ts'
import { readLedger, readProjectReview } from '../../../server/review.ts'
import { ProjectBar } from '../../../ui/frame/ProjectBar.tsx'
import { identity, signed } from '../../_identity.ts'

type Props = { params: Promise<{ id: string }>; children: ReactNode }

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const project = await findProject((await params).id)
  return { title: project?.name ?? 'Not found' }
}

export default async function ProjectLayout({ params, children }: Props) {
  const { id } = await params
  const project = await findProject(id)
  if (!project) notFound()
  const [review, entries, who, source] = await Promise.all([readProjectReview(id), readLedger(id), identity(), findSource(id)])
  // What waits: open findings, rulings on answers that are others now, and rulings whose subject is gone.
  const open = review
    ? [...review.review.statuses.values()].filter((s) => s === 'open').length + review.review.changed.size + lostSubjects(review.catalog, entries).length
    : null
  return (
    <>
      <ProjectBar
        id={id}
        name={project.name}
        hash={review?.hash ?? null}
        open={open}
        planned={review?.catalog.dialect === 'postgresql'}
        tried={source?.kind === 'postgresql' || review?.catalog.dialect === 'sqlite'}
        entries={entries.length}
        who={signed(who)}
      />
      <div className="flex-1 min-h-0">{children}</div>
    </>
  )
}
