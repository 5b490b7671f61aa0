// Steps in an order in which each finds what it needs (manual 5.14, Dependency Tracking).
import { compareText } from '../catalog/index.ts'
import { descendantsOf } from './alteration.ts'
import { withTable } from './needs.ts'
import { orderByDependency } from './order.ts'
import { type HangingPart, hangingKey, hangs, keyOf, type Part, relationKey } from './parts.ts'
import { type Change, hangingOn, type Making } from './step.ts'

/** Names that a part takes from others: of relations and indexes in a schema, of types in a schema, of constraints of a table. */
function takes(p: Part): readonly string[] {
  const inSchema = (schema: string, name: string) => `r\u0000${schema}\u0000${name}`
  const asType = (schema: string, name: string) => `t\u0000${schema}\u0000${name}`
  if (p.kind === 'table' || p.kind === 'view') return [inSchema(p.value.schema, p.value.name), asType(p.value.schema, p.value.name)]
  if (p.kind === 'sequence') return [inSchema(p.value.schema, p.value.name)]
  if (p.kind === 'enum' || p.kind === 'domain' || p.kind === 'range') return [asType(p.value.schema, p.value.name)]
  if (p.kind === 'composite') return [inSchema(p.value.schema, p.value.name), asType(p.value.schema, p.value.name)]
  if (p.kind === 'column') return p.value.identity?.sequence ? [inSchema(p.value.identity.sequence.schema, p.value.identity.sequence.name)] : []
  if (!hangs(p) || !('name' in p.value)) return []
  const ofTable = `c\u0000${p.on.schema}\u0000${p.on.name}\u0000${p.value.name}`
  if (p.kind === 'index') return [inSchema(p.on.schema, p.value.name)]
  if (p.kind === 'primary key' || p.kind === 'unique' || p.kind === 'exclusion') return [inSchema(p.on.schema, p.value.name), ofTable]
  return p.kind === 'check' || p.kind === 'reference' ? [ofTable] : []
}

/** The steps of one part. */
interface Chain {
  readonly drop: Change[]
  readonly make: Change[]
  readonly alter: Change[]
  /** Of a type that is set aside. */
  readonly forget: Change[]
}

const none: Chain = { drop: [], make: [], alter: [], forget: [] }

interface Arranging {
  readonly m: Making
  readonly list: readonly Change[]
  readonly chains: ReadonlyMap<string, Chain>
  /** The steps that make or drop a part, be it with another one. */
  readonly made: (key: string) => readonly Change[]
  readonly dropped: (key: string) => readonly Change[]
  readonly altered: (key: string) => readonly Change[]
  readonly behind: (later: Change | undefined, earlier: Change | undefined) => void
}

const chainOf = { drop: 'drop', aside: 'drop', make: 'make', alter: 'alter', forget: 'forget' } as const satisfies Record<Change['phase'], keyof Chain>

function arranging(list: readonly Change[], m: Making, needs: ReadonlyMap<Change, Set<Change>>): Arranging {
  const chains = new Map<string, Chain>()
  const madeWith = new Map<string, string>()
  const droppedWith = new Map<string, string>()
  for (const c of list) {
    for (const key of [c.key, ...(c.also ?? [])]) {
      const chain = chains.get(key) ?? { drop: [], make: [], alter: [], forget: [] }
      chains.set(key, chain)
      chain[chainOf[c.phase]].push(c)
    }
    if (c.phase === 'aside' || c.phase === 'alter') continue
    for (const [key, p] of c.sets) {
      const where = p === null ? droppedWith : madeWith
      if (key !== c.key && !where.has(key)) where.set(key, c.key)
    }
  }
  const of = (key: string) => chains.get(key) ?? none
  return {
    m,
    list,
    chains,
    made: (key) => (of(key).make.length > 0 ? of(key).make : of(madeWith.get(key) ?? key).make),
    dropped: (key) => (of(key).drop.length > 0 ? of(key).drop : of(droppedWith.get(key) ?? key).drop),
    altered: (key) => of(key).alter,
    behind: (later, earlier) => {
      if (later && earlier && later !== earlier) needs.get(later)?.add(earlier)
    },
  }
}

/** Steps in an order in which each finds what it needs; the first of a cycle's members where there is none. */
export function order(list: readonly Change[], m: Making): ReturnType<typeof orderByDependency<Change>> {
  const needs = new Map<Change, Set<Change>>(list.map((c) => [c, new Set()]))
  const x = arranging(list, m, needs)
  for (const [key, chain] of x.chains) {
    // Within one part: dropped, made, changed, in the order of the list.
    const all = [...chain.drop, ...chain.make, ...chain.alter]
    for (let i = 1; i < all.length; i += 1) x.behind(all[i], all[i - 1])
    const a = m.ga.parts.get(key)
    const b = m.gb.parts.get(key)
    if (a) for (const need of [...m.ga.needsOf(a), ...(chain.drop.length > 0 ? droppedNeeds(a, m) : [])]) beforeItGoes(x, chain, need)
    if (b) for (const need of [...m.gb.needsOf(b), ...insideNeeds(b, m)]) afterItIsThere(x, chain, need, b)
    for (const c of chain.forget) forgotten(x, key, c, chain)
    rowsAfterPartitions(x, b, chain)
  }
  carriedLast(x)
  attachLast(x)
  freeNames(x)
  oneFits(x)
  const ranked = list.map((c, i) => ({ c, i })).sort((p, q) => p.c.rank - q.c.rank || textOrder(p.c, q.c, m) || p.i - q.i)
  return orderByDependency(
    ranked.map((r) => r.c),
    (c) => needs.get(c) ?? [],
  )
}

