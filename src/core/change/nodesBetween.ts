// From statuses to steps that wait to be ordered: each with its SQL both ways, where it runs, and what it sets in the catalog.
import type { Relation, RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Alteration, descendantsOf, type Running, validateCheck, validateReference } from './alterations.ts'
import { type Ground, withTable, wordsOf } from './needs.ts'
import { columnKey, type HangingPart, hangingKey, hangs, keyOf, type Part, type PartOf, relationKey, typeKey } from './parts.ts'
import type { Hazard, PreCheck, Probe, StepKind } from './plan.ts'
import { duplicateCheck, orphanCheck, refusedCheck } from './preChecks.ts'
import {
  addColumn,
  canBeConcurrent,
  drop,
  indexOf,
  indexProbe,
  isIndexOfPartitioned,
  make,
  makeConcurrently,
  makeTable,
  partText,
  stepKindOf,
  type Work,
  work,
} from './statements.ts'
import { inheritedPart, type Status, type Statuses, typeAside } from './status.ts'

/** A step to be ordered. */
export interface Change {
  /** The part it is about. */
  readonly key: string
  readonly phase: 'drop' | 'make' | 'alter' | 'aside' | 'forget'
  /** Of what is ready, the smallest comes first. */
  readonly rank: number
  readonly kind: StepKind
  readonly object: string
  readonly says: string
  readonly up: Work
  readonly down: readonly string[]
  readonly running: Running
  readonly preChecks: readonly PreCheck[]
  readonly probe: Probe
  readonly sets: readonly (readonly [string, Part | null])[]
}

/** In which order kinds are made where nothing forces another; what runs alone or outside of transactions comes after what runs together. */
const makeRank = {
  schema: 10,
  extension: 11,
  enum: 12,
  composite: 12,
  range: 12,
  domain: 12,
  object: 13,
  sequence: 14,
  routine: 15,
  table: 16,
  column: 17,
  default: 19,
  check: 20,
  'primary key': 21,
  unique: 21,
  view: 22,
  owner: 23,
  index: 24,
  'replica identity': 25,
  exclusion: 26,
  reference: 27,
  policy: 28,
  rule: 29,
  trigger: 30,
  unmodelled: 31,
} as const satisfies Record<Part['kind'], number>

/** What is only dropped goes last, rows above all, unless it is in the way. */
const lastDrops: Readonly<Partial<Record<Part['kind'], number>>> = {
  view: 70,
  index: 71,
  column: 72,
  table: 73,
  sequence: 74,
  routine: 75,
  object: 76,
  enum: 77,
  composite: 77,
  range: 77,
  domain: 77,
  extension: 78,
  schema: 79,
}

const lateRank: Readonly<Record<Running, number>> = { together: 0, outside: 40, alone: 45 }

export interface Making {
  readonly ga: Ground
  readonly gb: Ground
  readonly statuses: Statuses
  /** New tables whose defaults and checks are made later. */
  readonly deferred: ReadonlySet<string>
  /** Parts that columns were given before they were the ones of `ga`: those of types set aside. */
  readonly added: ReadonlyMap<string, number>
}

const statusOf = (m: Making, key: string): Status | undefined => m.statuses.of.get(key)
const isNew = (m: Making, a: RelationAddress) => statusOf(m, relationKey(a))?.what === 'make'
const isGone = (m: Making, a: RelationAddress) => statusOf(m, relationKey(a))?.what === 'drop'

/** Is this part made, or dropped, along with the relation it hangs on? */
function absorbed(p: Part, m: Making, phase: 'make' | 'drop'): boolean {
  if (!hangs(p)) return false
  if (phase === 'drop') return isGone(m, p.on) && p.kind !== 'reference'
  if (isNew(m, p.on)) return withTable(p) && !(m.deferred.has(relationKey(p.on)) && (p.kind === 'default' || p.kind === 'check'))
  // A default comes with its column.
  return p.kind === 'default' && madeNow(m, columnKey(p.on, p.value.column)) && statusOf(m, keyOf(p))?.what !== 'same'
}

const madeNow = (m: Making, key: string) => ['make', 'anew'].includes(statusOf(m, key)?.what ?? '')
const droppedNow = (m: Making, key: string) => ['drop', 'anew'].includes(statusOf(m, key)?.what ?? '')

