// Parts of emitted files that are the same in every project: only those that a model uses are written, once.

/** A part of a file by its name: what it needs of the others, and its text. */
export type Snippets = Readonly<Record<string, { readonly needs?: readonly string[]; readonly text: string }>>

/** What is used and what that needs, in the order of `all`. */
export function pick(all: Snippets, used: Iterable<string>): string {
  const wanted = new Set<string>()
  const add = (name: string) => {
    if (wanted.has(name)) return
    wanted.add(name)
    for (const n of all[name]?.needs ?? []) add(n)
  }
  for (const name of used) add(name)
  return Object.entries(all)
    .filter(([name]) => wanted.has(name))
    .map(([, s]) => `${s.text.trim()}\n`)
    .join('\n')
}

/** PostgreSQL's text forms of values, read and written (manual, chapter 8; arrays 8.15.6, composite values 8.16.6, bytea 8.12.1). */
export const valueSnippets = {
  Value: {
    text: `
/** Reads and writes values of one type as the text that the database has for them, so that nothing is lost on the way. */
export interface Value<T> {
  readonly read: (text: string) => T
  readonly write: (value: T) => string
}`,
  },
  Row: {
    text: `
/** A row as the driver gives it: the text of each column. */
export type Row = Readonly<Record<string, string | null>>`,
  },
  required: {
    needs: ['Value', 'Row'],
    text: `
/** The value of a column that always has one. */
export function required<T>(row: Row, column: string, of: Value<T>): T {
  const value = optional(row, column, of)
  if (value === null) throw new Error(\`\${column} has no value\`)
  return value
}`,
  },
  optional: {
    needs: ['Value', 'Row'],
    text: `
export function optional<T>(row: Row, column: string, of: Value<T>): T | null {
  const text = row[column]
  if (text === undefined) throw new Error(\`\${column} was not read\`)
  return text === null ? null : of.read(text)
}`,
  },
  sessionSettings: {
    text: `
/** How the database has to print and read dates, times and numbers: run this once on every connection. */
export const sessionSettings = "SET DateStyle TO 'ISO, YMD'; SET IntervalStyle TO 'postgres'; SET TimeZone TO 'UTC'; SET extra_float_digits TO 1; SET bytea_output TO 'hex'"`,
  },
  text: { needs: ['Value'], text: `export const text: Value<string> = { read: (t) => t, write: (v) => v }` },
  integer: { needs: ['Value'], text: `export const integer: Value<number> = { read: Number, write: String }` },
  safeInteger: {
    needs: ['Value'],
    text: `
/** A 64-bit integer held as a number. One that a number cannot hold is refused, not rounded. */
export const safeInteger: Value<number> = {
  read: (t) => {
    if (!Number.isSafeInteger(Number(t))) throw new RangeError(\`\${t} is beyond what a number holds exactly\`)
    return Number(t)
  },
  write: String,
}`,
  },
  bigint: { needs: ['Value'], text: `export const bigint: Value<bigint> = { read: BigInt, write: String }` },
  float: { needs: ['Value'], text: `export const float: Value<number> = { read: Number, write: (v) => (Object.is(v, -0) ? '-0' : String(v)) }` },
  bool: { needs: ['Value'], text: `export const bool: Value<boolean> = { read: (t) => t === 't', write: (v) => (v ? 't' : 'f') }` },
  money: {
    needs: ['Value'],
    text: `
/** An amount without its sign and marks; a locale that writes decimals with a comma is not read. */
export const money: Value<number> = { read: (t) => Number(t.replace(/[^\\d.-]/g, '')), write: String }`,
  },
  bits: {
    needs: ['Value'],
    text: `
/** Bits as a number; how many zeros lead is lost. */
export const bits: Value<bigint> = { read: (t) => BigInt(\`0b\${t || '0'}\`), write: (v) => v.toString(2) }`,
  },
  smallBits: { needs: ['Value'], text: `export const smallBits: Value<number> = { read: (t) => Number.parseInt(t || '0', 2), write: (v) => v.toString(2) }` },
  parsed: {
    text: `
/** The parts of a date and time; the year of one before Christ is 0 or less. Throws for what no Date can be. */
function parsed(t: string) {
  const m = /^(\\d{4,6})-(\\d\\d)-(\\d\\d)(?: (\\d\\d):(\\d\\d):(\\d\\d)(?:\\.(\\d{1,6}))?)?([+-]\\d\\d(?::\\d\\d){0,2})?( BC)?$/.exec(t)
  if (!m) throw new RangeError(\`\${t} is no point in time that a Date can be\`)
  const micros = Number((m[7] ?? '').padEnd(6, '0'))
  const [hours = 0, minutes = 0, seconds = 0] = (m[8] ?? '+00').slice(1).split(':').map(Number)
  const offset = ((hours * 60 + minutes) * 60 + seconds) * (m[8]?.startsWith('-') ? -1 : 1)
  const year = m[9] ? 1 - Number(m[1]) : Number(m[1])
  return { year, month: Number(m[2]) - 1, day: Number(m[3]), hour: Number(m[4] ?? 0), minute: Number(m[5] ?? 0), second: Number(m[6] ?? 0), micros, offset }
}`,
  },
  printed: {
    text: `
const digits = (n: number, width: number) => String(n).padStart(width, '0')

/** A year as the database writes it; 0 is the year before 1. */
const printed = (year: number, rest: string) => (year > 0 ? \`\${digits(year, 4)}-\${rest}\` : \`\${digits(1 - year, 4)}-\${rest} BC\`)`,
  },
  instant: {
    needs: ['Value', 'parsed', 'printed', '#Instant'],
    text: `
/** A Date, and beside it what the database has below its milliseconds. */
export const instant: Value<Instant> = {
  read: (t) => {
    if (t.endsWith('+00') && t.length < 30) {
      const fraction = t.slice(20, -3)
      const at = new Date(\`\${t.slice(0, 10)}T\${t.slice(11, 19)}.\${fraction.slice(0, 3).padEnd(3, '0')}Z\`)
      const micros = fraction.length < 4 ? 0 : Number(fraction.slice(3).padEnd(3, '0'))
      if (!Number.isNaN(at.getTime())) return micros === 0 ? at : Object.assign(at, { micros })
    }
    const p = parsed(t)
    const at = new Date(0)
    at.setUTCFullYear(p.year, p.month, p.day)
    at.setUTCHours(p.hour, p.minute, p.second - p.offset, Math.floor(p.micros / 1000))
    if (Number.isNaN(at.getTime())) throw new RangeError(\`\${t} is no point in time that a Date can be\`)
    return p.micros % 1000 === 0 ? at : Object.assign(at, { micros: p.micros % 1000 })
  },
  write: (v) => {
    const [month, day, hour, minute, second] = [v.getUTCMonth() + 1, v.getUTCDate(), v.getUTCHours(), v.getUTCMinutes(), v.getUTCSeconds()].map((n) => digits(n, 2))
    const fraction = \`\${digits(v.getUTCMilliseconds(), 3)}\${digits(v.micros ?? 0, 3)}\`
    return printed(v.getUTCFullYear(), \`\${month}-\${day} \${hour}:\${minute}:\${second}.\${fraction}+00\`)
  },
}`,
  },
  localMoment: {
    needs: ['Value', 'parsed', 'printed'],
    text: `
/** A date and time in no zone, held as a Date in the zone of the program; microseconds are cut off. */
export const localMoment: Value<Date> = {
  read: (t) => {
    const p = parsed(t)
    const at = new Date(2000, 0, 1)
    at.setFullYear(p.year, p.month, p.day)
    at.setHours(p.hour, p.minute, p.second, Math.floor(p.micros / 1000))
    return at
  },
  write: (v) => {
    const [month, day, hour, minute, second] = [v.getMonth() + 1, v.getDate(), v.getHours(), v.getMinutes(), v.getSeconds()].map((n) => digits(n, 2))
    return printed(v.getFullYear(), \`\${month}-\${day} \${hour}:\${minute}:\${second}.\${digits(v.getMilliseconds(), 3)}\`)
  },
}`,
  },
  day: {
    needs: ['Value', 'parsed', 'printed'],
    text: `
/** A day, held as its midnight in the zone of the program. */
export const day: Value<Date> = {
  read: (t) => {
    const p = parsed(t)
    const at = new Date(2000, 0, 1)
    at.setFullYear(p.year, p.month, p.day)
    return at
  },
  write: (v) => printed(v.getFullYear(), \`\${digits(v.getMonth() + 1, 2)}-\${digits(v.getDate(), 2)}\`),
}`,
  },
  bytes: {
    needs: ['Value'],
    text: `
export const bytes: Value<Uint8Array> = {
  read: (t) => Uint8Array.from(t.slice(2).match(/../g) ?? [], (pair) => Number.parseInt(pair, 16)),
  write: (v) => \`\\\\x\${Array.from(v, (byte) => byte.toString(16).padStart(2, '0')).join('')}\`,
}`,
  },
  json: {
    needs: ['Value', '#JsonValue'],
    text: `export const json: Value<JsonValue> = { read: (t) => JSON.parse(t) as JsonValue, write: (v) => JSON.stringify(v) }`,
  },
  jsonOf: {
    needs: ['Value'],
    text: `
/** JSON of a shape that somebody said of it; what is stored already is not checked again when read. */
export function jsonOf<T>(): Value<T> {
  return { read: (t) => JSON.parse(t) as T, write: (v) => JSON.stringify(v) }
}`,
  },
  oneOf: {
    needs: ['Value'],
    text: `
/** One of these words; another one is refused when read: the database has learned a word that the code has not. */
export function oneOf<const T extends string>(words: readonly T[]): Value<T> {
  return {
    read: (t) => {
      const found = words.find((w) => w === t)
      if (found === undefined) throw new RangeError(\`"\${t}" is none of \${words.join(', ')}\`)
      return found
    },
    write: (v) => v,
  }
}`,
  },
  flag: {
    needs: ['Value'],
    text: `
/** Yes and no by the words that the table has for them. */
export function flag(yes: string, no: string): Value<boolean> {
  return {
    read: (t) => {
      if (t !== yes && t !== no) throw new RangeError(\`"\${t}" is neither "\${yes}" nor "\${no}"\`)
      return t === yes
    },
    write: (v) => (v ? yes : no),
  }
}`,
  },
  parts: {
    text: `
/** What stands between the brackets of a list or a composite value, split at its commas; null for what has no value. */
function parts(inner: string, empty: string | null): (string | null)[] {
  const found: (string | null)[] = []
  let part = ''
  let quoted = false
  let inside = false
  const end = () => {
    found.push(quoted ? part : part === '' ? empty : empty !== null && part === 'NULL' ? null : part)
    part = ''
    quoted = false
  }
  for (let i = 0; i < inner.length; i += 1) {
    const c = inner.charAt(i)
    if (c === '\\\\') {
      i += 1
      part += inner.charAt(i)
    } else if (c === '"') {
      if (inside && inner.charAt(i + 1) === '"') {
        i += 1
        part += '"'
      } else inside = !inside
      quoted = true
    } else if (c === ',' && !inside) end()
    else part += c
  }
  end()
  return found
}

const quoted = (t: string) => \`"\${t.replace(/[\\\\"]/g, '\\\\$&')}"\``,
  },
  list: {
    needs: ['Value', 'parts'],
    text: `
/** A list of one dimension. An element may be missing. */
export function list<T>(of: Value<T>): Value<(T | null)[]> {
  return {
    read: (t) => {
      const inner = t.slice(t.indexOf('{') + 1, -1)
      if (inner.startsWith('{')) throw new RangeError('a list of more than one dimension')
      return inner === '' ? [] : parts(inner, '').map((p) => (p === null ? null : of.read(p)))
    },
    write: (v) => \`{\${v.map((x) => (x === null ? 'NULL' : quoted(of.write(x)))).join(',')}}\`,
  }
}`,
  },
  composite: {
    needs: ['Value', 'parts'],
    text: `
/** A value of several parts, in the order of its type. */
export function composite<T extends object>(of: { readonly [K in keyof T]-?: Value<NonNullable<T[K]>> }): Value<T> {
  const names = Object.keys(of) as (keyof T)[]
  return {
    read: (t) => {
      const found = parts(t.slice(1, -1), null)
      return Object.fromEntries(names.map((name, i) => [name, found[i] == null ? null : of[name].read(found[i])])) as T
    },
    write: (v) =>
      \`(\${names
        .map((name) => {
          const part = v[name]
          return part == null ? '' : quoted(of[name].write(part))
        })
        .join(',')})\`,
  }
}`,
  },
} as const satisfies Snippets

