// The pre-checks of a plan, asked of one database, read-only.
import type pg from 'pg'
import type { CheckAnswer, Step } from '../../core/change/index.ts'
import { connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'

/** Ask every pre-check, read-only. A query that the server refuses counts as one that fails, with what it said. */
export async function answerChecks(client: pg.Client, steps: readonly Step[]): Promise<readonly CheckAnswer[]> {
  const answers: CheckAnswer[] = []
  for (const s of steps)
    for (const c of s.preChecks) {
      const about = { step: s.number, object: s.object, id: c.id, asks: c.asks, cleaning: c.cleaning, cleaningSays: c.cleaningSays }
      try {
        await client.query("begin transaction read only; set local search_path = pg_catalog; set local statement_timeout = '120s'")
        const count = Number((await client.query<{ count: string }>(c.count)).rows[0]?.count ?? 0)
        const sample = count > 0 ? await client.query<(unknown | null)[]>({ text: c.sample, rowMode: 'array' }) : null
        answers.push({
          ...about,
          count,
          said: null,
          columns: sample?.fields.map((f) => f.name) ?? [],
          rows: sample?.rows.map((row) => row.map((v) => (v === null ? null : typeof v === 'object' ? JSON.stringify(v) : String(v)))) ?? [],
        })
      } catch (error) {
        const f = classifyFailure(error)
        if (f.kind !== 'database') throw error
        answers.push({ ...about, count: null, said: f.message, columns: [], rows: [] })
      } finally {
        await client.query('rollback').catch(() => {})
      }
    }
  return answers
}

/** The pre-checks of a plan on one database. Throws SourceError. */
export async function preCheck(l: Location, steps: readonly Step[]): Promise<readonly CheckAnswer[]> {
  const client = await connect(l)
  try {
    return await answerChecks(client, steps)
  } catch (error) {
    throw error instanceof SourceError ? error : new SourceError(classifyFailure(error), l)
  } finally {
    await client.end().catch(() => {})
  }
}
