// An ordered migration as a value: steps with their SQL both ways, what can go wrong, and the hashes it leads from and to.

import type { Dialect, SnapshotHash, Unmodelled } from '../catalog/index.ts'
import { quoteIdent } from '../dialect/postgres/index.ts'
import type { Part } from './parts.ts'

/** How strongly a step locks a relation (manual 13.3.1, Table-Level Locks), weakest first. */
export const lockModes = [
  'access share',
  'row share',
  'row exclusive',
  'share update exclusive',
  'share',
  'share row exclusive',
  'exclusive',
  'access exclusive',
] as const
export type LockMode = (typeof lockModes)[number]
export interface Lock {
  /** As SQL names it: `field.crate`. */
  readonly relation: string
  readonly mode: LockMode
}

/** What can go wrong when a step runs, as data; `describeHazard` words it, `sourceOf` tells where the rule is written. */
export type Hazard =
  | { readonly code: 'needs-superuser'; readonly object: string; readonly because: string }
  | { readonly code: 'needs-extension-files'; readonly object: string; readonly version: string }
  | { readonly code: 'not-carried'; readonly object: string; readonly what: string }
  /** Every row is written anew, under the step's lock. */
  | { readonly code: 'rewrites'; readonly object: string; readonly because: string }
  /** Every row is read, under the step's lock. */
  | { readonly code: 'reads-all'; readonly object: string; readonly because: string }
  | { readonly code: 'loses-data'; readonly object: string; readonly what: string }
  | { readonly code: 'narrows'; readonly object: string; readonly what: string }
  /** Values are read in one of several ways. */
  | { readonly code: 'converts'; readonly object: string; readonly what: string }
  /** What was worked out before is kept, and is not what would be worked out now. */
  | { readonly code: 'stale'; readonly object: string; readonly what: string }
  | { readonly code: 'no-way-back'; readonly object: string; readonly because: string }
  /** Dropped and made again: for a moment it is not there, and what the role that runs the plan may not give back is lost. */
  | { readonly code: 'made-anew'; readonly object: string; readonly because: string }
  | { readonly code: 'fails-on-rows'; readonly object: string; readonly what: string }
  | { readonly code: 'waits'; readonly object: string; readonly what: string }
  | { readonly code: 'edited'; readonly object: string; readonly what: string }

/** A read-only query that tells before a step runs whether it can. `count` gives one row with one number, `sample` up to ten rows with keys. */
export interface PreCheck {
  readonly id: string
  readonly asks: string
  readonly count: string
  readonly sample: string
  /** A statement that would make it pass, to be read and agreed to; null where nobody can say. */
  readonly cleaning: string | null
  readonly cleaningSays: string | null
}

/** What a pre-check found somewhere. */
export interface CheckAnswer {
  readonly step: number
  readonly object: string
  readonly id: string
  readonly asks: string
  /** What is in the way; null where the query itself was refused. */
  readonly count: number | null
  readonly said: string | null
  /** Up to ten of them, by column. */
  readonly columns: readonly string[]
  readonly rows: readonly (readonly (string | null)[])[]
  readonly cleaning: string | null
  readonly cleaningSays: string | null
}

/** A catalog query whose one row and column says `done`, `half done` or `not done`; null where the step's own transaction decides. */
export type Probe = string | null

export interface Step {
  /** From 1, in the order of running. */
  readonly number: number
  readonly kind: StepKind
  /** The object, as text for people: `table field.crate`. */
  readonly object: string
  /** What happens to it, in a few words: `is made`, `type integer becomes bigint`. */
  readonly says: string
  readonly up: readonly string[]
  /** Statements that undo `up`; empty where dropping the object does it. */
  readonly down: readonly string[]
  /** Steps of one number run in one transaction; null: outside of any. */
  readonly transaction: number | null
  readonly locks: readonly Lock[]
  readonly hazards: readonly Hazard[]
  readonly preChecks: readonly PreCheck[]
  readonly probe: Probe
  /** Parts of the catalog that are others after it, by key; null: gone. Empty in a baseline, whose steps only add. */
  readonly sets: readonly (readonly [string, Part | null])[]
}

