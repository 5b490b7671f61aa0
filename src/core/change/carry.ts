// What a command on a table does to its partitions and children, so that they need no step of their own, or only what is left to do.

import type { RelationAddress } from '../catalog/index.ts'
import { descendantsOf } from './alteration.ts'
import { alterations } from './alterations.ts'
import type { Ground } from './needs.ts'
import { type HangingPart, hangingKey, hangs, type Part, type PartOf, relationKey } from './parts.ts'
import type { After, Status } from './status.ts'

/** An index of a partitioned table whose partitions' indexes are other ones now is made anew: none can be taken from it. */
export function regroup(of: Map<string, Status>, ga: Ground, gb: Ground): void {
  for (const [key, s] of of) {
    const a = ga.parts.get(key)
    const b = gb.parts.get(key)
    if ((s.what !== 'same' && s.what !== 'alter') || !a || !b || (a.kind !== 'index' && a.kind !== 'unique') || ga.childrenOf(a.on).length === 0) continue
    const there = new Set(attachedKeys(a, gb, nameIn(gb, key)))
    const lost = attachedKeys(a, ga, nameIn(ga, key)).some((k) => !there.has(k) && of.get(relationKey((ga.parts.get(k) as HangingPart).on))?.what !== 'drop')
    if (lost) of.set(key, { what: 'anew', because: 'indexes of its partitions are others' })
  }
}

/** Keys of what is attached to an index of this name, one level down. */
function attachedKeys(p: PartOf<'index'> | PartOf<'unique'> | PartOf<'primary key'>, g: Ground, name: string | null): readonly string[] {
  return g.childrenOf(p.on).flatMap((r) => {
    const list = p.kind === 'index' ? r.indexes : p.kind === 'unique' ? r.uniques : r.primaryKey ? [r.primaryKey] : []
    return list.flatMap((x) => (name !== null && x.attachedTo === name ? [hangingKey(p.kind, r, p.kind === 'primary key' ? '' : x.name)] : []))
  })
}

/** What a command on a table does to its partitions and children: their parts need no step of their own, or only what is left to do. */
export function carry(of: Map<string, Status>, ga: Ground, gb: Ground): readonly After[] {
  const after: After[] = []
  const depth = (on: RelationAddress, g: Ground): number => {
    const r = g.relation(on)
    const parents = r ? [...r.inherits, ...(r.partitionOf ? [r.partitionOf.parent] : [])] : []
    return parents.length === 0 ? 0 : 1 + Math.max(...parents.map((p) => depth(p, g)))
  }
  const keys = [...of.keys()].filter((key) => {
    const p = gb.parts.get(key) ?? ga.parts.get(key)
    return p !== undefined && hangs(p) && (ga.childrenOf(p.on).length > 0 || gb.childrenOf(p.on).length > 0)
  })
  const on = (key: string) => ((gb.parts.get(key) ?? ga.parts.get(key)) as HangingPart).on
  const depths = new Map(keys.map((key) => [key, Math.max(depth(on(key), ga), depth(on(key), gb))]))
  for (const key of keys.sort((x, y) => (depths.get(x) as number) - (depths.get(y) as number))) {
    const s = of.get(key) as Status
    const p = (gb.parts.get(key) ?? ga.parts.get(key)) as HangingPart
    if (s.what === 'same') continue
    // What is copied is made with its partitions.
    const copied = of.get(relationKey(p.on))?.what === 'anew'
    if (copied && (p.kind === 'column' || p.kind === 'check')) continue
    if (p.kind === 'column' || p.kind === 'check') carryNamed(key, s, p, { of, ga, gb, after })
    else if (isIndexed(p)) dropAttached(key, s, p, of, ga, gb, after)
  }
  // Which ones are dropped has to be known of all: one may go with the index it was attached to, and come back under another.
  for (const key of keys) {
    const p = (gb.parts.get(key) ?? ga.parts.get(key)) as HangingPart
    if (isIndexed(p)) makeAttached(key, of.get(key) as Status, p, of, gb, after)
  }
  return after
}

const sameOn = (key: string, on: RelationAddress): string => {
  const [kind, , , ...rest] = key.split('\u0000')
  return [kind, on.schema, on.name, ...rest].join('\u0000')
}

/** What a child gets with ADD COLUMN or ADD CHECK on its parent. */
export function inheritedPart(
  p: PartOf<'column'> | PartOf<'check'>,
  on: RelationAddress,
  isPartition: boolean,
  place: number,
): PartOf<'column'> | PartOf<'check'> {
  if (p.kind === 'check') return { ...p, on, value: { ...p.value, inherited: true, comment: null } }
  return { ...p, on, place, value: { ...p.value, comment: null, statisticsTarget: null, options: [], identity: null, inherited: !isPartition } }
}

