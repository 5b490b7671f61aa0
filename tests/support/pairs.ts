// Proves one pair of schemas on a real server: up, down and up again on filled databases, with rows and table ids compared.
import pg from 'pg'
import { type Catalog, compareCatalogs } from '../../src/core/catalog/index.ts'
import { type Changed, changePlan, type Plan } from '../../src/core/change/index.ts'
import type { Location } from '../../src/engines/postgres/index.ts'
import { runSteps } from '../../src/engines/postgres/steps.ts'
import { changed, printSpec, randomSpec, rowsOf, type Spec } from './pairSpec.ts'
import { makeDatabase, surveyOf } from './server.ts'

export interface PairResult {
  readonly seed: number
  readonly kinds: readonly string[]
  readonly focused: boolean
  readonly steps: number
  readonly problems: readonly string[]
}

const loose = (c: Catalog): Catalog => ({ ...c, unmodelled: [] })

/** What differs, but for the order of columns where no statement moves one. */
export function apart(a: Catalog, b: Catalog): readonly string[] {
  return compareCatalogs(loose(a), loose(b))
    .filter((d) => !d.field.endsWith('columns order') && !d.field.includes('dependsOn'))
    .map((d) => `${d.object} ${d.field}: ${d.was} expected, ${d.is} found`)
}

export async function withClient<T>(url: string, work: (c: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

/** Of the tables that both schemas have: their ids, and the text of the columns that both have with one type. */
async function contents(c: pg.Client, a: Spec, b: Spec): Promise<ReadonlyMap<string, string>> {
  const found = new Map<string, string>()
  for (const t of a.tables) {
    const other = b.tables.find((x) => x.name === t.name)
    if (!other) continue
    const name = `${t.schema}.${t.name}`
    const columns = t.columns.filter(
      (x) =>
        x.generated === undefined &&
        other.columns.some((y) => y.name === x.name && y.type === x.type && y.generated === undefined) &&
        !a.composites.some((k) => `${k.schema}.${k.name}` === x.type),
    )
    const oid = (await c.query(`select '${name}'::regclass::oid as oid`)).rows[0].oid as number
    const rows = (await c.query(`select md5(string_agg(r::text, '|' order by id)) as h from (select ${columns.map((x) => x.name).join(', ')} from ${name}) r`))
      .rows[0].h as string
    found.set(name, `${oid} ${rows}`)
  }
  return found
}

/** Rows are what they were, and so is the table, unless the plan says that it is copied. */
const differ = (what: string, a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>, plan: Plan) => {
  const copied = new Set(plan.steps.filter((s) => s.kind === 'rows').map((s) => s.object.replace(/^table /, '')))
  const shown = (name: string, text: string | undefined) => (copied.has(name) ? text?.split(' ')[1] : text)
  return [...a].flatMap(([k, v]) => (shown(k, b.get(k)) === shown(k, v) ? [] : [`${what}: ${k} was ${v}, is ${b.get(k)}`]))
}

/** Is a difference about an object of a hazard: `column s.t.c`, `type s.n`, `foreign key f of s.t`? */
function mentions(difference: string, object: string): boolean {
  const names = object.replace(/^(column|type|foreign key) /, '').split(/\.| of /)
  return names.every((n) => difference.includes(n))
}

/** How many pre-checks say that the plan cannot run on these rows. */
async function failing(c: pg.Client, plan: Plan): Promise<number> {
  let n = 0
  for (const s of plan.steps)
    for (const check of s.preChecks) {
      const found = Number((await c.query(check.count)).rows[0].count)
      await c.query(check.sample)
      if (found > 0) n += 1
    }
  return n
}

/** Objects whose plan said that there is no way back. */
const excused = (p: Plan): ReadonlySet<string> => new Set(p.steps.flatMap((s) => s.hazards.flatMap((h) => (h.code === 'no-way-back' ? [h.object] : []))))

async function prove(url: string, location: Location, changed_: Changed, from: Catalog, to: Catalog, a: Spec, b: Spec): Promise<readonly string[]> {
  const { plan, reaches } = changed_
  const problems: string[] = []
  await withClient(url, async (c) => {
    const before = await contents(c, a, b)
    const blocked = await failing(c, plan)
    try {
      await runSteps(c, plan, plan.steps, 'up', {})
    } catch (error) {
      const e = error as { step?: { number: number; object: string; says: string }; statement?: string; message: string }
      if (blocked > 0) return
      problems.push(`up, step ${e.step?.number} ${e.step?.object} ${e.step?.says}: ${e.message}\n      ${e.statement}`)
      return
    }
    const up = (await surveyOf(location)).structure
    problems.push(
      ...apart(to, up).map((d) => `up: ${d}`),
      ...apart(reaches, up).map((d) => `up, as planned: ${d}`),
      ...differ('up', before, await contents(c, b, a), plan),
    )
    if (problems.length > 0) return
    try {
      await runSteps(c, plan, plan.steps, 'down', {})
    } catch (error) {
      const e = error as { step?: { number: number; object: string; says: string }; statement?: string; message: string }
      problems.push(`down, step ${e.step?.number} ${e.step?.object} ${e.step?.says}: ${e.message}\n      ${e.statement}`)
      return
    }
    const down = (await surveyOf(location)).structure
    const without = excused(plan)
    const left = apart(from, down).filter((d) => ![...without].some((o) => mentions(d, o)))
    problems.push(...left.map((d) => `down: ${d}`), ...differ('down', before, await contents(c, a, b), plan))
    if (without.size === 0) {
      try {
        await runSteps(c, plan, plan.steps, 'up', {})
        problems.push(...apart(to, (await surveyOf(location)).structure).map((d) => `up again: ${d}`))
      } catch (error) {
        problems.push(`up again: ${(error as Error).message}`)
      }
    }
  })
  return problems
}

/** One pair by its seed; both directions, each on its own filled database. */
export async function runPair(seed: number): Promise<PairResult> {
  const a = randomSpec(seed)
  const { spec: b, kinds, focused } = changed(a, seed)
  const one = await makeDatabase(...printSpec(a), ...rowsOf(a))
  const two = await makeDatabase(...printSpec(b), ...rowsOf(b))
  try {
    const from = (await surveyOf(one.location)).structure
    const to = (await surveyOf(two.location)).structure
    const problems: string[] = []
    let steps = 0
    for (const [label, x, y, db, sa, sb] of [
      ['there', from, to, one, a, b],
      ['back', to, from, two, b, a],
    ] as const) {
      const result = changePlan(x, y, { title: label })
      if (!result.ok) {
        problems.push(`${label}: ${JSON.stringify(result.problem)}`)
        continue
      }
      steps += result.changed.plan.steps.length
      problems.push(...(await prove(db.url, db.location, result.changed, x, y, sa, sb)).map((p) => `${label}: ${p}`))
    }
    return { seed, kinds, focused, steps, problems }
  } finally {
    await one.drop()
    await two.drop()
  }
}
