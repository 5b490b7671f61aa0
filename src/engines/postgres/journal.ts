// The journal of applied plans, in the target itself: what was begun and what was done, step by step. See docs/formats/plan.md.
import { createHash } from 'node:crypto'
import type pg from 'pg'
import type { Plan } from '../../core/change/index.ts'
import { journalMark } from './queries.ts'

/** A plan as its folder holds it. */
export interface PlanFiles {
  readonly number: number
  /** The folder's name without its number: `declare-levies`. */
  readonly name: string
  readonly plan: Plan
  readonly up: string
  readonly down: string
}

export type StepState = 'started' | 'done' | 'adopted' | 'taken back'

/** What the journal says of one plan. */
export interface JournalPlan {
  readonly number: number
  readonly name: string
  readonly checksum: string
  readonly up: string
  readonly down: string
  /** Why it was not proven when it came here, and whether somebody agreed; null where it was proven, or came before this was asked. */
  readonly unproven: string | null
  /** By the step's number, its last line: state, when, who. */
  readonly steps: ReadonlyMap<number, { readonly state: StepState; readonly at: string; readonly by: string }>
}

const schema = 'pelvok_journal'

/** Of what runs: the two scripts. */
export const checksumOf = (p: Pick<PlanFiles, 'up' | 'down'>): string => createHash('sha256').update(p.up).update('\u0000').update(p.down).digest('hex')

/** Make the journal where it is not there yet. Its schema is told from others by its comment. */
export async function makeJournal(client: pg.Client): Promise<void> {
  // A journal of before asked nothing of proofs. One of today is not altered: whoever applies need not own it.
  if (await hasJournal(client)) {
    const { rowCount } = await client.query(
      `select from pg_catalog.pg_attribute where attrelid = '${schema}.plan'::regclass and attname = 'unproven' and not attisdropped`,
    )
    if (rowCount === 0) await client.query(`alter table ${schema}.plan add column unproven text`)
    return
  }
  await client.query(`
    begin;
    create schema ${schema};
    comment on schema ${schema} is '${journalMark}: what Pelvok applied here; no part of the schema';
    create table ${schema}.plan (number integer primary key, name text not null, checksum text not null, up text not null, down text not null, at timestamptz not null default now(), unproven text);
    create table ${schema}.line (
      id bigint generated always as identity primary key,
      plan integer not null references ${schema}.plan (number),
      step integer not null,
      state text not null check (state in ('started', 'done', 'adopted', 'taken back')),
      direction text not null check (direction in ('up', 'down')),
      statement text not null default '',
      at timestamptz not null default clock_timestamp(),
      by text not null
    );
    commit`)
}

export async function hasJournal(client: pg.Client): Promise<boolean> {
  const { rows } = await client.query<{ there: boolean }>(
    `select exists (select from pg_catalog.pg_namespace n join pg_catalog.pg_description d on d.objoid = n.oid and d.classoid = 'pg_catalog.pg_namespace'::regclass
       where n.nspname = '${schema}' and d.description like '${journalMark}%') as there`,
  )
  return rows[0]?.there ?? false
}

/** Plans in order of number; none where there is no journal. */
export async function readJournal(client: pg.Client): Promise<readonly JournalPlan[]> {
  if (!(await hasJournal(client))) return []
  const plans = (
    await client.query<Omit<JournalPlan, 'steps'>>(
      `select number, name, checksum, up, down, to_jsonb(p) ->> 'unproven' as unproven from ${schema}.plan p order by number`,
    )
  ).rows
  const lines = (
    await client.query<{ plan: number; step: number; state: StepState; at: string; by: string }>(
      `select distinct on (plan, step) plan, step, state, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at, by from ${schema}.line order by plan, step, id desc`,
    )
  ).rows
  return plans.map((p) => ({ ...p, steps: new Map(lines.filter((l) => l.plan === p.number).map((l) => [l.step, { state: l.state, at: l.at, by: l.by }])) }))
}

export async function notePlan(client: pg.Client, p: PlanFiles, unproven: string | null): Promise<void> {
  await client.query(
    `insert into ${schema}.plan (number, name, checksum, up, down, unproven) values ($1, $2, $3, $4, $5, $6) on conflict (number) do nothing`,
    [p.number, p.name, checksumOf(p), p.up, p.down, unproven],
  )
}

/** A plan of which nothing is left in the database may be replaced by another. */
export async function forgetPlan(client: pg.Client, number: number): Promise<void> {
  await client.query(`delete from ${schema}.line where plan = $1`, [number])
  await client.query(`delete from ${schema}.plan where number = $1`, [number])
}

export async function noteStep(
  client: pg.Client,
  plan: number,
  step: number,
  state: StepState,
  direction: 'up' | 'down',
  statement: string,
  by: string,
): Promise<void> {
  await client.query(`insert into ${schema}.line (plan, step, state, direction, statement, by) values ($1, $2, $3, $4, $5, $6)`, [
    plan,
    step,
    state,
    direction,
    statement,
    by,
  ])
}

/** How far a plan is: the steps that are in the database. */
export const inForce = (j: JournalPlan): ReadonlySet<number> =>
  new Set([...j.steps].flatMap(([step, s]) => (s.state === 'done' || s.state === 'adopted' ? [step] : [])))
