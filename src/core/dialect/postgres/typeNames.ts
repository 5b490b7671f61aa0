// A type as a script writes it → as the server prints it (format_type, manual 9.26.4, with nothing but pg_catalog on the path).

import type { TypeName } from '../../ddl/statement.ts'
import { withoutFirstBrackets } from '../../text/scan.ts'

/** Other spellings of built-in types (manual, table 8.1). */
const aliases: Readonly<Record<string, string>> = {
  int: 'integer',
  int4: 'integer',
  serial: 'integer',
  serial4: 'integer',
  int2: 'smallint',
  smallserial: 'smallint',
  serial2: 'smallint',
  int8: 'bigint',
  bigserial: 'bigint',
  serial8: 'bigint',
  float4: 'real',
  float8: 'double precision',
  decimal: 'numeric',
  dec: 'numeric',
  bool: 'boolean',
  varchar: 'character varying',
  'char varying': 'character varying',
  'national character varying': 'character varying',
  'national char varying': 'character varying',
  'nchar varying': 'character varying',
  char: 'character',
  nchar: 'character',
  'national character': 'character',
  'national char': 'character',
  varbit: 'bit varying',
  timestamptz: 'timestamp with time zone',
  timetz: 'time with time zone',
}

const builtIn = new Set(
  `smallint integer bigint real|double precision numeric boolean character varying|character varying character text name bytea bit bit varying date time timestamp interval
  timestamp with time zone|time with time zone uuid json jsonb jsonpath xml money inet cidr macaddr macaddr8 point line lseg box path polygon circle tsvector tsquery oid xid xid8 cid tid
  regclass regproc regprocedure regoper regoperator regtype regrole regnamespace regconfig regdictionary regcollation pg_lsn txid_snapshot pg_snapshot int4range int8range numrange tsrange tstzrange
  daterange int4multirange int8multirange nummultirange tsmultirange tstzmultirange datemultirange bpchar refcursor record void trigger event_trigger cstring any anyelement anyarray anynonarray
  anyenum anyrange anymultirange anycompatible anycompatiblearray anycompatiblenonarray anycompatiblerange internal language_handler fdw_handler index_am_handler table_am_handler tsm_handler
  unknown aclitem int2vector oidvector pg_node_tree pg_ndistinct pg_dependencies pg_mcv_list pg_ddl_command gtsvector`
    .split(/[|\s]+/)
    .concat(['double precision', 'character varying', 'bit varying', 'timestamp with time zone', 'time with time zone']),
)

/** Names of the types that a column may have. */
export const typeWords: readonly string[] = [...builtIn].filter((w) => !/^(any|pg_|gts)|trigger|handler|internal|cstring|unknown|void|record/.test(w))

/** `integer`, `character varying(20)`, `timestamp(3) with time zone`; null for a type that is not built in. */
export function builtInType(t: TypeName): string | null {
  if (t.schema !== null && t.schema !== 'pg_catalog') return null
  if (t.quoted && t.name === 'char') return `"char"${t.array ? '[]' : ''}`
  // The server's own name of an array type: `_text`.
  if (t.name.startsWith('_')) {
    const element = builtInType({ ...t, name: t.name.slice(1), array: false })
    if (element !== null) return `${element}[]`
  }
  const base = t.quoted ? t.name : (aliases[t.name] ?? t.name)
  const spelled = withParameters(t, base)
  if (spelled === null) return null
  return t.array ? `${spelled}[]` : spelled
}

function withParameters(t: TypeName, base: string): string | null {
  const p = t.parameters
  if (t.name === 'float') return p.length === 0 || Number(p[0]) > 24 ? 'double precision' : 'real'
  if (!builtIn.has(base)) return null
  switch (base) {
    case 'numeric':
      return p.length === 0 ? base : `numeric(${p[0]},${p[1] ?? '0'})`
    case 'character':
    case 'bit':
      return `${base}(${p[0] ?? '1'})`
    case 'bpchar':
      return p.length === 0 ? base : `character(${p[0]})`
    case 'time':
    case 'timestamp':
      return `${base}${p.length === 0 ? '' : `(${p[0]})`} ${t.suffix === 'with time zone' ? 'with' : 'without'} time zone`
    case 'timestamp with time zone':
    case 'time with time zone': {
      const [first, ...rest] = base.split(' ')
      return `${first}${p.length === 0 ? '' : `(${p[0]})`} ${rest.join(' ')}`
    }
    case 'interval':
      return `interval${t.suffix === '' ? '' : ` ${t.suffix}`}${p.length === 0 ? '' : `(${p[0]})`}`
    default:
      return p.length === 0 ? base : `${base}(${p.join(',')})`
  }
}

const plainStorage = new Set([
  'smallint',
  'integer',
  'bigint',
  'real',
  'double precision',
  'boolean',
  'date',
  'uuid',
  'money',
  'oid',
  'name',
  'macaddr',
  'point',
  'tid',
  'xid',
  '"char"',
  'interval',
  'pg_lsn',
])
const mainStorage = new Set(['numeric', 'inet', 'cidr'])

/** pg_type.typstorage of a built-in type. */
export function typeStorage(type: string): 'plain' | 'main' | 'extended' {
  const base = withoutFirstBrackets(type)
  if (plainStorage.has(base) || /^time/.test(base)) return 'plain'
  return mainStorage.has(base) ? 'main' : 'extended'
}