interface Carrying {
  readonly of: Map<string, Status>
  readonly ga: Ground
  readonly gb: Ground
  readonly after: After[]
}

function carryNamed(key: string, s: Status, p: PartOf<'column'> | PartOf<'check'>, x: Carrying): void {
  if (s.what === 'carried' || (p.kind === 'check' && !p.value.inheritable)) return
  if (s.what === 'make' || s.what === 'anew') carryMade(key, p, x)
  if (s.what === 'drop') carryDropped(key, p, x)
  if (s.what === 'alter')
    for (const [child, a] of new Map(s.by.flatMap((step) => step.sets))) {
      const b = x.gb.parts.get(child)
      if (child !== key && a && b && x.ga.parts.has(child)) settleChild(child, key, a, b, x)
    }
}

function carryMade(key: string, p: PartOf<'column'> | PartOf<'check'>, x: Carrying): void {
  for (const r of descendantsOf(p.on, x.gb)) {
    const child = sameOn(key, r)
    const b = x.gb.parts.get(child)
    const mine = x.of.get(child)
    if ((b?.kind !== 'column' && b?.kind !== 'check') || !mine || (mine.what !== 'make' && mine.what !== 'anew') || !x.ga.relation(r)) continue
    const own = !b.value.inherited && (b.kind === 'check' || r.partitionOf === null)
    // A column or check of its own is there before its parent gets the same.
    if (own) x.after.push([key, child, 'done'])
    else settleChild(child, key, inheritedPart(p, { schema: r.schema, name: r.name }, r.partitionOf !== null, b.kind === 'column' ? b.place : 0), b, x)
  }
}

function carryDropped(key: string, p: PartOf<'column'> | PartOf<'check'>, x: Carrying): void {
  for (const r of descendantsOf(p.on, x.ga)) {
    const child = sameOn(key, r)
    const a = x.ga.parts.get(child)
    const goes = a && (r.partitionOf !== null || ((a.kind === 'column' || a.kind === 'check') && a.value.inherited))
    if (goes && x.of.get(child)?.what === 'drop') x.of.set(child, { what: 'carried', by: key })
  }
}

/** What is left to do for a child once its parent's command has been carried out. */
function settleChild(child: string, parent: string, got: Part, b: Part, { of, ga, gb, after }: Carrying): void {
  const by = alterations(got, b, ga, gb) ?? []
  const left = by.filter((x) => x.up.sql.length > 0)
  of.set(child, left.length === 0 ? { what: 'carried', by: parent } : { what: 'alter', from: got, by: left })
  after.push([child, parent, 'done'])
}

type Indexed = PartOf<'index'> | PartOf<'unique'> | PartOf<'primary key'>
const isIndexed = (p: Part): p is Indexed => p.kind === 'index' || p.kind === 'unique' || p.kind === 'primary key'

/** Indexes and keys of partitions are dropped with the one of the parent they are attached to. */
function dropAttached(key: string, s: Status, p: Indexed, of: Map<string, Status>, ga: Ground, gb: Ground, after: After[]): void {
  if (s.what !== 'drop' && s.what !== 'anew' && !(s.what === 'carried' && !gb.parts.has(key))) return
  for (const child of attachedKeys(p, ga, nameIn(ga, key))) {
    const mine = of.get(child)
    if (mine?.what === 'drop') of.set(child, { what: 'carried', by: key })
    else if (gb.parts.has(child)) {
      of.set(child, { what: 'make' })
      after.push([child, key, 'dropped'])
    }
  }
}

/** Indexes and keys of partitions are made before the one of the parent, which takes them. */
function makeAttached(key: string, s: Status, p: Indexed, of: Map<string, Status>, gb: Ground, after: After[]): void {
  // Keys of a new table are made with it, and those of its partitions with them.
  const table = of.get(relationKey(p.on))?.what
  const withTable = p.kind !== 'index' && (table === 'make' || table === 'anew')
  if ((s.what !== 'make' && s.what !== 'anew') || withTable) return
  for (const child of attachedKeys(p, gb, nameIn(gb, key))) {
    const mine = of.get(child)
    if (mine?.what === 'alter' || mine?.what === 'same') of.set(child, { what: 'carried', by: key })
    else after.push([key, child, 'done'])
  }
}

const nameIn = (g: Ground, key: string): string | null => {
  const p = g.parts.get(key)
  return p && (p.kind === 'index' || p.kind === 'unique' || p.kind === 'primary key') ? p.value.name : null
}
