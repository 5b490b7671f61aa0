// Steps that drop a part, or take it away for a moment, each with the way back.
import type { Relation } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { descendantsOf } from './alteration.ts'
import { type Ground, withTable } from './needs.ts'
import { columnKey, hangingKey, hangs, keyOf, type Part, type PartOf, relationKey } from './parts.ts'
import type { Hazard } from './plan.ts'
import { addColumn, canBeConcurrent, drop, goneProbe, make, makeConcurrently, makeTable, partText, type Work, work } from './statements.ts'
import type { Status } from './status.ts'
import {
  anewHazard,
  attachAll,
  attachedTo,
  because,
  type Change,
  change,
  detached,
  droppedNow,
  hangingOn,
  isAside,
  isGone,
  lastDrops,
  type Making,
  statusOf,
  targetOf,
} from './step.ts'

/** Statements that bring a dropped relation back with all that hung on it; rows stay lost. A partition is attached when it has its indexes. */
function bringBack(p: PartOf<'table'> | PartOf<'view'>, g: Ground): readonly string[] {
  const rest = hangingOn(g, p.value).filter((h) => !withTable(h) && h.kind !== 'reference' && !(h.kind === 'column' || h.kind === 'default'))
  if (p.kind === 'view') return [...make(p, g).sql, ...rest.flatMap((h) => make(h, g).sql)]
  const r = g.relation(p.value) as Relation
  const loose = rest.map((h) => (h.kind === 'index' ? { ...h, value: { ...h.value, attachedTo: null } } : h))
  return [...makeTable(detached(r), g, false).sql, ...loose.flatMap((h) => make(h, g).sql), ...(r.partitionOf ? pg.attachPartition(r) : [])]
}

export function dropping(a: Part, s: Status, m: Making): readonly Change[] {
  const { ga } = m
  const pure = s.what === 'drop'
  // What hangs on a table that is set aside goes before it does.
  const rank = pure && !(hangs(a) && isAside(m, a.on)) ? (lastDrops[a.kind] ?? 1) : 1
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
  const back = addColumn(emptied ? { ...a, value: { ...a.value, nullable: true } } : a, r, default_ ?? null, m.ga)
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
  // Those of partitions that are dropped themselves come back with them.
  const children = r.partitionKey === null ? [] : attachedTo(a, ga).filter((c) => statusOf(m, relationKey(c.on))?.what !== 'drop')
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
    { running: 'outside', probe: goneProbe(name) },
  )
}
