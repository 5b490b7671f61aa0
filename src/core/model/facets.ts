// The fold: proposals first, then the ledger's entries in order; the last value per facet and subject wins.

import { activeEntries } from './active.ts'
import { type Edit, editKey, type Facet } from './edit.ts'
import type { Finding } from './finding.ts'
import { editsOf, type LedgerEntry } from './ledger.ts'

export interface Facets {
  /** The value in force, or undefined where nobody set or proposed one. */
  readonly get: <F extends Facet>(facet: F, subject: string) => Extract<Edit, { facet: F }>['value'] | undefined
  /** Was it set by a person rather than proposed? */
  readonly ruled: (facet: Facet, subject: string) => boolean
  readonly subjects: (facet: Facet) => readonly string[]
}

/** Proposals by facet and subject. Findings are immutable and folded again after every entry, so the fold of each list is kept with it. */
const proposals = new WeakMap<readonly Finding[], ReadonlyMap<string, Edit>>()

function proposalsOf(findings: readonly Finding[]): ReadonlyMap<string, Edit> {
  const known = proposals.get(findings)
  if (known) return known
  const values = new Map<string, Edit>()
  for (const f of findings) for (const e of f.alternatives[0].edits) values.set(editKey(e), e)
  proposals.set(findings, values)
  return values
}

const nameFacets: ReadonlySet<Facet> = new Set([
  'entity.name',
  'property.name',
  'reference.ownName',
  'reference.inverseName',
  'join.firstName',
  'join.secondName',
])

export function foldFacets(findings: readonly Finding[], entries: readonly LedgerEntry[]): Facets {
  const proposed = proposalsOf(findings)
  const values = new Map<string, Edit>()
  const ruled = new Set<string>()
  const active = activeEntries(entries)
  // A rule about names set after a seal goes for what was only settled, not for what people said.
  const renamed = active.findLast((e) => e.kind === 'naming')?.seq ?? 0
  for (const entry of active) {
    for (const e of editsOf(entry)) {
      if (entry.kind === 'settle' && entry.seq < renamed && nameFacets.has(e.facet)) continue
      values.set(editKey(e), e)
      if (entry.kind !== 'settle') ruled.add(editKey(e))
    }
  }
  return {
    get: (facet, subject) => {
      const key = editKey({ facet, subject })
      return (values.get(key) ?? proposed.get(key))?.value as never
    },
    ruled: (facet, subject) => ruled.has(editKey({ facet, subject })),
    subjects: (facet) => {
      const found = new Set<string>()
      for (const list of [proposed, values]) for (const e of list.values()) if (e.facet === facet) found.add(e.subject)
      return [...found]
    },
  }
}
