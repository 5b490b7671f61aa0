// One change in place as a value: what it says, its SQL both ways, and what it sets; and what all kinds of changes share.
import type { Relation, RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import type { Ground } from './needs.ts'
import { type HangingPart, hangingKey, keyOf, type Part, type PartOf } from './parts.ts'
import type { Hazard, Lock, LockMode, PreCheck, StepKind } from './plan.ts'
import { stepKindOf, type Work, work } from './statements.ts'

/** Where a step runs: with its neighbours in one transaction, in one of its own, or in none. */
export type Running = 'together' | 'alone' | 'outside'

export interface Alteration {
  readonly kind: StepKind
  readonly says: string
  readonly up: Work
  readonly down: readonly string[]
  readonly running: Running
  readonly preChecks: readonly PreCheck[]
  readonly sets: readonly (readonly [string, Part | null])[]
  /** It gives a column another type. */
  readonly retypes?: true
  /** Behind the same of other parts. */
  readonly late?: boolean
}

export const lock = (a: RelationAddress, mode: LockMode): Lock => ({ relation: pg.quoteAddress(a), mode })

/** The same value whatever order its keys came in; expressions by what the server prints, where both have that. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null || Array.isArray(a) !== Array.isArray(b)) return false
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((x, i) => same(x, b[i]))
  const [left, right] = [a as Record<string, unknown>, b as Record<string, unknown>]
  if ('canonical' in left && 'written' in left && 'written' in right) {
    const by = left['canonical'] !== null && right['canonical'] !== null ? 'canonical' : 'written'
    return left[by] === right[by]
  }
  const keys = Object.keys(left)
  return keys.length === Object.keys(right).length && keys.every((k) => same(left[k], right[k]))
}

/** Fields that follow from the rest of the catalog. */
const followed: ReadonlySet<string> = new Set(['dependsOn'])

/** Fields of two values that are not the same. */
export function fieldsApart(a: object, b: object): readonly string[] {
  return Object.keys(a).filter((k) => !followed.has(k) && !same((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]))
}

export const within = (fields: readonly string[], allowed: readonly string[]) => fields.every((f) => allowed.includes(f))

/** Partitions and children of a table, with their own. */
export function descendantsOf(on: RelationAddress, g: Ground): readonly Relation[] {
  return g.childrenOf(on).flatMap((c) => [c, ...descendantsOf(c, g)])
}

/** Keys of partitions that are attached to one, under the name it gets. */
export function attachedUnder(p: PartOf<'primary key'> | PartOf<'unique'>, name: string, g: Ground): readonly (readonly [string, Part])[] {
  return g.childrenOf(p.on).flatMap((r) => {
    const key = p.kind === 'primary key' ? r.primaryKey : r.uniques.find((u) => u.attachedTo === p.value.name)
    const child = key && g.parts.get(hangingKey(p.kind, r, p.kind === 'primary key' ? '' : key.name))
    return child?.kind === p.kind ? [[keyOf(child), { ...child, value: { ...child.value, attachedTo: name } } as Part] as const] : []
  })
}

/** The part's own state, and that of the same part of every descendant that a command reaches as well. */
export function reaching<P extends HangingPart>(p: P, g: Ground, of: (child: P, r: Relation) => P | null): readonly (readonly [string, Part | null])[] {
  const own = keyOf(p).split('\u0000')
  return descendantsOf(p.on, g).flatMap((r) => {
    const key = [own[0], r.schema, r.name, ...own.slice(3)].join('\u0000')
    const child = g.parts.get(key)
    return child && child.kind === p.kind ? [[key, of(child as P, r)] as const] : []
  })
}

export type Write<K extends Part['kind']> = (a: PartOf<K>['value'], b: PartOf<K>['value']) => readonly string[]

/** One step both ways by the same writer. */
export function inPlace<K extends Part['kind']>(
  a: PartOf<K>,
  b: PartOf<K>,
  write: Write<K>,
  locks: readonly Lock[] = [],
  hazards: readonly Hazard[] = [],
): Alteration {
  const [x, y] = [a.value as PartOf<K>['value'], b.value as PartOf<K>['value']]
  return {
    kind: stepKindOf[a.kind],
    says: `${wordsFor(fieldsApart(a.value, b.value))} changes`,
    up: work(write(x, y), locks, hazards),
    down: write(y, x),
    running: 'together',
    preChecks: [],
    sets: [[keyOf(b), b]],
  }
}

const wordsFor = (fields: readonly string[]) =>
  fields.length === 0 ? 'nothing' : fields.map((f) => f.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)).join(', ')

export const comment = (target: string, a: { readonly comment: string | null }, b: { readonly comment: string | null }) =>
  a.comment === b.comment ? [] : [pg.setComment(target, b.comment)]
