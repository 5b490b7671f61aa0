// Steps that make a part in the form that keeps others out for the shortest time.
import type { Relation } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { descendantsOf } from './alteration.ts'
import { validateCheck, validateReference } from './alterHanging.ts'
import { inheritedPart } from './carry.ts'
import { wordsOf } from './needs.ts'
import { columnKey, type HangingPart, hangingKey, keyOf, type Part, type PartOf, relationKey } from './parts.ts'
import type { Hazard, PreCheck } from './plan.ts'
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
  type Work,
  work,
} from './statements.ts'
import type { Status } from './status.ts'
import {
  absorbed,
  attachAll,
  attachedTo,
  type Change,
  canAsk,
  change,
  detached,
  fromAlteration,
  hangingOn,
  isNew,
  lateRank,
  type Making,
  madeNow,
  makeRank,
  sameBefore,
  statusOf,
  targetOf,
  unasked,
} from './step.ts'

export function making(b: Part, s: Status, m: Making): readonly Change[] {
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

/** A partition is attached once it has what the other partitions have. */
function newTable(b: PartOf<'table'>, m: Making): readonly Change[] {
  const { gb } = m
  const r = gb.relation(b.value) as Relation
  const later = m.deferred.has(relationKey(b.value))
  const on = { schema: r.schema, name: r.name }
  const inside = hangingOn(gb, on).filter((h) => absorbed(h, m, 'make'))
  if (b.value.partitionOf === null) {
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
  const up = addColumn(own, r, default_ ?? null, m.gb)
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
  // A table that is copied has its rows before.
  const empty = !m.ga.parts.has(relationKey(target))
  const asked = canAsk(m, b.on, b.value.columns) && (empty || sameBefore(m, target, b.value.target.columns))
  const check = b.value.validated && asked ? [orphanCheck(b, gb, empty)] : []
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
  // On a partition it is made free, and attached with the index of the partitioned table, unless that one is there already.
  const parentThere = x.attachedTo !== null && parentIndexStays(b, m) && !isNew(m, on)
  const loose: PartOf<'index'> = { ...made, value: { ...made.value, attachedTo: parentThere ? x.attachedTo : null } }
  if (isIndexOfPartitioned(b, gb)) {
    const children = attachedTo(b, gb).filter((c) => c.value.attachedTo === x.name)
    const up = make(loose, gb)
    const sql = [...up.sql.slice(0, 1), ...attachAll(b, children), ...up.sql.slice(1)]
    const sets: Change['sets'] = [[keyOf(b), loose], ...children.map((c) => [keyOf(c), c] as const)]
    return [
      change(b, 'make', rank + 0.4, says, work(sql, [{ relation: pg.quoteAddress(on), mode: 'share' }]), drop(b, gb).sql, sets, { preChecks: duplicates }),
    ]
  }
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
