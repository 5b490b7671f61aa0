// The review of a project on the server: the model, code and plan at the head of the ledger, and what rulings are allowed.
import { promisify } from 'node:util'
import { gunzipSync, gzip, type ZlibOptions } from 'node:zlib'
import { z } from 'zod'
import { type Catalog, parseAddress, type Reading, type SnapshotHash, type Statistics } from '../core/catalog/index.ts'
import { withSchemaEdits } from '../core/change/index.ts'
import { keptWith } from '../core/memo/memo.ts'
import { batchOf, checkRevert, entryBody, type Finding, findConflict, type LedgerEntry, parseLedger, schemaEditsOf } from '../core/model/index.ts'
import { findingsKey, namingProblem, type Review, type ReviewBase, reviewBase, reviewBaseWith, reviewWith } from '../core/review/index.ts'
import { evidenceHash, type RowEvidence, rowEvidence } from '../core/rows/index.ts'
import { scopeProblem } from '../core/scope/index.ts'
import type { Words } from '../core/text/told.ts'
import {
  appendToLedger,
  findKept,
  findSurvey,
  importEntries,
  insertRowEvidence,
  keep,
  type ProjectNow,
  readProjectNow,
  readRowEvidenceText,
} from '../store/index.ts'
import { catalogOf } from './catalogs.ts'

export {
  closeStore,
  findKept,
  findLastRevision,
  findRowEvidenceBytes,
  findSnapshotBytes,
  importEntries,
  type ProjectNow,
  readLedger,
  readProjectNow,
} from '../store/index.ts'

export interface ProjectReview {
  readonly hash: SnapshotHash
  /** The whole snapshot; the review is of what takes part. */
  readonly catalog: Catalog
  /** What takes part, and the rows read as evidence. */
  readonly base: ReviewBase
  readonly review: Review
  /** The whole ledger. */
  readonly entries: readonly LedgerEntry[]
  readonly statistics: Statistics
  readonly reading: Reading
  readonly surveyedAt: Date
}

/** A catalog and what is inferred from it under a scope are pure functions of the hash and the scope: the last few stay in memory. */
const recent = new Map<string, ReviewBase>()
const most = 4

export async function baseFor(projectId: string, hash: SnapshotHash, { evidence, entries }: Pick<ProjectNow, 'evidence' | 'entries'>): Promise<ReviewBase> {
  const key = `${hash} ${evidence ?? ''}`
  const known = recent.get(key) ?? null
  const whole = known?.whole ?? (await catalogOf(hash))
  const rows = known?.rows ?? (evidence === null ? null : (JSON.parse(await readRowEvidenceText(evidence)) as RowEvidence))
  const base = (known ? null : await baseWithKept(projectId, hash, whole, entries, rows)) ?? reviewBase(whole, entries, known, rows)
  recent.delete(key)
  recent.set(key, base)
  if (recent.size > most) recent.delete(recent.keys().next().value as string)
  if (base !== known) await keepFindings(projectId, hash, base)
  return base
}

/** With the findings that another process worked out of the same; null where none did. */
async function baseWithKept(
  projectId: string,
  hash: SnapshotHash,
  whole: Catalog,
  entries: readonly LedgerEntry[],
  rows: RowEvidence | null,
): Promise<ReviewBase | null> {
  const without = reviewBaseWith(whole, entries, rows, [])
  const bytes = await findKept(projectId, 'findings', findingsKey(without, hash))
  return bytes && { ...without, findings: JSON.parse(gunzipSync(bytes).toString('utf8')) as readonly Finding[] }
}

async function keepFindings(projectId: string, hash: SnapshotHash, base: ReviewBase): Promise<void> {
  const key = findingsKey(base, hash)
  if ((await findKept(projectId, 'findings', key)) === null) await keep(projectId, 'findings', key, await packed(base.findings))
}

