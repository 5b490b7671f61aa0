// MySQL's and MariaDB's spelling of a type (information_schema.COLUMNS.COLUMN_TYPE) → what its values are.
import type { Neutral } from '../neutral.ts'

/** MySQL manual, chapter 11. TIME may exceed a day and is a span; YEAR is a number; SET and ENUM are texts. */
const kinds: Readonly<Record<string, Exclude<Neutral['kind'], 'named' | 'list' | 'other'>>> = {
  tinyint: 'integer',
  smallint: 'integer',
  mediumint: 'integer',
  int: 'integer',
  bigint: 'bigint',
  decimal: 'decimal',
  float: 'float',
  double: 'float',
  char: 'text',
  varchar: 'text',
  tinytext: 'text',
  text: 'text',
  mediumtext: 'text',
  longtext: 'text',
  enum: 'text',
  set: 'text',
  inet4: 'text',
  inet6: 'text',
  date: 'date',
  time: 'interval',
  datetime: 'local datetime',
  timestamp: 'instant',
  year: 'integer',
  binary: 'bytes',
  varbinary: 'bytes',
  tinyblob: 'bytes',
  blob: 'bytes',
  mediumblob: 'bytes',
  longblob: 'bytes',
  bit: 'bytes',
  json: 'json',
  uuid: 'uuid',
}

/** Types of places (MySQL manual, 11.4). */
const spatial = ['geometry', 'point', 'linestring', 'polygon', 'multipoint', 'multilinestring', 'multipolygon', 'geometrycollection']

/** First words of the types that the server has. */
export const typeWords: readonly string[] = [...Object.keys(kinds), ...spatial, 'vector']

export function neutralType(type: string): Neutral {
  if (/^tinyint\(1\)$/.test(type)) return { kind: 'boolean' }
  const kind = kinds[/^[a-z0-9]+/.exec(type)?.[0] ?? '']
  return kind === undefined ? { kind: 'other', type } : { kind }
}
