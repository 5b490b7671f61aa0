// Random schemas as small values that stay valid while they are changed: printed as SQL, filled with rows, changed in every way a plan can carry.
import { generator } from './random.ts'

type G = ReturnType<typeof generator>

export interface SpecColumn {
  name: string
  type: string
  nullable: boolean
  default: string | null
  generated?: string
  identity?: boolean
  comment?: string
  /** The type it had first: values are of that one, so that every way leads back. */
  was?: string
}
export interface SpecTable {
  schema: string
  name: string
  columns: SpecColumn[]
  /** Besides the primary key, which is always `id`, or `(id, at)` on a partitioned table. */
  uniques: { name: string; columns: string[]; deferrable: boolean }[]
  references: { name: string; column: string; target: string; onDelete: string; deferrable: boolean; valid: boolean }[]
  checks: { name: string; column: string; text: string; valid: boolean }[]
  indexes: { name: string; text: string; columns: string[]; unique: boolean }[]
  partitions: { name: string; from: number; to: number }[]
  partitioned: boolean
  partitionedBy: 'at' | 'id'
  triggers: { name: string; routine: string; column: string }[]
  policies: { name: string; column: string }[]
  statistics: { name: string; columns: string[] }[]
  comment: string | null
  options: string[]
  keyName: string
}
export interface Spec {
  schemas: string[]
  enums: { schema: string; name: string; labels: string[] }[]
  domains: { schema: string; name: string; type: string; check: string; nullable: boolean }[]
  composites: { schema: string; name: string; attributes: string[] }[]
  sequences: { schema: string; name: string; increment: number }[]
  routines: { schema: string; name: string; kind: 'trigger' | 'plain'; argument: string; body: number; result: string }[]
  tables: SpecTable[]
  views: { schema: string; name: string; of: string; columns: string[]; materialized: boolean; extra: number; view: string | null; indexed: boolean }[]
  next: number
}

const rows = 12
const plainTypes = [
  'integer',
  'bigint',
  'text',
  'character varying(20)',
  'numeric(10,2)',
  'boolean',
  'date',
  'timestamp with time zone',
  'uuid',
  'jsonb',
  'integer[]',
]
const uniqueTypes = new Set(['integer', 'bigint', 'text', 'character varying(20)', 'character varying(40)', 'uuid', 'numeric(10,2)', 'numeric(12,2)'])

export const clone = (s: Spec): Spec => structuredClone(s)
const at = (o: { schema: string; name: string }) => `${o.schema}.${o.name}`
const fresh = (s: Spec, stem: string) => {
  s.next += 1
  return `${stem}_${s.next}`
}
const typeOf = (t: SpecTable, c: string) => t.columns.find((x) => x.name === c)?.type ?? ''

function newColumn(s: Spec, g: G, more: Partial<SpecColumn> = {}): SpecColumn {
  const types = [...plainTypes, ...s.enums.map(at), ...s.domains.map(at), ...s.composites.map(at)]
  const type = more.type ?? g.pick(types)
  return { name: fresh(s, 'c'), type, nullable: true, default: null, ...more }
}

/** A default that fits the type. */
export function defaultFor(s: Spec, g: G, type: string): string | null {
  if (type === 'integer' || type === 'bigint')
    return g.chance(0.3) && s.sequences.length > 0 ? `nextval('${at(g.pick(s.sequences))}'::regclass)` : String(g.below(9))
  if (type.startsWith('numeric')) return '1.5'
  if (type === 'text' || type.startsWith('character varying')) return `'d${g.below(5)}'`
  if (type === 'boolean') return g.pick(['true', 'false'])
  if (type === 'date') return g.pick(['CURRENT_DATE', `'2025-01-01'`])
  if (type.startsWith('timestamp')) return 'now()'
  if (type === 'jsonb') return `'{}'`
  const e = s.enums.find((x) => at(x) === type)
  return e ? `'${e.labels[0]}'` : null
}