const targetOf = (p: PartOf<'reference'>): RelationAddress => ({ schema: p.value.target.schema, name: p.value.target.table })

/** Can rows be asked about these columns before the plan runs? Not where it makes them or gives them another type. */
function canAsk(m: Making, on: RelationAddress, columns: readonly string[]): boolean {
  if (isNew(m, on)) return false
  return columns.every((c) => {
    const [a, b] = [m.ga.parts.get(columnKey(on, c)), m.gb.parts.get(columnKey(on, c))]
    return a?.kind === 'column' && b?.kind === 'column' && a.value.type === b.value.type && !madeNow(m, columnKey(on, c))
  })
}

const unasked = (p: Part, m: Making, on: RelationAddress): readonly Hazard[] =>
  isNew(m, on)
    ? []
    : [
        {
          code: 'fails-on-rows',
          object: partText(p),
          what: 'it is about a column that the plan itself makes or changes, so its rows cannot be looked at beforehand',
        },
      ]

/** All steps, unordered. */
export function changes(m: Making): readonly Change[] {
  const list: Change[] = []
  for (const [key, s] of m.statuses.of) {
    const a = m.ga.parts.get(key)
    const b = m.gb.parts.get(key)
    if (m.statuses.aside.has(key)) list.push(...turnedOver(key, m))
    else if (
      (s.what === 'drop' || s.what === 'anew') &&
      a &&
      !absorbed(a, m, 'drop') &&
      !(a.kind === 'default' && droppedNow(m, columnKey(a.on, a.value.column)))
    )
      list.push(...dropping(a, s, m))
    if (m.statuses.aside.has(key) || !b) continue
    if ((s.what === 'make' || s.what === 'anew') && !absorbed(b, m, 'make')) list.push(...making(b, s, m))
    if (s.what === 'alter') list.push(...altering(b, s.by))
  }
  return list.filter((c) => c.up.sql.length > 0 || c.sets.length > 0)
}

const change = (
  p: Part,
  phase: Change['phase'],
  rank: number,
  says: string,
  up: Work,
  down: readonly string[],
  sets: Change['sets'],
  more: Partial<Change> = {},
): Change => ({
  key: keyOf(p),
  phase,
  kind: stepKindOf[p.kind],
  object: partText(p),
  says,
  up,
  down,
  running: 'together',
  preChecks: [],
  probe: null,
  sets,
  ...more,
  rank: rank + lateRank[more.running ?? 'together'],
})

const because = (s: Status) => (s.what === 'anew' ? `: ${s.because}` : '')
const anewHazard = (p: Part, s: Status): readonly Hazard[] =>
  s.what === 'anew' && (p.kind === 'view' || p.kind === 'routine' || p.kind === 'sequence')
    ? [{ code: 'made-anew', object: partText(p), because: s.because }]
    : []

// ---- dropping

/** All parts that hang on a relation, by key. */
export const hangingOn = (g: Ground, a: RelationAddress): readonly HangingPart[] => {
  const r = g.relation(a)
  if (!r) return []
  const keys = [
    ...r.columns.flatMap((c) => [columnKey(a, c.name), hangingKey('default', a, c.name)]),
    hangingKey('primary key', a, ''),
    hangingKey('replica identity', a, ''),
    ...(['unique', 'check', 'index', 'exclusion', 'reference', 'policy', 'rule', 'trigger'] as const).flatMap((kind) =>
      listOf(r, kind).map((x) => hangingKey(kind, a, x.name)),
    ),
  ]
  return keys.flatMap((k) => {
    const p = g.parts.get(k)
    return p && hangs(p) ? [p] : []
  })
}

function listOf(
  r: Relation,
  kind: 'unique' | 'check' | 'index' | 'exclusion' | 'reference' | 'policy' | 'rule' | 'trigger',
): readonly { readonly name: string }[] {
  const lists = {
    unique: r.uniques,
    check: r.checks,
    index: r.indexes,
    exclusion: r.exclusions,
    reference: r.foreignKeys,
    policy: r.policies,
    rule: r.rules,
    trigger: r.triggers,
  }
  return lists[kind]
}

