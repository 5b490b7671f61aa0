// Reads row evidence through a function that runs one query: a sample for each candidate, and everything for what stays likely.
import type { Dialect } from '../catalog/index.ts'
import { inclusionSql, kindSql, type OnlyKind } from './inclusionSql.ts'
import type { Inclusion, KindCount, RowEnd, RowEvidence } from './rowEvidence.ts'

/** Columns of one table and the keys they may refer to, the likeliest first. */
export interface RowQuestion {
  readonly child: RowEnd
  readonly parents: readonly RowEnd[]
}

/** A pair of columns that may say which table and which row, and what table a word names. */
export interface KindQuestion {
  readonly child: RowEnd
  readonly kindColumn: string
  readonly tableOf: (word: string) => RowEnd | null
}

export interface RowQuestions {
  readonly sets: readonly RowQuestion[]
  readonly kinds: readonly KindQuestion[]
}

/** Rows of the answer by the names of their columns; numbers may be texts. A refusal or a timeout says why. */
export type RunQuery = (
  sql: string,
) => Promise<{ readonly ok: true; readonly rows: readonly Readonly<Record<string, unknown>>[] } | { readonly ok: false; readonly because: string }>

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
/** A column of more words than these names no tables. */
const mostKinds = 20
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
export async function readRows({ sets, kinds }: RowQuestions, o: ReadRowsOptions): Promise<RowEvidence> {
  const inclusions: Inclusion[] = []
  const unread: RowEvidence['unread'] = []
  const ask = async (child: RowEnd, parent: RowEnd, limit: number | null, only: OnlyKind | null = null): Promise<Inclusion | null> => {
    o.signal?.throwIfAborted()
    const sql = inclusionSql(o.dialect, child, parent, limit, only)
    const answer = await o.run(sql)
    if (answer.ok) return decode(child, parent, limit !== null, sql, answer.rows[0] ?? {})
    unread.push({ child, parent, because: answer.because })
    return null
  }
  const all = sets.length + kinds.length
  for (const [i, q] of sets.entries()) {
    const samples: Inclusion[] = []
    for (const parent of q.parents) {
      const sample = await ask(q.child, parent, sampleRows)
      if (sample) samples.push(sample)
    }
    inclusions.push(...(await Promise.all(samples.map((s) => exactly(s, ask)))))
    o.onProgress?.(i + 1, all)
  }
  const counted: KindCount[] = []
  for (const [i, q] of kinds.entries()) {
    o.signal?.throwIfAborted()
    const query = kindSql(o.dialect, q.child, q.kindColumn, mostKinds)
    const answer = await o.run(query)
    if (!answer.ok) unread.push({ child: q.child, parent: q.child, because: answer.because })
    else if (answer.rows.length <= mostKinds) {
      const found: KindCount['kinds'] = []
      for (const row of answer.rows) {
        const value = String(row['value'])
        const parent = q.tableOf(value)
        found.push({ value, rows: numberOf(row['rows']) ?? 0, inclusion: parent ? await ask(q.child, parent, null, { column: q.kindColumn, value }) : null })
      }
      counted.push({ schema: q.child.schema, table: q.child.table, kindColumn: q.kindColumn, idColumn: q.child.columns[0] as string, kinds: found, query })
    }
    o.onProgress?.(sets.length + i + 1, all)
  }
  return { format: 'pelvok.rows/1', source: o.source, at: o.at, inclusions, kinds: counted, unread }
}

/** A sample that saw all rows is exact already; one that found too little is enough. */
async function exactly(s: Inclusion, ask: (child: RowEnd, parent: RowEnd, limit: null) => Promise<Inclusion | null>): Promise<Inclusion> {
  if (s.rows < sampleRows) return { ...s, sampled: false }
  if (s.missing > s.values * toleratedShare) return s
  return (await ask(s.child, s.parent, null)) ?? s
}