function newTable(s: Spec, g: G, partitioned: boolean): SpecTable {
  const name = fresh(s, 't')
  const columns: SpecColumn[] = [{ name: 'id', type: 'integer', nullable: false, default: null, ...(g.chance(0.3) && !partitioned ? { identity: true } : {}) }]
  if (partitioned) columns.push({ name: 'at', type: 'integer', nullable: false, default: null })
  for (let i = 0; i < 3 + g.below(4); i += 1) columns.push(newColumn(s, g))
  return {
    schema: g.pick(s.schemas),
    name,
    columns,
    uniques: [],
    references: [],
    checks: [],
    indexes: [],
    partitions: partitioned
      ? [
          { name: `${name}_a`, from: 0, to: 100 },
          { name: `${name}_b`, from: 100, to: 200 },
        ]
      : [],
    partitioned,
    partitionedBy: 'at',
    triggers: [],
    policies: [],
    statistics: [],
    comment: null,
    options: [],
    keyName: `${name}_pkey`,
  }
}

export function randomSpec(seed: number): Spec {
  const g = generator(seed)
  const s: Spec = { schemas: ['one', 'two'], enums: [], domains: [], composites: [], sequences: [], routines: [], tables: [], views: [], next: 0 }
  for (const kind of ['mood', 'grade']) s.enums.push({ schema: g.pick(s.schemas), name: fresh(s, kind), labels: ['low', 'mid', 'high'] })
  s.domains.push({ schema: 'one', name: fresh(s, 'share'), type: 'integer', check: 'VALUE >= 0', nullable: true })
  s.composites.push({ schema: 'two', name: fresh(s, 'spot'), attributes: ['x integer', 'y integer'] })
  s.sequences.push({ schema: 'one', name: fresh(s, 'counter'), increment: 1 })
  s.routines.push({ schema: 'one', name: fresh(s, 'touch'), kind: 'trigger', argument: '', body: 1, result: 'trigger' })
  s.routines.push({ schema: 'two', name: fresh(s, 'scale'), kind: 'plain', argument: 'integer', body: 2, result: 'integer' })
  for (let i = 0; i < 4 + g.below(3); i += 1) s.tables.push(newTable(s, g, i === 3))
  for (let i = 0; i < 26; i += 1) apply(s, g, g.pick(growing))
  return s
}

const valueFor = (s: Spec, type: string, i: number): string => {
  const e = s.enums.find((x) => at(x) === type)
  if (e) return `'${e.labels[0]}'`
  if (s.domains.some((d) => at(d) === type)) return String(i)
  const composite = s.composites.find((c) => at(c) === type)
  if (composite) return `ROW(${composite.attributes.map(() => i).join(', ')})`
  if (type === 'integer' || type === 'bigint') return String(i)
  if (type.startsWith('numeric')) return `${i}.25`
  if (type === 'boolean') return i % 2 ? 'true' : 'false'
  if (type === 'date') return `date '2025-01-01' + ${i}`
  if (type.startsWith('timestamp')) return `timestamp with time zone '2025-01-01 00:00+00' + interval '${i} hours'`
  if (type === 'uuid') return `'00000000-0000-0000-0000-${String(i).padStart(12, '0')}'`
  if (type === 'jsonb') return `'{"i":${i}}'`
  if (type === 'integer[]') return `ARRAY[${i}, ${i + 1}]`
  return `'v${i}'`
}

/** Half of the columns have nulls in them, and stay as they are in that. */
const holdsNull = (c: SpecColumn) => /[13579]$/.test(c.name)

/** INSERTs: a dozen rows a table, referring to each other by number. */
export function rowsOf(s: Spec): readonly string[] {
  const sql = ['SET session_replication_role = replica']
  for (const t of s.tables) {
    const columns = t.columns.filter((c) => c.generated === undefined)
    const values = Array.from({ length: rows }, (_, i) =>
      columns.map((c) => {
        if (c.name === 'at' && t.partitioned) return String((i * 17) % 200)
        if (t.references.some((r) => r.column === c.name)) return String(1 + ((i + 3) % rows))
        if (c.nullable && holdsNull(c) && i % 5 === 4 && !t.uniques.some((u) => u.columns.includes(c.name))) return 'NULL'
        return c.was === undefined || c.type !== 'text' ? valueFor(s, c.type, i + 1) : `(${valueFor(s, c.was, i + 1)})::text`
      }),
    )
    sql.push(
      `INSERT INTO ${at(t)} (${columns.map((c) => c.name).join(', ')}) OVERRIDING SYSTEM VALUE VALUES ${values.map((v) => `(${v.join(', ')})`).join(', ')}`,
    )
  }
  sql.push('SET session_replication_role = origin')
  for (const v of s.views) if (v.materialized) sql.push(`REFRESH MATERIALIZED VIEW ${at(v)}`)
  return sql
}