/** A partition as a table of its own, before it is attached. */
const detached = (r: Relation): Relation => ({
  ...r,
  kind: r.foreign ? 'foreign table' : r.partitionKey === null ? 'table' : 'partitioned table',
  partitionOf: null,
})

/** Statements that bring a dropped relation back with all that hung on it; rows stay lost. A partition is attached when it has its indexes. */
function bringBack(p: PartOf<'table'> | PartOf<'view'>, g: Ground): readonly string[] {
  const rest = hangingOn(g, p.value).filter((h) => !withTable(h) && h.kind !== 'reference' && !(h.kind === 'column' || h.kind === 'default'))
  if (p.kind === 'view') return [...make(p, g).sql, ...rest.flatMap((h) => make(h, g).sql)]
  const r = g.relation(p.value) as Relation
  const loose = rest.map((h) => (h.kind === 'index' ? { ...h, value: { ...h.value, attachedTo: null } } : h))
  return [...makeTable(detached(r), g, false).sql, ...loose.flatMap((h) => make(h, g).sql), ...(r.partitionOf ? pg.attachPartition(r) : [])]
}

function dropping(a: Part, s: Status, m: Making): readonly Change[] {
  const { ga } = m
  const pure = s.what === 'drop'
  const rank = pure ? (lastDrops[a.kind] ?? 1) : 1
  const done = drop(a, ga)
  const says = pure ? 'is dropped' : `is dropped and made again${because(s)}`
  const up = { ...done, hazards: [...done.hazards, ...anewHazard(a, s)] }
  const gone = [keyOf(a), null] as const
  if (a.kind === 'table' || a.kind === 'view') {
    const with_ = pure ? hangingOn(ga, a.value).filter((h) => h.kind !== 'reference' || statusOf(m, keyOf(h))?.what === 'carried') : []
    return [change(a, 'drop', rank, says, up, pure ? bringBack(a, ga) : make(a, ga).sql, [gone, ...with_.map((h) => [keyOf(h), null] as const)])]
  }
  if (a.kind === 'column') return [dropColumn(a, up, says, rank, m)]
  if (a.kind === 'check') return [change(a, 'drop', rank, says, up, make(a, ga).sql, [gone, ...carriedBy(keyOf(a), m)])]
  if (a.kind === 'reference' && pure && isGone(m, targetOf(a)) && !isGone(m, a.on)) {
    // What it was checked against is gone: on the way back no row would pass.
    const loosely = ga.relation(a.on)?.partitionKey === null ? make({ ...a, value: { ...a.value, validated: false } }, ga).sql : []
    const hazard: Hazard = {
      code: 'no-way-back',
      object: partText(a),
      because: 'the rows it refers to are dropped, so that it cannot come back as a checked one',
    }
    return [change(a, 'drop', rank, says, { ...up, hazards: [...up.hazards, hazard] }, loosely, [gone])]
  }
  if (a.kind === 'index' || a.kind === 'unique' || a.kind === 'primary key') return [dropIndexed(a, up, says, rank, pure, m)]
  return [change(a, 'drop', rank, says, up, make(a, ga).sql, [gone])]
}

/** Parts of partitions and children that go along. */
const carriedBy = (key: string, m: Making): Change['sets'] =>
  [...m.statuses.of].flatMap(([k, s]) => (s.what === 'carried' && s.by === key && !m.gb.parts.has(k) ? [[k, null] as const] : []))

function dropColumn(a: PartOf<'column'>, up: Work, says: string, rank: number, m: Making): Change {
  const r = m.ga.relation(a.on) as Relation
  const default_ = m.ga.parts.get(hangingKey('default', a.on, a.value.name)) as PartOf<'default'> | undefined
  // Its rows cannot get back what a required column needs.
  const emptied = !a.value.nullable && !default_ && !a.value.generated && !a.value.identity
  const back = addColumn(emptied ? { ...a, value: { ...a.value, nullable: true } } : a, r, default_ ?? null)
  const hazards: readonly Hazard[] = emptied
    ? [{ code: 'no-way-back', object: partText(a), because: 'on the way back it comes empty, and so accepts null' }]
    : []
  const gone = (k: string) => [k, null] as const
  const children = descendantsOf(a.on, m.ga).flatMap((c) => [columnKey(c, a.value.name), hangingKey('default', c, a.value.name)])
  return change(
    a,
    'drop',
    rank,
    says,
    { ...up, hazards: [...up.hazards, ...hazards] },
    back.sql,
    [keyOf(a), hangingKey('default', a.on, a.value.name), ...children.filter((k) => droppedNow(m, k) || statusOf(m, k)?.what === 'carried')].map(gone),
  )
}