/** What a command on a parent leaves to do for a child comes after it, or before it. */
function carriedLast(x: Arranging): void {
  for (const [later, earlier, when] of x.m.statuses.after) {
    const first = x.made(later)[0] ?? x.altered(later)[0]
    const steps = when === 'dropped' ? [x.dropped(earlier)] : [x.altered(earlier), x.made(earlier), x.dropped(earlier)]
    const last = steps.find((list) => list.length > 0)?.at(-1)
    // Carried along: the steps of both are the same ones.
    if (first?.key !== last?.key) x.behind(first, last)
  }
}

/** A table that is copied gets its rows when its partitions are there. */
function rowsAfterPartitions(x: Arranging, b: Part | undefined, chain: Chain): void {
  const [rows] = chain.alter
  if (b?.kind !== 'table' || rows?.kind !== 'rows') return
  for (const r of descendantsOf(b.value, x.m.gb)) x.behind(rows, x.made(relationKey(r)).at(-1))
}

/** Dropped before what it rests on is dropped or changed; changed before what it rested on is dropped. */
function beforeItGoes(x: Arranging, chain: Chain, need: string): void {
  const below = x.dropped(need)[0]
  for (const c of chain.drop) {
    if (c.key !== below?.key) x.behind(below, c)
    x.behind(x.altered(need)[0], c)
  }
  const aside = x.m.statuses.aside.has(need)
  for (const c of chain.alter) {
    if (aside) x.behind(c, below)
    else x.behind(below, c)
  }
  for (const later of x.chains.get(need)?.forget ?? []) for (const c of [...chain.drop, ...chain.alter]) x.behind(later, c)
}

/** Made and changed once what it rests on is there. */
function afterItIsThere(x: Arranging, chain: Chain, need: string, b: Part): void {
  const of = x.m.gb.parts.get(need)
  for (const c of [...chain.make, ...chain.alter]) {
    if (!x.made(need).includes(c)) x.behind(c, usable(x.made(need), b, of))
    // Rows are copied once the partitions are there that take them.
    const copies = x.altered(need)[0]?.kind === 'rows'
    if (!copies || (hangs(b) ? relationKey(b.on) === need : b.kind !== 'table')) x.behind(c, usable(x.altered(need), b, of))
  }
}

/** The step after which a changed or new part can be used: of a column before its rows are checked for null, unless a key waits for that. */
function usable(steps: readonly Change[], by: Part, of: Part | undefined): Change | undefined {
  // A partition, and what is made with it, can be used before it is attached.
  if (steps[0]?.kind === 'table') return steps[0]
  if (of?.kind !== 'column' || by.kind === 'primary key') return steps.at(-1)
  const at = steps.findIndex((c) => c.running !== 'together')
  return at < 0 ? steps.at(-1) : (steps[Math.max(0, at - 1)] ?? steps[0])
}

/** A type that was set aside is dropped when nothing has it any more. */
function forgotten(x: Arranging, key: string, c: Change, chain: Chain): void {
  x.behind(c, chain.make.at(-1))
  x.behind(c, chain.alter.at(-1))
  for (const [k, p] of x.m.ga.parts) if (x.m.ga.needsOf(p).includes(key)) for (const before of [...x.dropped(k), ...x.altered(k)]) x.behind(c, before)
}

/** What the parts need that are made within a new table. */
function insideNeeds(b: Part, m: Making): readonly string[] {
  // The column itself, which its default rests on, waits for nothing here: its steps have their own order.
  if (b.kind === 'column')
    return [m.gb.parts.get(hangingKey('default', b.on, b.value.name))].flatMap((p) => (p ? m.gb.needsOf(p) : [])).filter((key) => key !== keyOf(b))
  if (b.kind !== 'table' || m.statuses.of.get(keyOf(b))?.what !== 'make') return []
  const deferred = m.deferred.has(keyOf(b))
  const own = hangingOn(m.gb, b.value).filter((p) => withTable(p) && !(deferred && (p.kind === 'default' || p.kind === 'check')))
  return own.flatMap((p) => m.gb.needsOf(p)).filter((key) => !key.startsWith(`column\u0000${b.value.schema}\u0000${b.value.name}\u0000`))
}

