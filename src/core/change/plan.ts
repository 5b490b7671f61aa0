// An ordered migration as a value: steps with their SQL both ways, what can go wrong, and the hashes it leads from and to.

import type { Dialect, SnapshotHash, Unmodelled } from '../catalog/index.ts'
import { quoteIdent } from '../dialect/postgres/index.ts'

/** What can go wrong when a step runs, as data; `describeHazard` words it. */
export type Hazard =
  | { readonly code: 'needs-superuser'; readonly object: string; readonly because: string }
  | { readonly code: 'needs-extension-files'; readonly object: string; readonly version: string }
  | { readonly code: 'not-carried'; readonly object: string; readonly what: string }

export interface Step {
  /** From 1, in the order of running. */
  readonly number: number
  readonly kind: StepKind
  /** The object, as text for people: `table field.crate`. */
  readonly object: string
  readonly up: readonly string[]
  /** Statements that undo `up`; empty where dropping the object does it. */
  readonly down: readonly string[]
  readonly hazards: readonly Hazard[]
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
  /** All steps run in one transaction. */
  readonly steps: readonly Step[]
  /** Objects of the target that the plan does not make, because this version does not model them. */
  readonly notSupported: readonly Unmodelled[]
}

export function describeHazard(h: Hazard): string {
  switch (h.code) {
    case 'needs-superuser':
      return `${h.object} can be created by a superuser only: ${h.because}`
    case 'needs-extension-files':
      return `${h.object} needs the extension's files, version ${h.version}, on the server`
    case 'not-carried':
      return `${h.object}: ${h.what}`
    default:
      return unreachable(h)
  }
}

function unreachable(h: never): never {
  throw new Error(`a hazard of no known code: ${JSON.stringify(h)}`)
}

/** The setting of the session that a plan's statements are written for. */
export const searchPathSetting = (plan: Pick<Plan, 'searchPath'>): string =>
  `SET LOCAL search_path = ${plan.searchPath.length === 0 ? 'pg_catalog' : plan.searchPath.map(quoteIdent).join(', ')};`
