// A rehearsal: a plan runs up, down and up again on a scratch database, and surveys say whether each result is what was planned.
import type pg from 'pg'
import { type Catalog, type Difference, emptyCatalog, type Unmodelled } from '../../core/catalog/index.ts'
import { assemble, baselinePlan, type Lock, type LockMode, type Part, type Plan, partsOf, type Step, type StepKind } from '../../core/change/index.ts'
import { compareWithServer } from '../../core/ddl/index.ts'
import { cancelRunning, connect } from './connect.ts'
import { classifyFailure, type DatabaseFailure, SourceError } from './failure.ts'
import type { Location } from './location.ts'
import { loadSample, type Sample } from './sample.ts'
import { createScratch } from './scratch.ts'
import { runSteps, StepFailed } from './steps.ts'
import { surveyClient } from './survey.ts'

/** A step the scratch role could not run, or that needs one it could not run. */
export interface SkippedStep {
  readonly step: number
  readonly object: string
  readonly reason: 'needs a higher role' | 'extension not on this server' | 'needs a skipped object'
  readonly said: string
}

export interface Phase {
  readonly direction: 'before' | 'up' | 'down' | 'up again'
  readonly steps: number
  readonly milliseconds: number
  /** Against the planned structure (up), or what the plan begins with (before, down). */
  readonly differences: readonly Difference[]
  /** Of those a schema read from a script may have, how many there are; see core/ddl/allowed.ts. */
  readonly allowed: number
  /** Of an object that the plan says has no way back: differences that it announced. */
  readonly announced: number
}

/** What one step did when it ran the first time. */
export interface StepSeen {
  readonly step: number
  readonly milliseconds: number
  /** Of relations that were there before; null where they are released before anybody can look. */
  readonly locks: readonly Lock[] | null
  /** Relations whose rows are stored in another file now. */
  readonly rewritten: readonly string[]
  /** Between the survey after it and what the plan says is there then. */
  readonly differences: readonly Difference[]
}

export interface Rehearsal {
  /** Every phase ran, nothing differs and nothing was skipped. */
  readonly ok: boolean
  readonly server: string
  readonly phases: readonly Phase[]
  readonly steps: readonly StepSeen[]
  /** Rows the scratch database began with; null for structure only. */
  readonly rows: number | null
  readonly skipped: readonly SkippedStep[]
  /** Objects of the snapshot that the plan does not make because they are not modelled yet. */
  readonly notSupported: readonly Unmodelled[]
  readonly failure: {
    readonly direction: Phase['direction']
    readonly step: number
    readonly object: string
    readonly statement: string
    readonly failure: DatabaseFailure
  } | null
}

export interface RehearseOptions {
  /** What the plan begins with; an empty database where it is left out. */
  readonly base?: Catalog | null
  /** Rows to begin with; structure only where they are left out. */
  readonly sample?: Sample | null
  readonly onProgress?: (doing: string, done: number, total: number) => void
  /** What is done with the scratch database once all phases ran, before it is dropped. */
  readonly onScratch?: (scratch: Location) => Promise<void>
  readonly signal?: AbortSignal
}

const missingObject = new Set(['42P01', '42883', '42704', '3F000', '42703'])

function skipReason(f: DatabaseFailure, skippedBefore: boolean): SkippedStep['reason'] | null {
  if (f.sqlState === '42501') return 'needs a higher role'
  if (f.sqlState === '58P01' || (f.sqlState === '0A000' && /extension/.test(f.message)) || (f.sqlState === '22023' && /installation script/.test(f.message)))
    return 'extension not on this server'
  if (skippedBefore && missingObject.has(f.sqlState)) return 'needs a skipped object'
  return null
}

/** What is compared: all but objects that are not modelled, which are listed apart. */
const modelled = (c: Catalog): Catalog => ({ ...c, unmodelled: [] })

const settings = "set statement_timeout = '120s'; set lock_timeout = '10s'"

/** Kinds of a baseline's steps that come when all tables are there: rows go in before them. */
const followers: ReadonlySet<StepKind> = new Set(['owner', 'index', 'exclusion', 'reference', 'policy', 'trigger', 'rule', 'refresh'])

/** Up to this many steps the schema is surveyed after each one. */
const surveyedSteps = 200

interface Stage {
  readonly client: pg.Client
  readonly skipped: Map<number, SkippedStep>
  readonly o: RehearseOptions
  readonly tick: (doing: string) => void
}

