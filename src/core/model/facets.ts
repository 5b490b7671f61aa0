// The fold: proposals first, then the ledger's entries in order; the last value per facet and subject wins.
import { type Edit, editKey, type Facet } from './edit.ts'
import type { Finding } from './finding.ts'
import { activeEntries, editsOf, type LedgerEntry } from './ledger.ts'

export interface Facets {
  /** The value in force, or undefined where nobody set or proposed one. */
  readonly get: <F extends Facet>(facet: F, subject: string) => Extract<Edit, { facet: F }>['value'] | undefined
  /** Was it set by a person rather than proposed? */
  readonly ruled: (facet: Facet, subject: string) => boolean
  readonly subjects: (facet: Facet) => readonly string[]
}

export function foldFacets(findings: readonly Finding[], entries: readonly LedgerEntry[]): Facets {
  const values = new Map<string, Edit>()
  const ruled = new Set<string>()
  for (const f of findings) for (const e of f.alternatives[0].edits) values.set(editKey(e), e)
  for (const entry of activeEntries(entries)) {
    for (const e of editsOf(entry)) {
      values.set(editKey(e), e)
      if (entry.kind !== 'settle') ruled.add(editKey(e))
    }
  }
  return {
    get: (facet, subject) => values.get(editKey({ facet, subject }))?.value as never,
    ruled: (facet, subject) => ruled.has(editKey({ facet, subject })),
    subjects: (facet) => [...values.values()].filter((e) => e.facet === facet).map((e) => e.subject),
  }
}
