// Runs a trial through whatever asks the rows: a portion of the entity, then each relationship for all rows of the level before at once.
import type { Leg, Resolved } from './path.ts'
import { countedTo, joinedRows, keysPerBlock, rowsPerLevel, type Statement, type Writer } from './statements.ts'

export interface Found {
  readonly rows: readonly (readonly (string | null)[])[]
  readonly milliseconds: number
}
/** Asks the database for rows, their values as texts exactly as it prints them. */
export type Ask = (s: Statement) => Promise<Found>

export interface TrialRow {
  /** Index of the row of the level before that it belongs to; null on the first. */
  readonly of: number | null
  readonly values: readonly (string | null)[]
  /** Has the same row been met under the same one before? */
  readonly twice: boolean
}

export interface Level {
  readonly entity: string
  readonly name: string
  /** How one got here; null on the first level. */
  readonly property: string | null
  readonly columns: readonly { readonly property: string; readonly column: string; readonly key: boolean }[]
  readonly rows: readonly TrialRow[]
  /** Are there more rows than are shown? */
  readonly more: boolean
  /** Rows of the level before whose columns are filled and lead to no row. */
  readonly orphans: readonly number[]
  readonly sql: string
  readonly statements: number
  readonly milliseconds: number
}

export interface Trial {
  readonly levels: readonly Level[]
  /** Key of the last row of the portion, where others follow; null where it is the last, or nothing tells rows apart. */
  readonly next: readonly string[] | null
  /** Rows with no condition, with the first, with the first two …; counted no further than `countedTo` and one more. */
  readonly counts: readonly number[]
  readonly countedTo: number
}

export interface Portion {
  readonly limit: number
  /** Key of the last row of the portion before; null for the first. */
  readonly after: readonly string[] | null
}

const at = (row: readonly (string | null)[], places: readonly number[]): readonly (string | null)[] => places.map((i) => row[i] ?? null)
const isWhole = (key: readonly (string | null)[]): key is readonly string[] => key.every((v) => v !== null)

const placesOf = (properties: readonly { readonly column: string }[], columns: readonly string[]) =>
  columns.map((c) => properties.findIndex((p) => p.column === c))

function columnsOf(leg: Pick<Leg, 'other'>, w: Writer): Level['columns'] {
  const key = w.keyOf(leg.other)
  return leg.other.properties.map((p) => ({ property: p.name, column: p.column, key: key.includes(p.column) }))
}

export async function runTrial(t: Resolved, w: Writer, ask: Ask, { limit, after }: Portion): Promise<Trial> {
  const first = w.portion(t, limit, after)
  const found = await ask(first)
  const more = found.rows.length > limit
  const rows = found.rows.slice(0, limit)
  const key = placesOf(t.entity.properties, w.keyOf(t.entity))
  const last = rows.at(-1)
  const next = more && last && key.length > 0 ? at(last, key) : null
  const levels: Level[] = [
    {
      entity: t.entity.id,
      name: t.entity.name,
      property: null,
      columns: columnsOf({ other: t.entity }, w),
      rows: rows.map((values) => ({ of: null, values, twice: false })),
      more,
      orphans: [],
      sql: first.sql,
      statements: 1,
      milliseconds: found.milliseconds,
    },
  ]
  for (const leg of t.legs) levels.push(await follow(leg, levels.at(-1) as Level, w, ask))
  const counts: number[] = []
  for (let n = 0; n <= t.conditions.length; n += 1) counts.push(Number((await ask(w.count(t, n))).rows[0]?.[0] ?? 0))
  return { levels: levels.map(shortened), next: next && isWhole(next) ? next : null, counts, countedTo }
}

/** Characters of a value that are shown; a key is never as long. */
const longest = 10_000
const cut = (v: string | null) => (v !== null && v.length > longest ? `${v.slice(0, longest)}… (${v.length.toLocaleString('en')} characters)` : v)

/** Documents of megabytes stay where they are. */
const shortened = (l: Level): Level => ({ ...l, rows: l.rows.map((r) => ({ ...r, values: r.values.map(cut) })) })

/** Keys of rows as the leg pairs them, each once, with the rows that have it. */
function keysOf(leg: Leg, rows: readonly TrialRow[]): readonly { readonly key: readonly string[]; readonly rows: readonly number[] }[] {
  const places = placesOf(leg.own.properties, leg.ownColumns)
  const byText = new Map<string, { key: readonly string[]; rows: number[] }>()
  for (const [i, r] of rows.entries()) {
    const key = at(r.values, places)
    if (!isWhole(key)) continue
    const text = JSON.stringify(key)
    const known = byText.get(text)
    if (known) known.rows.push(i)
    else byText.set(text, { key, rows: [i] })
  }
  return [...byText.values()]
}