/** Zod schemas that inputs are made of; `of` gives them their names there. */
export const schemaSnippets = {
  text: {
    text: `
/** Text of at most so many characters, as the database counts them. */
export const text = (most: number) => z.string().refine((t) => [...t].length <= most, \`at most \${most} characters\`)`,
  },
  integer: {
    text: `
const within = (least: number, most: number) => z.number().int().min(least).max(most)
export const smallint = within(-32_768, 32_767)
export const integer = within(-2_147_483_648, 2_147_483_647)
export const wholeNumber = within(Number.MIN_SAFE_INTEGER, Number.MAX_SAFE_INTEGER)`,
  },
  bigint: { text: `export const bigint = z.bigint().min(-(2n ** 63n)).max(2n ** 63n - 1n)` },
  decimal: {
    text: `
/** A decimal as text; \`places\` of its \`digits\` stand behind the point. */
export const decimal = (digits: number, places: number) =>
  z
    .string()
    .regex(/^[+-]?(\\d+\\.?\\d*|\\.\\d+)$/, 'a decimal such as 12.50')
    .refine(
      (t) => (t.replace(/^[+-]?0*/, '').split('.')[0] ?? '').length <= digits - places && (t.split('.')[1] ?? '').length <= places,
      \`at most \${digits - places} digits before the point and \${places} behind it\`,
    )
export const anyDecimal = z.string().regex(/^([+-]?(\\d+\\.?\\d*|\\.\\d+)([eE][+-]?\\d+)?|NaN)$/, 'a decimal such as 12.50')`,
  },
  date: { text: `export const date = z.string().regex(/^\\d{4,6}-\\d\\d-\\d\\d( BC)?$/, 'a day, YYYY-MM-DD')` },
  time: { text: `export const time = z.string().regex(/^\\d\\d:\\d\\d(:\\d\\d(\\.\\d{1,6})?)?([+-]\\d\\d(:\\d\\d){0,2})?$/, 'a time of day, HH:MM:SS')` },
  datetime: {
    text: `export const datetime = z.string().regex(/^\\d{4,6}-\\d\\d-\\d\\d[ T]\\d\\d:\\d\\d(:\\d\\d(\\.\\d{1,6})?)?( BC)?$/, 'a date and time, YYYY-MM-DD HH:MM:SS')`,
  },
  uuid: { text: `export const uuid = z.string().regex(/^[\\da-fA-F]{8}(-[\\da-fA-F]{4}){3}-[\\da-fA-F]{12}$/, 'a UUID')` },
  bytes: { text: `export const bytes = z.instanceof(Uint8Array)` },
  instant: { needs: ['#Instant'], text: `export const instant: z.ZodType<Instant> = z.date()` },
  json: {
    needs: ['#JsonValue'],
    text: `
export const json: z.ZodType<JsonValue> = z.lazy(() =>
  z.union([z.null(), z.boolean(), z.number(), z.string(), z.array(json), z.record(z.string(), json)]),
)`,
  },
} as const satisfies Snippets

