// Serial columns that become identity columns, and the other way round: numbers go on from where they are.
import { type Catalog, type Column, emptyCatalog, type Relation, type RelationAddress, type Sequence, sortCatalog } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { freeName } from './freeName.ts'
import { partsApart, partsOf, relationKey } from './parts.ts'
import { isTaken } from './renames.ts'
import type { Change } from './step.ts'

/** A column whose numbers come from a sequence of its own, as a default before and as its identity after, or the other way round. */
interface Handover {
  readonly table: Relation
  readonly column: Column
  readonly now: Column
  readonly sequence: Sequence
  readonly identity: NonNullable<Column['identity']>
  readonly toIdentity: boolean
}

const nextOf = (s: RelationAddress): string => `nextval(${pg.quoteLiteral(pg.quoteAddress(s))}::regclass)`

/** The names of a sequence as a text has them: as the server writes it, and without its schema as people do. */
const namesOf = (s: RelationAddress): readonly string[] => [pg.quoteLiteral(pg.quoteAddress(s)), pg.quoteLiteral(pg.quoteIdent(s.name))]

/** Is it the plain default of a serial column? */
const counts = (c: Column, s: RelationAddress): boolean => {
  const text = c.default?.canonical ?? c.default?.written ?? ''
  return namesOf(s).some((name) => text === `nextval(${name}::regclass)` || text === `nextval(${name})`)
}

const ownerKey = (schema: string, table: string, column: string) => `${schema}\u0000${table}\u0000${column}`

/** What handovers are looked up in, made once for a catalog. */
interface Counting {
  readonly owned: ReadonlyMap<string, Sequence>
  readonly sequences: ReadonlySet<string>
  /** How often each text in quotes stands in the defaults of columns. */
  readonly named: ReadonlyMap<string, number>
}

function countingOf(c: Catalog): Counting {
  const named = new Map<string, number>()
  for (const r of c.relations)
    for (const x of r.columns) for (const [name] of (x.default?.written ?? '').matchAll(/'(?:[^']|'')*'/g)) named.set(name, (named.get(name) ?? 0) + 1)
  return {
    owned: new Map(c.sequences.flatMap((s) => (s.ownedBy ? [[ownerKey(s.ownedBy.schema, s.ownedBy.table, s.ownedBy.column), s] as const] : []))),
    sequences: new Set(c.sequences.map(relationKey)),
    named,
  }
}

function ownedOf(c: Counting, r: Relation, column: Column): Sequence | null {
  const s = c.owned.get(ownerKey(r.schema, r.name, column.name))
  return s && counts(column, s) ? s : null
}

function handover(from: Counting, to: Counting, was: Relation, x: Column, will: Relation, y: Column): Handover | null {
  if (x.identity === null && y.identity?.sequence) {
    const sequence = ownedOf(from, was, x)
    // A column that accepts null cannot be an identity column; a sequence that others count by as well stays one.
    if (!sequence || x.nullable || to.sequences.has(relationKey(sequence))) return null
    if (namesOf(sequence).reduce((n, name) => n + (from.named.get(name) ?? 0), 0) > 1) return null
    const identity = { ...y.identity, sequence: { schema: sequence.schema, name: sequence.name }, options: sequence.options, comment: sequence.comment }
    return { table: was, column: x, now: { ...x, default: null, identity }, sequence, identity, toIdentity: true }
  }
  const own = x.identity?.sequence
  if (!x.identity || !own || !x.identity.options || y.identity !== null || !ownedOf(to, will, y)) return null
  const ownedBy = { schema: was.schema, table: was.name, column: x.name }
  const sequence: Sequence = { ...own, options: x.identity.options, unlogged: was.unlogged, ownedBy, comment: x.identity.comment }
  const text = nextOf(sequence)
  return {
    table: was,
    column: x,
    now: { ...x, identity: null, default: { written: text, canonical: text } },
    sequence,
    identity: x.identity,
    toIdentity: false,
  }
}

