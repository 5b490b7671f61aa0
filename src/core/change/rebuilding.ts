// Tables that no statement changes into what is wished: set aside under another name, made anew, their rows copied, and the old one dropped.
import type { Column, Relation, RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { descendantsOf } from './alteration.ts'
import { isComposite } from './alterColumn.ts'
import { type Ground, wordsOf } from './needs.ts'
import { columnKey, hangingKey, keyOf, type Part, type PartOf, relationKey } from './parts.ts'
import type { Lock, PreCheck } from './plan.ts'
import { duplicateCheck, nullCheck, orphanCheck, refusedCheck, typeCheck } from './preChecks.ts'
import { makeTable, partText, work } from './statements.ts'
import type { Status } from './status.ts'
import { nameAside, namingAside } from './statuses.ts'
import { type Change, cannotWait, change, detached, hangingOn, type Making, statusOf, targetOf } from './step.ts'
import { type ValueChange, valueChange } from './valueChange.ts'

/** The table as it waits under another name: without its keys, which are dropped before, and without counting. */
function waiting(r: Relation, name: string, parent: RelationAddress | null, m: Making): Relation {
  const parts = waitingParts(r, m)
  const defaults = new Map(parts.flatMap((p) => (p.kind === 'default' ? [[p.value.column, p] as const] : [])))
  const columns = parts.flatMap((p) =>
    p.kind === 'column' ? [{ ...p.value, identity: null, default: defaults.get(p.value.name)?.value.expression ?? null }] : [],
  )
  const checks = parts.flatMap((p) => (p.kind === 'check' ? [p.value] : []))
  return {
    ...r,
    name,
    columns,
    checks,
    primaryKey: null,
    uniques: [],
    replicaIdentity: { kind: 'default' },
    partitionOf: r.partitionOf && parent && { ...r.partitionOf, parent },
  }
}

/** Names of a family while it waits, by the key it has: what is not made anew keeps its own. */
function namesAside(root: Relation, m: Making): ReadonlyMap<string, string> {
  return new Map(
    [root, ...descendantsOf(root, m.ga)].map((r) => [relationKey(r), statusOf(m, relationKey(r))?.what === 'anew' ? nameAside(r.name, m.ga) : r.name]),
  )
}

const shellOf = (r: Relation): PartOf<'table'> => ({
  kind: 'table',
  value: { ...r, columns: [], primaryKey: null, uniques: [], foreignKeys: [], checks: [], indexes: [], triggers: [], rules: [], exclusions: [], policies: [] },
})

type WaitingPart = PartOf<'column' | 'default' | 'check'>

/** Types that are set aside in the same plan are named by what they are called then. */
const underAside = <P extends WaitingPart>(p: P, m: Making): P =>
  [...m.statuses.aside].reduce((now, [key, name]) => {
    const type = m.ga.parts.get(key)
    return type && 'schema' in type.value && 'name' in type.value ? namingAside(now, type.value, name) : now
  }, p)

/** Parts of a table that wait with it: the table, its columns with their defaults, its checks. */
function waitingParts(r: Relation, m: Making): readonly WaitingPart[] {
  const keys = [...r.columns.flatMap((c) => [columnKey(r, c.name), hangingKey('default', r, c.name)]), ...r.checks.map((k) => hangingKey('check', r, k.name))]
  return keys.flatMap((k) => {
    const p = m.ga.parts.get(k)
    return p && (p.kind === 'column' || p.kind === 'default' || p.kind === 'check') && !cannotWait(p, m) ? [underAside(p, m)] : []
  })
}

function moved(p: Part, on: RelationAddress): Part {
  if (p.kind === 'column') return { ...p, on, value: { ...p.value, identity: null } }
  return 'on' in p ? ({ ...p, on } as Part) : p
}

/** Steps for a table that is copied, beside those that make it and drop what hangs on it. */
export function copying(a: PartOf<'table'>, s: Extract<Status, { what: 'anew' }>, m: Making): readonly Change[] {
  const root = m.ga.relation(a.value) as Relation
  if (root.partitionOf) return []
  const b = m.gb.relation(a.value) as Relation
  const names = namesAside(root, m)
  const family = [root, ...descendantsOf(root, m.ga)]
  const addressOf = (r: RelationAddress): RelationAddress => ({ schema: r.schema, name: names.get(relationKey(r)) ?? r.name })
  const before = family.map((r) => waiting(r, addressOf(r).name, r.partitionOf ? addressOf(r.partitionOf.parent) : null, m))
  const locks: readonly Lock[] = family.map((r) => ({ relation: pg.quoteAddress(r), mode: 'access exclusive' }))
  const aside = family.flatMap((r, i): readonly Change[] => {
    const now = before[i] as Relation
    const key = relationKey(r)
    if (statusOf(m, key)?.what !== 'anew') return []
    const counted = r.partitionOf ? [] : r.columns.filter((c) => c.identity)
    const plain = (c: Column): Column => ({ ...c, identity: null })
    const parts = waitingParts(r, m)
    // Partitions that keep their names hang on the new name of their parent.
    const below = family.flatMap((x, k) =>
      x.partitionOf && relationKey(x.partitionOf.parent) === key && statusOf(m, relationKey(x))?.what !== 'anew' ? [shellOf(before[k] as Relation)] : [],
    )
    return [
      change(
        { kind: 'table', value: r },
        'aside',
        // After types that are set aside as well.
        9.1,
        `is set aside as ${pg.quoteAddress(now)}`,
        work([...counted.flatMap((c) => pg.identityChange(r, c, plain(c))), ...pg.renameRelation(r, now, 'TABLE')], locks),
        [...pg.renameRelation(now, r, 'TABLE'), ...counted.flatMap((c) => pg.identityChange(r, plain(c), c))],
        [
          [key, null],
          ...parts.map((p) => [keyOf(p), null] as const),
          [relationKey(now), shellOf(now)],
          ...parts.map((p) => moved(p, { schema: now.schema, name: now.name })).map((p) => [keyOf(p), p] as const),
          ...below.map((p) => [keyOf(p), p] as const),
        ],
      ),
    ]
  })
  const old = before[0] as Relation
  return [...aside, rowsStep(a, b, old, s.because, m), forgetStep(a, before, family, m)]
}

/** What becomes of the values of a column of the new table; null where the old one has none of that name and another type. */
function changeOf(c: Column, now: Relation, m: Making): ValueChange | null {
  const [x, y] = [m.ga.parts.get(columnKey(now, c.name)), m.gb.parts.get(columnKey(now, c.name))]
  return x?.kind === 'column' && y?.kind === 'column' && x.value.type !== y.value.type ? valueChange(x, y, m.ga, m.gb) : null
}

/** INSERT … SELECT of the columns that both have; what is worked out is worked out. `back`: from the new table to the old one. */
function copy(now: Relation, old: Relation, back: boolean, m: Making): string {
  const [from, to] = back ? [now, old] : [old, now]
  const columns = to.columns.filter((c) => c.generated === null && from.columns.some((x) => x.name === c.name))
  const values = columns.map((c) => {
    const was = from.columns.find((x) => x.name === c.name) as Column
    if (was.type === c.type) return pg.quoteIdent(c.name)
    const change = changeOf(c, now, m)
    const said = change && change.inZone === null ? (back ? change.down : change.up) : pg.conversion(was, c)
    return said ?? pg.quoteIdent(c.name)
  })
  return `INSERT INTO ${pg.quoteAddress(to)} ${pg.quoteColumns(columns.map((c) => c.name))} OVERRIDING SYSTEM VALUE SELECT ${values.join(', ')} FROM ${pg.quoteAddress(from)};`
}

/** Columns that have another type in the new table, or an enumerated one that lost values. */
function columnsThatMayNotFit(now: Relation, m: Making) {
  const labels = (type: string, g: Ground) =>
    [...g.parts.values()].flatMap((p) => (p.kind === 'enum' && pg.quoteAddress(p.value) === type ? p.value.labels : []))
  return now.columns.flatMap((c) => {
    const [x, y] = [m.ga.parts.get(columnKey(now, c.name)), m.gb.parts.get(columnKey(now, c.name))]
    if (x?.kind !== 'column' || y?.kind !== 'column' || c.generated) return []
    const stay = new Set(labels(y.value.type, m.gb))
    if (x.value.type === y.value.type && labels(x.value.type, m.ga).every((l) => stay.has(l))) return []
    const found = typeCheck(x, y, m.ga, m.gb)
    return found ? [{ ...found, object: partText(x) }] : []
  })
}

/** What the new table asks of rows, and the old one did not, as far as rows can be asked before. */
function askedAnew(now: Relation, m: Making): readonly PreCheck[] {
  const { ga, gb } = m
  const before = (on: RelationAddress, columns: readonly string[]) =>
    columns.every((c) => {
      const [x, y] = [ga.parts.get(columnKey(on, c)), gb.parts.get(columnKey(on, c))]
      return x?.kind === 'column' && y?.kind === 'column' && x.value.type === y.value.type
    })
  return hangingOn(gb, now).flatMap((p): readonly PreCheck[] => {
    const was = ga.parts.get(keyOf(p))
    if (p.kind === 'column') return was?.kind === 'column' && was.value.nullable && !p.value.nullable ? [nullCheck(was, isComposite(was, ga))] : []
    if (was?.kind === p.kind) return []
    if (p.kind === 'unique' || p.kind === 'primary key')
      return before(now, p.value.columns) ? [duplicateCheck(now, p.value.name, p.value.columns, { where: null, nulls: p.value.nullsNotDistinct })] : []
    if (p.kind === 'check') {
      const words = wordsOf(p.value.expression.written)
      return before(
        now,
        now.columns.filter((c) => words.has(c.name)).map((c) => c.name),
      )
        ? [refusedCheck(p, ga)]
        : []
    }
    if (p.kind !== 'reference' || !before(now, p.value.columns)) return []
    const target = targetOf(p)
    const made = !ga.parts.has(relationKey(target))
    return made || before(target, p.value.target.columns) ? [orphanCheck(p, ga, made)] : []
  })
}

/** The one table gets the owner and the privileges of the other. */
const rightsFrom = (from: RelationAddress, to: RelationAddress): readonly string[] => [
  pg.rememberRights(pg.relationHolder(from, 'TABLE', to)),
  pg.giveRights(pg.relationHolder(to, 'TABLE')),
]

function rowsStep(a: PartOf<'table'>, now: Relation, old: Relation, because: string, m: Making): Change {
  const fits = columnsThatMayNotFit(now, m)
  const counted = now.columns.flatMap((c) => (c.identity?.sequence ? [{ c, sequence: c.identity.sequence }] : []))
  const numbers = counted.map(
    ({ c, sequence }) =>
      `SELECT pg_catalog.setval(${pg.quoteLiteral(pg.quoteAddress(sequence))}, COALESCE((SELECT pg_catalog.max(${pg.quoteIdent(c.name)}) FROM ${pg.quoteAddress(now)}), 0) + 1, false);`,
  )
  return change(
    a,
    'alter',
    16.9,
    'its rows are copied',
    work(
      [copy(now, old, false, m), ...numbers, ...rightsFrom(old, now)],
      [],
      [
        { code: 'rewrites', object: pg.quoteAddress(now), because: `${because}, so that its rows are copied into a new table` },
        { code: 'made-anew', object: partText(a), because },
        ...now.columns.flatMap((c) => {
          const says = changeOf(c, now, m)?.says ?? null
          return says === null ? [] : [{ code: 'converts' as const, object: `column ${pg.quoteAddress(now)}.${pg.quoteIdent(c.name)}`, what: says }]
        }),
        ...fits.map((f) => ({ code: 'narrows' as const, object: f.object, what: f.narrows })),
      ],
    ),
    [copy(now, old, true, m), ...rightsFrom(now, old)],
    [],
    { kind: 'rows', preChecks: [...fits.flatMap((f) => f.checks), ...askedAnew(now, m)] },
  )
}

function forgetStep(a: PartOf<'table'>, before: readonly Relation[], family: readonly Relation[], m: Making): Change {
  const [old] = before as readonly [Relation, ...Relation[]]
  const gone = before.flatMap((r, i) => {
    const address = { schema: r.schema, name: r.name }
    return [relationKey(r), ...waitingParts(family[i] as Relation, m).map((p) => keyOf(moved(p, address)))]
  })
  const back = before.flatMap((r) => [...makeTable(detached(r), m.ga, false).sql, ...pg.attachPartition(r)])
  return change(
    a,
    'forget',
    68.9,
    `is dropped as ${pg.quoteAddress(old)}: its rows are in the new table`,
    work([pg.dropRelation(old)], [{ relation: pg.quoteAddress(old), mode: 'access exclusive' }]),
    back,
    gone.map((key) => [key, null] as const),
  )
}
