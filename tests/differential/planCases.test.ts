// Small pairs of schemas of one cause each, on a real server: the plan arrives, keeps rows and counting, and comes back.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type pg from 'pg'
import { describe, expect, it } from 'vitest'
import { type Changed, changePlan, describeHazard, type Plan, parseRename, type Rename } from '../../src/core/change/index.ts'
import { renameDoubts } from '../../src/core/lineage/index.ts'
import { runSteps } from '../../src/engines/postgres/steps.ts'
import { apart, withClient } from '../support/pairs.ts'
import { makeDatabase, surveyOf } from '../support/server.ts'

const home = join(import.meta.dirname, '../planCases')

/** What must hold; its words are those of the files. */
interface Expected {
  readonly note: string
  readonly up: string
  readonly reason?: string
  readonly down: string
  readonly rows: string
  readonly downRows?: string
  readonly after?: string
  readonly never?: readonly string[]
  readonly hazard?: readonly string[]
  /** Names before and after, of what must stay the same object. */
  readonly same?: Readonly<Record<string, string>>
  /** How often the rows of a table may be written anew. */
  readonly rewrites?: Readonly<Record<string, number>>
  readonly holds?: readonly string[]
}

const textOf = (folder: string, file: string) => (existsSync(join(home, folder, file)) ? readFileSync(join(home, folder, file), 'utf8') : null)

const contentsSql = `select n.nspname || '.' || c.relname as name, string_agg(pg_catalog.quote_ident(a.attname), ', ' order by a.attname) as columns
  from pg_class c join pg_namespace n on n.oid = c.relnamespace join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
  where c.relkind in ('r', 'm') and n.nspname not in ('pg_catalog', 'information_schema') and n.nspname not like 'pg_toast%' group by 1`

/** Rows of every table by their texts, and how far sequences are. */
async function contents(c: pg.Client): Promise<{ readonly rows: Readonly<Record<string, string>>; readonly at: ReadonlyMap<string, bigint> }> {
  const rows: Record<string, string> = {}
  await c.query('set timezone = UTC')
  for (const t of (await c.query(contentsSql)).rows as { name: string; columns: string }[])
    rows[t.name] = (
      await c.query(`select coalesce(string_agg(r::text, '|' order by r::text), '') as x from (select ${t.columns} from only ${t.name}) r`)
    ).rows[0].x
  const at = (await c.query(`select schemaname || '.' || sequencename as name, last_value as at from pg_sequences where last_value is not null`)).rows
  return { rows, at: new Map(at.map((s: { name: string; at: string }) => [s.name, BigInt(s.at)])) }
}

type Contents = Awaited<ReturnType<typeof contents>>

/** Sequences that stand further back than they should. */
const behind = (want: Contents, is: Contents) => [...want.at].filter(([name, n]) => (is.at.get(name) ?? -1n) < n).map(([name]) => name)

const oids = async (c: pg.Client, names: readonly string[]) =>
  (await c.query('select coalesce(to_regclass(n)::oid::text, n) as oid from unnest($1::text[]) with ordinality u(n, i) order by i', [names])).rows.map(
    (r) => r.oid as string,
  )
const files = async (c: pg.Client, names: readonly string[]) =>
  (await c.query('select pg_relation_filenode(n::regclass)::text as f from unnest($1::text[]) with ordinality u(n, i) order by i', [names])).rows.map(
    (r) => r.f as string,
  )

function planOf(a: Parameters<typeof changePlan>[0], b: Parameters<typeof changePlan>[1], args: string): Changed | { readonly problem: string } {
  const renames = (list: readonly string[]) => list.map((text) => parseRename(text) as Rename)
  const said = [...args.matchAll(/--rename (\S+)/g)].map((m) => m[1] as string)
  const suggested = args.includes('$SUGGESTED') ? renameDoubts(a, b).map((d) => `${d.from}=${d.to}`) : []
  const result = changePlan(a, b, { title: 'case', renames: renames([...said, ...suggested]) })
  return result.ok ? result.changed : { problem: JSON.stringify(result.problem) }
}

