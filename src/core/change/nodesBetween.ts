// From statuses to steps that wait to be ordered: each with its SQL both ways, where it runs, and what it sets in the catalog.
import type { RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Alteration, same } from './alteration.ts'
import { dropping } from './dropping.ts'
import { canExchange, exchanging } from './exchanging.ts'
import { making } from './making.ts'
import { columnKey, keyOf, type Part, type PartOf, typeKey } from './parts.ts'
import type { Hazard } from './plan.ts'
import { copying } from './rebuilding.ts'
import { holderOf, keepingRights } from './rights.ts'
import { drop, make, partText, work } from './statements.ts'
import { namingAside, typeAside } from './statuses.ts'
import { absorbed, type Change, change, droppedNow, fromAlteration, isAside, lateRank, type Making, makeRank } from './step.ts'

/** All steps, unordered. */
export function changes(m: Making): readonly Change[] {
  const list: Change[] = []
  for (const [key, s] of m.statuses.of) {
    const a = m.ga.parts.get(key)
    const b = m.gb.parts.get(key)
    if (s.what === 'anew' && a && b && canExchange(a, b, m)) {
      list.push(...exchanging(a, b, m))
      continue
    }
    if (s.what === 'anew' && a && b && holderOf(a)) {
      list.push(...keepingRights([...dropping(a, s, m), ...making(b, s, m)], a, b))
      continue
    }
    if (m.statuses.aside.has(key)) list.push(...turnedOver(key, m))
    else if (s.what === 'anew' && a?.kind === 'table') list.push(...copying(a, s, m))
    else if (
      (s.what === 'drop' || s.what === 'anew') &&
      a &&
      !absorbed(a, m, 'drop') &&
      !(a.kind === 'default' && droppedNow(m, columnKey(a.on, a.value.column)))
    )
      list.push(...dropping(a, s, m))
    if (m.statuses.aside.has(key) || !b) continue
    if ((s.what === 'make' || s.what === 'anew') && !absorbed(b, m, 'make')) list.push(...making(b, s, m))
    if (s.what === 'alter') list.push(...altering(b, s.by).map((c) => (b.kind === 'routine' ? tellingStale(c, b, a, m) : c)))
  }
  return list.filter((c) => c.up.sql.length > 0 || c.sets.length > 0)
}

function altering(b: Part, by: readonly Alteration[]): readonly Change[] {
  let rank = makeRank[b.kind] + (b.kind === 'column' ? 1 : 0)
  // A value is there once its step is committed: before all that may use it.
  if (b.kind === 'enum') rank = 5 - lateRank.alone
  let late = 0
  return by
    .filter((x) => x.up.sql.length > 0)
    .map((x) => {
      const c = fromAlteration(b, x, 'alter', rank + (x.running === 'together' ? late : 0) + (x.late ? 0.3 : 0))
      // What follows a step of its own stays behind it.
      late = Math.max(late, lateRank[x.running] + (x.running === 'together' ? 0 : 1))
      if (b.kind === 'enum') late = 0
      return c
    })
}

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
    .filter((c) => !droppedNow(m, keyOf(c)) && m.gb.parts.has(keyOf(c)))
    .map((c) => [keyOf(c), { ...c, value: { ...c.value, type: typeAside(c.value.type, a.value, name) } }] as const)
  // Tables that are copied have the old one until they are forgotten.
  const waits = [...m.ga.parts.values()].flatMap((p) => {
    if (!(p.kind === 'column' || p.kind === 'default' || p.kind === 'check') || !isAside(m, p.on)) return []
    const now = namingAside(p, a.value, name)
    return JSON.stringify(now) === JSON.stringify(p) ? [] : [[keyOf(p), now] as const]
  })
  const wasKey = typeKey(name)
  return [
    change(
      a,
      'aside',
      9,
      `is set aside as ${pg.quoteAddress(name)}`,
      work([rename(a.value, name.name)]),
      [rename(name, a.value.name)],
      [[key, null], [wasKey, was], ...renamed, ...waits],
    ),
    change(b, 'make', makeRank[b.kind], 'is made again', make(b, m.gb), drop(b, m.gb).sql, [[key, b]]),
    change(was, 'forget', 69, 'is dropped: no column has it any more', work(drop(was, m.ga).sql), makeAside(was, m), [[wasKey, null]], { key }),
  ]
}

const makeAside = (was: PartOf<'enum' | 'domain' | 'composite' | 'range'>, m: Making): readonly string[] => make(was, m.ga).sql

/** What is kept of a routine's old results, with the statement that works it out anew. */
function tellingStale(c: Change, b: PartOf<'routine'>, a: Part | undefined, m: Making): Change {
  if (a?.kind !== 'routine' || same(a.value.definition, b.value.definition)) return c
  const key = keyOf(b)
  const kept = [...m.gb.parts].flatMap(([k, p]): readonly Hazard[] => {
    if (!m.gb.needsOf(p).includes(key) || m.statuses.of.get(k)?.what !== 'same') return []
    const told = (what: string): readonly Hazard[] => [{ code: 'stale', object: partText(p), what }]
    const stale = (mends: string) => told(`it holds what ${pg.quoteAddress(b.value)} gave before; ${mends} works it out anew`)
    if (p.kind === 'index') return stale(`REINDEX INDEX CONCURRENTLY ${pg.quoteAddress({ schema: p.on.schema, name: p.value.name })};`)
    if (p.kind === 'column' && p.value.generated?.kept === 'stored')
      return stale(`UPDATE ${pg.quoteAddress(p.on)} SET ${pg.quoteIdent(p.value.name)} = DEFAULT;`)
    if (p.kind === 'view' && p.value.kind === 'materialized view') return stale(`REFRESH MATERIALIZED VIEW ${pg.quoteAddress(p.value)};`)
    return p.kind === 'check' && p.value.validated
      ? told(`rows that are there passed by what ${pg.quoteAddress(b.value)} gave before, and are not tested again`)
      : []
  })
  return kept.length === 0 ? c : { ...c, up: { ...c.up, hazards: [...c.up.hazards, ...kept] } }
}