/** What the parts need that are dropped with a relation or a column. */
function droppedNeeds(a: Part, m: Making): readonly string[] {
  const inside =
    a.kind === 'table' || a.kind === 'view'
      ? m.statuses.of.get(keyOf(a))?.what === 'drop'
        ? hangingOn(m.ga, a.value).filter((p) => p.kind !== 'reference')
        : []
      : a.kind === 'column'
        ? [m.ga.parts.get(hangingKey('default', a.on, a.value.name))].filter((p) => p !== undefined)
        : []
  const own = a.kind === 'table' || a.kind === 'view' ? a.value : null
  return inside.flatMap((p) => m.ga.needsOf(p)).filter((key) => own === null || !key.startsWith(`column\u0000${own.schema}\u0000${own.name}\u0000`))
}

/** Columns in the order of their table, everything else by name: the same catalogs give the same steps. */
function textOrder(a: Change, b: Change, m: Making): number {
  const [x, y] = [m.gb.parts.get(a.key), m.gb.parts.get(b.key)]
  if (x?.kind === 'column' && y?.kind === 'column' && x.on.schema === y.on.schema && x.on.name === y.on.name) return x.place - y.place
  return compareText(a.key, b.key)
}

/**
 * A new partition is attached when its indexes are there and its parent has the columns and rules it is to have, and before its parent
 * gets indexes; one that is dropped goes before its parent is changed.
 */
function attachLast(x: Arranging): void {
  const { ga, gb } = x.m
  const byTable = new Map<string, { readonly part: HangingPart; readonly change: Change }[]>()
  for (const change of x.list) {
    const part = gb.parts.get(change.key) ?? ga.parts.get(change.key)
    if (!part || !hangs(part)) continue
    const list = byTable.get(relationKey(part.on)) ?? []
    byTable.set(relationKey(part.on), list)
    list.push({ part, change })
  }
  for (const c of x.list) {
    const p = (c.phase === 'drop' ? ga : gb).parts.get(c.key)
    if (p?.kind !== 'table' || !p.value.partitionOf) continue
    const above = byTable.get(relationKey(p.value.partitionOf.parent)) ?? []
    if (c.phase === 'drop') for (const o of above) x.behind(o.change, c)
    else if (c.phase === 'make' && c === x.made(c.key)[1]) attachOne(x, c, byTable.get(c.key) ?? [], above, relationKey(p.value.partitionOf.parent))
  }
}

type Hanging = readonly { readonly part: HangingPart; readonly change: Change }[]

const followsAttach: ReadonlySet<Part['kind']> = new Set(['index', 'reference', 'trigger'])

function attachOne(x: Arranging, c: Change, own: Hanging, above: Hanging, parent: string): void {
  for (const o of own) if (o.part.kind === 'index' && o.change.phase === 'make') x.behind(c, o.change)
  for (const o of above) {
    // What is dropped from the parent is dropped before a partition would get it as well.
    if (o.change.phase === 'drop') x.behind(c, o.change)
    else if (o.part.kind === 'column' || o.part.kind === 'check') x.behind(c, o.change)
    else if (o.change.phase === 'make' && followsAttach.has(o.part.kind)) x.behind(o.change, c)
  }
  x.behind(c, x.made(parent)[0])
}

/** A name is taken once it is free. */
function freeNames(x: Arranging): void {
  const freed = new Map<string, { readonly by: Change; readonly key: string }[]>()
  for (const by of x.list)
    for (const [key, p] of by.sets) {
      const was = p === null ? x.m.ga.parts.get(key) : undefined
      if (was) for (const name of takes(was)) freed.set(name, [...(freed.get(name) ?? []), { by, key }])
    }
  for (const c of x.list) {
    const taken = c.phase === 'make' ? c.sets.flatMap(([key, p]) => (p ? takes(p).map((name) => ({ key, name })) : [])) : []
    for (const t of taken) for (const f of freed.get(t.name) ?? []) if (f.key !== t.key && f.by.key !== c.key) x.behind(c, f.by)
  }
}

/** Two routines of one name may fit the same call: the one that goes is gone before the new one is made, and called. */
function oneFits(x: Arranging): void {
  const gone = new Map<string, Change[]>()
  const named = (p: Part | undefined) => (p?.kind === 'routine' ? `${p.value.schema}\u0000${p.value.name}` : null)
  for (const c of x.list) {
    const name = c.phase === 'drop' ? named(x.m.ga.parts.get(c.key)) : null
    if (name !== null) gone.set(name, [...(gone.get(name) ?? []), c])
  }
  for (const c of x.list) {
    const name = c.phase === 'make' ? named(x.m.gb.parts.get(c.key)) : null
    for (const before of name === null ? [] : (gone.get(name) ?? [])) if (before.key !== c.key && !holdsFast(x, before)) x.behind(c, before)
  }
}

/** Does something that stays as it is until the new one is there need the old routine, as a default that is set anew does? */
const holdsFast = (x: Arranging, drop: Change): boolean =>
  [...x.m.ga.parts].some(([key, p]) => x.m.ga.needsOf(p).includes(drop.key) && x.m.statuses.of.get(key)?.what === 'alter')