function tableSql(t: SpecTable): readonly string[] {
  const columns = t.columns.map((c) =>
    [
      c.name,
      c.type,
      c.generated === undefined ? '' : `GENERATED ALWAYS AS (${c.generated}) STORED`,
      c.identity ? 'GENERATED BY DEFAULT AS IDENTITY' : '',
      c.default === null ? '' : `DEFAULT ${c.default}`,
      c.nullable ? '' : 'NOT NULL',
    ]
      .filter((x) => x !== '')
      .join(' '),
  )
  const key = `CONSTRAINT ${t.keyName} PRIMARY KEY (${t.partitioned ? 'id, at' : 'id'})`
  return [
    `CREATE TABLE ${at(t)} (${[...columns, key].join(', ')})${t.partitioned ? ` PARTITION BY RANGE (${t.partitionedBy})` : ''}${t.options.length > 0 && !t.partitioned ? ` WITH (${t.options.join(', ')})` : ''}`,
    ...t.partitions.map((p) => `CREATE TABLE ${t.schema}.${p.name} PARTITION OF ${at(t)} FOR VALUES FROM (${p.from}) TO (${p.to})`),
    ...(t.comment === null ? [] : [`COMMENT ON TABLE ${at(t)} IS '${t.comment}'`]),
    ...t.columns.flatMap((c) => (c.comment ? [`COMMENT ON COLUMN ${at(t)}.${c.name} IS '${c.comment}'`] : [])),
    ...t.uniques.map((u) => `ALTER TABLE ${at(t)} ADD CONSTRAINT ${u.name} UNIQUE (${u.columns.join(', ')})${u.deferrable ? ' DEFERRABLE' : ''}`),
    ...t.checks.map((c) => `ALTER TABLE ${at(t)} ADD CONSTRAINT ${c.name} CHECK (${c.text})${c.valid ? '' : ' NOT VALID'}`),
    ...t.indexes.map((x) => `CREATE ${x.unique ? 'UNIQUE ' : ''}INDEX ${x.name} ON ${at(t)} ${x.text}`),
    ...t.statistics.map((x) => `CREATE STATISTICS ${t.schema}.${x.name} ON ${x.columns.join(', ')} FROM ${at(t)}`),
    ...t.policies.map((p) => `CREATE POLICY ${p.name} ON ${at(t)} USING (${p.column} IS NOT NULL)`),
  ]
}

