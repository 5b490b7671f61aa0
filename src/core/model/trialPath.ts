// Which rows of which entity a trial reads, and which relationships are followed from them.
import { z } from 'zod'

/** One end of a relationship: the property of the entity one stands on, which leads to the other. */
const step = z.strictObject({ relationship: z.string().min(1).max(2000), end: z.enum(['from', 'to']) })

export const comparisons = ['equal', 'other', 'less', 'more', 'contains', 'empty', 'filled'] as const

const condition = z.strictObject({
  /** Relationships to go along first; none for a property of the entity itself. */
  via: z.array(step).max(3),
  column: z.string().min(1).max(200),
  is: z.enum(comparisons),
  /** Of all but `empty` and `filled`: as text, read by the database as a value of the column's type. */
  value: z.string().max(2000),
})

export const trialPath = z.strictObject({
  entity: z.string().min(1).max(2000),
  conditions: z.array(condition).max(8),
  /** Followed one after the other. */
  steps: z.array(step).max(6),
})

export type TrialStep = z.infer<typeof step>
export type Condition = z.infer<typeof condition>
export type Comparison = Condition['is']
export type TrialPath = z.infer<typeof trialPath>
