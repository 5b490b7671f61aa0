// A unit of work in emitted code: what is new, changed and to go, in one transaction, each after what it needs.

/** `work.ts` after its header. */
export const workText = `import type pg from 'pg'
import { type Db, Pending, type Reference, type References, remember, rowOf, transaction } from './db.js'

/** A class of stores. */
export interface Stored<T extends object, New extends object, Key> {
  new (on: Db): { insert(values: New): Promise<T>; update(of: T): Promise<void>; delete(key: Key): Promise<boolean> }
  readonly references: References
  keyOf(of: T): Key
}

/** One reference between two that a unit of work has to do with. */
interface Edge<N> {
  readonly from: N
  readonly end: string
  readonly reference: Reference
  readonly to: N
}

interface Insert {
  readonly name: string
  values: object
  readonly pending: Pending<object>
  readonly references: References
  /** Stores it with some of its ends left empty. */
  readonly store: (on: Db, values: object) => Promise<object>
  readonly update: (on: Db, of: object) => Promise<void>
}

interface Delete {
  readonly name: string
  readonly of: object
  readonly references: References
  readonly update: (on: Db) => Promise<void>
  readonly remove: (on: Db) => Promise<boolean>
}

/** Each after what it refers to. Where they go in a circle, references that may be empty for a while are left for later. Throws where none may. */
function inOrder<N extends { readonly name: string }>(nodes: readonly N[], edges: readonly Edge<N>[]): { readonly order: readonly N[]; readonly later: readonly Edge<N>[] } {
  const open = new Map<N, Set<Edge<N>>>(nodes.map((n) => [n, new Set()]))
  const leading = new Map<N, Edge<N>[]>(nodes.map((n) => [n, []]))
  for (const e of edges) {
    open.get(e.from)?.add(e)
    leading.get(e.to)?.push(e)
  }
  const rest = new Set(nodes)
  const ready = nodes.filter((n) => open.get(n)?.size === 0)
  const order: N[] = []
  const later: Edge<N>[] = []
  const take = (n: N) => {
    rest.delete(n)
    order.push(n)
    for (const e of leading.get(n) ?? []) {
      const own = open.get(e.from)
      if (own?.delete(e) && own.size === 0 && rest.has(e.from)) ready.push(e.from)
    }
  }
  while (rest.size > 0) {
    for (let n = ready.shift(); n; n = ready.shift()) take(n)
    if (rest.size === 0) break
    const first = [...rest].find((n) => [...(open.get(n) ?? [])].every((e) => e.reference.waits))
    if (!first) throw new Error(\`these refer to each other in a circle, and none of their references may be empty: \${[...new Set([...rest].map((n) => n.name))].join(', ')}\`)
    later.push(...(open.get(first) ?? []))
    open.get(first)?.clear()
    take(first)
  }
  return { order, later }
}

const textOf = (held: object, properties: readonly string[]) => {
  const all = new Map(Object.entries(held))
  return properties.map((p) => String(all.get(p))).join('\\n')
}

/**
 * What is new, changed and to go, gathered first and carried out at once, in one transaction: what is new after what it refers to, then changes,
 * further steps, and what goes before what it refers to.
 */
export class Work {
  readonly #inserts: Insert[] = []
  readonly #updates: { readonly of: object; readonly update: (on: Db) => Promise<void> }[] = []
  readonly #steps: ((on: Db) => Promise<void>)[] = []
  readonly #deletes: Delete[] = []

  /** A new one; its ends may lead to others that are new. */
  insert<T extends object, New extends object, Key>(into: Stored<T, New, Key>, values: New): Pending<T> {
    const pending = new Pending<T>()
    const insert: Insert = {
      name: into.name,
      values,
      pending,
      references: into.references,
      store: async (on, more) => {
        const stored = await new into(on).insert({ ...(insert.values as New), ...more })
        pending.settle(stored)
        return stored
      },
      update: (on, of) => new into(on).update(of as T),
    }
    this.#inserts.push(insert)
    return pending
  }

  /** More of a new one, such as an end that leads to another which was made after it. */
  fill<T extends object, New extends object, Key>(_by: Stored<T, New, Key>, of: Pending<T>, values: Partial<New>): void {
    for (const i of this.#inserts) if (i.pending === of) i.values = { ...i.values, ...values }
  }

  /** One that was read; what it holds when the work is carried out is sent. */
  update<T extends object, New extends object, Key>(by: Stored<T, New, Key>, of: T): void {
    this.#updates.push({ of, update: (on) => new by(on).update(of) })
  }

  /** One that is to go. */
  delete<T extends object, New extends object, Key>(from: Stored<T, New, Key>, of: T): void {
    this.#deletes.push({
      name: from.name,
      of,
      references: from.references,
      update: (on) => new from(on).update(of),
      remove: (on) => new from(on).delete(from.keyOf(of)),
    })
  }

  /** Whatever else belongs to it, such as links, once all that is new is stored. */
  step(run: (on: Db) => Promise<void>): void {
    this.#steps.push(run)
  }

  /** All of it happens, or nothing; then everything in memory is as it was before. */
  async commit(pool: pg.Pool): Promise<void> {
    const touched = [...this.#updates, ...this.#deletes].map(({ of }) => ({ of, held: { ...of }, row: rowOf(of) }))
    try {
      await transaction(pool, async (on) => {
        await this.#insertAll(on)
        for (const u of this.#updates) await u.update(on)
        for (const run of this.#steps) await run(on)
        await this.#deleteAll(on)
      })
    } catch (error) {
      for (const i of this.#inserts) i.pending.settle(undefined)
      for (const { of, held, row } of touched) {
        Object.assign(of, held)
        if (row) remember(of, row)
      }
      throw error
    }
  }

  async #insertAll(on: Db): Promise<void> {
    const byPending = new Map<object, Insert>(this.#inserts.map((i) => [i.pending, i]))
    const edges = this.#inserts.flatMap((from) =>
      Object.entries(from.references).flatMap(([end, reference]): Edge<Insert>[] => {
        const to = byPending.get(new Map(Object.entries(from.values)).get(end))
        return to ? [{ from, end, reference, to }] : []
      }),
    )
    const { order, later } = inOrder(this.#inserts, edges)
    for (const i of order) await i.store(on, Object.fromEntries(later.filter((e) => e.from === i).map((e) => [e.end, null])))
    for (const { from, reference, to } of later) {
      const of = from.pending.stored
      Object.assign(of, reference.values(to.pending.stored as never))
      reference.load(of as never, to.pending.stored as never)
      await from.update(on, of)
    }
  }

  async #deleteAll(on: Db): Promise<void> {
    const references = new Set(this.#deletes.flatMap((d) => Object.values(d.references)))
    const edges = [...references].flatMap((reference): Edge<Delete>[] => {
      const to = new Map(
        this.#deletes.flatMap((d): [string, Delete][] => (d.of instanceof reference.to() ? [[textOf(reference.values(d.of as never), reference.properties), d]] : [])),
      )
      return this.#deletes.flatMap((from) => {
        const found = Object.values(from.references).includes(reference) ? to.get(textOf(from.of, reference.properties)) : undefined
        return found && found !== from ? [{ from, end: '', reference, to: found }] : []
      })
    })
    const { order, later } = inOrder(this.#deletes, edges)
    for (const { from, reference } of later) {
      Object.assign(from.of, Object.fromEntries(reference.alone.map((p) => [p, null])))
      await from.update(on)
    }
    for (const d of order.toReversed()) await d.remove(on)
  }
}
`
