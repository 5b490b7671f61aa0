// A bounded, seeded sample of rows that is closed under references: whatever a row refers to is in it as well. Read-only.
import type pg from 'pg'
import { type Catalog, type Relation, relationText } from '../../core/catalog/index.ts'
import type { Plan } from '../../core/change/index.ts'
import { quoteAddress, quoteIdent } from '../../core/dialect/postgres/index.ts'

/** A reference that the sample is closed under, declared or about to be. */
export interface SampleLink {
  readonly child: { readonly schema: string; readonly name: string }
  readonly columns: readonly string[]
  readonly parent: { readonly schema: string; readonly name: string }
  readonly targetColumns: readonly string[]
}

export interface SampleOptions {
  readonly seed: number
  /** Rows to begin with, of each table. */
  readonly perTable: number
  /** No table gets more than this many rows, those that others refer to included. */
  readonly atMost: number
  readonly onProgress?: (table: string) => void
  readonly signal?: AbortSignal
}

/** Rows of one table as texts that its types read back; null for null. Columns that are worked out are left out. */
export interface SampledTable {
  readonly relation: { readonly schema: string; readonly name: string }
  readonly columns: readonly { readonly name: string; readonly type: string }[]
  readonly rows: readonly (readonly (string | null)[])[]
}

export interface Sample {
  readonly tables: readonly SampledTable[]
  /** Tables of which something that is referred to did not fit any more. */
  readonly cut: readonly string[]
}

/** Tables whose rows are read: a partition's come with its parent's. */
const holdsRows = (r: Relation) => r.kind === 'table' || r.kind === 'partitioned table'

export const declaredLinks = (c: Catalog): readonly SampleLink[] =>
  c.relations.flatMap((r) =>
    r.foreignKeys.map((k) => ({
      child: { schema: r.schema, name: r.name },
      columns: k.columns,
      parent: { schema: k.target.schema, name: k.target.table },
      targetColumns: k.target.columns,
    })),
  )

/** References that a plan makes: what its rows have to meet. */
export const plannedLinks = (plan: Plan): readonly SampleLink[] =>
  plan.steps.flatMap((s) =>
    s.sets.flatMap(([, p]) =>
      p?.kind === 'reference'
        ? [
            {
              child: p.on,
              columns: p.value.columns,
              parent: { schema: p.value.target.schema, name: p.value.target.table },
              targetColumns: p.value.target.columns,
            },
          ]
        : [],
    ),
  )

/** Tables larger than this are read by pages at random instead of as a whole. */
const largePages = 2000

interface Reading {
  readonly relation: Relation
  readonly columns: readonly { readonly name: string; readonly type: string }[]
  readonly rows: Map<string, readonly (string | null)[]>
}

/** Read a sample on an open connection, in one read-only transaction. */
export async function readSample(client: pg.Client, catalog: Catalog, links: readonly SampleLink[], o: SampleOptions): Promise<Sample> {
  const readings = new Map<string, Reading>()
  for (const relation of catalog.relations.filter(holdsRows)) {
    const columns = relation.columns.filter((c) => c.generated === null).map((c) => ({ name: c.name, type: c.type }))
    readings.set(relationText(relation), { relation, columns, rows: new Map() })
  }
  const cut = new Set<string>()
  await client.query("begin transaction isolation level repeatable read, read only; set local search_path = pg_catalog; set local statement_timeout = '60s'")
  try {
    for (const r of readings.values()) {
      o.signal?.throwIfAborted()
      o.onProgress?.(relationText(r.relation))
      await readFirst(client, r, o)
    }
    const waiting = links.filter((l) => readings.has(relationText(l.child)) && readings.has(relationText(l.parent)))
    for (let grown = true; grown; ) {
      o.signal?.throwIfAborted()
      grown = false
      for (const l of waiting) if (await follow(client, l, readings, cut, o)) grown = true
    }
  } finally {
    await client.query('rollback').catch(() => {})
  }
  return {
    tables: [...readings.values()].map((r) => ({
      relation: { schema: r.relation.schema, name: r.relation.name },
      columns: r.columns,
      rows: [...r.rows.values()],
    })),
    cut: [...cut].sort(),
  }
}

/** Columns as texts, and where the row stands: what tells two readings of one row alike. */
const selected = (r: Reading, alias: string) =>
  [`${alias}.tableoid::text || ' ' || ${alias}.ctid::text`, ...r.columns.map((c) => `${alias}.${quoteIdent(c.name)}::text`)].join(', ')