function dropIndexed(a: PartOf<'index'> | PartOf<'unique'> | PartOf<'primary key'>, up: Work, says: string, rank: number, pure: boolean, m: Making): Change {
  const { ga } = m
  const r = ga.relation(a.on) as Relation
  // Those of partitions that were attached to it are dropped with it.
  const children = r.partitionKey === null ? [] : attachedTo(a, ga)
  const sets: Change['sets'] = [[keyOf(a), null], ...children.map((c) => [keyOf(c), null] as const)]
  const back = [
    ...children.flatMap((c) => make({ ...c, value: { ...c.value, attachedTo: null } } as Part, ga).sql),
    ...make(a, ga).sql,
    ...attachAll(a, children),
  ]
  if (a.kind !== 'index' || !pure || !canBeConcurrent(a, ga) || isGone(m, a.on) || a.value.attachedTo !== null)
    return change(a, 'drop', rank, says, up, back, sets)
  const name = { schema: a.on.schema, name: a.value.name }
  return change(
    a,
    'drop',
    rank,
    says,
    work([`DROP INDEX CONCURRENTLY ${pg.quoteAddress(name)};`], [{ relation: pg.quoteAddress(a.on), mode: 'share update exclusive' }]),
    makeConcurrently(a, ga).sql,
    sets,
    { running: 'outside', probe: gone(name) },
  )
}

const gone = (a: RelationAddress) => `select case when pg_catalog.to_regclass(${pg.quoteLiteral(pg.quoteAddress(a))}) is null then 'done' else 'not done' end`

type Indexed = PartOf<'index'> | PartOf<'unique'> | PartOf<'primary key'>

/** The same of partitions, one level down, and theirs in turn. */
function attachedTo(p: Indexed, g: Ground): readonly Indexed[] {
  return g.childrenOf(p.on).flatMap((r) => {
    const own = hangingOn(g, r).filter((h): h is Indexed => h.kind === p.kind && (h as Indexed).value.attachedTo === p.value.name)
    return own.flatMap((c) => [...attachedTo(c, g), c])
  })
}

/** Indexes are attached by a command of their own; keys are found and taken by ADD CONSTRAINT itself. */
const attachAll = (p: Indexed, children: readonly Indexed[]): readonly string[] =>
  p.kind !== 'index'
    ? []
    : children
        .filter((c) => c.value.attachedTo === p.value.name)
        .map(
          (c) =>
            `ALTER INDEX ${pg.quoteAddress({ schema: p.on.schema, name: p.value.name })} ATTACH PARTITION ${pg.quoteAddress({ schema: c.on.schema, name: c.value.name })};`,
        )

// ---- making

function making(b: Part, s: Status, m: Making): readonly Change[] {
  const { gb } = m
  const says = s.what === 'anew' ? 'is made again' : 'is made'
  const rank = makeRank[b.kind]
  const own = [keyOf(b), b] as const
  const plain = (p: Part = b) => {
    const up = make(p, gb)
    return change(p, 'make', rank, says, up, drop(p, gb).sql, [[keyOf(p), p]])
  }
  switch (b.kind) {
    case 'table':
      return newTable(b, m)
    case 'view':
      return [change(b, 'make', rank, says, make(b, gb), drop(b, gb).sql, [own])]
    case 'column':
      return [newColumn(b, says, m)]
    case 'check':
      return newCheck(b, says, m)
    case 'reference':
      return newReference(b, says, m)
    case 'index':
      return newIndex(b, says, m)
    case 'unique':
    case 'primary key':
      return newKey(b, says, m)
    default:
      return [plain()]
  }
}

/** A partition of a table that is there already is attached once it has what the table's other partitions have. */
const attachesLater = (b: PartOf<'table'>) => b.value.partitionOf !== null

