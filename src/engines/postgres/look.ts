// Queries over rows, read-only, with a timeout, their values as the server writes them: nothing is kept and nothing is logged.
import type { Client, FieldDef, QueryArrayResult } from 'pg'
import { cancelRunning, connect } from './connect.ts'
import { classifyFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'
import { pinSession } from './queries.ts'

/** Milliseconds. */
const statementTimeout = 20_000
/** Characters of a value that are shown. */
const longest = 400

export interface Looked {
  readonly columns: readonly string[]
  /** Values as texts; null for null. */
  readonly rows: readonly (readonly (string | null)[])[]
  /** How long the server took, with the way there and back. */
  readonly milliseconds: number
}

interface Asked {
  readonly sql: string
  readonly values: readonly unknown[]
}

const shorten = (v: string | null) => (v !== null && v.length > longest ? `${v.slice(0, longest)}…` : v)

/**
 * Several queries in one read-only transaction, so that all see the same rows. What is asked when `signal` aborts is cancelled on the server.
 * Throws SourceError where the server cannot be reached or refuses a query; its detail lines, which may hold values, are left out.
 */
export async function readRows<T>(l: Location, signal: AbortSignal | null, work: (ask: (q: Asked) => Promise<Looked>) => Promise<T>): Promise<T> {
  const client = await connect(l)
  const cancel = () => void cancelRunning(client, l).catch(() => {})
  signal?.addEventListener('abort', cancel)
  try {
    await client.query(pinSession)
    await client.query(`set local statement_timeout = ${statementTimeout}`)
    return await work((q) => {
      if (signal?.aborted) throw new DOMException('it was cancelled', 'AbortError')
      return ask(client, q)
    })
  } catch (error) {
    if (error instanceof SourceError || signal?.aborted) throw error
    throw new SourceError(classifyFailure(error), l)
  } finally {
    signal?.removeEventListener('abort', cancel)
    await client.end()
  }
}

async function ask(client: Client, q: Asked): Promise<Looked> {
  const started = performance.now()
  const result: QueryArrayResult<(string | null)[]> = await client.query({
    text: q.sql,
    values: [...q.values],
    rowMode: 'array',
    types: { getTypeParser: () => (v: string) => v } as never,
  })
  return { columns: result.fields.map((f: FieldDef) => f.name), rows: result.rows, milliseconds: Math.round((performance.now() - started) * 10) / 10 }
}

/** At most `limit` rows of one query, long values cut. */
export const look = (l: Location, sql: string, limit: number): Promise<Looked> =>
  readRows(l, null, async (run) => {
    const found = await run({ sql, values: [] })
    return { ...found, rows: found.rows.slice(0, limit).map((r) => r.map(shorten)), milliseconds: Math.round(found.milliseconds) }
  })