async function take(
  client: pg.Client,
  r: Reading,
  text: string,
  values: readonly unknown[],
  limit: number,
): Promise<{ readonly added: number; readonly cut: boolean }> {
  const result = await client.query<(string | null)[]>({ text, values: [...values], rowMode: 'array' })
  let added = 0
  for (const [place, ...row] of result.rows) {
    if (r.rows.has(place as string)) continue
    if (r.rows.size >= limit) return { added, cut: true }
    r.rows.set(place as string, row)
    added += 1
  }
  return { added, cut: false }
}

async function readFirst(client: pg.Client, r: Reading, o: SampleOptions): Promise<void> {
  const table = quoteAddress(r.relation)
  const { rows } = await client.query<{ pages: number }>(
    'select sum(c.relpages)::int as pages from pg_catalog.pg_partition_tree($1::regclass) t join pg_catalog.pg_class c on c.oid = t.relid',
    [table],
  )
  const pages = rows[0]?.pages ?? 0
  const share = pages > largePages ? ` tablesample system (${((largePages / pages) * 100).toFixed(4)}) repeatable (${o.seed})` : ''
  await take(
    client,
    r,
    `select ${selected(r, 't')} from ${table} t${share} order by pg_catalog.md5(t.ctid::text || $1::text) limit $2`,
    [String(o.seed), o.perTable],
    o.atMost,
  )
}

/** The rows that sampled rows refer to and that are not there yet; true where some came. */
async function follow(client: pg.Client, l: SampleLink, readings: ReadonlyMap<string, Reading>, cut: Set<string>, o: SampleOptions): Promise<boolean> {
  const child = readings.get(relationText(l.child)) as Reading
  const parent = readings.get(relationText(l.parent)) as Reading
  const own = l.columns.map((c) => child.columns.findIndex((x) => x.name === c))
  const theirs = l.targetColumns.map((c) => parent.columns.findIndex((x) => x.name === c))
  if (own.includes(-1) || theirs.includes(-1)) return false
  const keyOf = (row: readonly (string | null)[], at: readonly number[]) => JSON.stringify(at.map((i) => row[i]))
  const have = new Set([...parent.rows.values()].map((row) => keyOf(row, theirs)))
  const wanted = new Map<string, readonly (string | null)[]>()
  for (const row of child.rows.values()) {
    const key = own.map((i) => row[i] as string | null)
    if (key.every((v) => v !== null) && !have.has(JSON.stringify(key))) wanted.set(JSON.stringify(key), key)
  }
  if (wanted.size === 0) return false
  const lists = l.targetColumns.map((_, i) => [...wanted.values()].map((k) => k[i]))
  const types = theirs.map((i) => parent.columns[i]?.type ?? 'text')
  const given = `unnest(${lists.map((_, i) => `$${i + 1}::text[]`).join(', ')}) as k(${lists.map((_, i) => `k${i}`).join(', ')})`
  const on = l.targetColumns.map((c, i) => `t.${quoteIdent(c)} = k.k${i}::${types[i]}`).join(' and ')
  const got = await take(
    client,
    parent,
    `select ${selected(parent, 't')} from ${quoteAddress(parent.relation)} t join ${given} on ${on} order by 1`,
    lists,
    o.atMost,
  )
  if (got.cut) cut.add(relationText(l.parent))
  return got.added > 0
}

/** Write a sample into empty tables that have no references and triggers yet. Gives how many rows. */
export async function loadSample(client: pg.Client, s: Sample): Promise<number> {
  let count = 0
  for (const t of s.tables) {
    if (t.rows.length === 0) continue
    const columns = t.columns.map((c) => quoteIdent(c.name)).join(', ')
    const values = t.columns.map((c, i) => `u.c${i}::${c.type}`).join(', ')
    const lists = t.columns.map((_, i) => t.rows.map((row) => row[i]))
    const from = t.columns.map((_, i) => `$${i + 1}::text[]`).join(', ')
    const names = t.columns.map((_, i) => `c${i}`).join(', ')
    const text =
      t.columns.length === 0
        ? `insert into ${quoteAddress(t.relation)} select from pg_catalog.generate_series(1, ${t.rows.length})`
        : `insert into ${quoteAddress(t.relation)} (${columns}) overriding system value select ${values} from unnest(${from}) as u(${names})`
    await client.query(text, lists)
    count += t.rows.length
  }
  return count
}