function newTable(b: PartOf<'table'>, m: Making): readonly Change[] {
  const { gb } = m
  const r = gb.relation(b.value) as Relation
  const later = m.deferred.has(relationKey(b.value))
  const on = { schema: r.schema, name: r.name }
  const inside = hangingOn(gb, on).filter((h) => absorbed(h, m, 'make'))
  if (!attachesLater(b)) {
    const up = makeTable(r, gb, later)
    return [change(b, 'make', makeRank.table, 'is made', up, [pg.dropRelation(r)], [[keyOf(b), b], ...inside.map((h) => [keyOf(h), h] as const)])]
  }
  const free = detached(r)
  const loose = inside.map((h): HangingPart => {
    if (h.kind === 'primary key' || h.kind === 'unique') return { ...h, value: { ...h.value, attachedTo: null } }
    if (h.kind === 'check') return { ...h, value: { ...h.value, inherited: false } }
    return h
  })
  const shell: PartOf<'table'> = { kind: 'table', value: { ...b.value, kind: free.kind, partitionOf: null } }
  const indexes = hangingOn(gb, on).filter((h): h is PartOf<'index'> => h.kind === 'index')
  const parent = (r.partitionOf as NonNullable<Relation['partitionOf']>).parent
  const attached: Change['sets'] = [
    [keyOf(b), b],
    ...inside.map((h) => [keyOf(h), h] as const),
    ...(isNew(m, parent) ? [] : indexes.map((h) => [keyOf(h), h] as const)),
  ]
  return [
    change(
      b,
      'make',
      makeRank.table,
      'is made',
      makeTable(free, gb, later),
      [pg.dropRelation(free)],
      [[keyOf(b), shell], ...loose.map((h) => [keyOf(h), h] as const)],
    ),
    change(
      b,
      'make',
      makeRank.index + 0.5,
      `becomes a partition of ${pg.quoteAddress(parent)}`,
      work(pg.attachPartition(r), [
        { relation: pg.quoteAddress(parent), mode: 'share update exclusive' },
        { relation: pg.quoteAddress(r), mode: 'access exclusive' },
      ]),
      [`${pg.alterTable(parent, true)} DETACH PARTITION ${pg.quoteAddress(r)};`],
      attached,
    ),
  ]
}

/** Columns stand where ADD COLUMN puts them: behind the others, in the order of the steps. */
function newColumn(b: PartOf<'column'>, says: string, m: Making): Change {
  const r = m.gb.relation(b.on) as Relation
  const default_ = m.gb.parts.get(hangingKey('default', b.on, b.value.name)) as PartOf<'default'> | undefined
  const place = (m.added.get(keyOf(b)) ?? 0) + 100_000
  const own = { ...b, place }
  const up = addColumn(own, r, default_ ?? null)
  const required = !b.value.nullable && !default_ && !b.value.identity && !b.value.generated
  const children = descendantsOf(b.on, m.gb).flatMap((c) => {
    const on = { schema: c.schema, name: c.name }
    const key = columnKey(on, b.value.name)
    const got = ['carried', 'alter'].includes(statusOf(m, key)?.what ?? '') && !m.ga.parts.has(key)
    const again = statusOf(m, key)?.what === 'carried' && madeNow(m, keyOf(b))
    if (!got && !again) return []
    return [
      [key, inheritedPart(own, on, c.partitionOf !== null, place)] as const,
      ...(default_ ? [[hangingKey('default', on, b.value.name), { ...default_, on }] as const] : []),
    ]
  })
  const hazards: readonly Hazard[] = required
    ? [{ code: 'fails-on-rows', object: partText(b), what: 'it is required and has no default: rows that are there have no value for it' }]
    : []
  const check: readonly PreCheck[] = required
    ? [
        {
          id: `rows ${partText(b)}`,
          asks: `Is ${pg.quoteAddress(b.on)} empty? A required column without a default cannot be added otherwise.`,
          count: `select pg_catalog.count(*) from (select from ${pg.quoteAddress(b.on)} limit 1) t`,
          sample: `select * from ${pg.quoteAddress(b.on)} limit 0`,
          cleaning: null,
          cleaningSays: null,
        },
      ]
    : []
  return change(
    b,
    'make',
    makeRank.column,
    says,
    { ...up, hazards: [...up.hazards, ...hazards] },
    drop(b, m.gb).sql,
    [[keyOf(b), own], ...(default_ ? [[keyOf(default_), default_] as const] : []), ...children],
    { preChecks: check },
  )
}

