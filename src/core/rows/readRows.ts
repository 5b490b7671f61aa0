// Reads row evidence through functions that run one query each: a sample for each set of columns, and everything for what stays likely.
import type { Dialect } from '../catalog/index.ts'
import { inclusionSql, kindSql, type OnlyKind, partnerSql } from './inclusionSql.ts'
import type { Inclusion, KindCount, PartnerCount, RowEnd, RowEvidence, StatementJoin } from './rowEvidence.ts'

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
  /** Tables that join two others by these columns, without a rule that lets a pair come once. */
  readonly partners: readonly RowEnd[]
  /** Columns that statements join by. */
  readonly joinsIn: (statements: readonly string[]) => readonly StatementJoin[]
}

/** Rows of the answer by the names of their columns; numbers may be texts. A refusal or a timeout says why. */
export type RunQuery = (
  sql: string,
) => Promise<{ readonly ok: true; readonly rows: readonly Readonly<Record<string, unknown>>[] } | { readonly ok: false; readonly because: string }>

export interface ReadRowsOptions {
  readonly dialect: Dialect
  readonly source: string
  readonly at: string
  /** One for each connection; each is asked one query at a time. */
  readonly run: readonly [RunQuery, ...RunQuery[]]
  /** Told after each set of columns. */
  readonly onProgress?: (done: number, all: number) => void
  /** Stops between two queries: an AbortSignal, of which the core needs no more than this. */
  readonly signal?: { readonly throwIfAborted: () => void }
}

/** Rows of the child that a sample looks at. */
const sampleRows = 10_000
/** A sample with fewer values than these says nothing: the rows that have one stand elsewhere. */
const fewestFilled = 100
/** A column of more words than these names no tables. */
const mostKinds = 20
/** A candidate stays likely while at most this share of its values has no parent. */
const toleratedShare = 0.25

const numberOf = (v: unknown) => (v === null || v === undefined ? null : Number(v))

/** What one set of columns came to. */
interface Answers {
  readonly inclusions: readonly Inclusion[]
  readonly unread: RowEvidence['unread']
}

/** Never throws for a query that fails: what could not be read is listed. Throws only when `signal` aborts. */
export async function readRows({ sets, kinds, partners }: Omit<RowQuestions, 'joinsIn'>, o: ReadRowsOptions): Promise<RowEvidence> {
  const all = sets.length + kinds.length + partners.length
  let done = 0
  /** Each task on whichever connection is free; results in the order of the tasks. */
  const inTurn = async <T, R>(list: readonly T[], work: (x: T, run: RunQuery) => Promise<R>): Promise<readonly R[]> => {
    const results: R[] = []
    const queue = list.map((task, i) => ({ task, i }))
    const worker = async (run: RunQuery) => {
      for (let next = queue.shift(); next; next = queue.shift()) {
        o.signal?.throwIfAborted()
        results[next.i] = await work(next.task, run)
        done += 1
        o.onProgress?.(done, all)
      }
    }
    await Promise.all(o.run.map(worker))
    return results
  }
  const found = await inTurn(sets, (q, run) => ofSet(q, o, run))
  const unread = found.flatMap((f) => f.unread)
  const counted = await inTurn(kinds, (q, run) => ofKind(q, o, run))
  unread.push(...counted.flatMap((c) => c.unread))
  const pairs = await inTurn(partners, async (table, run): Promise<PartnerCount | null> => {
    const query = partnerSql(o.dialect, table)
    const answer = await run(query)
    if (!answer.ok) unread.push({ child: table, parent: table, because: answer.because })
    const get = (name: string) => (answer.ok ? (numberOf(answer.rows[0]?.[name]) ?? 0) : 0)
    return answer.ok ? { table, rows: get('rows'), pairs: get('pairs'), repeated: get('repeated'), most: get('most'), query } : null
  })
  return {
    format: 'pelvok.rows/1',
    source: o.source,
    at: o.at,
    inclusions: found.flatMap((f) => f.inclusions),
    kinds: counted.flatMap((c) => (c.count ? [c.count] : [])),
    partners: pairs.flatMap((p) => p ?? []),
    joins: [],
    statements: null,
    unread,
  }
}