async function follow(leg: Leg, before: Level, w: Writer, ask: Ask): Promise<Level> {
  const keys = keysOf(leg, before.rows)
  const rows: TrialRow[] = []
  const reached = new Set<number>()
  const met = new Set<string>()
  const key = placesOf(leg.other.properties, w.keyOf(leg.other))
  let [sql, statements, milliseconds, more] = ['', 0, 0, false]
  for (let from = 0; from < keys.length; from += keysPerBlock) {
    const block = keys.slice(from, from + keysPerBlock)
    const statement = w.batch(
      leg,
      block.map((k) => k.key),
    )
    const found = await ask(statement)
    sql ||= statement.sql
    statements += 1
    milliseconds += found.milliseconds
    more ||= found.rows.length > rowsPerLevel
    for (const [n, ...values] of found.rows.slice(0, rowsPerLevel))
      for (const of of block[Number(n) - 1]?.rows ?? []) {
        const text = key.length === 0 ? null : JSON.stringify([of, ...at(values, key)])
        rows.push({ of, values, twice: text !== null && met.has(text) })
        if (text !== null) met.add(text)
        reached.add(of)
      }
  }
  // Only columns that are held here can point nowhere; and where not all rows came, nobody knows.
  const holds = leg.through === null && leg.relationship.from.entity === leg.own.id && leg.relationship.from.property === leg.property
  const orphans = holds && !more ? keys.flatMap((k) => k.rows.filter((i) => !reached.has(i))) : []
  rows.sort((a, b) => (a.of ?? 0) - (b.of ?? 0))
  return { entity: leg.other.id, name: leg.other.name, property: leg.property, columns: columnsOf(leg, w), rows, more, orphans, sql, statements, milliseconds }
}

/** One way to read the same rows. */
export interface WayRead {
  readonly way: 'row by row' | 'batched' | 'joined'
  readonly statements: number
  /** Null where it was not run, since it would be too many statements. */
  readonly milliseconds: number | null
  /** Rows that came over the line. */
  readonly rows: number | null
  readonly sql: string
}

export interface WaysCompared {
  readonly ways: readonly [WayRead, WayRead, WayRead]
  readonly advice: string
}

/** More statements than this are counted and not sent. */
const sentAtMost = 300

/** The same rows read in three ways, each statement sent and counted. The trial was run before, on the same portion. */
export async function compareWays(t: Resolved, trial: Trial, w: Writer, ask: Ask, p: Portion): Promise<WaysCompared> {
  const { levels } = trial
  const batched: WayRead = {
    way: 'batched',
    statements: levels.reduce((n, l) => n + l.statements, 0),
    milliseconds: levels.reduce((n, l) => n + l.milliseconds, 0),
    rows: levels.reduce((n, l) => n + l.rows.length, 0),
    sql: levels
      .map((l) => l.sql)
      .filter((s) => s !== '')
      .join(';\n\n'),
  }
  const singles = t.legs.flatMap((leg, i) => {
    const level = levels[i] as Level
    return keysOf(leg, level.rows).flatMap((k) => k.rows.map(() => w.single(leg, k.key)))
  })
  const portion = w.portion(t, p.limit - 1, p.after)
  let [taken, rows]: [number | null, number | null] = [null, null]
  if (singles.length < sentAtMost) {
    ;[taken, rows] = [0, 0]
    for (const s of [portion, ...singles]) {
      const found = await ask(s)
      taken += found.milliseconds
      rows += found.rows.length
    }
  }
  const rowByRow: WayRead = {
    way: 'row by row',
    statements: 1 + singles.length,
    milliseconds: taken,
    rows,
    sql: [portion, ...singles.slice(0, 3)].map((s) => s.sql).join(';\n\n'),
  }
  const whole = w.whole(t, p.limit, p.after)
  const all = await ask(whole)
  const joined: WayRead = { way: 'joined', statements: 1, milliseconds: all.milliseconds, rows: all.rows.length, sql: whole.sql }
  return { ways: [rowByRow, batched, joined], advice: adviceOf(t, levels, rowByRow, batched, joined) }
}

/** Which way to take, by how many of the values a join would send more than once. */
function adviceOf(t: Resolved, levels: readonly Level[], rowByRow: WayRead, batched: WayRead, joined: WayRead): string {
  if (t.legs.length === 0) return 'One statement reads them; there is nothing to choose.'
  if ((joined.rows ?? 0) > joinedRows || levels.slice(1).some((l) => l.more))
    return `Batched: joined would send more than ${Math.min(joinedRows, joined.rows ?? 0).toLocaleString('en')} rows; none of the ways was read to its end.`
  const cells = levels.reduce((n, l) => n + l.rows.length * l.columns.length, 0)
  const width = levels.reduce((n, l) => n + l.columns.length, 0)
  const repeats = cells === 0 ? 1 : ((joined.rows ?? 0) * width) / cells
  const times = repeats.toFixed(1)
  if (t.legs.every((l) => l.one)) return `Joined: each row leads to at most one, so nothing is sent twice, and one statement does for ${rowByRow.statements}.`
  if (repeats <= 1.5) return `Joined: it sends ${times} times the values there are, in one statement in the place of ${rowByRow.statements}.`
  return `Batched: ${batched.statements} statements in the place of ${rowByRow.statements}; joined would send ${times} times the values there are.`
}
