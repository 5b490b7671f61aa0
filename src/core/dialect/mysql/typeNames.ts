// A type as a script writes it → as information_schema.COLUMNS.COLUMN_TYPE prints it (MySQL manual, chapter 11; MariaDB, Data Types).
import type { TypeName } from '../../ddl/statement.ts'
import type { MySqlServer } from './server.ts'

const aliases: Readonly<Record<string, string>> = {
  integer: 'int',
  int1: 'tinyint',
  int2: 'smallint',
  int3: 'mediumint',
  middleint: 'mediumint',
  int4: 'int',
  int8: 'bigint',
  serial: 'bigint',
  bool: 'tinyint',
  boolean: 'tinyint',
  dec: 'decimal',
  numeric: 'decimal',
  fixed: 'decimal',
  number: 'decimal',
  'double precision': 'double',
  real: 'double',
  float8: 'double',
  float4: 'float',
  'character varying': 'varchar',
  'char varying': 'varchar',
  varchar2: 'varchar',
  nvarchar: 'varchar',
  'national varchar': 'varchar',
  'national char varying': 'varchar',
  'national character varying': 'varchar',
  'nchar varying': 'varchar',
  varcharacter: 'varchar',
  character: 'char',
  nchar: 'char',
  'national char': 'char',
  'national character': 'char',
  long: 'mediumtext',
  'long varchar': 'mediumtext',
  'long varbinary': 'mediumblob',
  raw: 'varbinary',
  clob: 'longtext',
}

/** Digits shown, signed and unsigned: what a server prints that still has display widths (MySQL before 8.0.19, MariaDB). */
const widths: Readonly<Record<string, readonly [number, number]>> = {
  tinyint: [4, 3],
  smallint: [6, 5],
  mediumint: [9, 8],
  int: [11, 10],
  bigint: [20, 20],
}

/** TEXT(n) and BLOB(n) are the smallest kind that holds n bytes; characters of utf8mb4 take four. */
function sized(base: 'text' | 'blob', length: number): string {
  const bytes = base === 'text' ? length * 4 : length
  const prefix = bytes <= 255 ? 'tiny' : bytes <= 65_535 ? '' : bytes <= 16_777_215 ? 'medium' : 'long'
  return `${prefix}${base}`
}

/** A value in either kind of quotes, as the server prints it. */
function requoted(value: string): string {
  if (!value.startsWith('"')) return value
  return `'${value.slice(1, -1).replaceAll('""', '"').replaceAll("'", "''")}'`
}

/** Is it another word for a type that is printed otherwise? */
export const isAlias = (word: string): boolean => Object.hasOwn(aliases, word)

export function columnType(t: TypeName, server: MySqlServer): string {
  const written = t.name.toLowerCase()
  const base = aliases[written] ?? written
  const p = t.parameters
  const zerofill = /zerofill/.test(t.suffix)
  const unsigned = zerofill || /unsigned/.test(t.suffix) || written === 'serial'
  const tail = `${unsigned ? ' unsigned' : ''}${zerofill ? ' zerofill' : ''}`
  const width = widths[base]
  if (width) {
    const digits = isBoolean(written) ? '1' : (p[0] ?? String(width[unsigned ? 1 : 0]))
    const shown = server.displayWidths || zerofill || (base === 'tinyint' && digits === '1' && !unsigned)
    return `${base}${shown ? `(${digits})` : ''}${tail}`
  }
  return otherType(base, p, tail, server)
}

const isBoolean = (written: string) => written === 'bool' || written === 'boolean'

function otherType(base: string, p: readonly string[], tail: string, server: MySqlServer): string {
  switch (base) {
    case 'decimal':
      return `decimal(${p[0] ?? '10'},${p[1] ?? '0'})${tail}`
    case 'float':
      return `${p.length === 1 ? (Number(p[0]) > 24 ? 'double' : 'float') : `float${p.length === 2 ? `(${p.join(',')})` : ''}`}${tail}`
    case 'double':
      return `double${p.length === 2 ? `(${p.join(',')})` : ''}${tail}`
    case 'char':
    case 'binary':
    case 'bit':
      return `${base}(${p[0] ?? '1'})`
    case 'year':
      return server.displayWidths ? 'year(4)' : 'year'
    case 'text':
    case 'blob':
      return p.length === 0 ? base : sized(base, Number(p[0]))
    case 'enum':
    case 'set':
      return `${base}(${p.map(requoted).join(',')})`
    case 'json':
      return server.engine === 'mariadb' ? 'longtext' : 'json'
    case 'datetime':
    case 'timestamp':
    case 'time':
      return p.length === 0 || p[0] === '0' ? base : `${base}(${p[0]})`
    default:
      return p.length === 0 ? `${base}${tail}` : `${base}(${p.join(',')})${tail}`
  }
}