/** Steps with those left out that the role may not run. In `down` what was left out before is not undone. */
async function play(
  s: Stage,
  plan: Plan,
  steps: readonly Step[],
  direction: 'up' | 'down',
  single: boolean,
  hooks: { before?: (x: Step) => Promise<void>; inside?: (x: Step) => Promise<void>; after?: (x: Step) => Promise<void> } = {},
): Promise<void> {
  await runSteps(
    s.client,
    plan,
    direction === 'down' ? steps.filter((x) => !s.skipped.has(x.number)) : steps,
    direction,
    {
      ...(s.o.signal ? { signal: s.o.signal } : {}),
      before: async (x) => {
        s.tick(x.object)
        await hooks.before?.(x)
      },
      ...(hooks.inside ? { inside: hooks.inside } : {}),
      ...(hooks.after ? { after: hooks.after } : {}),
      failed: async (x, _, error) => {
        const failure = classifyFailure(error)
        if (failure.kind !== 'database') throw error
        const reason = direction === 'up' ? skipReason(failure, s.skipped.size > 0) : null
        if (reason === null) return false
        s.skipped.set(x.number, { step: x.number, object: x.object, reason, said: failure.message })
        return true
      },
    },
    single,
  )
}

/** Locks of this session; of what it has dropped meanwhile only the number is left. */
const ownLocks = `
  select distinct on (l.relation) l.relation::int8 as oid, l.mode from pg_catalog.pg_locks l where l.pid = pg_catalog.pg_backend_pid() and l.locktype = 'relation' and l.granted
  order by l.relation, pg_catalog.array_position(array['AccessShareLock','RowShareLock','RowExclusiveLock','ShareUpdateExclusiveLock','ShareLock','ShareRowExclusiveLock','ExclusiveLock','AccessExclusiveLock'], l.mode) desc`

const files = `select c.oid::int8 as oid, pg_catalog.format('%I.%I', n.nspname, c.relname) as relation, c.relkind = 'i' as index, c.relfilenode::int8 as file from pg_catalog.pg_class c join pg_catalog.pg_namespace n on n.oid = c.relnamespace
  where n.nspname !~ '^pg_' and n.nspname <> 'information_schema' and c.relkind in ('r', 'p', 'm', 'i', 'v', 'f')`

const modeOf = (mode: string): LockMode =>
  mode
    .replace(/Lock$/, '')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase() as LockMode

interface FileRow {
  readonly oid: string
  readonly relation: string
  readonly file: string
  readonly index: boolean
}

/** The first run up: every step on its own, with what it locks, rewrites and leads to. */
async function playSeen(s: Stage, plan: Plan, base: Catalog): Promise<readonly StepSeen[]> {
  const seen: StepSeen[] = []
  const parts = new Map<string, Part>(partsOf(base))
  let before = new Map<string, FileRow>()
  let started = 0
  let locks: readonly Lock[] | null = null
  await play(s, plan, plan.steps, 'up', true, {
    before: async () => {
      before = new Map((await s.client.query<FileRow>(files)).rows.map((r) => [r.oid, r]))
      locks = null
      started = performance.now()
    },
    inside: async () => {
      const { rows } = await s.client.query<{ oid: string; mode: string }>(ownLocks)
      locks = rows.flatMap((r) => {
        const own = before.get(r.oid)
        return own && !own.index ? [{ relation: own.relation, mode: modeOf(r.mode) }] : []
      })
    },
    after: async (x) => {
      const milliseconds = Math.round(performance.now() - started)
      const after = (await s.client.query<FileRow>(files)).rows
      for (const [key, p] of x.sets)
        if (p === null) parts.delete(key)
        else parts.set(key, p)
      const found = plan.steps.length <= surveyedSteps ? (await surveyClient(s.client, { schemas: null })).structure : null
      seen.push({
        step: x.number,
        milliseconds,
        locks,
        rewritten: after.flatMap((r) => (before.has(r.oid) && before.get(r.oid)?.file !== r.file ? [r.relation] : [])),
        differences:
          found && !s.skipped.has(x.number) ? withoutNeeds(compareWithServer(modelled(assemble('postgresql', parts)), modelled(found)).differences) : [],
      })
    },
  })
  return seen
}

/** Between two steps dependencies are those of before or of after. */
const withoutNeeds = (list: readonly Difference[]) => list.filter((d) => !/(^|\.)dependsOn/.test(d.field))

/** Is a difference about an object that a step said has no way back? */
function isAnnounced(plan: Plan, d: Difference): boolean {
  const objects = plan.steps.flatMap((s) => s.hazards.flatMap((h) => (h.code === 'no-way-back' ? [h.object] : [])))
  const text = `${d.object} ${d.field}`
  return objects.some((o) =>
    o
      .replace(/^(column|type|table|foreign key|domain) /, '')
      .split(/\.| of /)
      .every((n) => text.includes(n.replaceAll('"', ''))),
  )
}