function newCheck(b: PartOf<'check'>, says: string, m: Making): readonly Change[] {
  const { gb } = m
  const reached = (validated: boolean): Change['sets'] =>
    b.value.inheritable
      ? descendantsOf(b.on, gb).flatMap((r) => {
          const on = { schema: r.schema, name: r.name }
          const key = hangingKey('check', on, b.value.name)
          const own = gb.parts.get(key)
          return own?.kind === 'check' && own.value.inherited && !isNew(m, on)
            ? [[key, inheritedPart({ ...b, value: { ...b.value, validated } }, on, false, 0)] as const]
            : []
        })
      : []
  const down = drop(b, gb).sql
  const words = wordsOf(b.value.expression.written)
  const asked = canAsk(
    m,
    b.on,
    (gb.relation(b.on)?.columns ?? []).filter((c) => words.has(c.name)).map((c) => c.name),
  )
  const checks = b.value.validated && asked ? [refusedCheck(b, gb)] : []
  const told = (up: Work): Work => (asked || !b.value.validated ? up : { ...up, hazards: [...up.hazards, ...unasked(b, m, b.on)] })
  if (!b.value.validated || isNew(m, b.on) || gb.relation(b.on)?.foreign)
    return [change(b, 'make', makeRank.check, says, told(make(b, gb)), down, [[keyOf(b), b], ...reached(b.value.validated)], { preChecks: checks })]
  const loose: PartOf<'check'> = { ...b, value: { ...b.value, validated: false } }
  const validate = validateCheck(b, gb)
  return [
    change(b, 'make', makeRank.check, `${says}, for rows from now on`, told(make(loose, gb)), down, [[keyOf(b), loose], ...reached(false)], {
      preChecks: checks,
    }),
    fromAlteration(b, { ...validate, sets: [[keyOf(b), b], ...reached(true)] }, 'make', makeRank.check),
  ]
}

function newReference(b: PartOf<'reference'>, says: string, m: Making): readonly Change[] {
  const { gb } = m
  const r = gb.relation(b.on) as Relation
  const down = drop(b, gb).sql
  const rows = !isNew(m, b.on)
  const target = targetOf(b)
  const asked = canAsk(m, b.on, b.value.columns) && (isNew(m, target) || canAsk(m, target, b.value.target.columns))
  const check = b.value.validated && asked ? [orphanCheck(b, gb, isNew(m, target))] : []
  const untold = b.value.validated && !asked && !b.value.columns.some((c) => madeNow(m, columnKey(b.on, c))) ? unasked(b, m, b.on) : []
  const made: PartOf<'reference'> = { ...b, value: { ...b.value, enforced: true } }
  if (!b.value.validated || !rows || r.partitionKey !== null || r.foreign) {
    const up = make(b, gb)
    const hazards: readonly Hazard[] =
      rows && r.partitionKey !== null
        ? [
            {
              code: 'reads-all',
              object: pg.quoteAddress(r),
              because: 'a partitioned table takes no reference that is checked later: both tables wait for writers until every row is looked up',
            },
          ]
        : []
    return [
      change(b, 'make', makeRank.reference, says, { ...up, hazards: [...up.hazards, ...hazards, ...untold] }, down, [[keyOf(b), made]], { preChecks: check }),
    ]
  }
  const loose: PartOf<'reference'> = { ...made, value: { ...made.value, validated: false } }
  return [
    change(b, 'make', makeRank.reference, `${says}, for rows from now on`, make(loose, gb), down, [[keyOf(b), loose]], { preChecks: check }),
    fromAlteration(b, validateReference(made), 'make', makeRank.reference),
  ]
}