export function printSpec(s: Spec): readonly string[] {
  return [
    ...s.schemas.map((n) => `CREATE SCHEMA ${n}`),
    ...s.enums.map((e) => `CREATE TYPE ${at(e)} AS ENUM (${e.labels.map((l) => `'${l}'`).join(', ')})`),
    ...s.domains.map((d) => `CREATE DOMAIN ${at(d)} AS ${d.type}${d.nullable ? '' : ' NOT NULL'} CONSTRAINT ${d.name}_check CHECK (${d.check})`),
    ...s.composites.map((c) => `CREATE TYPE ${at(c)} AS (${c.attributes.join(', ')})`),
    ...s.sequences.map((q) => `CREATE SEQUENCE ${at(q)} INCREMENT ${q.increment}`),
    ...s.routines.map((r) =>
      r.kind === 'trigger'
        ? `CREATE FUNCTION ${at(r)}() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN /* ${r.body} */ RETURN NEW; END'`
        : `CREATE FUNCTION ${at(r)}(n ${r.argument}) RETURNS ${r.result} LANGUAGE sql IMMUTABLE AS 'SELECT (n * ${r.body})::${r.result}'`,
    ),
    ...s.tables.flatMap(tableSql),
    ...s.tables.flatMap((t) =>
      t.references.map((r) => {
        const target = s.tables.find((x) => x.name === r.target) as SpecTable
        return `ALTER TABLE ${at(t)} ADD CONSTRAINT ${r.name} FOREIGN KEY (${r.column}) REFERENCES ${at(target)} (id)${r.onDelete === '' ? '' : ` ON DELETE ${r.onDelete}`}${r.deferrable ? ' DEFERRABLE' : ''}${r.valid || t.partitioned ? '' : ' NOT VALID'}`
      }),
    ),
    ...s.tables.flatMap((t) =>
      t.triggers.map((x) => {
        const routine = s.routines.find((r) => r.name === x.routine) as Spec['routines'][number]
        return `CREATE TRIGGER ${x.name} BEFORE UPDATE ON ${at(t)} FOR EACH ROW WHEN (OLD.${x.column} IS DISTINCT FROM NEW.${x.column}) EXECUTE FUNCTION ${at(routine)}()`
      }),
    ),
    ...s.views.flatMap((v) => {
      const of = v.view === null ? at(s.tables.find((t) => t.name === v.of) as SpecTable) : at(s.views.find((x) => x.name === v.view) as Spec['views'][number])
      return [
        `CREATE ${v.materialized ? 'MATERIALIZED ' : ''}VIEW ${at(v)} AS SELECT ${v.columns.join(', ')} FROM ${of} WHERE ${v.columns[0]} IS NOT NULL OR ${v.extra} > 0`,
        ...(v.materialized && v.indexed ? [`CREATE INDEX ${v.name}_idx ON ${at(v)} (${v.columns[0]})`] : []),
      ]
    }),
  ]
}

// ---- changes

/** Does anything but a view, index or constraint of its own need the column? */
const isFree = (s: Spec, t: SpecTable, c: SpecColumn) =>
  c.name !== 'id' &&
  c.name !== 'at' &&
  c.generated === undefined &&
  !t.columns.some((x) => x.generated?.includes(c.name)) &&
  !s.views.some((v) => v.view !== null && v.columns.includes(c.name))

/** Everything that names a column, taken out. */
function forget(s: Spec, t: SpecTable, c: string): void {
  const without = <T extends { columns: string[] }>(list: T[]) => list.filter((x) => !x.columns.includes(c))
  t.uniques = without(t.uniques)
  t.indexes = without(t.indexes)
  t.statistics = without(t.statistics)
  t.references = t.references.filter((r) => r.column !== c)
  t.checks = t.checks.filter((k) => k.column !== c)
  t.triggers = t.triggers.filter((x) => x.column !== c)
  t.policies = t.policies.filter((x) => x.column !== c)
  for (const v of s.views) if (v.of === t.name) v.columns = v.columns.filter((x) => x !== c)
}

/** The target is `on`: the table that a focused pair changes again and again. */
interface Act {
  readonly kind: string
  /** False where there is nothing to do it to. */
  readonly do: (s: Spec, g: G, on: SpecTable | null) => boolean
}

const act = (kind: string, of: Act['do']): Act => ({ kind, do: of })
const table = (s: Spec, g: G, on: SpecTable | null, ok: (t: SpecTable) => boolean = () => true): SpecTable | null => {
  if (on && s.tables.includes(on) && ok(on)) return on
  const list = s.tables.filter(ok)
  return list.length > 0 ? g.pick(list) : null
}
const column = (g: G, t: SpecTable | null, ok: (c: SpecColumn) => boolean): SpecColumn | null => {
  const list = t?.columns.filter(ok) ?? []
  return list.length > 0 ? g.pick(list) : null
}
const one = <T>(g: G, list: readonly T[]): T | null => (list.length > 0 ? g.pick(list) : null)
const onColumn = (kind: string, ok: (s: Spec, t: SpecTable, c: SpecColumn) => boolean, of: (s: Spec, g: G, t: SpecTable, c: SpecColumn) => void): Act =>
  act(kind, (s, g, on) => {
    const t = table(s, g, on, (x) => x.columns.some((c) => ok(s, x, c)))
    const c = column(g, t, (x) => ok(s, t as SpecTable, x))
    if (!t || !c) return false
    of(s, g, t, c)
    return true
  })
