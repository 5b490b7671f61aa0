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
  readonly subjects: (facet: Facet) => ReadonlySet<string>
}

/** Proposals by facet and subject. Findings are immutable and folded again after every entry, so the fold of each list is kept with it. */
interface Proposals {
  readonly values: ReadonlyMap<string, Edit>
  readonly subjects: ReadonlyMap<Facet, ReadonlySet<string>>
}

const proposals = new WeakMap<readonly Finding[], Proposals>()
const nobody: ReadonlySet<string> = new Set()

function proposalsOf(findings: readonly Finding[]): Proposals {
  const known = proposals.get(findings)
  if (known) return known
  const values = new Map<string, Edit>()
  const subjects = new Map<Facet, Set<string>>()
  for (const f of findings)
    for (const e of f.alternatives[0].edits) {
      values.set(editKey(e), e)
      const own = subjects.get(e.facet)
      if (own) own.add(e.subject)
      else subjects.set(e.facet, new Set([e.subject]))
    }
  const made = { values, subjects }
  proposals.set(findings, made)
  return made
}

/** Facets whose value is a name in the code. */
export const nameFacets: ReadonlySet<Facet> = new Set([
  'entity.name',
  'property.name',
  'reference.ownName',
  'reference.inverseName',
  'join.firstName',
  'join.secondName',
])

export function foldFacets(findings: readonly Finding[], entries: readonly LedgerEntry[]): Facets {
  const { values: proposed, subjects } = proposalsOf(findings)
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
  const set = new Set([...values.values()].map((e) => e.facet))
  return {
    get: (facet, subject) => {
      if (!subjects.has(facet) && !set.has(facet)) return undefined
      const key = editKey({ facet, subject })
      return (values.get(key) ?? proposed.get(key))?.value as never
    },
    ruled: (facet, subject) => ruled.has(editKey({ facet, subject })),
    subjects: (facet) => {
      const before = subjects.get(facet) ?? nobody
      if (values.size === 0) return before
      const found = new Set(before)
      for (const e of values.values()) if (e.facet === facet) found.add(e.subject)
      return found
    },
  }
}