/** Conditions that do not hold when others look after some step: they see what is committed. */
async function run(c: pg.Client, other: pg.Client, plan: Plan, direction: 'up' | 'down', holds: readonly string[]): Promise<readonly string[]> {
  const broken: string[] = []
  await runSteps(c, plan, plan.steps, direction, {
    after: async (step) => {
      for (const condition of holds)
        if ((await other.query(`select ${condition} as ok`)).rows[0].ok !== true) broken.push(`${direction}, behind step ${step.number}: ${condition}`)
    },
  })
  await c.query('set search_path = public')
  return broken
}

/** Pre-checks that the rows do not pass. */
async function refused(c: pg.Client, plan: Plan): Promise<readonly string[]> {
  const found: string[] = []
  for (const x of plan.steps) for (const p of x.preChecks) if ((await c.query(p.count)).rows[0].count !== '0') found.push(`${p.id} ${p.asks}`)
  return found
}

/** What the plan says and does, against what it must say and never do. */
function told(plan: Plan, e: Expected): void {
  const statements = plan.steps.flatMap((s) => s.up).join('\n')
  const words = plan.steps.flatMap((s) => [s.says, ...s.hazards.map(describeHazard)]).join('\n')
  for (const never of e.never ?? []) expect(statements).not.toMatch(new RegExp(never, 'i'))
  for (const hazard of e.hazard ?? []) expect(words).toMatch(new RegExp(hazard, 'i'))
}

describe.each(readdirSync(home).toSorted())('%s', (folder) => {
  const e = JSON.parse(textOf(folder, 'expect.json') as string) as Expected
  it(e.note, async () => {
    const rows = textOf(folder, 'rows.sql') ?? ''
    const a = await makeDatabase(textOf(folder, 'a.sql') as string, rows)
    const b = await makeDatabase(textOf(folder, 'b.sql') as string, textOf(folder, 'rows-b.sql') ?? (e.rows === 'kept' ? rows : ''))
    try {
      const [from, to] = [(await surveyOf(a.location)).structure, (await surveyOf(b.location)).structure]
      const wanted = await withClient(b.url, contents)
      const planned = planOf(from, to, textOf(folder, 'args') ?? '')
      if ('problem' in planned) {
        expect(e.up).toMatch(/refused/)
        return
      }
      const { plan } = planned
      told(plan, e)
      await withClient(a.url, async (c) => {
        const before = await contents(c)
        const inTheWay = await refused(c, plan)
        if (e.up === 'refused') {
          expect(inTheWay.join()).toMatch(new RegExp(e.reason ?? '.'))
          return
        }
        expect(inTheWay).toEqual([])
        const names = Object.entries(e.same ?? {})
        const same = await oids(
          c,
          names.map(([was]) => was),
        )
        const kept = Object.entries(e.rewrites ?? {}).flatMap(([name, n]) => (n === 0 ? [name] : []))
        const kept0 = await files(c, kept)
        const others = (direction: 'up' | 'down') => withClient(a.url, (other) => run(c, other, plan, direction, e.holds ?? []))
        expect(await others('up')).toEqual([])
        expect(apart(to, (await surveyOf(a.location)).structure)).toEqual([])
        expect(
          await oids(
            c,
            names.map(([, is]) => is),
          ),
        ).toEqual(same)
        expect(await files(c, kept)).toEqual(kept0)
        const up = await contents(c)
        expect(behind(e.rows === 'kept' ? wanted : before, up)).toEqual([])
        if (e.rows === 'kept') expect(up.rows).toEqual(wanted.rows)
        if (e.after) {
          await c.query('begin')
          await c.query(e.after)
          await c.query('rollback')
        }
        expect(await others('down')).toEqual([])
        if (e.down === 'exact') expect(apart(from, (await surveyOf(a.location)).structure)).toEqual([])
        const back = await contents(c)
        expect(behind(before, back)).toEqual([])
        if ((e.downRows ?? e.rows) === 'kept') expect(back.rows).toEqual(before.rows)
      })
    } finally {
      await a.drop()
      await b.drop()
    }
  })
})