const dropOf = (kind: string, list: (t: SpecTable) => unknown[]): Act =>
  act(kind, (s, g, on) => {
    const t = table(s, g, on, (x) => list(x).length > 0)
    if (!t) return false
    list(t).splice(g.below(list(t).length), 1)
    return true
  })
const plain = (c: SpecColumn) => c.generated === undefined && !c.identity
const isUniqueOf = (s: Spec, t: SpecTable, c: string) =>
  uniqueTypes.has(typeOf(t, c)) &&
  t.columns.find((x) => x.name === c)?.was !== 'boolean' &&
  !t.references.some((r) => r.column === c) &&
  !s.enums.some((e) => at(e) === typeOf(t, c))

const retypes: Readonly<Record<string, readonly string[]>> = {
  integer: ['bigint', 'numeric(12,2)', 'text'],
  bigint: ['integer', 'numeric(12,2)'],
  'character varying(20)': ['character varying(40)', 'text', 'character varying(10)'],
  'character varying(40)': ['text', 'character varying(20)'],
  text: ['character varying(40)'],
  'numeric(10,2)': ['numeric(12,2)', 'text'],
  'numeric(12,2)': ['numeric(10,2)'],
  date: ['timestamp with time zone', 'text'],
  'timestamp with time zone': ['timestamp without time zone', 'text'],
  boolean: ['integer', 'text'],
  uuid: ['text'],
}