/** What goes to browsers gzipped, to be unpacked by a worker: quickly rather than small. */
export const gzippedJson = (value: unknown): Promise<Buffer> => gzipped(JSON.stringify(value), { level: 1 })
const gzipped = promisify<string, ZlibOptions, Buffer>(gzip)
/** A large schema's findings cost more to infer anew there than to send. */
const packed = keptWith((findings: readonly Finding[]) => gzippedJson(findings))

/** The findings of the project as it is now, gzipped; null where those of this key are others. */
export async function findFindingsBytes(projectId: string, key: string): Promise<Buffer | null> {
  const now = await readProjectNow(projectId)
  if (!now?.survey) return null
  const base = await baseFor(projectId, now.survey.hash, now)
  return findingsKey(base, now.survey.hash) === key ? packed(base.findings) : null
}

/** A ledger that is read again and says the same is the same value: what was derived from it is, too. */
const reviews = new WeakMap<readonly LedgerEntry[], { readonly base: ReviewBase; readonly review: Review }>()

function reviewOf(base: ReviewBase, hash: SnapshotHash, entries: readonly LedgerEntry[]): Review {
  const known = reviews.get(entries)
  if (known?.base === base) return known.review
  const review = reviewWith(base, hash, entries)
  reviews.set(entries, { base, review })
  return review
}

/** Null before the first survey is done. */
export async function readProjectReview(projectId: string): Promise<ProjectReview | null> {
  const now = await readProjectNow(projectId)
  return now && projectReviewOf(projectId, now)
}

/** Of a project as it was read; null before the first survey is done. */
export async function projectReviewOf(projectId: string, now: ProjectNow): Promise<ProjectReview | null> {
  const { survey, entries } = now
  if (!survey) return null
  const base = await baseFor(projectId, survey.hash, now)
  return {
    hash: survey.hash,
    catalog: base.whole,
    base,
    review: reviewOf(base, survey.hash, entries),
    entries,
    statistics: JSON.parse(survey.statistics) as Statistics,
    reading: JSON.parse(survey.reading) as Reading,
    surveyedAt: survey.at,
  }
}

export const ruleInput = z.strictObject({ entries: z.array(entryBody).min(1).max(1000), seen: z.int().min(0) })

export type LedgerRefusal =
  | { readonly reason: 'conflict'; readonly with: LedgerEntry }
  | { readonly reason: 'name'; readonly message: string }
  | { readonly reason: 'no survey' }
  /** Something is open that changes what comes out. */
  | { readonly reason: 'gate'; readonly message: string; readonly hint: string }
  | { readonly reason: 'revert'; readonly message: string }
  | { readonly reason: 'kind' | 'subject'; readonly message: string }

export type LedgerAnswer = { readonly added: readonly LedgerEntry[] } | { readonly refuse: LedgerRefusal }

/** Append rulings and edits. All or none: a conflict with somebody else's entry, or a name that cannot be used, refuses the whole. */
export async function appendEntries(projectId: string, input: z.infer<typeof ruleInput>, by: string): Promise<LedgerAnswer> {
  return appendToLedger<LedgerRefusal>(projectId, by, async (now) => {
    if (!now.survey) return { refuse: { reason: 'no survey' } }
    const { entries, survey } = now
    const base = await baseFor(projectId, survey.hash, now)
    for (const body of input.entries) {
      if (body.kind === 'revert' || body.kind === 'settle' || body.kind === 'take')
        return { refuse: { reason: 'kind', message: `an entry of the kind "${body.kind}" has its own way in` } }
      const conflict = findConflict(entries, body, input.seen, by)
      if (conflict) return { refuse: { reason: 'conflict', with: conflict } }
    }
    const unknown = input.entries.find((body) => body.kind === 'rebind' && body.to !== null && !isThere(base.whole, body.to))
    if (unknown?.kind === 'rebind') return { refuse: { reason: 'subject', message: `there is no ${unknown.to} in this snapshot` } }
    const impossible = schemaEditProblem(base.whole, entries, input.entries)
    if (impossible !== null) return { refuse: { reason: 'subject', message: impossible } }
    const scoped = input.entries.flatMap((body) => (body.kind === 'scope' ? body.edits : []))
    const outside = scopeProblem(base.whole, scoped)
    if (outside !== null) return { refuse: { reason: 'subject', message: outside } }
    const message = namingProblem(base, survey.hash, entries, input.entries)
    return message === null ? { append: input.entries } : { refuse: { reason: 'name', message } }
  })
}

