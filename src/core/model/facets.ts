// The fold: proposals first, then the ledger's entries in order; the last value per facet and subject wins.
import { keptWith } from '../memo/memo.ts'
import { activeEntries } from './active.ts'
import { type Edit, editKey, type Facet } from './edit.ts'
import type { Finding } from './finding.ts'
import { editsOf, isUnread, type LedgerEntry } from './ledger.ts'

export interface Facets {
  /** The value in force, or undefined where nobody set or proposed one. */
  readonly get: <F extends Facet>(facet: F, subject: string) => Extract<Edit, { facet: F }>['value'] | undefined
  /** Was it set by a person rather than proposed? */
  readonly ruled: (facet: Facet, subject: string) => boolean
  readonly subjects: (facet: Facet) => ReadonlySet<string>
  /** Those of which an entry says something. */
  readonly said: (facet: Facet) => Iterable<string>
}

/** Edits by facet and subject: the last one put in wins. */
class ByFacet {
  private readonly edits = new Map<Facet, Map<string, Edit>>()

  put(e: Edit): void {
    const own = this.edits.get(e.facet)
    if (own) own.set(e.subject, e)
    else this.edits.set(e.facet, new Map([[e.subject, e]]))
  }
  get = (facet: Facet, subject: string): Edit | undefined => this.edits.get(facet)?.get(subject)
  subjects = (facet: Facet): Iterable<string> => this.edits.get(facet)?.keys() ?? []
}

/** Findings are immutable and folded again after every entry. */
const proposalsOf = keptWith((findings: readonly Finding[]): ByFacet => {
  const proposed = new ByFacet()
  for (const f of findings) for (const e of f.alternatives[0].edits) proposed.put(e)
  return proposed
})

/** Facets whose value is a name in the code. */
export const nameFacets: ReadonlySet<Facet> = new Set([
  'entity.name',
  'property.name',
  'reference.ownName',
  'reference.inverseName',
  'join.firstName',
  'join.secondName',
  'type.name',
])

const folded = keptWith((_: readonly Finding[]) => new WeakMap<readonly LedgerEntry[], Facets>())

/** O(entries); the same for the same arrays. */
export function foldFacets(findings: readonly Finding[], entries: readonly LedgerEntry[]): Facets {
  const known = folded(findings).get(entries)
  if (known) return known
  const facets = fold(findings, entries)
  folded(findings).set(entries, facets)
  return facets
}

function fold(findings: readonly Finding[], entries: readonly LedgerEntry[]): Facets {
  const proposed = proposalsOf(findings)
  const values = new ByFacet()
  const ruled = new Set<string>()
  const active = activeEntries(entries)
  // A rule about names set after a seal goes for what was only settled, not for what people said.
  const renamed = active.findLast((e) => e.kind === 'naming')?.seq ?? 0
  for (const entry of active) {
    for (const e of editsOf(entry)) {
      if (isUnread(entry) && entry.seq < renamed && nameFacets.has(e.facet)) continue
      values.put(e)
      if (!isUnread(entry)) ruled.add(editKey(e))
    }
  }
  return {
    get: (facet, subject) => (values.get(facet, subject) ?? proposed.get(facet, subject))?.value as never,
    ruled: (facet, subject) => ruled.has(editKey({ facet, subject })),
    subjects: (facet) => new Set([...proposed.subjects(facet), ...values.subjects(facet)]),
    said: values.subjects,
  }
}
