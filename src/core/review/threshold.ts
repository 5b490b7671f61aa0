// How sure a finding must be to need no ruling, and what other answers to that would come to.
import { type Edit, type EntryBody, type LedgerEntry, type Threshold, thresholdOf, wholeProject } from '../model/index.ts'
import type { Review } from './review.ts'

export interface ThresholdView extends Threshold {
  /** Thresholds to choose from, low to high, the one in force among them: how many findings would wait at each. */
  readonly choices: readonly { readonly value: number; readonly waits: number }[]
}

const offered = [0.5, 0.6, 0.7, 0.8, 0.85, 0.9, 0.95, 0.99, 1]

/** What was ruled on, sealed or folded away stays as it is, wherever the threshold stands. */
export function thresholdView(r: Review, entries: readonly LedgerEntry[]): ThresholdView {
  const now = thresholdOf(entries)
  const values = [...new Set([...offered, now.value])].sort((a, b) => a - b)
  const moved: number[] = []
  let at = 0
  // In the order of the findings.
  for (const status of r.statuses.values()) {
    if (status === 'open' || status === 'certain') moved.push(r.findings[at]?.alternatives[0].confidence ?? 1)
    at += 1
  }
  return { ...now, choices: values.map((value) => ({ value, waits: moved.reduce((n, c) => (c < value ? n + 1 : n), 0) })) }
}

export function thresholdEntry(value: number): EntryBody {
  const edit: Edit = { facet: 'project.threshold', subject: wholeProject, value }
  return { kind: 'edit', edit, note: null }
}
