// One reading of a snapshot under a ledger: findings, where each stands, the model, and the revision that names it all.
import { type Catalog, hashText, relationText, type SnapshotHash } from '../catalog/index.ts'
import { infer, inferenceVersion } from '../infer/index.ts'
import {
  changedSinceRuling,
  derive,
  type EntityModel,
  type Finding,
  type FindingStatus,
  findingStatuses,
  foldFacets,
  foldNaming,
  type KindReading,
  type LedgerEntry,
  type ModelDiagnostic,
  type Revision,
  type RuledBy,
  ruledBy,
} from '../model/index.ts'
import type { Naming } from '../names/index.ts'
import { evidenceHash, type RowEvidence } from '../rows/index.ts'
import { foldScope, type Scope, scopedCatalog } from '../scope/index.ts'
import { countedClaims } from './claims.ts'
import { saidFindings } from './said.ts'

export interface Review {
  readonly findings: readonly Finding[]
  /** Those of them that were inferred. */
  readonly inferred: readonly Finding[]
  readonly statuses: ReadonlyMap<string, FindingStatus>
  /** Ruled on, and answering otherwise now. */
  readonly changed: ReadonlySet<string>
  /** Who gave the ruling, edit or seal that each finding stands by, and its seq. */
  readonly ruledBy: ReadonlyMap<string, RuledBy>
  readonly model: EntityModel
  /** Pairs of columns that say which table and which row, by subject, as they are in force. */
  readonly kinds: ReadonlyMap<string, KindReading>
  readonly revision: Revision
}

/** A snapshot as it takes part: the scope of a ledger applied to it, and what is inferred from that. */
export interface ReviewBase {
  readonly whole: Catalog
  /** Without what is left out; the whole itself where nothing is. */
  readonly catalog: Catalog
  readonly scope: Scope
  readonly naming: Naming
  readonly findings: readonly Finding[]
  /** What rows say, where they were read; of the whole. */
  readonly rows: RowEvidence | null
}

/** What findings follow from: the same key, the same findings. */
export const findingsKey = (base: ReviewBase, snapshot: SnapshotHash): string =>
  hashText(JSON.stringify([snapshot, base.rows === null ? null : evidenceHash(base.rows), base.scope.key, base.naming.key, inferenceVersion])).slice(0, 32)

/** The base that `findings` were inferred for; that they are its own is the caller's word, by their key. */
export function reviewBaseWith(whole: Catalog, entries: readonly LedgerEntry[], rows: RowEvidence | null, findings: readonly Finding[]): ReviewBase {
  const scope = foldScope(entries)
  return { whole, catalog: scopedCatalog(whole, scope), scope, naming: foldNaming(entries), findings, rows }
}

/** `known` is taken again where the scope and the naming rules are still the same: findings depend on nothing else of the ledger. */
export function reviewBase(
  whole: Catalog,
  entries: readonly LedgerEntry[],
  known: ReviewBase | null = null,
  rows: RowEvidence | null = known?.rows ?? null,
): ReviewBase {
  const scope = foldScope(entries)
  const naming = foldNaming(entries)
  if (known && known.whole === whole && known.scope.key === scope.key && known.naming.key === naming.key && known.rows === rows) return known
  const catalog = scopedCatalog(whole, scope)
  return { whole, catalog, scope, naming, findings: infer(catalog, rows, naming).findings, rows }
}

export function review(catalog: Catalog, snapshot: SnapshotHash, entries: readonly LedgerEntry[], rows: RowEvidence | null = null): Review {
  return reviewWith(reviewBase(catalog, entries, null, rows), snapshot, entries)
}

export function reviewWith(base: ReviewBase, snapshot: SnapshotHash, entries: readonly LedgerEntry[]): Review {
  const model = countedClaims(derive(base.catalog, base.findings, entries), base.rows)
  const findings = withSaid(base.findings, saidFindings(base.catalog, model, base.findings, entries))
  return {
    findings,
    inferred: base.findings,
    statuses: findingStatuses(findings, entries),
    changed: changedSinceRuling(findings, entries),
    ruledBy: ruledBy(findings, entries),
    kinds: kindReadings(base.findings, entries),
    model: base.whole === base.catalog ? model : { ...model, diagnostics: aboutScope(model.diagnostics, base.whole) },
    revision: { snapshot, evidence: base.rows === null ? null : evidenceHash(base.rows), ledger: entries.at(-1)?.seq ?? 0, inference: inferenceVersion },
  }
}

const lastSaid = new WeakMap<readonly Finding[], { readonly text: string; readonly all: readonly Finding[] }>()

/** The same value for as long as the same is said: what follows from findings is kept with them. */
function withSaid(findings: readonly Finding[], said: readonly Finding[]): readonly Finding[] {
  if (said.length === 0) return findings
  const text = JSON.stringify(said)
  const before = lastSaid.get(findings)
  if (before?.text === text) return before.all
  const all = [...findings, ...said]
  lastSaid.set(findings, { text, all })
  return all
}

function kindReadings(findings: readonly Finding[], entries: readonly LedgerEntry[]): ReadonlyMap<string, KindReading> {
  const facets = foldFacets(findings, entries)
  return new Map(
    [...facets.subjects('reference.kinds')].flatMap((subject) => {
      const value = facets.get('reference.kinds', subject)
      return value ? [[subject, value] as const] : []
    }),
  )
}

/** A ruling on what was left out is no fault; a key that leads there is told for what it is. */
function aboutScope(diagnostics: readonly ModelDiagnostic[], whole: Catalog): readonly ModelDiagnostic[] {
  const there = new Set(whole.relations.map(relationText))
  const isThere = (subject: string) => there.has((subject.split('(')[0] as string).split('>')[0] as string)
  return diagnostics.flatMap((d): readonly ModelDiagnostic[] => {
    if (d.code === 'outside' && there.has(d.target)) return [{ ...d, code: 'left-out' }]
    if (d.code === 'subject-gone' && isThere(d.subject)) return []
    if (d.code === 'target-gone' && there.has(d.target)) return []
    return [d]
  })
}