/** The first schema edit that cannot be carried out beside those in force; null where all can. */
function schemaEditProblem(catalog: Catalog, entries: readonly LedgerEntry[], bodies: z.infer<typeof ruleInput>['entries']): string | null {
  const edits = bodies.flatMap((b) => (b.kind === 'schema-edit' ? b.edits : []))
  if (edits.length === 0) return null
  const now = withSchemaEdits(
    catalog,
    schemaEditsOf(entries).flatMap((e) => e.edits),
  ).catalog
  const refused = withSchemaEdits(now, edits).outcomes.find((o) => o.is === 'refused')
  return refused?.is === 'refused' ? `this schema change is not possible: ${refused.because}` : null
}

function isThere(catalog: Catalog, address: string): boolean {
  const a = parseAddress(address)
  const r = a && catalog.relations.find((x) => x.schema === a.schema && x.name === a.name)
  return r !== undefined && r !== null && (a?.columns ?? []).every((c) => r.columns.some((x) => x.name === c))
}

/**
 * Take back an entry by appending a revert; refused, naming the entry, where a later one builds on it. With `batch` all that was ruled at
 * once with it is taken back, or nothing.
 */
export async function revertEntry(projectId: string, seq: number, by: string, batch = false): Promise<LedgerAnswer> {
  return appendToLedger<LedgerRefusal>(projectId, by, ({ entries }) => {
    const seqs = batch ? batchOf(entries, seq) : [seq]
    const check = seqs.map((s) => checkRevert(entries, s)).find((c) => !c.ok) ?? ({ ok: true } as const)
    if (check.ok) return { append: seqs.map((reverts) => ({ kind: 'revert', reverts })) }
    if (check.reason === 'built on')
      return { refuse: { reason: 'revert', message: `entry ${check.by.seq} by ${check.by.by} builds on entry ${seq}; take that one back first` } }
    return { refuse: { reason: 'revert', message: check.reason === 'no such entry' ? `there is no entry ${seq}` : `entry ${seq} was taken back already` } }
  })
}

export const rowsInput = z.strictObject({ snapshot: z.string(), rows: rowEvidence })

/** Keeps what a browser read from the rows of a file; its hash, or null where the snapshot is not the project's last. */
export async function takeRowEvidence(projectId: string, { snapshot, rows }: z.infer<typeof rowsInput>): Promise<string | null> {
  const last = await findSurvey(projectId)
  if (last?.hash !== snapshot) return null
  const hash = evidenceHash(rows)
  await insertRowEvidence(projectId, last.hash, hash, JSON.stringify(rows))
  return hash
}

export const ledgerInput = z.strictObject({ text: z.string().max(50_000_000, 'a ledger file has at most 50 MB') })

/** Takes over an exchange file, with who ruled and when as it says; nothing of it where it does not go on from the ledger as it is. */
export async function takeLedger(
  projectId: string,
  { text }: z.infer<typeof ledgerInput>,
): Promise<{ readonly ok: true; readonly value: { readonly added: number } } | { readonly ok: false; readonly wording: Words }> {
  const no = (message: string, detail: string, hint: string) => ({ ok: false, wording: { message, detail, hint } }) as const
  const parsed = parseLedger(text)
  if (!parsed.ok)
    return no(
      `line ${parsed.line} of the file is not a ledger entry`,
      `${parsed.problem}.`,
      'The file is a header line and one JSON object per line; nothing of it was taken.',
    )
  const answer = await importEntries(projectId, parsed.entries)
  if ('differsAt' in answer)
    return no(
      `entry ${answer.differsAt} of this ledger is another one than in the file`,
      'A file goes in where the ledger is its beginning: both have gone on by themselves since.',
      'Download this ledger and compare the two; or take the file into a new project of the same source.',
    )
  return { ok: true, value: answer }
}