function newIndex(b: PartOf<'index'>, says: string, m: Making): readonly Change[] {
  const { gb } = m
  const { value: x, on } = b
  const rank = makeRank.index
  const duplicates =
    x.unique &&
    x.columns.every((c) => c.column !== null) &&
    canAsk(
      m,
      on,
      x.columns.map((c) => c.column as string),
    )
      ? [
          duplicateCheck(
            on,
            x.name,
            x.columns.map((c) => c.column as string),
            { where: x.predicate?.written ?? null, nulls: x.nullsNotDistinct },
          ),
        ]
      : []
  const made: PartOf<'index'> = { ...b, value: { ...x, valid: true } }
  if (isIndexOfPartitioned(b, gb)) {
    const children = attachedTo(b, gb).filter((c) => c.value.attachedTo === x.name)
    const up = make(made, gb)
    const sql = [...up.sql.slice(0, 1), ...attachAll(b, children), ...up.sql.slice(1)]
    const sets: Change['sets'] = [[keyOf(b), made], ...children.map((c) => [keyOf(c), c] as const)]
    return [
      change(b, 'make', rank + 0.4, says, work(sql, [{ relation: pg.quoteAddress(on), mode: 'share' }]), drop(b, gb).sql, sets, { preChecks: duplicates }),
    ]
  }
  // On a partition it is made free, and attached with the index of the partitioned table, unless that one is there already.
  const parentThere = x.attachedTo !== null && parentIndexStays(b, m) && !isNew(m, on)
  const loose: PartOf<'index'> = { ...made, value: { ...made.value, attachedTo: parentThere ? x.attachedTo : null } }
  // One that its parent's index takes is dropped with that one.
  const goesAlong = x.attachedTo !== null && !parentIndexStays(b, m)
  if (isNew(m, on) || !canBeConcurrent(b, gb) || (gb.relation(on)?.kind === 'materialized view' && madeNow(m, relationKey(on))))
    return [change(b, 'make', rank, says, make(loose, gb), goesAlong ? [] : drop(b, gb).sql, [[keyOf(b), loose]], { preChecks: duplicates })]
  const up = makeConcurrently(loose, gb)
  const name = { schema: on.schema, name: x.name }
  return [
    change(b, 'make', rank, says, up, goesAlong ? [] : [`DROP INDEX CONCURRENTLY ${pg.quoteAddress(name)};`], [[keyOf(b), loose]], {
      running: 'outside',
      probe: indexProbe(on.schema, x.name),
      preChecks: duplicates,
    }),
  ]
}

function parentIndexStays(b: PartOf<'index'>, m: Making): boolean {
  const parent = m.gb.relation(b.on)?.partitionOf?.parent
  if (!parent) return false
  const what = statusOf(m, hangingKey('index', parent, b.value.attachedTo ?? ''))?.what
  return what === 'same' || what === 'alter'
}

function newKey(b: PartOf<'unique'> | PartOf<'primary key'>, says: string, m: Making): readonly Change[] {
  const { gb } = m
  const { value: k, on } = b
  const r = gb.relation(on) as Relation
  const rank = makeRank[b.kind]
  const word = b.kind === 'primary key' ? 'PRIMARY KEY' : 'UNIQUE'
  const checks = !canAsk(m, on, k.columns) ? [] : [duplicateCheck(on, k.name, k.columns, { where: null, nulls: k.nullsNotDistinct })]
  const children = r.partitionKey === null ? [] : attachedTo(b, gb).filter((c) => c.value.attachedTo === k.name)
  const loose = { ...b, value: { ...k, attachedTo: null } } as typeof b
  const sets: Change['sets'] = [[keyOf(b), loose], ...children.map((c) => [keyOf(c), c] as const)]
  const down = drop(b, gb).sql
  if (isNew(m, on) || r.partitionKey !== null || r.foreign)
    return [change(b, 'make', rank + (r.partitionKey === null ? 0 : 0.5), says, make(loose, gb), down, sets, { preChecks: checks })]
  const index: PartOf<'index'> = { kind: 'index', on, value: indexOf(k, true) }
  const name = { schema: on.schema, name: k.name }
  return [
    change(
      index,
      'make',
      rank,
      `its index is built while others read and write`,
      makeConcurrently(index, gb),
      [`DROP INDEX CONCURRENTLY IF EXISTS ${pg.quoteAddress(name)};`],
      [[keyOf(index), index]],
      {
        key: keyOf(b),
        object: partText(b),
        running: 'outside',
        probe: indexProbe(on.schema, k.name),
        preChecks: checks,
      },
    ),
    change(
      b,
      'make',
      rank + lateRank.outside,
      says,
      work(
        [
          `${pg.alterTable(on)} ADD CONSTRAINT ${pg.quoteIdent(k.name)} ${word} USING INDEX ${pg.quoteIdent(k.name)}${pg.deferrableWords[k.deferrable]};`,
          ...(k.clustered ? [`${pg.alterTable(on)} CLUSTER ON ${pg.quoteIdent(k.name)};`] : []),
          ...(k.comment === null ? [] : [pg.setComment(`CONSTRAINT ${pg.quoteIdent(k.name)} ON ${pg.quoteAddress(on)}`, k.comment)]),
          ...(k.indexComment === null ? [] : [pg.setComment(`INDEX ${pg.quoteAddress(name)}`, k.indexComment)]),
        ],
        [{ relation: pg.quoteAddress(on), mode: 'access exclusive' }],
      ),
      down,
      [[keyOf(index), null], ...sets],
    ),
  ]
}

