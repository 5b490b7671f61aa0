// What the parts of a page show of a project: asked of the store once for all of them.
import { cache } from 'react'
import { apart } from '../server/apart/index.ts'
import { type Head, keptHead } from '../server/first.ts'
import { readProjectNow } from '../server/review.ts'

/** Once a request; null where there is no such project. */
export const projectNow = cache(readProjectNow)

/** What the bar shows, and the desk is opened with; null before the first survey. */
export const headOf = cache(async (projectId: string): Promise<Head | null> => {
  const now = await projectNow(projectId)
  return now?.survey ? ((await keptHead(projectId, now)) ?? apart.makeHead(projectId)) : null
})
