// What the parts of a page show of a project: asked of the store once for all of them.
import { cache } from 'react'
import { readProjectNow } from '../server/review.ts'

/** Once a request; null where there is no such project. */
export const projectNow = cache(readProjectNow)
