// The one file of emitted code that talks to the driver: node-postgres, with every value going and coming as text.

/** `db.ts` after its header. */
export const dbText = `import pg from 'pg'
import { type Row, sessionSettings, type Value } from './values.js'

/** Where statements go: a pool, or one of its clients within a transaction. */
export type Db = pg.Pool | pg.PoolClient | pg.Client

/** A value as it is sent; every statement has its values apart from its text. */
export type Param = string | null

/** The driver hands out the text of each value: the classes know how to read it. */
const types: pg.CustomTypesConfig = { getTypeParser: () => String }

/** A pool whose connections print dates, times and numbers the way that the classes read them. */
export function connect(config: pg.PoolConfig): pg.Pool {
  const options = sessionSettings
    .split(';')
    .map((s) => s.trim().replace(/^SET (\\w+) TO '?(.*?)'?$/, (_, name: string, value: string) => \`-c \${name}=\${value.replace(' ', '\\\\ ')}\`))
    .join(' ')
  return new pg.Pool({ ...config, options: config.options === undefined ? options : \`\${config.options} \${options}\` })
}

/** What a statement gives, in its order; an empty list where it gives nothing. */
export async function readAll<T>(on: Db, text: string, values: readonly Param[], read: (row: Row) => T): Promise<T[]> {
  const { rows } = await on.query<Row>({ text, values: [...values], types })
  return rows.map(read)
}

/** The one row a statement gives, or null. */
export async function readOne<T>(on: Db, text: string, values: readonly Param[], read: (row: Row) => T): Promise<T | null> {
  const [first] = await readAll(on, text, values, read)
  return first ?? null
}

/** How many rows a statement changed. */
export async function send(on: Db, text: string, values: readonly Param[]): Promise<number> {
  return (await on.query({ text, values: [...values], types })).rowCount ?? 0
}

/** All that \`work\` does on one connection happens, or none of it. */
export async function transaction<T>(pool: pg.Pool, work: (on: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await pool.connect()
  try {
    await client.query('BEGIN')
    const result = await work(client)
    await client.query('COMMIT')
    return result
  } catch (error) {
    await client.query('ROLLBACK')
    throw error
  } finally {
    client.release()
  }
}

/** Somebody else changed, removed or made a row meanwhile. */
export class StaleError extends Error {
  override name = 'StaleError'
}

/** A name as SQL has it. */
const named = (name: string) => \`"\${name.replaceAll('"', '""')}"\`

/** A property's column: how its values are read and sent, and whether anybody but the database gives them. */
export interface Column {
  readonly name: string
  readonly given: boolean
  readonly read: (text: string) => Held
  readonly write: (value: never) => string
}

/** By property. */
export type Columns = Readonly<Record<string, Column>>

/** What a property can hold. */
export type Held = string | number | bigint | boolean | object | null | undefined

export const column = <T extends Held>(name: string, of: Value<T>): Column => ({ name, given: true, read: of.read, write: of.write })

/** One whose values only the database gives. */
export const computed = <T extends Held>(name: string, of: Value<T>): Column => ({ ...column(name, of), given: false })

const textOf = (c: Column, value: Held): Param => (value === null || value === undefined ? null : c.write(value as never))

/** The properties and texts of what is given, for INSERT; what is undefined is left to the database. */
export function given(values: object, columns: Columns): { readonly names: readonly string[]; readonly into: string; readonly params: readonly Param[] } {
  const held = new Map<string, Held>(Object.entries(values))
  const known = Object.entries(columns).filter(([name, c]) => c.given && held.get(name) !== undefined)
  const into =
    known.length === 0 ? 'DEFAULT VALUES' : \`(\${known.map(([, c]) => named(c.name)).join(', ')}) VALUES (\${known.map((_, i) => \`$\${i + 1}\`).join(', ')})\`
  return { names: known.map(([name]) => name), into, params: known.map(([name, c]) => textOf(c, held.get(name))) }
}

/** \`a = EXCLUDED.a\` for each, for what takes the place of what is stored. */
export const excluded = (names: readonly string[], columns: Columns): string =>
  names.map((name) => named(columns[name]?.name ?? name)).map((c) => \`\${c} = EXCLUDED.\${c}\`).join(', ')

/** Where an object keeps the row that it was read from. */
const source = Symbol('row')
interface FromRow {
  [source]?: Row
}

/** Keeps the row that an object was read from, so that a change of it is noticed. */
export function remember<T extends object>(of: T & FromRow, row: Row): T {
  of[source] = row
  return of
}

/** An object of a class, which remembers its row. */
export const read = <T extends object, V>(of: { new (values: V): T; fromRow<U>(this: new (values: V) => U, row: Row): U }, row: Row): T =>
  remember(of.fromRow<T>(row), row)

/** Reads a row that comes several times into one object: rows with the same texts in \`key\` are one. */
export function once<T>(key: readonly string[], make: (row: Row) => T): (row: Row) => T {
  const made = new Map<string, T>()
  return (row) => {
    const id = JSON.stringify(key.map((c) => row[c] ?? null))
    const before = made.get(id)
    if (before !== undefined) return before
    const one = make(row)
    made.set(id, one)
    return one
  }
}

export const rowOf = (of: object & FromRow): Row | undefined => of[source]

/** An object becomes what the database has now. */
export function refresh<T extends object>(of: T, now: T): T {
  return Object.assign(of, now)
}

/** What an object holds that is another value than when it was read, but for what a store keeps itself. Throws for an object that no store read. */
export function changes(of: object, columns: Columns, except: readonly string[] = []): { readonly columns: readonly string[]; readonly params: readonly Param[] } {
  const row = rowOf(of)
  if (!row) throw new Error('it was not read by a store, so what changed of it is not known')
  const held = new Map<string, Held>(Object.entries(of))
  const changed = Object.entries(columns).flatMap(([name, c]) => {
    if (!c.given || except.includes(name)) return []
    const [before, now] = [row[c.name] ?? null, textOf(c, held.get(name))]
    // Two texts may be one value: 12:00 and 12:00:00.
    const same = before === now || (before !== null && now !== null && textOf(c, c.read(before)) === now)
    return same ? [] : [{ name: named(c.name), now }]
  })
  return { columns: changed.map((c) => c.name), params: changed.map((c) => c.now) }
}

/** What is asked of one property. */
export type Test<T, K extends keyof T> = {
  [P in K]:
    | readonly [P, 'empty' | 'filled']
    | readonly [P, 'equal' | 'other' | 'less' | 'more', NonNullable<T[P]>]
    | readonly [P, 'one of', readonly NonNullable<T[P]>[]]
    | (NonNullable<T[P]> extends string ? readonly [P, 'contains', string] : never)
}[K]

const signs: Readonly<Record<string, string>> = { equal: '=', other: '<>', less: '<', more: '>' }

/** The conditions of a statement and the values they have. */
export class Where {
  readonly params: Param[] = []
  readonly #parts: string[] = []

  /** All tests have to hold; undefined ones ask nothing. */
  static of(tests: readonly (readonly [PropertyKey, string, ...Held[]] | undefined)[], columns: Columns): Where {
    const where = new Where()
    for (const test of tests) {
      if (!test) continue
      const c = columns[String(test[0])]
      if (!c) throw new Error(\`there is no property \${String(test[0])} to ask of\`)
      where.#add(c, test[1], test[2])
    }
    return where
  }

  /** A value as a parameter. */
  param(value: Param): string {
    this.params.push(value)
    return \`$\${this.params.length}\`
  }

  and(condition: string): void {
    this.#parts.push(condition)
  }

  get text(): string {
    return this.#parts.length === 0 ? '' : \` WHERE \${this.#parts.join(' AND ')}\`
  }

  #add(c: Column, is: string, value: Held): void {
    const own = \`t.\${named(c.name)}\`
    if (is === 'empty' || is === 'filled') this.and(\`\${own} IS \${is === 'empty' ? '' : 'NOT '}NULL\`)
    else if (is === 'contains') this.and(\`\${own}::text ILIKE \${this.param(\`%\${String(value).replace(/[\\\\%_]/g, '\\\\$&')}%\`)}\`)
    else if (is === 'one of') this.and(\`\${own} = ANY(\${this.param(array(Array.isArray(value) ? value.map((v: Held) => textOf(c, v)) : []))})\`)
    else this.and(\`\${own} \${signs[is]} \${this.param(textOf(c, value))}\`)
  }
}

/** Arguments of a call of which some are left to their defaults. */
export class Arguments {
  readonly params: Param[] = []
  readonly #list: string[] = []

  /** \`before\`: the name that it is said by. */
  add(before: string, type: string, value: Param): void {
    this.params.push(value)
    this.#list.push(\`\${before}$\${this.params.length}::\${type}\`)
  }

  get list(): string {
    return this.#list.join(', ')
  }
}

/** Which of them, behind which key, how many at most, and what comes along in the same statement. */
export interface Listing<Key, Tests, Joined = never> {
  readonly where?: readonly (Tests | undefined)[] | undefined
  readonly after?: Key | undefined
  readonly limit?: number | undefined
  readonly join?: readonly Joined[] | undefined
}

/** An end that leads to one at the most, read in the same statement. */
export interface Join<T> {
  readonly columns: (alias: string) => readonly string[]
  readonly from: (alias: string) => string
  /** Puts what the row has under the alias at the end; the same row makes one object. */
  readonly put: (of: T, row: Row, alias: string, made: Map<string, object>) => void
}

export function join<T, U extends object>(of: {
  readonly columns: () => Readonly<Record<string, string>>
  readonly from: (alias: string) => string
  readonly key: readonly string[]
  readonly read: (row: Row) => U
  readonly put: (of: T, other: U | null) => void
}): Join<T> {
  // By number: a name with the alias before it may be longer than names can be.
  const listed = () => Object.values(of.columns())
  return {
    columns: (alias) => listed().map((c, i) => \`\${alias}.\${named(c)} AS \${alias}_\${i}\`),
    from: of.from,
    put: (one, row, alias, made) => {
      const own: Row = Object.fromEntries(listed().map((c, i) => [c, row[\`\${alias}_\${i}\`] ?? null]))
      const key = of.key.map((c) => own[c] ?? null)
      if (key.includes(null)) return of.put(one, null)
      const id = JSON.stringify([alias, ...key])
      const before = made.get(id) as U | undefined
      const other = before ?? of.read(own)
      if (!before) made.set(id, other)
      of.put(one, other)
    },
  }
}

/** The beginning of a statement with what is joined, and how its rows are read. */
export function joining<T>(list: string, from: string, read: (row: Row) => T, joins: readonly Join<T>[]): { readonly select: string; readonly read: (row: Row) => T } {
  if (joins.length === 0) return { select: \`SELECT \${list} FROM \${from}\`, read }
  const all = joins.map((j, i) => ({ j, alias: \`j\${i + 1}\` }))
  const made = new Map<string, object>()
  return {
    select: \`SELECT \${[list, ...all.flatMap(({ j, alias }) => j.columns(alias))].join(', ')} FROM \${from}\${all.map(({ j, alias }) => \` LEFT JOIN \${j.from(alias)}\`).join('')}\`,
    read: (row) => {
      const one = read(row)
      for (const { j, alias } of all) j.put(one, row, alias, made)
      return one
    },
  }
}

/** A new one that a unit of work stores: it is there once that was carried out. */
export class Pending<T extends object> {
  #stored: T | undefined

  /** Throws where it is not stored yet. */
  get stored(): T {
    if (!this.#stored) throw new Error('it is not stored yet')
    return this.#stored
  }

  /** Called by the unit of work; with undefined where nothing of it happened. */
  settle(stored: T | undefined): void {
    this.#stored = stored
  }
}

/** What may be given for an end of a new one. */
export type At<T extends object> = T | Pending<T>

/** The end of a reference, from the class that has its columns. */
export interface Reference {
  readonly to: () => abstract new (...of: never) => object
  /** Those that hold it, and those of them that no other reference writes. */
  readonly properties: readonly string[]
  readonly alone: readonly string[]
  /** What they hold where it leads to this one. */
  readonly values: (to: never) => Readonly<Record<string, Held>>
  readonly load: (of: never, to: never) => void
  /** May it be empty until what it leads to is stored? */
  readonly waits: boolean
}

export type References = Readonly<Record<string, Reference>>

/** What stands at an end, once it is stored. */
const storedOf = (at: object) => (at instanceof Pending ? (at.stored as object) : at)

/** Values with the ends among them said by the properties that hold them. Throws where two ends want different values of one. */
export function held(values: object, references: References): Readonly<Record<string, Held>> {
  const all = new Map<string, Held>(Object.entries(values))
  const byEnd = new Map<string, Held>()
  for (const [end, r] of Object.entries(references)) {
    const at = all.get(end)
    if (at === undefined) continue
    const wanted = at === null ? Object.fromEntries(r.alone.map((p) => [p, null])) : r.values(storedOf(at as object) as never)
    for (const [p, value] of Object.entries(wanted)) {
      if (byEnd.has(p) && byEnd.get(p) !== value) throw new Error(\`\${end} is of another \${p} than the ends before it\`)
      byEnd.set(p, value)
    }
  }
  return Object.fromEntries([...all, ...byEnd])
}

/** A new one has at its ends what it was made with. */
export function linked<T extends object>(of: T, values: object, references: References): T {
  const all = new Map<string, Held>(Object.entries(values))
  for (const [end, r] of Object.entries(references)) {
    const at = all.get(end)
    if (at !== null && at !== undefined) r.load(of as never, storedOf(at as object) as never)
  }
  return of
}

/** A list of texts as the text of an array. */
export const array = (texts: readonly Param[]): string => \`{\${texts.map((t) => (t === null ? 'NULL' : \`"\${t.replace(/[\\\\"]/g, '\\\\$&')}"\`)).join(',')}}\`

/** So many keys go into one statement. */
const block = 5000

/** The text of a key, or those of its columns; null in one of them leads nowhere. */
export type KeyText = Param | readonly Param[]

const idOf = (key: KeyText): Param => (key === null || typeof key === 'string' ? key : key.includes(null) ? null : JSON.stringify(key))

/** One statement for each 5,000 of the keys; in no order. */
export async function byKeys<T>(on: Db, text: string, keys: readonly KeyText[], read: (row: Row) => T): Promise<T[]> {
  const different = new Map<Param, KeyText>()
  for (const key of keys) different.set(idOf(key), key)
  different.delete(null)
  const all = [...different.values()]
  const found: T[] = []
  for (let i = 0; i < all.length; i += block) {
    const part = all.slice(i, i + block).map((key) => (key === null || typeof key === 'string' ? [key] : key))
    const lists = (part[0] ?? []).map((_, n) => array(part.map((key) => key[n] ?? null)))
    for (const one of await readAll(on, text, lists, read)) found.push(one)
  }
  return found
}

/** Lists by a key. */
export function grouped<T>(list: Iterable<T>, key: (of: T) => KeyText): (key: KeyText) => T[] | undefined {
  const groups = new Map<Param, T[]>()
  for (const one of list) {
    const id = idOf(key(one))
    const own = groups.get(id)
    if (own) own.push(one)
    else groups.set(id, [one])
  }
  groups.delete(null)
  return (k) => groups.get(idOf(k))
}
`
