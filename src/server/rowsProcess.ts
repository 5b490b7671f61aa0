// A process of its own that runs the emitted stores of a model: it has no variables, and may read no file but its own program and the
// emitted code (scripts/build.mjs makes it one file). What it is to do comes by message, and so does what it found.
import { createRequire } from 'node:module'
import type pg from 'pg'
import { relationText } from '../core/catalog/index.ts'
import { valueTypes } from '../core/emit/typescript/index.ts'
import type { NamedFixtures, NamedRow, Shape } from '../core/fixtures/index.ts'
import type { Entity, EntityModel, Property, Relationship } from '../core/model/index.ts'
import type { Compared, RowsTask } from './rowsTask.ts'

type Stored = Readonly<Record<string, unknown>>
interface Store {
  readonly list: (what?: object) => Promise<readonly Stored[]>
  readonly stream?: (what?: object) => AsyncIterable<Stored>
}
interface Value {
  readonly read: (text: string) => unknown
  readonly write: (value: unknown) => string
}
interface Emitted {
  readonly stores: Readonly<Record<string, new (on: pg.Pool) => Store>>
  readonly values: Readonly<Record<string, unknown>>
  readonly connect: (config: pg.PoolConfig) => pg.Pool
}

class Comparison {
  readonly differences: { of: string; row: string; says: string }[] = []
  readonly left: { relation: string; why: string }[] = []
  compared = 0
  classes = 0
  private readonly types
  private readonly entities: ReadonlyMap<string, Entity>
  /** What the stores gave for each row. */
  private readonly found = new Map<number, Stored>()

  constructor(
    private readonly f: NamedFixtures,
    private readonly model: EntityModel,
    private readonly emitted: Emitted,
    private readonly pool: pg.Pool,
  ) {
    this.types = valueTypes(model)
    this.entities = new Map(model.entities.map((e) => [e.id as string, e]))
  }

  async run(): Promise<void> {
    const joined = new Map(this.model.relationships.flatMap((r) => (r.through && !r.through.shortcut ? [[relationText(r.through.table), r] as const] : [])))
    const by = (relation: string) => this.f.rows.filter((r) => r.relation === relation)
    const order = [...new Set(this.f.rows.map((r) => r.relation))]
    for (const relation of order) {
      const e = this.entities.get(relation)
      if (e) await this.compare(e, by(relation))
    }
    // Pairs are read when both sides are.
    for (const relation of order) {
      const r = joined.get(relation)
      if (r) await this.comparePairs(r, by(relation))
      else if (!this.entities.has(relation)) this.left.push({ relation, why: 'it takes no part in the model' })
    }
  }

  /** Rows of a join table that hides: the other is among those that the store loads. */
  private async comparePairs(r: Relationship, rows: readonly NamedRow[]): Promise<void> {
    const [owner, other] = [this.entities.get(r.from.entity), this.entities.get(r.to.entity)]
    const shape = this.f.shapes.get(rows[0]?.relation ?? '')
    const Store = this.emitted.stores[`${owner?.name}Store`]
    if (!owner || !other || !shape || !Store || !r.through) return
    this.classes += 1
    const endOf = (columns: readonly string[]) => shape.ends.find((e) => e.columns.join('\n') === columns.join('\n'))?.name ?? ''
    const [from, to] = [endOf(r.through.fromColumns), endOf(r.through.toColumns)]
    const store = new Store(this.pool) as unknown as Readonly<Record<string, (of: readonly Stored[]) => Promise<void>>>
    const owners = [
      ...new Set(
        rows.flatMap((row): readonly Stored[] => {
          const of = this.found.get(row.ends.get(from) ?? -1)
          return of ? [of] : []
        }),
      ),
    ]
    await store[`load${r.from.property.charAt(0).toUpperCase()}${r.from.property.slice(1)}`]?.(owners)
    const keyOf = (e: Entity, s: Stored) =>
      e.properties.flatMap((p) => (e.identity.kind !== 'none' && e.identity.columns.includes(p.column) ? [this.value(p).write(s[p.name])] : [])).join(', ')
    for (const row of rows) {
      const [a, b] = [this.found.get(row.ends.get(from) ?? -1), this.found.get(row.ends.get(to) ?? -1)]
      this.compared += 1
      const members = a && b ? [...((a[r.from.property] ?? []) as Iterable<Stored>)] : []
      if (!a || !b || !members.some((m) => keyOf(other, m) === keyOf(other, b)))
        this.differences.push({
          of: shape.name,
          row: `${from} ${a ? keyOf(owner, a) : ''}, ${to} ${b ? keyOf(other, b) : ''}`,
          says: `is not among the ${r.from.property} that the store loads`,
        })
    }
  }

  private value(p: Property): Value {
    // The expression is that of the emitted code, made by us from the model.
    return new Function('v', `return ${this.types.ofProperty(p).value}`)(this.emitted.values) as Value
  }

