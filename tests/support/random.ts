// Seeded random catalogs and schema scripts: the same seed gives the same text on every machine.
import type { Catalog, Column, ForeignKey, Relation } from '../../src/core/catalog/index.ts'
import { quoteAddress, quoteIdent } from '../../src/core/dialect/postgres/index.ts'
import { catalogOf, column, key, reference, table } from './catalogs.ts'

/** Mulberry32. */
export function generator(seed: number): {
  readonly below: (n: number) => number
  readonly pick: <T>(list: readonly T[]) => T
  readonly chance: (p: number) => boolean
} {
  let state = seed | 0
  const next = () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  const below = (n: number) => Math.floor(next() * n)
  return { below, pick: (list) => list[below(list.length)] as (typeof list)[number], chance: (p) => next() < p }
}

const words = [
  'hive',
  'queen',
  'keeper',
  'levy',
  'order',
  'user',
  'class',
  'child',
  'status',
  'leaf',
  'box',
  'address',
  'series',
  'group',
  'lot',
  'jar',
  'kind',
  'entry',
  'default',
  'constructor',
]

/** Tables with single and composite keys, references that may form knots, pure and laden join tables; names that clash when singular. */
export function randomCatalog(seed: number): Catalog {
  const g = generator(seed)
  const names = new Set<string>()
  while (names.size < 4 + g.below(14))
    names.add(g.chance(0.5) ? `${g.pick(words)}_${g.pick(words)}` : g.chance(0.3) ? `${g.pick(words)}s` : `${g.pick(words)}${g.below(9)}`)
  const bases = [...names].map((name) => (g.chance(0.2) ? table(name, ['a', 'b'], ['a', 'b']) : table(name, ['id'], ['id'])))
  const withReferences = bases.map((r): Relation => {
    const columns: Column[] = [...r.columns]
    const foreignKeys: ForeignKey[] = []
    for (let n = g.below(4); n > 0; n -= 1) {
      const target = g.pick(bases)
      const own = (target.primaryKey?.columns ?? []).map((c) => `${g.chance(0.3) ? `${g.pick(words)}_` : ''}${target.name}_${c}`)
      if (own.some((c) => columns.some((have) => have.name === c)) || own.length === 0) continue
      const nullable = g.chance(0.5)
      columns.push(...own.map((c) => column(c, { nullable })))
      foreignKeys.push(reference(`fk_${r.name}_${foreignKeys.length}`, own, target.name, target.primaryKey?.columns ?? []))
    }
    const uniques = foreignKeys.filter(() => g.chance(0.2)).map((f) => key(`u_${f.name}`, f.columns))
    return { ...r, columns, foreignKeys, uniques }
  })
  const joins = Array.from({ length: g.below(4) }, (_, i): Relation | null => {
    const [a, b] = [g.pick(bases), g.pick(bases)]
    const columns = [...(a.primaryKey?.columns ?? []).map((c) => `x_${c}`), ...(b.primaryKey?.columns ?? []).map((c) => `y_${c}`)]
    const nA = a.primaryKey?.columns.length ?? 0
    return table(`join_${i}`, g.chance(0.4) ? [...columns, 'weight'] : columns, columns, {
      foreignKeys: [
        reference(`j${i}_a`, columns.slice(0, nA), a.name, a.primaryKey?.columns ?? []),
        reference(`j${i}_b`, columns.slice(nA), b.name, b.primaryKey?.columns ?? []),
      ],
    })
  }).filter((r): r is Relation => r !== null)
  return catalogOf(...withReferences, ...joins)
}

/** The same catalog with its relations, keys and findings' sources in another order. */
export function shuffled<T>(list: readonly T[], seed: number): readonly T[] {
  const g = generator(seed)
  const copy = [...list]
  for (let i = copy.length - 1; i > 0; i -= 1) {
    const j = g.below(i + 1)
    ;[copy[i], copy[j]] = [copy[j] as T, copy[i] as T]
  }
  return copy
}

const oddNames = [
  'select',
  'User Name',
  'naïve',
  'Ünïcode',
  'a"b',
  "it's",
  'x.y',
  'table',
  'CamelCase',
  'trailing ',
  '日本',
  '1st',
  'percent%',
  '$money',
  'back\\slash',
]
const types = [
  'integer',
  'bigint',
  'smallint',
  'text',
  'character varying(20)',
  'numeric(10,2)',
  'boolean',
  'date',
  'timestamp with time zone',
  'timestamp(3) without time zone',
  'uuid',
  'jsonb',
  'bytea',
  'integer[]',
  'interval',
  'inet',
  'character(3)',
  'time without time zone',
  'double precision',
  'int4range',
  '"char"',
  'bit varying(5)',
]