const addColumn = act('add column', (s, g, on) => {
  const t = table(s, g, on)
  if (!t) return false
  const c = newColumn(s, g)
  c.default = g.chance(0.5) ? defaultFor(s, g, c.type) : null
  c.nullable = c.default === null || g.chance(0.5)
  t.columns.push(c)
  return true
})
const addUnique = act('add unique', (s, g, on) => {
  const t = table(s, g, on, (x) => !x.partitioned)
  const c = column(g, t, (x) => t !== null && isUniqueOf(s, t, x.name) && plain(x))
  if (!t || !c) return false
  t.uniques.push({ name: fresh(s, 'u'), columns: [c.name], deferrable: g.chance(0.2) })
  return true
})
const addReference = act('add reference', (s, g, on) => {
  const t = table(s, g, on)
  const target = one(
    g,
    s.tables.filter((x) => !x.partitioned),
  )
  if (!t || !target) return false
  const c: SpecColumn = { name: fresh(s, 'ref'), type: 'integer', nullable: true, default: null }
  t.columns.push(c)
  t.references.push({
    name: fresh(s, 'fk'),
    column: c.name,
    target: target.name,
    onDelete: g.pick(['', 'CASCADE', 'SET NULL']),
    deferrable: g.chance(0.2),
    valid: g.chance(0.8),
  })
  return true
})
const addCheck = onColumn(
  'add check',
  (_, t, c) => (c.type === 'integer' || c.type.startsWith('character varying')) && c.name !== 'at' && !t.references.some((r) => r.column === c.name),
  (s, g, t, c) =>
    t.checks.push({
      name: fresh(s, 'k'),
      column: c.name,
      text:
        c.type === 'integer'
          ? `${c.name} > -${1 + g.below(9)}`
          : `${c.name} IN ('d0','d1','d2','d3','d4',${Array.from({ length: rows + 1 }, (_, i) => `'v${i}'`).join(',')})`,
      valid: t.partitioned || g.chance(0.8),
    }),
)
const addIndex = onColumn(
  'add index',
  (s, _, c) => c.type !== 'jsonb' && !s.composites.some((x) => at(x) === c.type),
  (s, g, t, c) => {
    const text = g.pick([`(${c.name})`, `(${c.name} DESC)`, `(${c.name}) WHERE id > 3`, `((${c.name}::text || 'x'))`, `(${c.name}) INCLUDE (id)`])
    // A text of a moment or an enumerated value depends on settings: no index is made of it.
    const steady = /^(integer|bigint|text|character varying)(?!.*\[)/.test(c.type)
    t.indexes.push({ name: fresh(s, 'i'), text: text.includes('::text') && !steady ? `(${c.name})` : text, columns: [c.name], unique: false })
  },
)
const addView = act('add view', (s, g, on) => {
  const t = table(s, g, on)
  if (!t) return false
  const below = g.chance(0.3)
    ? one(
        g,
        s.views.filter((v) => v.of === t.name && v.columns.length > 0),
      )
    : null
  const columns = below ? below.columns : ['id', ...t.columns.filter((c) => c.name !== 'id' && g.chance(0.5)).map((c) => c.name)]
  s.views.push({
    schema: g.pick(s.schemas),
    name: fresh(s, 'v'),
    of: t.name,
    columns: [...columns],
    materialized: g.chance(0.25),
    extra: g.below(5),
    view: below?.name ?? null,
    indexed: g.chance(0.5),
  })
  return true
})
const addTrigger = onColumn(
  'add trigger',
  (_, t, c) => !t.partitioned && c.generated === undefined,
  (s, _, t, c) =>
    t.triggers.push({ name: fresh(s, 'tr'), routine: (s.routines.find((r) => r.kind === 'trigger') as Spec['routines'][number]).name, column: c.name }),
)
const addPolicy = onColumn(
  'add policy',
  () => true,
  (s, _, t, c) => t.policies.push({ name: fresh(s, 'p'), column: c.name }),
)
const addStatistics = act('add statistics', (s, g, on) => {
  const t = table(s, g, on, (x) => x.columns.filter((c) => c.type === 'integer').length > 1 && !x.partitioned)
  if (!t) return false
  t.statistics.push({
    name: fresh(s, 'st'),
    columns: t.columns
      .filter((c) => c.type === 'integer')
      .slice(0, 2)
      .map((c) => c.name),
  })
  return true
})
const addGenerated = onColumn(
  'add generated column',
  (_, t, c) => c.type === 'integer' && plain(c) && !t.partitioned,
  (s, g, t, c) => {
    const scale = s.routines.find((r) => r.kind === 'plain') as Spec['routines'][number]
    const text = g.chance(0.5) && scale.argument === 'integer' ? `${at(scale)}(${c.name})` : `${c.name} + ${g.below(9)}`
    t.columns.push({
      name: fresh(s, 'gen'),
      type: scale.result === 'integer' || !text.includes('(') ? 'integer' : scale.result,
      nullable: true,
      default: null,
      generated: text,
    })
  },
)

/** What a first schema grows by. */
const growing: readonly Act[] = [
  addUnique,
  addReference,
  addCheck,
  addIndex,
  addIndex,
  addView,
  addView,
  addTrigger,
  addPolicy,
  addStatistics,
  addGenerated,
  addColumn,
]

export const acts: readonly Act[] = [
  ...new Set(growing),
  onColumn('drop column', isFree, (s, _, t, c) => {
    forget(s, t, c.name)
    t.columns = t.columns.filter((x) => x !== c)
  }),
  onColumn(
    'change type',
    (s, t, c) => plain(c) && isFree(s, t, c) && retypes[c.type] !== undefined && !t.references.some((r) => r.column === c.name),
    (s, g, t, c) => {
      c.was ??= c.type
      c.type = g.pick(retypes[c.type] as readonly string[])
      if (c.default !== null) c.default = defaultFor(s, g, c.type)
      const steady = /^(integer|bigint|text|character varying)/.test(c.type)
      t.checks = t.checks.filter((k) => k.column !== c.name)
      for (const x of t.indexes) if (x.columns.includes(c.name) && !steady) x.text = `(${c.name})`
      t.uniques = t.uniques.filter((u) => !u.columns.includes(c.name) || uniqueTypes.has(c.type))
    },
  ),
  onColumn(
    'text to enumerated type',
    (s, t, c) => c.type === 'boolean' && c.default === null && plain(c) && isFree(s, t, c) && t.checks.every((k) => k.column !== c.name),
    (s, _, t, c) => {
      const e = { schema: t.schema, name: fresh(s, 'yes_no'), labels: ['true', 'false'] }
      s.enums.push(e)
      c.type = at(e)
      t.uniques = t.uniques.filter((u) => !u.columns.includes(c.name))
      for (const x of t.indexes) if (x.columns.includes(c.name)) x.text = `(${c.name})`
    },
  ),
  onColumn(
    'change default',
    (s, t, c) =>
      plain(c) && defaultFor(s, generator(1), c.type) !== null && !t.references.some((r) => r.column === c.name) && c.name !== 'id' && c.name !== 'at',
    (s, g, _, c) => {
      c.default = c.default === null || g.chance(0.6) ? defaultFor(s, g, c.type) : null
    },
  ),
  onColumn(
    'change not null',
    (_, t, c) => plain(c) && !holdsNull(c) && c.name !== 'id' && c.name !== 'at' && !t.references.some((r) => r.column === c.name && r.onDelete === 'SET NULL'),
    (_s, _g, _t, c) => {
      c.nullable = !c.nullable
    },
  ),
  onColumn(
    'change comment',
    () => true,
    (s, _, t, c) => {
      c.comment = `says ${s.next}`
      t.comment = t.comment === null ? `table ${s.next}` : null
    },
  ),
  onColumn(
    'change identity',
    (_, t, c) => c.name === 'id' && !t.partitioned,
    (_s, _g, _t, c) => {
      c.identity = !c.identity
    },
  ),
  dropOf('drop unique', (t) => t.uniques),
  dropOf('drop reference', (t) => t.references),
  act('change reference', (s, g, on) => {
    const t = table(s, g, on, (x) => x.references.length > 0)
    const r = t && one(g, t.references)
    if (!t || !r) return false
    const what = g.below(3)
    if (what === 0) r.onDelete = r.onDelete === 'CASCADE' ? '' : 'CASCADE'
    else if (what === 1) r.deferrable = !r.deferrable
    else r.valid = !r.valid
    return true
  }),
  dropOf('drop check', (t) => t.checks),
  dropOf('drop index', (t) => t.indexes),
  act('change index', (s, g, on) => {
    const t = table(s, g, on, (x) => x.indexes.length > 0)
    const x = t && one(g, t.indexes)
    if (!x) return false
    x.text = `(${x.columns[0]}, id)`
    return true
  }),
  act('rename key or index', (s, g, on) => {
    const t = table(s, g, on)
    if (!t) return false
    t.keyName = fresh(s, 'pk')
    return true
  }),
  dropOf('drop trigger', (t) => t.triggers),
  dropOf('drop policy', (t) => t.policies),
  dropOf('drop statistics', (t) => t.statistics),
  act('change options', (s, g, on) => {
    const t = table(s, g, on, (x) => !x.partitioned)
    if (!t) return false
    t.options = t.options.length > 0 ? [] : [`fillfactor=${50 + g.below(50)}`]
    return true
  }),
  act('add table', (s, g) => {
    s.tables.push(newTable(s, g, g.chance(0.2)))
    return true
  }),
  act('add join table', (s, g) => {
    const [a, b] = [
      one(
        g,
        s.tables.filter((t) => !t.partitioned),
      ),
      one(
        g,
        s.tables.filter((t) => !t.partitioned),
      ),
    ]
    if (!a || !b) return false
    const t = { ...newTable(s, g, false), columns: [{ name: 'id', type: 'integer', nullable: false, default: null }] as SpecColumn[] }
    for (const [i, target] of [a, b].entries()) {
      t.columns.push({ name: `side_${i}`, type: 'integer', nullable: false, default: null })
      t.references.push({ name: fresh(s, 'fk'), column: `side_${i}`, target: target.name, onDelete: 'CASCADE', deferrable: false, valid: true })
    }
    s.tables.push(t)
    return true
  }),
  act('drop table', (s, g, on) => {
    const t = one(
      g,
      s.tables.filter((x) => x !== on && s.tables.length > 3),
    )
    if (!t) return false
    s.tables = s.tables.filter((x) => x !== t)
    s.views = s.views.filter((v) => v.of !== t.name)
    for (const x of s.tables) x.references = x.references.filter((r) => r.target !== t.name)
    return true
  }),
  act('add partition', (s, g, on) => {
    const t = table(s, g, on, (x) => x.partitioned)
    if (!t) return false
    const from = Math.max(...t.partitions.map((p) => p.to))
    t.partitions.push({ name: fresh(s, 'part'), from, to: from + 50 })
    return true
  }),
  act('partition otherwise', (s, g, on) => {
    const t = table(s, g, on, (x) => x.partitioned)
    if (!t) return false
    t.partitionedBy = t.partitionedBy === 'at' ? 'id' : 'at'
    return true
  }),
  act('partition a table', (s, g, on) => {
    const t = table(
      s,
      g,
      on,
      (x) =>
        !x.partitioned &&
        x.uniques.length + x.triggers.length + x.statistics.length === 0 &&
        !s.tables.some((o) => o.references.some((r) => r.target === x.name)),
    )
    if (!t) return false
    t.partitioned = true
    t.partitionedBy = 'id'
    t.columns.push({ name: 'at', type: 'integer', nullable: false, default: '0' })
    for (const c of t.columns) delete c.identity
    t.options = []
    t.partitions = [
      { name: `${t.name}_a`, from: 0, to: 100 },
      { name: `${t.name}_b`, from: 100, to: 300 },
    ]
    return true
  }),
  act('change view', (s, g) => {
    const v = one(g, s.views)
    if (!v) return false
    v.extra += 1
    return true
  }),
  act('drop view', (s, g) => {
    const v = one(
      g,
      s.views.filter((x) => !s.views.some((y) => y.view === x.name)),
    )
    if (!v) return false
    s.views = s.views.filter((x) => x !== v)
    return true
  }),
  act('add enumerated value', (s, g) => {
    const e = one(g, s.enums)
    if (!e) return false
    e.labels.splice(g.below(e.labels.length + 1), 0, fresh(s, 'label'))
    if (e.labels[0]?.startsWith('label')) e.labels.push(e.labels.shift() as string)
    return true
  }),
  act('remove enumerated value', (s, g) => {
    const e = one(
      g,
      s.enums.filter((x) => x.labels.length > 2),
    )
    if (!e) return false
    e.labels.pop()
    return true
  }),
  act('change domain', (s, g) => {
    const d = one(g, s.domains)
    if (!d) return false
    d.check = `VALUE >= -${1 + g.below(20)}`
    return true
  }),
  act('change composite', (s, g) => {
    const c = one(g, s.composites)
    if (!c) return false
    c.attributes.push(`${fresh(s, 'z')} text`)
    return true
  }),
  act('change sequence', (s, g) => {
    const q = one(g, s.sequences)
    if (!q) return false
    q.increment += 1
    return true
  }),
  act('change routine body', (s, g) => {
    const r = one(g, s.routines)
    if (!r) return false
    r.body += 1
    return true
  }),
  act('change routine result', (s) => {
    const r = s.routines.find((x) => x.kind === 'plain')
    if (!r) return false
    r.result = r.result === 'integer' ? 'bigint' : 'integer'
    for (const t of s.tables) for (const c of t.columns) if (c.generated?.includes(`${at(r)}(`)) c.type = r.result
    return true
  }),
  act('add schema', (s) => {
    s.schemas.push(fresh(s, 'sch'))
    return true
  }),
]

export function apply(s: Spec, g: G, a: Act, on: SpecTable | null = null): boolean {
  return a.do(s, g, on)
}

/** The second of a pair: several changes, a third of the time all on one table. */
export function changed(spec: Spec, seed: number): { readonly spec: Spec; readonly kinds: readonly string[]; readonly focused: boolean } {
  const g = generator(seed * 7919 + 13)
  const s = clone(spec)
  const focused = g.chance(0.45)
  const on = focused ? g.pick(s.tables) : null
  const kinds: string[] = []
  for (let i = 0; kinds.length < (focused ? 6 : 3 + g.below(6)) && i < 60; i += 1) {
    // Tables that are copied are few: they come more often than the others.
    const a = g.pick(g.chance(0.12) ? acts.filter((x) => x.kind.startsWith('partition')) : acts)
    if (apply(s, g, a, on)) kinds.push(a.kind)
  }
  return { spec: s, kinds, focused }
}
