// Reads row evidence through a function that runs one query: a sample for each candidate, and everything for what stays likely.
import type { Dialect } from '../catalog/index.ts'
import { inclusionSql } from './inclusionSql.ts'
import type { Inclusion, RowEnd, RowEvidence } from './rowEvidence.ts'

/** Columns of one table and the keys they may refer to, the likeliest first. */
export interface RowQuestion {
  readonly child: RowEnd
  readonly parents: readonly RowEnd[]
}

/** One row of the answer by the names of its columns; numbers may be texts. A refusal or a timeout says why. */
export type RunQuery = (
  sql: string,
) => Promise<{ readonly ok: true; readonly row: Readonly<Record<string, unknown>> } | { readonly ok: false; readonly because: string }>

export interface ReadRowsOptions {
  readonly dialect: Dialect
  readonly source: string
  readonly at: string
  readonly run: RunQuery
  /** Told after each set of columns. */
  readonly onProgress?: (done: number, all: number) => void
  /** Stops between two queries: an AbortSignal, of which the core needs no more than this. */
  readonly signal?: { readonly throwIfAborted: () => void }
}

/** Rows of the child that a sample looks at. */
const sampleRows = 10_000
/** A candidate stays likely while at most this share of its values has no parent. */
const toleratedShare = 0.25

const numberOf = (v: unknown) => (v === null || v === undefined ? null : Number(v))

function decode(child: RowEnd, parent: RowEnd, sampled: boolean, query: string, row: Readonly<Record<string, unknown>>): Inclusion {
  const get = (column: string) => numberOf(row[column]) ?? 0
  return {
    child,
    parent,
    sampled,
    rows: get('rows'),
    values: get('values'),
    orphans: get('orphans'),
    missing: get('missing'),
    parents: get('parents'),
    parentRows: get('parent_rows'),
    least: numberOf(row['least']),
    median: numberOf(row['median']),
    most: numberOf(row['most']),
    query,
  }
}

/** Never throws for a query that fails: what could not be read is listed. Throws only when `signal` aborts. */
export async function readRows(questions: readonly RowQuestion[], o: ReadRowsOptions): Promise<RowEvidence> {
  const inclusions: Inclusion[] = []
  const unread: RowEvidence['unread'] = []
  const ask = async (child: RowEnd, parent: RowEnd, limit: number | null): Promise<Inclusion | null> => {
    o.signal?.throwIfAborted()
    const sql = inclusionSql(o.dialect, child, parent, limit)
    const answer = await o.run(sql)
    if (answer.ok) return decode(child, parent, limit !== null, sql, answer.row)
    unread.push({ child, parent, because: answer.because })
    return null
  }
  for (const [i, q] of questions.entries()) {
    const samples: Inclusion[] = []
    for (const parent of q.parents) {
      const sample = await ask(q.child, parent, sampleRows)
      if (sample) samples.push(sample)
    }
    inclusions.push(...(await Promise.all(samples.map((s) => exactly(s, ask)))))
    o.onProgress?.(i + 1, questions.length)
  }
  return { format: 'pelvok.rows/1', source: o.source, at: o.at, inclusions, unread }
}

/** A sample that saw all rows is exact already; one that found too little is enough. */
async function exactly(s: Inclusion, ask: (child: RowEnd, parent: RowEnd, limit: null) => Promise<Inclusion | null>): Promise<Inclusion> {
  if (s.rows < sampleRows) return { ...s, sampled: false }
  if (s.missing > s.values * toleratedShare) return s
  return (await ask(s.child, s.parent, null)) ?? s
}
