// The one file of emitted code that talks to the driver: node-postgres, with every value going and coming as text.

/** After the header and `values.ts`'s imports. */
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

/** Somebody else changed or removed a row since it was read. */
export class StaleError extends Error {
  override name = 'StaleError'
}

/** How the properties of a class are written, and the columns they are in. */
export type Writers = Readonly<Record<string, { readonly column: string; readonly write: (value: never) => string }>>

export const writer = <T>(column: string, of: Value<T>): { readonly column: string; readonly write: (value: T) => string } => ({ column, write: of.write })

const textOf = (w: Writers[string], value: Held): Param => (value === null || value === undefined ? null : w.write(value as never))
type Held = string | number | bigint | boolean | object | null | undefined

/** The columns and texts of what is given, for INSERT; what is undefined is left to the database. */
export function given(values: object, writers: Writers): { readonly columns: readonly string[]; readonly params: readonly Param[] } {
  const held = new Map<string, Held>(Object.entries(values))
  const named = Object.entries(writers).filter(([name]) => held.get(name) !== undefined)
  return { columns: named.map(([, w]) => w.column), params: named.map(([name, w]) => textOf(w, held.get(name))) }
}

/** What each object was when it was read. */
const read = new WeakMap<object, ReadonlyMap<string, Param>>()

const snapshot = (of: object, writers: Writers): ReadonlyMap<string, Param> => {
  const held = new Map<string, Held>(Object.entries(of))
  return new Map(Object.entries(writers).map(([name, w]) => [name, textOf(w, held.get(name))]))
}

/** Remembers what an object is now, so that a change of it is noticed. */
export function remember<T extends object>(of: T, writers: Writers): T {
  read.set(of, snapshot(of, writers))
  return of
}

/** The columns that are others than when it was read, and their texts, but for those that a store keeps itself. Throws for an object that was not read by a store. */
export function changes(of: object, writers: Writers, except: readonly string[] = []): { readonly columns: readonly string[]; readonly params: readonly Param[] } {
  const before = read.get(of)
  if (!before) throw new Error('it was not read by a store, so what changed of it is not known')
  const now = [...snapshot(of, writers)].filter(([name, text]) => !except.includes(name) && before.get(name) !== text)
  return { columns: now.map(([name]) => writers[name]?.column ?? name), params: now.map(([, text]) => text) }
}

/** A list of texts as the text of an array. */
export const array = (texts: readonly Param[]): string => \`{\${texts.map((t) => (t === null ? 'NULL' : \`"\${t.replace(/[\\\\"]/g, '\\\\$&')}"\`)).join(',')}}\`

/** So many keys go into one statement. */
const block = 5000

/** One statement for each 5,000 of the keys, each a list of texts; in no order. */
export async function byKeys<T>(on: Db, text: string, keys: Iterable<readonly Param[]>, read: (row: Row) => T): Promise<T[]> {
  const different = [...new Map([...keys].filter((k) => !k.includes(null)).map((k) => [JSON.stringify(k), k])).values()]
  const found: T[] = []
  for (let i = 0; i < different.length; i += block) {
    const part = different.slice(i, i + block)
    const width = part[0]?.length ?? 0
    const lists = Array.from({ length: width }, (_, n) => array(part.map((k) => k[n] ?? null)))
    for (const x of await readAll(on, text, lists, read)) found.push(x)
  }
  return found
}

/** Lists by a key, each a list of texts. */
export function grouped<T>(list: Iterable<T>, key: (of: T) => readonly Param[]): ReadonlyMap<string, T[]> {
  const groups = new Map<string, T[]>()
  for (const x of list) {
    const k = JSON.stringify(key(x))
    const own = groups.get(k)
    if (own) own.push(x)
    else groups.set(k, [x])
  }
  return groups
}
`
