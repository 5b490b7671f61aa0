// From what values are to how an engine spells a type for them: the other way round than neutralTypes.ts, for types that somebody wants.

import type { Dialect } from '../catalog/index.ts'
import { insideLastBrackets } from '../text/scan.ts'
import type { Neutral } from './neutral.ts'

type Kind = Exclude<Neutral['kind'], 'named' | 'list' | 'other'>
type Spelled = (parameters: readonly string[]) => string

const sized = (name: string, without: string) => (p: readonly string[]) => (p.length === 0 ? without : `${name}(${p.join(',')})`)
const exact = (name: string) => (p: readonly string[]) => (p.length === 0 ? name : `${name}(${p[0]},${p[1] ?? '0'})`)
const timed = (name: string, rest: string) => (p: readonly string[]) => `${name}${p.length === 0 ? '' : `(${p[0]})`}${rest}`
const plain = (name: string) => () => name

/** PostgreSQL manual, chapter 8; MySQL manual, chapter 11; "Datatypes In SQLite", 3. */
const spelled: Readonly<Record<Dialect, Readonly<Record<Kind, Spelled>>>> = {
  postgresql: {
    integer: plain('integer'),
    bigint: plain('bigint'),
    decimal: exact('numeric'),
    float: plain('double precision'),
    text: sized('character varying', 'text'),
    boolean: plain('boolean'),
    date: plain('date'),
    time: timed('time', ' without time zone'),
    'local datetime': timed('timestamp', ' without time zone'),
    instant: timed('timestamp', ' with time zone'),
    interval: plain('interval'),
    bytes: plain('bytea'),
    uuid: plain('uuid'),
    json: plain('jsonb'),
  },
  mysql: {
    integer: plain('int'),
    bigint: plain('bigint'),
    decimal: (p) => exact('decimal')(p.length === 0 ? ['10'] : p),
    float: plain('double'),
    text: sized('varchar', 'text'),
    boolean: plain('tinyint(1)'),
    date: plain('date'),
    time: timed('time', ''),
    'local datetime': timed('datetime', ''),
    instant: timed('timestamp', ''),
    interval: timed('time', ''),
    bytes: plain('longblob'),
    uuid: plain('char(36)'),
    json: plain('json'),
  },
  sqlite: {
    integer: plain('INTEGER'),
    bigint: plain('BIGINT'),
    decimal: sized('DECIMAL', 'NUMERIC'),
    float: plain('REAL'),
    text: sized('VARCHAR', 'TEXT'),
    boolean: plain('BOOLEAN'),
    date: plain('DATE'),
    time: plain('TIME'),
    'local datetime': plain('DATETIME'),
    instant: plain('DATETIME'),
    interval: plain('TEXT'),
    bytes: plain('BLOB'),
    uuid: plain('UUID'),
    json: plain('JSON'),
  },
}

export const neutralKinds = Object.keys(spelled.postgresql) as readonly Kind[]

/** The type an engine has for values of this kind, with length, precision or scale where they are given; null where it has none. */
export function nativeType(dialect: Dialect, t: Neutral, parameters: readonly string[] = []): string | null {
  if (t.kind === 'list') {
    const of = dialect === 'postgresql' ? nativeType(dialect, t.of, parameters) : null
    return of === null ? null : `${of}[]`
  }
  if (t.kind === 'named' || t.kind === 'other') return null
  return spelled[dialect][t.kind](parameters)
}

/** `decimal(10,2)`, `text(40)`, `list of instant`; null for anything else. */
export function parseNeutral(text: string): { readonly type: Neutral; readonly parameters: readonly string[] } | null {
  const list = /^list of (.+)$/.exec(text)
  if (list) {
    const of = parseNeutral(list[1] as string)
    return of && { type: { kind: 'list', of: of.type }, parameters: of.parameters }
  }
  const inside = insideLastBrackets(text)
  const name = (inside === null ? text : text.slice(0, text.indexOf('('))).trimEnd()
  const parameters = inside === null ? [] : inside.split(',').map((p) => p.trim())
  const kind = neutralKinds.find((k) => k === name)
  return kind === undefined || parameters.length > 2 || !parameters.every((p) => /^\d+$/.test(p)) ? null : { type: { kind }, parameters }
}
