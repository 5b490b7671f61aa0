// Where each finding stands in the review, and what ruling on it would write.

import { keptWith } from '../memo/memo.ts'
import { activeEntries } from './active.ts'
import { type Edit, editKey } from './edit.ts'
import { type Finding, fingerprint, isGuess, noReference, severityOf } from './finding.ts'
import { type EntryBody, isUnread, type LedgerEntry } from './ledger.ts'

/**
 * `certain`: sure enough to need no ruling, and not sealed yet. `settled`: the same, sealed. `taken`: as proposed, unread. `folded`: nothing speaks for it enough to
 * ask; it can be searched for and ruled on, and asks for no attention.
 */
export type FindingStatus = 'open' | 'folded' | 'certain' | 'settled' | 'taken' | 'accepted' | 'amended' | 'rejected' | 'asked'

/** Findings at least this sure need no ruling, until a project says otherwise. */
export const defaultThreshold = 0.9

export interface Threshold {
  readonly value: number
  /** Who set it; null for what a project starts with. */
  readonly by: string | null
}

/** How sure a finding must be to need no ruling in this project: what was said last. */
export function thresholdOf(entries: readonly LedgerEntry[]): Threshold {
  for (const e of activeEntries(entries).toReversed()) {
    const said = e.kind === 'edit' && e.edit.facet === 'project.threshold' ? e.edit.value : null
    if (said !== null) return { value: said, by: e.by }
  }
  return { value: defaultThreshold, by: null }
}

/** A reference that is no surer than this is folded away. */
export const foldedBelow = 0.25

const isFolded = (f: Finding) => isGuess(f) && f.alternatives.every((a) => a.key === noReference || a.confidence < foldedBelow)

const ofVerdict = { accept: 'accepted', amend: 'amended', reject: 'rejected', ask: 'asked' } as const

const waits = (s: FindingStatus | undefined) => s === 'certain' || s === 'open'
const isUnruled = (s: FindingStatus | undefined) => waits(s) || s === 'asked'

/** The status of every finding, by id. An edit of a facet that a finding proposes counts as amending it. */
export function findingStatuses(
  findings: readonly Finding[],
  entries: readonly LedgerEntry[],
  threshold = thresholdOf(entries).value,
): ReadonlyMap<string, FindingStatus> {
  const owner = editOwners(findings)
  const confidence = confidences(findings)
  const status = new Map<string, FindingStatus>()
  for (const { id, folded, confidence: sure } of beforeRulings(findings)) status.set(id, folded ? 'folded' : sure >= threshold ? 'certain' : 'open')
  for (const e of activeEntries(entries)) {
    if (e.kind === 'rule' && status.has(e.finding)) status.set(e.finding, ofVerdict[e.verdict])
    else if (e.kind === 'edit') {
      const id = owner.get(editKey(e.edit))
      if (id !== undefined) status.set(id, 'amended')
    } else if (isUnread(e)) for (const [id, now] of unreadStatuses(e, status, confidence)) status.set(id, now)
  }
  return status
}

const confidences = keptWith((findings: readonly Finding[]) => new Map<string, number>(findings.map((f) => [f.id, f.alternatives[0].confidence])))
const beforeRulings = keptWith((findings: readonly Finding[]) =>
  findings.map((f) => ({ id: f.id, folded: isFolded(f), confidence: f.alternatives[0].confidence })),
)

/** What becomes of findings by an entry that took them unread; those that were ruled on stay what they were. */
function unreadStatuses(
  e: LedgerEntry,
  status: ReadonlyMap<string, FindingStatus>,
  confidence: ReadonlyMap<string, number>,
): readonly (readonly [string, FindingStatus])[] {
  // What a seal took stays settled while it is as sure as was asked for then; what is less sure since is asked again.
  if (e.kind === 'settle')
    return e.findings.flatMap((id) => (waits(status.get(id)) && (confidence.get(id) ?? 0) >= e.threshold ? [[id, 'settled'] as const] : []))
  if (e.kind === 'take') return e.findings.flatMap(({ id }) => (isUnruled(status.get(id)) ? [[id, 'taken'] as const] : []))
  return []
}

/** The finding that each edit its answers can make belongs to, by `editKey`. */
const editOwners = keptWith((findings: readonly Finding[]): ReadonlyMap<string, string> => {
  const owner = new Map<string, string>()
  for (const f of findings) for (const a of f.alternatives) for (const e of a.edits) owner.set(editKey(e), f.id)
  return owner
})

/** The findings that each entry rules on, edits or settles; taking back an entry is about what that one was about. */
export function aboutFindings(findings: readonly Finding[], entries: readonly LedgerEntry[]): (e: LedgerEntry) => readonly string[] {
  const owner = editOwners(findings)
  const bySeq = new Map(entries.map((e) => [e.seq as number, e]))
  const about = (e: LedgerEntry): readonly string[] => {
    if (e.kind === 'rule') return [e.finding]
    if (e.kind === 'settle') return e.findings
    if (e.kind === 'take') return e.findings.map((f) => f.id)
    if (e.kind === 'edit') return [owner.get(editKey(e.edit)) ?? []].flat()
    const meant = e.kind === 'revert' ? bySeq.get(e.reverts) : undefined
    return meant && meant.kind !== 'revert' ? about(meant) : []
  }
  return about
}

/** Who gave what a finding stands by, in which entry, and what a ruling set. */
export interface RuledBy {
  readonly who: string
  readonly seq: number
  /** Empty where it was neither a ruling nor an edit. */
  readonly edits: readonly Edit[]
}