/** Why a rehearsal did not prove its plan, in one line; null where it did. */
export function shortfall(r: Rehearsal): string | null {
  if (r.ok) return null
  if (r.failure) return `${r.failure.direction}, step ${r.failure.step}, ${r.failure.object}: ${r.failure.failure.message}`
  const differ = r.phases.flatMap((p) => p.differences).length + r.steps.flatMap((s) => s.differences).length
  if (differ > 0) return differ === 1 ? 'one difference from what is planned' : `${differ} differences from what is planned`
  return r.skipped.length === 1 ? 'one step could not run there' : `${r.skipped.length} steps could not run there`
}

/** Rehearse on a fresh scratch database of `server`, which is dropped afterwards whatever happens. Throws SourceError, or the signal's reason. */
export async function rehearse(plan: Plan, expected: Catalog, server: Location, o: RehearseOptions): Promise<Rehearsal> {
  const scratch = await createScratch(server)
  let client: pg.Client | null = null
  const cancel = () => {
    if (client) void cancelRunning(client, scratch.location).catch(() => {})
  }
  o.signal?.addEventListener('abort', cancel, { once: true })
  const phases: Phase[] = []
  const skipped = new Map<number, SkippedStep>()
  const setUp = o.base ? baselinePlan(o.base) : null
  const before = setUp?.ok ? setUp.plan : null
  const total = plan.steps.length * 3 + (before?.steps.length ?? 0)
  let done = 0
  let version = ''
  let rows: number | null = null
  let seen: readonly StepSeen[] = []
  let failed: Rehearsal['failure'] = null
  const base = o.base ?? emptyCatalog(plan.dialect)
  try {
    client = await connect(scratch.location)
    const c = client
    await c.query(settings)
    const phase = async (direction: Phase['direction'], steps: number, target: Catalog, work: (s: Stage) => Promise<void>, left: Map<number, SkippedStep>) => {
      const started = performance.now()
      try {
        await work({ client: c, skipped: left, o, tick: (object) => o.onProgress?.(`${direction}: ${object}`, ++done, total) })
      } catch (error) {
        if (!(error instanceof StepFailed)) throw error
        const failure = classifyFailure(error.cause)
        if (failure.kind !== 'database') throw error.cause
        failed = { direction, step: error.step.number, object: error.step.object, statement: error.statement, failure }
        return false
      }
      const milliseconds = Math.round(performance.now() - started)
      const found = await surveyClient(c, { schemas: null, ...(o.signal ? { signal: o.signal } : {}) })
      version = found.reading.server
      const compared = compareWithServer(modelled(target), modelled(found.structure))
      // What was taken away and comes back stands behind the other columns.
      const again = direction === 'down' || direction === 'up again'
      const open = again && before ? compared.differences.filter((d) => !isAnnounced(plan, d) && !d.field.endsWith('columns order')) : compared.differences
      phases.push({ direction, steps, milliseconds, differences: open, allowed: compared.allowed, announced: compared.differences.length - open.length })
      return true
    }
    let goes = true
    if (before) {
      const first = before.steps.filter((s) => !followers.has(s.kind))
      const rest = before.steps.filter((s) => followers.has(s.kind))
      const left = new Map<number, SkippedStep>()
      goes = await phase(
        'before',
        before.steps.length,
        base,
        async (s) => {
          await play(s, before, first, 'up', false)
          if (o.sample) rows = await loadSample(c, o.sample)
          await play(s, before, rest, 'up', false)
          if (o.sample) await c.query('analyze')
        },
        left,
      )
      for (const [number, s] of left) skipped.set(-number, s)
    }
    const own = new Map<number, SkippedStep>()
    if (goes)
      goes = await phase(
        'up',
        plan.steps.length,
        expected,
        async (s) => {
          if (before) seen = await playSeen(s, plan, base)
          else await play(s, plan, plan.steps, 'up', false)
        },
        own,
      )
    if (goes) goes = await phase('down', plan.steps.length, base, (s) => play(s, plan, plan.steps, 'down', false), own)
    if (goes) goes = await phase('up again', plan.steps.length, expected, (s) => play(s, plan, plan.steps, 'up', false), own)
    if (goes) await o.onScratch?.(scratch.location)
    for (const [number, s] of own) skipped.set(number, s)
  } catch (error) {
    o.signal?.throwIfAborted()
    throw error instanceof SourceError ? error : new SourceError(classifyFailure(error), scratch.location)
  } finally {
    o.signal?.removeEventListener('abort', cancel)
    await client?.end().catch(() => {})
    await scratch.drop()
  }
  const list = [...skipped.values()]
  const clean = phases.length === (before ? 4 : 3) && phases.every((p) => p.differences.length === 0) && seen.every((s) => s.differences.length === 0)
  return {
    ok: failed === null && list.length === 0 && clean,
    server: version,
    phases,
    steps: seen,
    rows,
    skipped: list,
    notSupported: expected.unmodelled,
    failure: failed,
  }
}
