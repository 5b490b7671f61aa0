// Which parts of two catalogs are made, dropped, changed in place, or made anew because something they rest on is.
import type { RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Alteration, alterations, descendantsOf, fieldsApart } from './alterations.ts'
import { type Ground, textOf } from './needs.ts'
import { type HangingPart, hangingKey, hangs, type Part, type PartOf, relationKey } from './parts.ts'

export type Status =
  | { readonly what: 'same' }
  | { readonly what: 'make' }
  | { readonly what: 'drop' }
  | { readonly what: 'alter'; readonly from: Part; readonly by: readonly Alteration[] }
  /** Dropped and made again; `because` names what it rests on, or says that it cannot change in place. */
  | { readonly what: 'anew'; readonly because: string }
  /** What is done to the part named does it as well: a partition's column with its parent's. */
  | { readonly what: 'carried'; readonly by: string }

export interface Statuses {
  readonly of: ReadonlyMap<string, Status>
  /** Types that are set aside under another name while columns still have them: key → that name. */
  readonly aside: ReadonlyMap<string, RelationAddress>
  /** A part that is only dealt with after another one. */
  readonly after: readonly (readonly [string, string])[]
}

const typeKinds: ReadonlySet<Part['kind']> = new Set(['enum', 'domain', 'composite', 'range'])
const isType = (p: Part | undefined): p is PartOf<'enum' | 'domain' | 'composite' | 'range'> => p !== undefined && typeKinds.has(p.kind)

/** Kinds that a change of a column's type does not go past (manual, ALTER TABLE, SET DATA TYPE: indexes and simple checks are made again by it). */
const stopsType: ReadonlySet<Part['kind']> = new Set(['view', 'rule', 'policy', 'trigger', 'column', 'default', 'reference'])

const printsAnew = (p: Part) => (p.kind === 'check' || p.kind === 'index' || p.kind === 'exclusion') && textOf(p).includes('((ARRAY[')

function first(a: Part | undefined, b: Part | undefined, ga: Ground, gb: Ground): Status {
  if (!a) return { what: 'make' }
  if (!b) return { what: 'drop' }
  if (a.kind !== b.kind) return { what: 'anew', because: 'it is of another kind now' }
  if (fieldsApart(a.value, b.value).length === 0) return { what: 'same' }
  const by = alterations(a, b, ga, gb)
  if (by === null) return { what: 'anew', because: `its ${fieldsApart(a.value, b.value).join(', ')} cannot be changed in place` }
  return by.every((s) => s.up.sql.length === 0) ? { what: 'same' } : { what: 'alter', from: a, by }
}

/** By key of A, the parts of A that need it. */
function dependants(ga: Ground): ReadonlyMap<string, readonly string[]> {
  const found = new Map<string, string[]>()
  for (const [key, p] of ga.parts)
    for (const need of ga.needsOf(p)) {
      const list = found.get(need)
      if (list) list.push(key)
      else found.set(need, [key])
    }
  return found
}

export function statuses(ga: Ground, gb: Ground): Statuses {
  const of = new Map<string, Status>()
  for (const key of new Set([...ga.parts.keys(), ...gb.parts.keys()])) of.set(key, first(ga.parts.get(key), gb.parts.get(key), ga, gb))
  const aside = new Map<string, RelationAddress>()
  regroup(of, ga, gb)
  spread(of, aside, ga, gb)
  const after = carry(of, ga, gb)
  return { of, aside, after }
}

