import { redirect } from 'next/navigation'
import { lastSelected } from '../../../../server/visits.ts'
import { identity } from '../../../_identity.ts'

interface Props {
  readonly params: Promise<{ id: string }>
  readonly searchParams: Promise<{ at?: string }>
}

/** The desk stands in the layout. Whoever comes without saying where goes on where they were. */
export default async function Page({ params, searchParams }: Props) {
  const [{ id }, { at }, who] = await Promise.all([params, searchParams, identity()])
  const last = at === undefined ? await lastSelected(id, who.name) : null
  if (last !== null) redirect(`/p/${id}/review?at=${encodeURIComponent(last)}`)
  return null
}
