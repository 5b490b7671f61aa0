// Which parts of two catalogs are made, dropped, changed in place, or made anew because something they rest on is.
import type { RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { fieldsApart } from './alteration.ts'
import { alterations } from './alterations.ts'
import { carry, regroup } from './carry.ts'
import { canCopy, withPartitions } from './copies.ts'
import { freeName } from './freeName.ts'
import { type Ground, textOf } from './needs.ts'
import { hangs, type Part, type PartOf } from './parts.ts'
import type { Status, Statuses } from './status.ts'

const typeKinds: ReadonlySet<Part['kind']> = new Set(['enum', 'domain', 'composite', 'range'])
const isType = (p: Part | undefined): p is PartOf<'enum' | 'domain' | 'composite' | 'range'> => p !== undefined && typeKinds.has(p.kind)

/** Kinds that a change of a column's type does not go past (manual, ALTER TABLE, SET DATA TYPE: indexes and simple checks are made again by it). */
const stopsType: ReadonlySet<Part['kind']> = new Set(['view', 'rule', 'policy', 'trigger', 'column', 'default', 'reference', 'routine'])

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
  for (const [key, s] of [...of]) if (s.what === 'anew') copied(of, key, ga, gb)
  spread(of, aside, ga, gb)
  const after = carry(of, ga, gb)
  return { of, aside, after }
}

/** A table that is copied takes its partitions along. */
function copied(of: Map<string, Status>, key: string, ga: Ground, gb: Ground): void {
  const a = ga.parts.get(key)
  const r = a?.kind === 'table' ? ga.relation(a.value) : undefined
  if (r && canCopy(r, gb.relation(r), ga, gb)) withPartitions(of, key, r, ga, gb)
}

interface Spreading {
  readonly of: Map<string, Status>
  readonly aside: Map<string, RelationAddress>
  readonly ga: Ground
  readonly gb: Ground
  readonly queue: string[]
}

function anew(x: Spreading, key: string, because: string): void {
  const now = x.of.get(key)
  if (!now || now.what === 'drop' || now.what === 'anew' || !x.gb.parts.has(key)) return
  x.of.set(key, { what: 'anew', because })
  x.queue.push(key)
}

/** Whatever rests on a part that goes away for a moment goes away with it. */
function spread(of: Map<string, Status>, aside: Map<string, RelationAddress>, ga: Ground, gb: Ground): void {
  const needed = dependants(ga)
  const queue = [...of].flatMap(([key, s]) => (s.what === 'drop' || s.what === 'anew' || s.what === 'alter' ? [key] : []))
  const x: Spreading = { of, aside, ga, gb, queue }
  for (let i = 0; i < queue.length; i += 1) {
    const key = queue[i] as string
    const p = ga.parts.get(key)
    const s = of.get(key) as Status
    if (!p) continue
    if (s.what === 'anew' && isType(p)) aside.set(key, { schema: p.value.schema, name: nameAside(p.value.name, ga) })
    const gone = s.what === 'drop' || s.what === 'anew'
    const retyped = s.what === 'alter' && s.by.some((step) => step.retypes)
    if (gone || retyped) for (const d of needed.get(key) ?? []) spreadTo(x, d, key, p, gone)
  }
}

/** `gone`: the part below is dropped, now or for good; otherwise it is a column that gets another type. */
function spreadTo(x: Spreading, key: string, below: string, p: Part, gone: boolean): void {
  const part = x.ga.parts.get(key) as Part
  if (!gone) {
    if (stopsType.has(part.kind) || printsAnew(part) || (part.kind === 'object' && part.value.kind === 'publication'))
      anew(x, key, `${nameOf(p)} gets another type`)
    return
  }
  // A column whose type comes with the extension gets its other type before that goes.
  if (p.kind === 'extension' && part.kind === 'column' && x.of.get(key)?.what === 'alter') return
  // Columns are turned over from the type set aside to the new one.
  if (isType(p) && part.kind === 'column' && !part.value.generated) {
    if (x.aside.has(below)) retype(x.of, key, below, x.aside, x.ga, x.gb, x.queue)
    return
  }
  if (part.kind !== 'table' && part.kind !== 'extension') anew(x, key, `it rests on ${nameOf(p)}`)
}

/** A name for what is set aside that nothing has. */
export function nameAside(name: string, g: Ground): string {
  const taken = new Set([...g.parts.values()].flatMap((p) => ('name' in p.value ? [p.value.name] : [])))
  return freeName(name, 'before', (n) => taken.has(n))
}

/** A column, default or check that names the type set aside in place of its own. */
export function namingAside<P extends PartOf<'column' | 'default' | 'check'>>(p: P, was: RelationAddress, name: RelationAddress): P {
  const own = new RegExp(`(?<![\\w."])${pg.quoteAddress(was).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\w".])`, 'g')
  const sql: ReadonlySet<string> = new Set(['type', 'written', 'canonical'])
  const said = (key: string, value: unknown) => (sql.has(key) && typeof value === 'string' ? value.replace(own, () => pg.quoteAddress(name)) : value)
  return { ...p, value: JSON.parse(JSON.stringify(p.value), said) }
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