/** An index of a partitioned table whose partitions' indexes are other ones now is made anew: none can be taken from it. */
function regroup(of: Map<string, Status>, ga: Ground, gb: Ground): void {
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

/** Whatever rests on a part that goes away for a moment goes away with it. */
function spread(of: Map<string, Status>, aside: Map<string, RelationAddress>, ga: Ground, gb: Ground): void {
  const needed = dependants(ga)
  const anew = (key: string, because: string, queue: string[]) => {
    const now = of.get(key)
    if (!now || now.what === 'drop' || now.what === 'anew' || !gb.parts.has(key)) return
    of.set(key, { what: 'anew', because })
    queue.push(key)
  }
  const queue = [...of].flatMap(([key, s]) => (s.what === 'drop' || s.what === 'anew' || s.what === 'alter' ? [key] : []))
  for (let i = 0; i < queue.length; i += 1) {
    const key = queue[i] as string
    const p = ga.parts.get(key)
    const s = of.get(key) as Status
    if (!p) continue
    const name = nameOf(p)
    const gone = s.what === 'drop' || s.what === 'anew'
    const retyped = s.what === 'alter' && s.by.some((x) => x.says.startsWith('type '))
    if (!gone && !retyped) continue
    if (s.what === 'anew' && isType(p)) aside.set(key, { schema: p.value.schema, name: asideName(p.value.name, ga) })
    for (const d of needed.get(key) ?? []) {
      const part = ga.parts.get(d) as Part
      if (gone && isType(p) && part.kind === 'column' && !part.value.generated) {
        // Columns are turned over from the type set aside to the new one.
        if (s.what === 'anew') retype(of, d, key, aside, ga, gb, queue)
      } else if (gone) {
        if (part.kind !== 'table' && part.kind !== 'extension') anew(d, `it rests on ${name}`, queue)
      } else if (stopsType.has(part.kind) || printsAnew(part) || (part.kind === 'object' && part.value.kind === 'publication'))
        anew(d, `${name} gets another type`, queue)
    }
  }
}

/** A name beside the type's own that no type and no relation has. */
function asideName(name: string, g: Ground): string {
  const short = [...name].slice(0, 40).join('')
  const taken = new Set([...g.parts.values()].flatMap((p) => ('name' in p.value ? [p.value.name] : [])))
  for (let n = 0; ; n += 1) {
    const wanted = `${short}_before${n === 0 ? '' : n}`
    if (!taken.has(wanted)) return wanted
  }
}

/** The column's type with the name of the type set aside in place of its own. */
export const typeAside = (type: string, was: RelationAddress, name: RelationAddress): string => type.replace(pg.quoteAddress(was), pg.quoteAddress(name))

function retype(
  of: Map<string, Status>,
  key: string,
  type: string,
  aside: ReadonlyMap<string, RelationAddress>,
  ga: Ground,
  gb: Ground,
  queue: string[],
): void {
  const a = ga.parts.get(key) as PartOf<'column'>
  const b = gb.parts.get(key)
  const was = ga.parts.get(type)
  if (b?.kind !== 'column' || !isType(was) || of.get(key)?.what === 'anew') return
  const name = typeAside(a.value.type, was.value, aside.get(type) as RelationAddress)
  const from: PartOf<'column'> = { ...a, value: { ...a.value, type: name } }
  const by = alterations(from, b, ga, gb)
  of.set(key, by === null ? { what: 'anew', because: `${nameOf(was)} is made anew` } : { what: 'alter', from, by })
  queue.push(key)
}

export function nameOf(p: Part): string {
  if (p.kind === 'column') return `${pg.quoteAddress(p.on)}.${pg.quoteIdent(p.value.name)}`
  if (hangs(p)) return `${'name' in p.value ? pg.quoteIdent(p.value.name) : p.kind} of ${pg.quoteAddress(p.on)}`
  if ('schema' in p.value && 'name' in p.value) return pg.quoteAddress(p.value)
  return 'name' in p.value ? pg.quoteIdent(p.value.name) : p.kind
}

/** What a command on a table does to its partitions and children: their parts need no step of their own, or only what is left to do. */
function carry(of: Map<string, Status>, ga: Ground, gb: Ground): readonly (readonly [string, string])[] {
  const after: (readonly [string, string])[] = []
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
    if (p.kind === 'column' || p.kind === 'check') carryNamed(key, s, p, of, ga, gb, after)
    else if (p.kind === 'index' || p.kind === 'unique' || p.kind === 'primary key') carryIndex(key, s, p, of, ga, gb, after)
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

function carryNamed(
  key: string,
  s: Status,
  p: PartOf<'column'> | PartOf<'check'>,
  of: Map<string, Status>,
  ga: Ground,
  gb: Ground,
  after: (readonly [string, string])[],
): void {
  if (s.what === 'carried' || (p.kind === 'check' && !p.value.inheritable)) return
  if (s.what === 'make' || s.what === 'anew') {
    for (const r of descendantsOf(p.on, gb)) {
      const child = sameOn(key, r)
      const b = gb.parts.get(child)
      const mine = of.get(child)
      if (!b || !mine || (mine.what !== 'make' && mine.what !== 'anew') || !ga.relation(r)) continue
      const got = inheritedPart(p, { schema: r.schema, name: r.name }, r.partitionOf !== null, b.kind === 'column' ? b.place : 0)
      const own = b.kind === 'column' ? !b.value.inherited && r.partitionOf === null : b.kind === 'check' && !b.value.inherited
      if (own) {
        after.push([key, child])
        continue
      }
      settleChild(child, key, got, b, of, ga, gb, after)
    }
  }
  if (s.what === 'drop' || s.what === 'anew') {
    for (const r of descendantsOf(p.on, ga)) {
      const child = sameOn(key, r)
      const a = ga.parts.get(child)
      const goes = a && (r.partitionOf !== null || (a.kind === 'column' || a.kind === 'check' ? a.value.inherited : false))
      if (goes && s.what === 'drop' && of.get(child)?.what === 'drop') of.set(child, { what: 'carried', by: key })
    }
  }
  if (s.what === 'alter') {
    const reached = new Map(s.by.flatMap((x) => x.sets).filter(([k]) => k !== key))
    for (const [child, a] of reached) {
      const b = gb.parts.get(child)
      if (a && b && ga.parts.has(child)) settleChild(child, key, a, b, of, ga, gb, after)
    }
  }
}

/** What is left to do for a child once its parent's command has been carried out. */
function settleChild(
  child: string,
  parent: string,
  got: Part,
  b: Part,
  of: Map<string, Status>,
  ga: Ground,
  gb: Ground,
  after: (readonly [string, string])[],
): void {
  const by = alterations(got, b, ga, gb) ?? []
  const left = by.filter((x) => x.up.sql.length > 0)
  of.set(child, left.length === 0 ? { what: 'carried', by: parent } : { what: 'alter', from: got, by: left })
  after.push([child, parent])
}

/** Indexes and keys of partitions are attached to their parent's: made before it, dropped with it. */
function carryIndex(
  key: string,
  s: Status,
  p: PartOf<'index'> | PartOf<'unique'> | PartOf<'primary key'>,
  of: Map<string, Status>,
  ga: Ground,
  gb: Ground,
  after: (readonly [string, string])[],
): void {
  const attached = (g: Ground) => attachedKeys(p, g, nameIn(g, key))
  if (s.what === 'drop' || s.what === 'anew' || (s.what === 'carried' && !gb.parts.has(key)))
    for (const child of attached(ga)) {
      const mine = of.get(child)
      if (mine?.what === 'drop') of.set(child, { what: 'carried', by: key })
      else if (gb.parts.has(child)) {
        of.set(child, { what: 'make' })
        after.push([child, key])
      }
    }
  // Keys of a new table are made with it, and those of its partitions with them.
  if ((s.what === 'make' && (p.kind === 'index' || of.get(relationKey(p.on))?.what !== 'make')) || s.what === 'anew')
    for (const child of attached(gb)) {
      const mine = of.get(child)
      if (mine?.what === 'alter' || mine?.what === 'same') of.set(child, { what: 'carried', by: key })
      else after.push([key, child])
    }
}

const nameIn = (g: Ground, key: string): string | null => {
  const p = g.parts.get(key)
  return p && (p.kind === 'index' || p.kind === 'unique' || p.kind === 'primary key') ? p.value.name : null
}
