// A step that waits to be ordered, and what making and dropping share.
import type { Relation, RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import type { Alteration, Running } from './alteration.ts'
import { type Ground, withTable } from './needs.ts'
import { columnKey, type HangingPart, hangingKey, hangs, keyOf, type Part, type PartOf, relationKey } from './parts.ts'
import type { Hazard, PreCheck, Probe, StepKind } from './plan.ts'
import { partText, stepKindOf, type Work } from './statements.ts'
import type { Status, Statuses } from './status.ts'

/** A step to be ordered. */
export interface Change {
  /** The part it is about. */
  readonly key: string
  /** It gives a column another type. */
  readonly retypes?: true
  /** Other parts that the same statement changes. */
  readonly also?: readonly string[]
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
export const makeRank = {
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
export const lastDrops: Readonly<Partial<Record<Part['kind'], number>>> = {
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

export const lateRank: Readonly<Record<Running, number>> = { together: 0, outside: 40, alone: 45 }

export interface Making {
  readonly ga: Ground
  readonly gb: Ground
  readonly statuses: Statuses
  /** New tables whose defaults and checks are made later. */
  readonly deferred: ReadonlySet<string>
  /** Parts that columns were given before they were the ones of `ga`: those of types set aside. */
  readonly added: ReadonlyMap<string, number>
}

export const statusOf = (m: Making, key: string): Status | undefined => m.statuses.of.get(key)

/** Is the relation made by the plan, or a table that is copied into a new one? */
export const isNew = (m: Making, a: RelationAddress) => {
  const what = statusOf(m, relationKey(a))?.what
  return what === 'make' || (what === 'anew' && m.gb.parts.get(relationKey(a))?.kind === 'table')
}

/** Is it dropped, by itself or with the table it is a partition of? */
export const isGone = (m: Making, a: RelationAddress) => {
  const what = statusOf(m, relationKey(a))?.what
  return what === 'drop' || (what === 'carried' && !m.gb.parts.has(relationKey(a)))
}

/** Does it wait under another name until its rows are copied? */
export const isAside = (m: Making, a: RelationAddress) => statusOf(m, relationKey(a))?.what === 'anew' && m.ga.parts.get(relationKey(a))?.kind === 'table'

/** Does it go before its table is set aside? What uses a routine that is dropped cannot wait. */
export const cannotWait = (p: Part, m: Making) => m.ga.needsOf(p).some((k) => m.ga.parts.get(k)?.kind === 'routine' && droppedNow(m, k))

/** Is this part made, or dropped, along with the relation it hangs on? */
export function absorbed(p: Part, m: Making, phase: 'make' | 'drop'): boolean {
  if (!hangs(p)) return false
  if (phase === 'drop')
    return (
      (isGone(m, p.on) && p.kind !== 'reference') ||
      (isAside(m, p.on) && (p.kind === 'column' || p.kind === 'default' || p.kind === 'check') && !cannotWait(p, m))
    )
  if (isNew(m, p.on)) return withTable(p) && !(m.deferred.has(relationKey(p.on)) && (p.kind === 'default' || p.kind === 'check'))
  // A default comes with its column.
  return p.kind === 'default' && madeNow(m, columnKey(p.on, p.value.column)) && statusOf(m, keyOf(p))?.what !== 'same'
}

export const madeNow = (m: Making, key: string) => ['make', 'anew'].includes(statusOf(m, key)?.what ?? '')

export const droppedNow = (m: Making, key: string) => ['drop', 'anew'].includes(statusOf(m, key)?.what ?? '')

export const targetOf = (p: PartOf<'reference'>): RelationAddress => ({ schema: p.value.target.schema, name: p.value.target.table })

/** Are these columns there before, with the type they have afterwards? */
export const sameBefore = (m: Making, on: RelationAddress, columns: readonly string[]): boolean =>
  columns.every((c) => {
    const [a, b] = [m.ga.parts.get(columnKey(on, c)), m.gb.parts.get(columnKey(on, c))]
    return a?.kind === 'column' && b?.kind === 'column' && a.value.type === b.value.type
  })

/** Can rows be asked about these columns before the plan runs? Not where it makes them or gives them another type. */
export const canAsk = (m: Making, on: RelationAddress, columns: readonly string[]): boolean =>
  !isNew(m, on) && sameBefore(m, on, columns) && !columns.some((c) => madeNow(m, columnKey(on, c)))

export const unasked = (p: Part, m: Making, on: RelationAddress): readonly Hazard[] =>
  isNew(m, on)
    ? []
    : [
        {
          code: 'fails-on-rows',
          object: partText(p),
          what: 'it is about a column that the plan itself makes or changes, so its rows cannot be looked at beforehand',
        },
      ]

export const change = (
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

export const because = (s: Status) => (s.what === 'anew' ? `: ${s.because}` : '')

export const anewHazard = (p: Part, s: Status): readonly Hazard[] =>
  s.what === 'anew' && (p.kind === 'view' || p.kind === 'routine' || p.kind === 'sequence')
    ? [{ code: 'made-anew', object: partText(p), because: s.because }]
    : []

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

export function listOf(
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
export const detached = (r: Relation): Relation => ({
  ...r,
  kind: r.foreign ? 'foreign table' : r.partitionKey === null ? 'table' : 'partitioned table',
  partitionOf: null,
})

export type Indexed = PartOf<'index'> | PartOf<'unique'> | PartOf<'primary key'>

/** The same of partitions, one level down, and theirs in turn. */
export function attachedTo(p: Indexed, g: Ground): readonly Indexed[] {
  return g.childrenOf(p.on).flatMap((r) => {
    const own = hangingOn(g, r).filter((h): h is Indexed => h.kind === p.kind && (h as Indexed).value.attachedTo === p.value.name)
    return own.flatMap((c) => [...attachedTo(c, g), c])
  })
}

/** Indexes are attached by a command of their own; keys are found and taken by ADD CONSTRAINT itself. */
export const attachAll = (p: Indexed, children: readonly Indexed[]): readonly string[] =>
  p.kind !== 'index'
    ? []
    : children
        .filter((c) => c.value.attachedTo === p.value.name)
        .map(
          (c) =>
            `ALTER INDEX ${pg.quoteAddress({ schema: p.on.schema, name: p.value.name })} ATTACH PARTITION ${pg.quoteAddress({ schema: c.on.schema, name: c.value.name })};`,
        )

export const fromAlteration = (p: Part, x: Alteration, phase: 'alter' | 'make', rank: number): Change =>
  change(p, phase, rank, x.says, x.up, x.down, x.sets, { kind: x.kind, running: x.running, preChecks: x.preChecks, ...(x.retypes ? { retypes: true } : {}) })
