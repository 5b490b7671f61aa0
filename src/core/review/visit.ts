// What happened since somebody was here last, and what this day came to.
import { aboutFindings, editsOf, type Finding, type LedgerEntry } from '../model/index.ts'
import type { Review } from './review.ts'

/** Where somebody's last visit ended. */
export interface Visit {
  /** Seq of the last entry they had then. */
  readonly seq: number
  /** ISO 8601. */
  readonly at: string
  readonly snapshot: string
  /** Hash of the rows as they were read then; null where they had not been. */
  readonly rows: string | null
}

export interface SinceVisit {
  readonly at: string
  /** Entries of others, a line per person, most entries first. */
  readonly by: readonly { readonly who: string; readonly n: number }[]
  /** Findings that those entries are about. */
  readonly findings: readonly string[]
  readonly newSurvey: boolean
  readonly newRows: boolean
}

/** Null on a first visit, and where nothing happened. */
export function sinceVisit(
  findings: readonly Finding[],
  entries: readonly LedgerEntry[],
  who: string,
  last: Visit | null,
  now: { readonly snapshot: string; readonly rows: string | null },
): SinceVisit | null {
  if (last === null) return null
  const about = aboutFindings(findings, entries)
  const others = entries.filter((e) => e.seq > last.seq && e.by !== who)
  const counts = new Map<string, number>()
  for (const e of others) counts.set(e.by, (counts.get(e.by) ?? 0) + 1)
  const [newSurvey, newRows] = [last.snapshot !== now.snapshot, last.rows !== now.rows]
  if (others.length === 0 && !newSurvey && !newRows) return null
  return {
    at: last.at,
    by: [...counts].map(([name, n]) => ({ who: name, n })).sort((a, b) => b.n - a.n || (a.who < b.who ? -1 : 1)),
    findings: [...new Set(others.flatMap(about))],
    newSurvey,
    newRows,
  }
}

export interface Day {
  /** Of each person: rulings (several at once count each), names and other edits, questions asked, and entries taken back. */
  readonly people: readonly { readonly who: string; readonly rulings: number; readonly edits: number; readonly asked: number; readonly takenBack: number }[]
  /** Findings ruled on since `from`, in force. */
  readonly ruled: ReadonlySet<string>
}

/** What was done since a moment, ISO 8601: of a day, its beginning where the reader is. */
export function dayOf(r: Review, entries: readonly LedgerEntry[], from: string): Day {
  const today = entries.filter((e) => e.at >= from)
  const people = new Map<string, { rulings: number; edits: number; asked: number; takenBack: number }>()
  for (const e of today) {
    const p = people.get(e.by) ?? { rulings: 0, edits: 0, asked: 0, takenBack: 0 }
    people.set(e.by, p)
    if (e.kind === 'rule') p[e.verdict === 'ask' ? 'asked' : 'rulings'] += 1
    else if (e.kind === 'revert') p.takenBack += 1
    else if (editsOf(e).length > 0 || e.kind === 'naming' || e.kind === 'settings') p.edits += 1
  }
  const first = today[0]?.seq ?? Number.POSITIVE_INFINITY
  const ruled = [...r.ruledBy].flatMap(([id, { seq }]) => (seq >= first ? [id] : []))
  return { people: [...people].map(([who, p]) => ({ who, ...p })).sort((a, b) => (a.who < b.who ? -1 : 1)), ruled: new Set(ruled) }
}