/** The ruling, the edit or the seal that each finding stands by. A seal settles only what nobody ruled on. */
export function ruledBy(findings: readonly Finding[], entries: readonly LedgerEntry[]): ReadonlyMap<string, RuledBy> {
  const by = new Map<string, RuledBy>()
  if (entries.length === 0) return by
  const about = aboutFindings(findings, entries)
  for (const e of activeEntries(entries)) {
    if (e.kind === 'revert') continue
    for (const id of about(e))
      if (e.kind !== 'settle' || !by.has(id)) by.set(id, { who: e.by, seq: e.seq, edits: e.kind === 'rule' ? e.edits : e.kind === 'edit' ? [e.edit] : [] })
  }
  return by
}

/** Findings ruled on that answer otherwise now than when they were: the fingerprint of the last ruling tells. */
export function changedSinceRuling(findings: readonly Finding[], entries: readonly LedgerEntry[]): ReadonlySet<string> {
  const seen = new Map<string, string>()
  for (const e of activeEntries(entries)) {
    if (e.kind === 'rule') seen.set(e.finding, e.fingerprint)
    if (e.kind === 'take') for (const f of e.findings) seen.set(f.id, f.fingerprint)
  }
  if (seen.size === 0) return new Set()
  const changed = (f: Finding) => {
    const was = seen.get(f.id)
    return was !== undefined && was !== '' && was !== fingerprint(f)
  }
  return new Set(findings.filter(changed).map((f) => f.id))
}

/** The edits that take the alternative with this key, or the proposal. */
export function accepting(f: Finding, key?: string): readonly Edit[] {
  return (f.alternatives.find((a) => a.key === key) ?? f.alternatives[0]).edits
}

/** The edits of a plain no: no reference, no many-to-many. Null where a no says nothing (every relation has a class name). */
export function rejecting(f: Finding): readonly Edit[] | null {
  switch (f.kind) {
    case 'reference':
      return [{ facet: 'reference.target', subject: f.subject, value: null }]
    case 'join-table':
      return [{ facet: 'join.reading', subject: f.subject, value: { as: 'entity' } }]
    case 'polymorphic':
      return [{ facet: 'reference.kinds', subject: f.subject, value: null }]
    case 'structure':
      // Of a type there are only ways to hold it, of names only names.
      if (!f.alternatives.some((a) => a.key === 'no')) return null
      return f.alternatives.find((a) => a.key === 'no' && a.edits.length > 0)?.edits ?? notSo(f)
    case 'entity':
      return null
    default:
      return unreachable(f.kind)
  }
}

const notSo = (f: Finding): readonly Edit[] => f.alternatives.flatMap((a) => a.edits).map((e) => ({ ...e, value: null }) as Edit)

function unreachable(kind: never): never {
  throw new Error(`a finding of no known kind: ${String(kind)}`)
}

/** The entry for a ruling; the fingerprint keeps what was seen. */
export function ruling(f: Finding, verdict: 'accept' | 'amend' | 'reject' | 'ask', edits: readonly Edit[], note: string | null): EntryBody {
  return { kind: 'rule', finding: f.id, verdict, edits: [...edits] as EntryBody extends { edits: infer E } ? E : never, fingerprint: fingerprint(f), note }
}

/** What is asked and not answered yet, by finding: the last ruling is the question. */
export function openQuestions(
  entries: readonly LedgerEntry[],
): ReadonlyMap<string, { readonly whom: string; readonly question: string; readonly by: string; readonly at: string }> {
  const asked = new Map<string, { whom: string; question: string; by: string; at: string }>()
  for (const e of activeEntries(entries)) {
    if (e.kind === 'take') for (const f of e.findings) asked.delete(f.id)
    if (e.kind !== 'rule') continue
    asked.delete(e.finding)
    if (e.verdict === 'ask' && e.asks) asked.set(e.finding, { ...e.asks, by: e.by, at: e.at })
  }
  return asked
}

/** What keeps outputs back: findings whose answer changes what comes out, and that wait for one, were asked of somebody, or answer otherwise since. */
export function blocking(findings: readonly Finding[], statuses: ReadonlyMap<string, FindingStatus>, changed: ReadonlySet<string>): readonly Finding[] {
  return findings.filter((f) => severityOf(f) === 'blocks' && (changed.has(f.id) || statuses.get(f.id) === 'open' || statuses.get(f.id) === 'asked'))
}

/** The entry that takes what these findings propose as it stands; of those that were ruled on, the ruling. */
export function taking(findings: readonly Finding[], statuses: ReadonlyMap<string, FindingStatus>, note: string | null): EntryBody {
  return {
    kind: 'take',
    findings: findings.map((f) => ({ id: f.id, fingerprint: fingerprint(f) })),
    edits: findings.filter((f) => isUnruled(statuses.get(f.id))).flatMap((f) => f.alternatives[0].edits) as Extract<EntryBody, { kind: 'take' }>['edits'],
    note,
  }
}

/** What sealing a revision settles: every proposal at or above the project's threshold that nobody ruled on and no earlier seal took. Null where there is nothing. */
export function settling(findings: readonly Finding[], entries: readonly LedgerEntry[]): Extract<EntryBody, { kind: 'settle' }> | null {
  const threshold = thresholdOf(entries).value
  const status = findingStatuses(findings, entries, threshold)
  const sure = findings.filter((f) => status.get(f.id) === 'certain')
  if (sure.length === 0) return null
  return {
    kind: 'settle',
    threshold,
    findings: sure.map((f) => f.id),
    edits: sure.flatMap((f) => f.alternatives[0].edits) as Extract<EntryBody, { kind: 'settle' }>['edits'],
  }
}
