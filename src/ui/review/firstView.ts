// What a review shows first, asked for as soon as somebody is on the way there: it comes while the page does.
import type { ViewPortion } from '../../core/review/index.ts'
import { nearestShape } from '../../core/strata/shape.ts'
import { fetched } from '../../workers/fetched.ts'
import { foldedPanes } from './usePanes.ts'

/** The shape that the pane of the map will have, as the desk divides the window. */
export function paneShape(): number {
  const clamped = (least: number, part: number, most: number) => Math.min(most, Math.max(least, part * window.innerWidth))
  const folded = foldedPanes()
  const beside = (folded.includes('docket') ? 0 : clamped(250, 0.234, 400)) + (folded.includes('evidence') ? 0 : clamped(280, 0.266, 480))
  return nearestShape(window.innerWidth - beside, window.innerHeight - aboveMap)
}
/** Bars over the map, in CSS pixels. */
const aboveMap = 125

const asked = (projectId: string, shape: number) => fetched<ViewPortion>(`/api/projects/${projectId}/first/${shape}`, 'first view', false)

/** Somebody who does not come after all leaves it here for so long, in milliseconds. */
const keptFor = 10_000
let begun: { readonly projectId: string; readonly shape: number; readonly at: number; readonly portion: Promise<ViewPortion> } | null = null

/** Somebody goes to the review. */
export function beginFirstView(projectId: string): void {
  const shape = paneShape()
  const portion = asked(projectId, shape)
  // Who comes asks again.
  portion.catch(() => {
    begun = null
  })
  begun = { projectId, shape, at: Date.now(), portion }
}

/** The one that was begun, once, or asked for now. Rejects where there is none. */
export function firstView(projectId: string, shape: number): Promise<ViewPortion> {
  const known = begun
  begun = null
  return known?.projectId === projectId && known.shape === shape && Date.now() - known.at < keptFor ? known.portion : asked(projectId, shape)
}
