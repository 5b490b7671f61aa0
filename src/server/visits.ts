// Where each person is in a review.
import { z } from 'zod'
import { everything, type Place, place, type Visit } from '../core/review/index.ts'
import { enterVisit, keepPlace, type Seen } from '../store/index.ts'

export const placeInput = z.object({ place, seq: z.int().min(0), stop: z.boolean() })

export const keepOwnPlace = (projectId: string, person: string, input: z.infer<typeof placeInput>): Promise<boolean> =>
  keepPlace(projectId, person, JSON.stringify(input.place), input.seq, input.stop)

/** A place that an earlier version kept, and this one does not understand, is where everybody begins. */
export async function enter(projectId: string, person: string, now: Seen): Promise<{ readonly place: Place; readonly last: Visit | null }> {
  const visit = await enterVisit(projectId, person, now)
  const parsed = place.safeParse(JSON.parse(visit.place))
  return { place: parsed.success ? parsed.data : { docket: everything, at: null, working: null }, last: visit.last }
}
