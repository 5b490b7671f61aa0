// Queries over rows that the review itself made: one of a finding, or one that row evidence was read with. No other text is ever run.
import { z } from 'zod'
import { lookKeys, lookLimit, looksOf } from '../core/review/index.ts'
import { evidenceQueries } from '../core/rows/index.ts'
import { describeFailure, type Looked, look, SourceError, type Wording } from '../engines/postgres/index.ts'
import { readProjectReview } from './review.ts'
import { openLocation, SourceUnreadable } from './sources.ts'

export const lookInput = z.union([
  z.strictObject({ finding: z.string().max(2000), look: z.enum(lookKeys) }),
  /** The text of a query that the row evidence in force keeps. */
  z.strictObject({ query: z.string().max(100_000) }),
])

export type LookAnswer = { readonly ok: true; readonly looked: Looked } | { readonly ok: false; readonly wording: Wording }

const refused = (message: string, hint: string): LookAnswer => ({ ok: false, wording: { message, detail: '', hint } })

export async function lookAtRows(projectId: string, input: z.infer<typeof lookInput>): Promise<LookAnswer> {
  const project = await readProjectReview(projectId)
  if (!project) return refused('there is no survey yet', 'Survey the source first.')
  const { review, base } = project
  const sql =
    'query' in input
      ? base.rows && evidenceQueries(base.rows, base.whole.dialect).has(input.query)
        ? input.query
        : null
      : (looksOf(input.finding, base.catalog, review.model).find((l) => l.key === input.look)?.sql ?? null)
  if (sql === null) return refused('this query is not one of this review', 'The rows were read again, or the finding is another now: reload the page.')
  try {
    const { location } = await openLocation(projectId)
    return { ok: true, looked: await look(location, sql, lookLimit) }
  } catch (error) {
    if (error instanceof SourceError) return { ok: false, wording: describeFailure(error.failure, error.location) }
    if (error instanceof SourceUnreadable) return { ok: false, wording: error.wording }
    throw error
  }
}