/** A script with odd names and most of what a PostgreSQL schema can hold; it runs on an empty database. */
export function randomScript(seed: number): string {
  const g = generator(seed)
  const out: string[] = []
  const schemas = ['public', 'Second Schema', 'third']
  out.push('CREATE SCHEMA "Second Schema";', 'CREATE SCHEMA third;', `COMMENT ON SCHEMA third IS 'it''s the third';`)
  const enumeration = { schema: g.pick(schemas), name: 'mood of day' }
  out.push(`CREATE TYPE ${quoteAddress(enumeration)} AS ENUM ('good', 'it''s bad', '');`)
  const domain = { schema: g.pick(schemas), name: 'positive' }
  out.push(`CREATE DOMAIN ${quoteAddress(domain)} AS integer DEFAULT 1 NOT NULL CONSTRAINT "above zero" CHECK (VALUE > 0);`)
  out.push(
    `CREATE FUNCTION third.double_it(n integer) RETURNS integer LANGUAGE sql IMMUTABLE AS 'SELECT n * 2';`,
    `CREATE FUNCTION third.note() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END';`,
  )
  const tables: { schema: string; name: string; keyType: string }[] = []
  for (let i = 0; i < 8 + g.below(8); i += 1) {
    const t = {
      schema: g.pick(schemas),
      name: i < 6 ? g.pick(oddNames) + (i === 0 ? '' : i) : `table_${i}`,
      keyType: g.pick(['integer', 'bigint', 'text', 'uuid']),
    }
    tables.push(t)
    const identity = t.keyType === 'integer' && g.chance(0.5) ? ' GENERATED BY DEFAULT AS IDENTITY (START WITH 5 INCREMENT BY 2)' : ''
    const columns = [`"key" ${t.keyType}${identity} PRIMARY KEY`]
    for (let c = 0; c < 2 + g.below(6); c += 1) {
      const type = g.pick([...types, quoteAddress(enumeration), quoteAddress(domain)])
      const name = quoteIdent(`${g.pick(oddNames)}${c}`)
      columns.push(
        `${name} ${type}${g.chance(0.3) && !type.includes('positive') ? ' NOT NULL' : ''}${type === 'integer' && g.chance(0.5) ? ' DEFAULT third.double_it(21)' : type.startsWith('character varying') ? ` DEFAULT 'a' CHECK (${name} IN ('a', 'b''c', 'd'))` : ''}`,
      )
    }
    columns.push('amount numeric(8,2) DEFAULT 0', 'doubled numeric GENERATED ALWAYS AS (amount * 2) STORED', `parent ${t.keyType}`)
    out.push(`CREATE TABLE ${quoteAddress(t)} (\n  ${columns.join(',\n  ')}\n);`)
    out.push(`COMMENT ON COLUMN ${quoteAddress(t)}.amount IS 'how much; 100 %';`)
    if (g.chance(0.5)) out.push(`CREATE UNIQUE INDEX ${quoteIdent(`${i} idx`)} ON ${quoteAddress(t)} (amount DESC NULLS LAST, (doubled + 1)) WHERE amount > 0;`)
    if (g.chance(0.4))
      out.push(
        `CREATE TRIGGER ${quoteIdent(`note ${i}`)} BEFORE UPDATE ON ${quoteAddress(t)} FOR EACH ROW WHEN (OLD.amount IS DISTINCT FROM NEW.amount) EXECUTE FUNCTION third.note();`,
      )
    if (g.chance(0.3))
      out.push(
        `CREATE VIEW ${quoteAddress({ schema: t.schema, name: `view of ${i}` })} AS SELECT "key", amount FROM ${quoteAddress(t)} WHERE amount = ANY (ARRAY[1.5, 2]);`,
      )
  }
  // References in any direction, so that some tables refer to each other in a cycle.
  for (const [i, t] of tables.entries()) {
    const target = g.pick(tables.filter((o) => o.keyType === t.keyType))
    out.push(
      `ALTER TABLE ${quoteAddress(t)} ADD CONSTRAINT ${quoteIdent(`ref ${i}`)} FOREIGN KEY (parent) REFERENCES ${quoteAddress(target)} ("key")${g.chance(0.3) ? ' ON DELETE CASCADE' : ''}${g.chance(0.2) ? ' DEFERRABLE INITIALLY DEFERRED' : ''}${g.chance(0.2) ? ' NOT VALID' : ''};`,
    )
  }
  out.push(
    'CREATE TABLE third.parted (id integer NOT NULL, at date NOT NULL, CHECK (id > 0), PRIMARY KEY (id, at)) PARTITION BY RANGE (at);',
    `CREATE TABLE third.parted_a PARTITION OF third.parted FOR VALUES FROM ('2025-01-01') TO ('2026-01-01');`,
    'CREATE TABLE third.parted_rest PARTITION OF third.parted DEFAULT PARTITION BY HASH (id);',
    'CREATE TABLE third.parted_rest_0 PARTITION OF third.parted_rest FOR VALUES WITH (MODULUS 1, REMAINDER 0);',
    'CREATE INDEX parted_at ON third.parted (at);',
    'CREATE MATERIALIZED VIEW third.summary AS SELECT at, count(*) AS n FROM third.parted GROUP BY at;',
    'CREATE UNIQUE INDEX summary_key ON third.summary (at);',
  )
  return `${out.join('\n')}\n`
}