/** Every query that evidence was read with, made again from what it is about: the text that evidence keeps is only ever looked up here. */
export function evidenceQueries(rows: RowEvidence, dialect: Dialect): ReadonlySet<string> {
  const of = (i: Inclusion, only: OnlyKind | null) => [null, sampleRows].map((limit) => inclusionSql(dialect, i.child, [i.parent], limit, only))
  return new Set([
    ...rows.inclusions.flatMap((i) => of(i, null)),
    ...rows.kinds.flatMap((k) => [
      kindSql(dialect, { schema: k.schema, table: k.table, columns: [k.idColumn] }, k.kindColumn, mostKinds),
      ...k.kinds.flatMap((v) => (v.inclusion ? of(v.inclusion, { column: k.kindColumn, value: v.value }) : [])),
    ]),
    ...rows.partners.map((p) => partnerSql(dialect, p.table)),
  ])
}

/** A sample of the child against all keys at once, and all its rows against those that stay likely, unless the sample was all. */
async function ofSet(q: RowQuestion, o: ReadRowsOptions, run: RunQuery): Promise<Answers> {
  const sample = await included(q.child, q.parents, sampleRows, null, o, run)
  const exact = (i: Inclusion) => i.rows + i.nulls < sampleRows
  const likely = (i: Inclusion) => i.rows < fewestFilled || i.missing <= i.values * toleratedShare
  const again = sample.inclusions.filter((i) => !exact(i) && likely(i)).map((i) => i.parent)
  const whole = again.length === 0 ? { inclusions: [], unread: [] } : await included(q.child, again, null, null, o, run)
  return {
    inclusions: sample.inclusions.map((i) => whole.inclusions.find((w) => w.parent === i.parent) ?? { ...i, sampled: !exact(i) }),
    unread: [...sample.unread, ...whole.unread],
  }
}

/** All keys in one pass; where that is refused (a value of one type that cannot be compared), each by itself. */
async function included(
  child: RowEnd,
  parents: readonly RowEnd[],
  limit: number | null,
  only: OnlyKind | null,
  o: ReadRowsOptions,
  run: RunQuery,
): Promise<Answers> {
  o.signal?.throwIfAborted()
  const answer = await run(inclusionSql(o.dialect, child, parents, limit, only))
  if (answer.ok) {
    const byParent = new Map(answer.rows.map((row) => [Number(row['parent']), row]))
    return {
      inclusions: parents.map((parent, i) => decode(child, parent, limit, inclusionSql(o.dialect, child, [parent], limit, only), byParent.get(i) ?? {})),
      unread: [],
    }
  }
  if (parents.length === 1) return { inclusions: [], unread: [{ child, parent: parents[0] as RowEnd, because: answer.because }] }
  const each: Answers[] = []
  for (const p of parents) each.push(await included(child, [p], limit, only, o, run))
  return { inclusions: each.flatMap((e) => e.inclusions), unread: each.flatMap((e) => e.unread) }
}

async function ofKind(
  q: KindQuestion,
  o: ReadRowsOptions,
  run: RunQuery,
): Promise<{ readonly count: KindCount | null; readonly unread: RowEvidence['unread'] }> {
  const query = kindSql(o.dialect, q.child, q.kindColumn, mostKinds)
  const answer = await run(query)
  if (!answer.ok) return { count: null, unread: [{ child: q.child, parent: q.child, because: answer.because }] }
  if (answer.rows.length > mostKinds) return { count: null, unread: [] }
  const unread: RowEvidence['unread'] = []
  const kinds: KindCount['kinds'] = []
  for (const row of answer.rows) {
    const value = String(row['value'])
    const parent = q.tableOf(value)
    const found = parent ? await included(q.child, [parent], null, { column: q.kindColumn, value }, o, run) : null
    if (found) unread.push(...found.unread)
    kinds.push({ value, rows: numberOf(row['rows']) ?? 0, inclusion: found?.inclusions[0] ?? null })
  }
  return { count: { schema: q.child.schema, table: q.child.table, kindColumn: q.kindColumn, idColumn: q.child.columns[0] as string, kinds, query }, unread }
}

function decode(child: RowEnd, parent: RowEnd, limit: number | null, query: string, row: Readonly<Record<string, unknown>>): Inclusion {
  const get = (column: string) => numberOf(row[column]) ?? 0
  return {
    child,
    parent,
    sampled: limit !== null,
    rows: get('rows'),
    nulls: get('nulls'),
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