export const stepKinds = [
  'schema',
  'extension',
  'type',
  'sequence',
  'routine',
  'object',
  'table',
  'view',
  'defaults',
  'owner',
  'index',
  'exclusion',
  'reference',
  'policy',
  'trigger',
  'rule',
  'refresh',
  'rename',
  'column',
  'key',
  'check',
  'validate',
  'rows',
] as const
export type StepKind = (typeof stepKinds)[number]

export interface Plan {
  readonly format: 'pelvok.plan/1'
  readonly dialect: Dialect
  readonly title: string
  readonly from: SnapshotHash
  readonly to: SnapshotHash
  /** Where names without a schema are looked up: nowhere, where a server wrote them; in the schemas of a script otherwise. */
  readonly searchPath: readonly string[]
  readonly steps: readonly Step[]
  /** Objects of the target that the plan does not make, because this version does not model them. */
  readonly notSupported: readonly Unmodelled[]
  /** What stays otherwise than wished, and why: sentences. */
  readonly leaves: readonly string[]
}

export function describeHazard(h: Hazard): string {
  switch (h.code) {
    case 'needs-superuser':
      return `${h.object} can be created by a superuser only: ${h.because}`
    case 'needs-extension-files':
      return `${h.object} needs the extension's files on the server${h.version === '' ? '' : `; where it comes from, they are of version ${h.version}`}`
    case 'not-carried':
    case 'fails-on-rows':
    case 'waits':
    case 'edited':
      return `${h.object}: ${h.what}`
    case 'rewrites':
      return `every row of ${h.object} is written anew while it is locked: ${h.because}`
    case 'reads-all':
      return `every row of ${h.object} is read: ${h.because}`
    case 'loses-data':
      return `${h.object}: ${h.what} is lost`
    case 'narrows':
    case 'converts':
    case 'stale':
      return `${h.object}: ${h.what}`
    case 'no-way-back':
      return `${h.object} has no way back: ${h.because}`
    case 'made-anew':
      return `${h.object} is dropped and made again, and gets its owner and privileges back: ${h.because}`
    default:
      return unreachable(h)
  }
}

/** Where PostgreSQL's manual says so. */
export const sourceOf = {
  'needs-superuser': 'manual, part VI, the page of the command',
  'needs-extension-files': 'manual 38.17, Packaging Related Objects into an Extension',
  'not-carried': 'manual, part VI, the page of the command',
  rewrites: 'manual, ALTER TABLE, Notes',
  'reads-all': 'manual, ALTER TABLE, Notes',
  'loses-data': 'manual, DROP TABLE and ALTER TABLE, DROP COLUMN',
  narrows: 'manual, ALTER TABLE, SET DATA TYPE',
  converts: 'manual, ALTER TABLE, SET DATA TYPE',
  stale: 'manual 38.7, Function Volatility Categories, and CREATE INDEX, Notes',
  'no-way-back': 'manual, part VI, the page of the command',
  'made-anew': 'manual 5.7, Privileges, and 5.14, Dependency Tracking',
  'fails-on-rows': 'manual 5.4, Constraints',
  waits: 'manual 13.3, Explicit Locking',
  edited: 'the plan’s own folder',
} as const satisfies Record<Hazard['code'], string>

/** Those that people read first: rows or the way back may be gone. */
export const isGrave = (h: Hazard): boolean => h.code === 'loses-data' || h.code === 'no-way-back' || h.code === 'narrows'

function unreachable(h: never): never {
  throw new Error(`a hazard of no known code: ${JSON.stringify(h)}`)
}

/** The setting of the session that a plan's statements are written for. */
export const searchPathSetting = (plan: Pick<Plan, 'searchPath'>, local = false): string =>
  `SET ${local ? 'LOCAL ' : ''}search_path = ${plan.searchPath.length === 0 ? 'pg_catalog' : plan.searchPath.map(quoteIdent).join(', ')};`