// ---- changing in place

const fromAlteration = (p: Part, x: Alteration, phase: 'alter' | 'make', rank: number): Change =>
  change(p, phase, rank, x.says, x.up, x.down, x.sets, { kind: x.kind, running: x.running, preChecks: x.preChecks })

function altering(b: Part, by: readonly Alteration[]): readonly Change[] {
  let rank = makeRank[b.kind] + (b.kind === 'column' ? 1 : 0)
  // A value is there once its step is committed: before all that may use it.
  if (b.kind === 'enum') rank = 5 - lateRank.alone
  let late = 0
  return by
    .filter((x) => x.up.sql.length > 0)
    .map((x) => {
      const c = fromAlteration(b, x, 'alter', rank + (x.running === 'together' ? late : 0))
      // What follows a step of its own stays behind it.
      late = Math.max(late, lateRank[x.running] + (x.running === 'together' ? 0 : 1))
      if (b.kind === 'enum') late = 0
      return c
    })
}

// ---- types made anew while columns have them

/** Set aside under another name, made, and forgotten once no column has the old one. */
function turnedOver(key: string, m: Making): readonly Change[] {
  const a = m.ga.parts.get(key) as PartOf<'enum' | 'domain' | 'composite' | 'range'>
  const b = m.gb.parts.get(key) as PartOf<'enum' | 'domain' | 'composite' | 'range'>
  const name = m.statuses.aside.get(key) as RelationAddress
  const was = { ...a, value: { ...a.value, name: name.name } } as typeof a
  const word = a.kind === 'domain' ? 'DOMAIN' : 'TYPE'
  const rename = (from: RelationAddress, to: string) => `ALTER ${word} ${pg.quoteAddress(from)} RENAME TO ${pg.quoteIdent(to)};`
  const columns = [...m.ga.parts.values()].filter(
    (p): p is PartOf<'column'> => p.kind === 'column' && p.value.type.includes(pg.quoteAddress(a.value)) && m.ga.needsOf(p).includes(key),
  )
  const renamed = columns
    .filter((c) => !droppedNow(m, keyOf(c)))
    .map((c) => [keyOf(c), { ...c, value: { ...c.value, type: typeAside(c.value.type, a.value, name) } }] as const)
  const wasKey = typeKey(name)
  return [
    change(
      a,
      'aside',
      9,
      `is set aside as ${pg.quoteAddress(name)}`,
      work([rename(a.value, name.name)]),
      [rename(name, a.value.name)],
      [[key, null], [wasKey, was], ...renamed],
    ),
    change(b, 'make', makeRank[b.kind], 'is made again', make(b, m.gb), drop(b, m.gb).sql, [[key, b]]),
    change(was, 'forget', 69, 'is dropped: no column has it any more', work(drop(was, m.ga).sql), makeAside(was, m), [[wasKey, null]], { key }),
  ]
}

const makeAside = (was: PartOf<'enum' | 'domain' | 'composite' | 'range'>, m: Making): readonly string[] => make(was, m.ga).sql