  private async compare(e: Entity, rows: readonly NamedRow[]): Promise<void> {
    this.classes += 1
    const shape = this.f.shapes.get(e.id) as Shape
    const Store = this.emitted.stores[`${e.name}Store`] as new (on: pg.Pool) => Store
    const free = new Set(await all(new Store(this.pool)))
    const wanted = await this.wanted(e, shape, rows)
    for (const [i, row] of rows.entries()) {
      const expected = wanted[i] as ReadonlyMap<Property, string | null>
      const [nearest, wrong] = this.nearest(free, expected)
      this.compared += 1
      if (!nearest) this.say(e, expected, 'was stored, and the store does not read it')
      else {
        free.delete(nearest)
        this.found.set(row.index, nearest)
        for (const [p, was, is] of wrong) this.say(e, expected, `${p.name} was stored as ${was ?? 'null'} and read as ${is ?? 'null'}`)
      }
    }
  }

  private say(e: Entity, expected: ReadonlyMap<Property, string | null>, says: string): void {
    const row = [...expected]
      .slice(0, 3)
      .map(([p, text]) => `${p.name} ${text ?? 'null'}`)
      .join(', ')
    this.differences.push({ of: e.name, row, says })
  }

  /** Of each row its values as the database prints them: what was given, and what rows that it refers to were given. */
  private async wanted(e: Entity, shape: Shape, rows: readonly NamedRow[]): Promise<readonly ReadonlyMap<Property, string | null>[]> {
    const out = rows.map(() => new Map<Property, string | null>())
    for (const p of e.properties) {
      const given = rows.map((r) => r.values.get(p.column))
      const texts = given.filter((t): t is string => typeof t === 'string')
      const printed = texts.length === 0 ? [] : await this.printed(p.type, texts)
      let n = 0
      for (const [i, t] of given.entries()) {
        if (t === undefined) continue
        out[i]?.set(p, t === null ? null : (printed[n++] ?? null))
      }
    }
    for (const [i, r] of rows.entries())
      for (const [name, of] of r.ends) {
        const end = shape.ends.find((x) => x.name === name)
        const other = this.found.get(of)
        const target = this.entities.get(end?.target ?? '')
        for (const [k, column] of (end?.columns ?? []).entries()) {
          const [own, theirs] = [e.properties.find((p) => p.column === column), target?.properties.find((p) => p.column === end?.targetColumns[k])]
          const value = theirs && other?.[theirs.name]
          if (own && theirs && value !== undefined && value !== null) out[i]?.set(own, this.value(theirs).write(value))
        }
      }
    return out
  }

  /** Texts as the database prints values of a type. */
  private async printed(type: string, texts: readonly string[]): Promise<readonly (string | null)[]> {
    // As the output function of the type prints it, which a cast to text does not always (manual, 9.4.1 and 8.6).
    const { rows } = await this.pool.query<{ t: string | null }>(
      `SELECT format('%s', v::${type}) AS t FROM unnest($1::text[]) WITH ORDINALITY AS u (v, n) ORDER BY n`,
      [texts],
    )
    return rows.map((r) => r.t)
  }

  /** The row that was read with the fewest differences, and those. */
  private nearest(
    free: ReadonlySet<Stored>,
    expected: ReadonlyMap<Property, string | null>,
  ): readonly [Stored | null, readonly (readonly [Property, string | null, string | null])[]] {
    let best: readonly [Stored | null, readonly (readonly [Property, string | null, string | null])[]] = [null, []]
    for (const s of free) {
      const wrong = [...expected].flatMap(([p, was]): (readonly [Property, string | null, string | null])[] => {
        const value = this.value(p)
        const is = s[p.name] === null || s[p.name] === undefined ? null : value.write(s[p.name])
        const same = was === null || is === null ? was === is : value.write(value.read(was)) === is
        return same ? [] : [[p, was, is]]
      })
      if (wrong.length === 0) return [s, []]
      if (best[0] === null || wrong.length < best[1].length) best = [s, wrong]
    }
    return best
  }
}

async function all(store: Store): Promise<readonly Stored[]> {
  if (!store.stream) return store.list()
  const out: Stored[] = []
  for await (const s of store.stream()) out.push(s)
  return out
}

async function compared(task: RowsTask): Promise<Compared> {
  const emitted = createRequire(task.code)(task.code) as Emitted
  const { host, port, database, user, password } = task.on
  const pool = emitted.connect({ host, port, database, user, ...(password === null ? {} : { password }), max: 2 })
  try {
    const comparison = new Comparison(task.fixtures, task.model, emitted, pool)
    await comparison.run()
    const { differences, compared, classes, left } = comparison
    return { is: 'compared', differences, compared, classes, left }
  } finally {
    await pool.end()
  }
}

// Whoever asked is gone: so is the question.
process.once('disconnect', () => process.exit())
process.once('message', (task: RowsTask) => {
  const answer = (found: Compared) => process.send?.(found, () => process.disconnect())
  compared(task).then(answer, (error: unknown) => answer({ is: 'failed', said: error instanceof Error ? error.message : String(error) }))
})
