// One query over rows, read-only, with a timeout, its values as the server writes them: nothing is kept and nothing is logged.
import type { FieldDef, QueryArrayResult } from 'pg'
import { connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'
import { pinSession } from './queries.ts'

/** Milliseconds. */
const statementTimeout = 20_000
/** Characters of a value that are shown. */
const longest = 400

export interface Looked {
  readonly columns: readonly string[]
  /** Values as texts, cut where they are very long; null for null. */
  readonly rows: readonly (readonly (string | null)[])[]
  /** How long the server took, with the way there and back. */
  readonly milliseconds: number
}

const shorten = (v: string | null) => (v !== null && v.length > longest ? `${v.slice(0, longest)}…` : v)

/** At most `limit` rows. Throws SourceError where the server cannot be reached or refuses the query; its detail lines, which may hold values, are left out. */
export async function look(l: Location, sql: string, limit: number): Promise<Looked> {
  const client = await connect(l)
  try {
    await client.query(pinSession)
    await client.query(`set local statement_timeout = ${statementTimeout}`)
    const started = performance.now()
    const result: QueryArrayResult<(string | null)[]> = await client.query({
      text: sql,
      rowMode: 'array',
      types: { getTypeParser: () => (v: string) => v } as never,
    })
    return {
      columns: result.fields.map((f: FieldDef) => f.name),
      rows: result.rows.slice(0, limit).map((r) => r.map(shorten)),
      milliseconds: Math.round(performance.now() - started),
    }
  } catch (error) {
    if (error instanceof SourceError) throw error
    throw new SourceError(classifyFailure(error), l)
  } finally {
    await client.end()
  }
}