/** Both sides of a relationship in memory. */
export const linkSnippets = {
  Members: {
    text: `
/** What stands at the end of a relationship that leads to any number. */
export class Members<T> implements Iterable<T> {
  readonly #members: Set<T>

  constructor(members: Iterable<T>) {
    this.#members = new Set(members)
  }

  get size(): number {
    return this.#members.size
  }

  has(member: T): boolean {
    return this.#members.has(member)
  }

  [Symbol.iterator](): Iterator<T> {
    return this.#members[Symbol.iterator]()
  }

  /** Called by the other end when it is given this one. */
  take(member: T): void {
    this.#members.add(member)
  }

  /** Called by the other end when it is given another one. */
  lose(member: T): void {
    this.#members.delete(member)
  }
}`,
  },
  Many: {
    needs: ['Members'],
    text: `
/** Members that can be added to: the other end of each changes with it. To take one away, give it another at its own end. */
export class Many<T> extends Members<T> {
  readonly #join: (member: T) => void

  constructor(members: Iterable<T>, join: (member: T) => void) {
    super(members)
    this.#join = join
  }

  add(member: T): this {
    if (!this.has(member)) {
      this.take(member)
      this.#join(member)
    }
    return this
  }
}`,
  },
  LooseMany: {
    needs: ['Many'],
    text: `
/** Members that can be added and taken away: the other end of each changes with it. */
export class LooseMany<T> extends Many<T> {
  readonly #part: (member: T) => void

  constructor(members: Iterable<T>, join: (member: T) => void, part: (member: T) => void) {
    super(members, join)
    this.#part = part
  }

  delete(member: T): boolean {
    if (!this.has(member)) return false
    this.lose(member)
    this.#part(member)
    return true
  }
}`,
  },
} as const satisfies Snippets
