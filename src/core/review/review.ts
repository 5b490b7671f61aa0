// One reading of a snapshot under a ledger: findings, where each stands, the model, and the revision that names it all.
import type { Catalog, SnapshotHash } from '../catalog/index.ts'
import { infer, inferenceVersion } from '../infer/index.ts'
import {
  defaultThreshold,
  derive,
  type EntityModel,
  type Finding,
  type FindingStatus,
  findingStatuses,
  type LedgerEntry,
  type Revision,
} from '../model/index.ts'

export interface Review {
  readonly findings: readonly Finding[]
  readonly statuses: ReadonlyMap<string, FindingStatus>
  readonly model: EntityModel
  readonly revision: Revision
}

/** Findings of a catalog never depend on the ledger: make them once and use `reviewWith` for each entry that follows. */
export function review(catalog: Catalog, snapshot: SnapshotHash, entries: readonly LedgerEntry[]): Review {
  return reviewWith(catalog, snapshot, infer(catalog).findings, entries)
}

export function reviewWith(catalog: Catalog, snapshot: SnapshotHash, findings: readonly Finding[], entries: readonly LedgerEntry[]): Review {
  return {
    findings,
    statuses: findingStatuses(findings, entries, defaultThreshold),
    model: derive(catalog, findings, entries),
    revision: { snapshot, evidence: null, ledger: entries.at(-1)?.seq ?? 0, inference: inferenceVersion },
  }
}