/** The catalog with every column counting as it is to, and a step for each that changes. O(columns). */
export function handovers(start: Catalog, end: Catalog): { readonly catalog: Catalog; readonly changes: readonly Change[] } {
  const [from, to] = [countingOf(start), countingOf(end)]
  const wished = new Map(end.relations.map((r) => [relationKey(r), r]))
  const changes: Change[] = []
  const added: Sequence[] = []
  const gone = new Set<string>()
  const relations = start.relations.map((was) => {
    const will = wished.get(relationKey(was))
    if (!will || was.partitionOf || will.kind !== was.kind) return was
    let table: Relation = was
    for (const x of was.columns) {
      const y = will.columns.find((k) => k.name === x.name)
      const h = y ? handover(from, to, was, x, will, y) : null
      if (!h) continue
      const before = table
      table = { ...table, columns: table.columns.map((k) => (k.name === x.name ? h.now : k)) }
      if (h.toIdentity) gone.add(relationKey(h.sequence))
      else added.push(h.sequence)
      changes.push(handoverStep(start, h, before, table))
    }
    return table
  })
  if (changes.length === 0) return { catalog: start, changes }
  const sequences = [...start.sequences.filter((s) => !gone.has(relationKey(s))), ...added]
  return { catalog: sortCatalog({ ...start, relations, sequences }), changes }
}

/** The old one waits under a passing name until the new one has its position. */
function handoverStep(start: Catalog, h: Handover, before: Relation, after: Relation): Change {
  const table = pg.quoteAddress(h.table)
  const column = `${pg.alterTable(h.table, true)} ALTER COLUMN ${pg.quoteIdent(h.column.name)}`
  const name = pg.quoteAddress(h.sequence)
  const { schema } = h.sequence
  const passing = { schema, name: freeName(h.sequence.name, 'passing', (name) => isTaken(start, { schema, name })) }
  const waits = pg.quoteAddress(passing)
  const position = (to: string, from: string) => `SELECT pg_catalog.setval(${pg.quoteLiteral(to)}, last_value, is_called) FROM ${from};`
  const said = (comment: string | null) => (comment === null ? [] : [pg.setComment(`SEQUENCE ${name}`, comment)])
  const identityFrom = [
    `${column} DROP DEFAULT;`,
    `ALTER SEQUENCE ${name} OWNED BY NONE;`,
    `ALTER SEQUENCE ${name} RENAME TO ${pg.quoteIdent(passing.name)};`,
    `${column} ADD ${pg.identityClause(h.identity)};`,
    position(name, waits),
    `DROP SEQUENCE ${waits};`,
    ...said(h.identity.comment),
  ]
  const serialFrom = [
    ...pg.sequenceDdl({ ...h.sequence, ...passing, comment: null }).up,
    position(waits, name),
    `${column} DROP IDENTITY;`,
    `ALTER SEQUENCE ${waits} RENAME TO ${pg.quoteIdent(h.sequence.name)};`,
    ...pg.sequenceOwnerDdl(h.sequence).up,
    `${column} SET DEFAULT ${nextOf(h.sequence)};`,
    ...said(h.sequence.comment),
  ]
  // Only this table and its sequence are others afterwards.
  const alone = (relation: Relation, hasSequence: boolean) =>
    partsOf({ ...emptyCatalog('postgresql'), relations: [relation], sequences: hasSequence ? [h.sequence] : [] })
  return {
    key: '',
    phase: 'alter',
    rank: 0,
    kind: 'column',
    object: `column ${table}.${pg.quoteIdent(h.column.name)}`,
    says: `${h.toIdentity ? 'becomes an identity column' : 'counts by a sequence of its own'}; numbers go on from where they are`,
    up: { sql: h.toIdentity ? identityFrom : serialFrom, locks: [{ relation: table, mode: 'access exclusive' }], hazards: [] },
    down: h.toIdentity ? serialFrom : identityFrom,
    running: 'together',
    preChecks: [],
    probe: null,
    sets: partsApart(alone(before, h.toIdentity), alone(after, !h.toIdentity)),
  }
}
