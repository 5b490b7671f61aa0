// Reads a PostgreSQL catalog into a Survey: one session, read-only and pinned, a constant number of queries.
import pg from 'pg'
import {
  type Catalog,
  type CensusLine,
  compareParts,
  type OwnOption,
  type Routine,
  type Statistics,
  type Survey,
  sortCatalog,
} from '../../core/catalog/index.ts'
import { isSettable, type OptionOwner, optionName } from '../../core/dialect/postgres/settable.ts'
import { countQuery, propertyQuery, reportQuery } from './census.ts'
import { cancelRunning, connect, endWhenSilent } from './connect.ts'
import { type Decoded, decode } from './decode.ts'
import { classifyFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'
import { objectsQuery } from './objects.ts'
import * as q from './queries.ts'
import type { ColumnRow, Counted, Fetched, Oid, OptionRow, ReportRow, SchemaRow, ServerRow, TypeRow } from './rows.ts'

export interface SurveyOptions {
  /** Schemas to read; null for every user schema. */
  readonly schemas: readonly string[] | null
  /** Told now and then: a word for what is being read, and objects read so far. */
  readonly onProgress?: (reading: string, objects: number) => void
  readonly signal?: AbortSignal
  /** How long nothing may come from the server, in milliseconds; longer than its own statement timeout by default. */
  readonly silence?: number
}

/** Catalog queries by the field they fill. */
const linkedQueries = (version: number) =>
  ({
    comments: q.comments,
    relations: q.relations,
    columns: q.columns(version),
    constraints: q.constraints(version),
    indexes: q.indexes(version),
    parents: q.parents,
    names: q.names,
    triggers: q.triggers(version),
    rules: q.rules,
    policies: q.policies,
    ranges: q.ranges(version),
    objects: objectsQuery(version),
    enums: q.enums,
    domains: q.domains,
    sequences: q.sequences,
    routines: q.routines,
    aggregates: q.aggregates,
    extensions: q.extensions,
    dependencies: q.dependencies(version),
    defaults: q.defaultsOf,
  }) as const satisfies Record<keyof Omit<Fetched, 'server' | 'schemas' | 'types'>, string>

const countedQueries = (version: number) =>
  ({
    census: countQuery(),
    reported: reportQuery(),
    properties: propertyQuery(version),
    positions: q.positions,
    options: q.optionNames,
  }) as const satisfies Record<keyof Counted, string>

/** Read and proven: npm run servers. Not so PostgreSQL 12, whose dumps can be read as scripts. */
const oldest = 130_000

/** Turned into a SourceError where the location is known. */
class VersionTooOld extends Error {
  constructor(readonly version: string) {
    super(`PostgreSQL ${version} is too old`)
  }
}

/** The statement timeout of `pinSession`, and some. */
const longestSilence = 150_000

/** Rows between two reports of progress. */
const portion = 2000

/**
 * Run queries as one message of the simple protocol (manual 55.2.2.1): the server works on the next one while the driver
 * still decodes the rows of the last. In place of $1 stand the oids of the schemas, numbers the server gave us.
 */
function runBatch<K extends string>(
  client: pg.Client,
  queries: Readonly<Record<K, string>>,
  schemas: readonly Oid[],
  onRows: (rows: number) => void,
): Promise<Readonly<Record<K, never[]>>> {
  const keys = Object.keys(queries) as K[]
  const text = keys.map((k) => queries[k].replaceAll('$1', `'{${schemas.map(Number).join(',')}}'`)).join(';\n')
  return new Promise((resolve, reject) => {
    let n = 0
    const query = new pg.Query(text, (error, results: unknown) => {
      if (error) reject(error)
      else resolve(Object.fromEntries(keys.map((k, i) => [k, (results as { rows: never[] }[])[i]?.rows])) as Record<K, never[]>)
    })
    query.on('row', () => {
      n += 1
      if (n % portion === 0) onRows(n)
    })
    client.query(query)
  })
}

/** Each type and modifier once; asked for on their own, it saves the server a look through all columns. */
function differentTypes(columns: readonly ColumnRow[]): readonly ColumnRow[] {
  const seen = new Map<Oid, Set<number>>()
  return columns.filter((c) => {
    const modifiers = seen.get(c.type) ?? new Set<number>()
    if (modifiers.has(c.modifier)) return false
    seen.set(c.type, modifiers.add(c.modifier))
    return true
  })
}

/** Fetches all, and links it while the server counts: the count is its longest work, and it sends little. */
async function fetchAll(client: pg.Client, o: SurveyOptions): Promise<{ readonly fetched: Fetched; readonly counted: Counted; readonly linked: Decoded }> {
  await client.query(q.pinSession)
  const server = (await client.query(q.serverFacts)).rows[0] as ServerRow
  if (server.number < oldest) throw new VersionTooOld(server.version)
  const schemas = (await client.query(q.schemas, [o.schemas])).rows as SchemaRow[]
  const oids = schemas.map((s) => s.oid)
  o.signal?.throwIfAborted()
  const rows = await runBatch(client, linkedQueries(server.number), oids, (n) => o.onProgress?.('the catalog', n))
  const fetched: Fetched = { server, schemas, ...rows, types: (await client.query(q.types(differentTypes(rows.columns)))).rows as TypeRow[] }
  o.signal?.throwIfAborted()
  const counting = runBatch(client, countedQueries(server.number), oids, () => {})
  // Awaited below; a failure of the linking must not leave this one unheard.
  counting.catch(() => {})
  const objects = Object.values(fetched).reduce((n, list) => n + (Array.isArray(list) ? list.length : 0), 0)
  o.onProgress?.('the census', objects)
  const linked = decode(fetched)
  const counted: Counted = await counting
  await client.query('commit')
  return { fetched, counted, linked }
}

/** read + reported = counted, one line per class and letter that occurs. */
function census(f: Fetched, counted: Counted, reports: readonly ReportRow[], c: Catalog): readonly CensusLine[] {
  const reported = new Map<string, number>()
  for (const r of reports) reported.set(r.class, (reported.get(r.class) ?? 0) + 1)
  const byLetter = <T>(list: readonly T[], letter: (row: T) => string) => {
    const n = new Map<string, number>()
    for (const row of list) n.set(letter(row), (n.get(letter(row)) ?? 0) + 1)
    return n
  }
  const relationLetters = byLetter(f.relations, (r) => r.kind)
  const keys = c.relations.flatMap((r) => [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques])
  const indexes = c.relations.reduce((n, r) => n + r.indexes.length, 0) + keys.length
  const exclusions = c.relations.reduce((n, r) => n + r.exclusions.length, 0)
  const partitioned = new Set(f.relations.filter((r) => r.kind === 'p').map((r) => r.oid))
  const parentIndexes = f.indexes.filter((x) => partitioned.has(x.relation)).length
  const letterOfRoutine = { function: 'f', procedure: 'p', 'window function': 'w', aggregate: 'a' } as const satisfies Record<Routine['kind'], string>
  const routineLetters = byLetter(c.routines, (r) => letterOfRoutine[r.kind])
  const objects = byLetter(f.objects, (o) => o.catalog)
  const read: Readonly<Record<string, number>> = {
    ...Object.fromEntries([...relationLetters].map(([k, n]) => [`pg_class ${k}`, n])),
    'pg_class S': f.sequences.length,
    'pg_class i': indexes + exclusions - parentIndexes,
    'pg_class I': parentIndexes,
    pg_attrdef: c.relations.reduce((n, r) => n + r.columns.filter((col) => col.default || col.generated).length, 0),
    'pg_constraint p': c.relations.filter((r) => r.primaryKey).length,
    'pg_constraint u': c.relations.reduce((n, r) => n + r.uniques.length, 0),
    'pg_constraint f': c.relations.reduce((n, r) => n + r.foreignKeys.length, 0),
    'pg_constraint c': c.relations.reduce((n, r) => n + r.checks.length, 0) + c.domains.reduce((n, d) => n + d.checks.length, 0),
    pg_trigger: c.relations.reduce((n, r) => n + r.triggers.length, 0),
    pg_rewrite: c.relations.reduce((n, r) => n + r.rules.length, 0),
    'pg_type e': c.enums.length,
    'pg_type d': c.domains.length,
    ...Object.fromEntries([...routineLetters].map(([k, n]) => [`pg_proc ${k}`, n])),
    ...Object.fromEntries(objects),
    'pg_type b': c.objects.filter((o) => o.kind === 'type' && o.definition.length > 1).length,
    'pg_type p': c.objects.filter((o) => o.kind === 'type' && o.definition.length === 1).length,
    'pg_type r': c.ranges.length,
    'pg_constraint x': exclusions,
    pg_policy: c.relations.reduce((n, r) => n + r.policies.length, 0),
    pg_extension: c.extensions.length,
  }
  return counted.census.map((line) => ({ class: line.class, counted: line.n, read: read[line.class] ?? 0, reported: reported.get(line.class) ?? 0 }))
}

function statistics(f: Fetched, counted: Counted): Statistics {
  const position = new Map(counted.positions.map((p) => [p.oid, p.position]))
  return {
    at: f.server.at,
    relations: f.relations
      .filter((r) => r.kind === 'r' || r.kind === 'p' || r.kind === 'm')
      .map((r) => ({ schema: r.schema, name: r.name, rows: r.rows < 0 ? null : r.rows, pages: r.pages })),
    sequences: f.sequences.map((s) => ({ schema: s.schema, name: s.name, position: position.get(s.oid) ?? null })),
  }
}

function assemble({ fetched: f, counted, linked }: Awaited<ReturnType<typeof fetchAll>>): Survey {
  const reported = [...counted.reported, ...linked.reported]
  const unmodelled = [...reported.map((r) => ({ kind: r.kind, identity: r.identity })), ...counted.properties, ...linked.structure.unmodelled]
  const structure = sortCatalog({ ...linked.structure, unmodelled })
  return {
    structure,
    statistics: statistics(f, counted),
    reading: {
      server: `PostgreSQL ${f.server.version}`,
      serverVersion: f.server.number,
      database: f.server.database,
      user: f.server.user,
      at: f.server.at,
      census: census(f, counted, reported, structure),
      notReadable: f.relations.filter((r) => !r.readable && r.kind !== 'c').map((r) => ({ schema: r.schema, name: r.name })),
      ownOptions: ownOptions(f, counted),
      withGrants: [...f.schemas, ...f.relations, ...f.enums, ...f.domains, ...f.ranges, ...f.sequences, ...f.routines].filter((o) => o.granted).length,
    },
  }
}

/** What the server keeps for itself beside what can be set: column options, and settings of functions. */
function ownOptions(f: Fetched, counted: Counted): readonly OwnOption[] {
  const found = new Map<string, OwnOption>()
  const count = (kind: string, name: string, n: number) => found.set(`${kind} ${name}`, { kind, name, count: (found.get(`${kind} ${name}`)?.count ?? 0) + n })
  for (const r of f.routines) for (const s of r.ownSettings ?? []) count('routine', optionName(s), 1)
  const owner = (o: OptionRow): OptionOwner =>
    o.kind === 'index' ? { kind: 'index', method: o.method } : o.kind === 'operator class' ? { kind: o.kind, schema: null } : { kind: o.kind }
  for (const o of counted.options) if (!isSettable(owner(o), o.name, f.server.number)) count(o.kind, o.name, o.n)
  return [...found.values()].sort((a, b) => compareParts([a.kind, a.name], [b.kind, b.name]))
}

/** Objects that vanish or change under a catalog function while it runs: undefined table, function or object, "cache lookup failed" (internal error), serialization failure. */
const concurrentChange = new Set(['42P01', '42883', '42704', 'XX000', '40001', '3F000'])

/**
 * Survey an open connection. A change of the schema meanwhile makes catalog functions fail although the transaction is
 * consistent, since they look at the newest state: the whole read is tried three times, then the complaint is thrown.
 */
export async function surveyClient(client: pg.Client, o: SurveyOptions): Promise<Survey> {
  for (let attempt = 1; ; attempt += 1) {
    try {
      return assemble(await fetchAll(client, o))
    } catch (error) {
      await client.query('rollback').catch(() => {})
      const failure = o.signal?.aborted ? null : classifyFailure(error)
      if (attempt >= 3 || failure?.kind !== 'database' || !concurrentChange.has(failure.sqlState)) throw error
    }
  }
}

/** Survey a server. Aborting the signal cancels the running statement on the server. Throws SourceError, or the signal's reason. */
export async function survey(l: Location, o: SurveyOptions): Promise<Survey> {
  const client = await connect(l)
  const atEase = endWhenSilent(client, o.silence ?? longestSilence)
  const cancel = () => void cancelRunning(client, l).catch(() => {})
  o.signal?.addEventListener('abort', cancel, { once: true })
  try {
    const result = await surveyClient(client, o)
    const missing = (o.schemas ?? []).filter((s) => !result.structure.schemas.some((have) => have.name === s))
    if (missing.length > 0) {
      const failure = {
        kind: 'database',
        sqlState: '3F000',
        message: `there is no schema "${missing.join('", "')}" in ${l.database}`,
        detail: null,
        hint: 'Check the spelling; letter case matters.',
        object: null,
        position: null,
      } as const
      throw new SourceError(failure, l)
    }
    return result
  } catch (error) {
    o.signal?.throwIfAborted()
    if (error instanceof VersionTooOld) throw new SourceError({ kind: 'version too old', version: error.version }, l)
    throw error instanceof SourceError || !isDatabaseError(error) ? error : new SourceError(classifyFailure(error), l)
  } finally {
    o.signal?.removeEventListener('abort', cancel)
    atEase()
    await client.end().catch(() => {})
  }
}

const isDatabaseError = (error: unknown): boolean =>
  typeof (error as { code?: unknown } | null)?.code === 'string' || (error instanceof Error && /Connection terminated|timeout/i.test(error.message))

/** A one-line account of what a survey read, for progress and logs. */
export function surveySummary(s: Survey): string {
  const c = s.structure
  return `${c.relations.length} relations, ${c.relations.reduce((n, r) => n + r.columns.length, 0)} columns, ${c.relations.reduce((n, r) => n + r.foreignKeys.length, 0)} foreign keys, ${c.routines.length} routines; ${c.unmodelled.length} not modelled`
}
