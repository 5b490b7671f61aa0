// What was said otherwise between two readings of a ledger: only that is derived again.
import { parseAddress, relationText } from '../../catalog/index.ts'
import type { Facet } from '../edit.ts'
import { editsOf, type LedgerEntry } from '../ledger.ts'

export interface Touched {
  /** Subjects of which something is said by this facet that was not said before, or no longer. */
  readonly of: (facet: Facet) => ReadonlySet<string>
  /** Address texts of the relations that such subjects, or their columns, belong to. */
  readonly relations: (facets: readonly Facet[]) => ReadonlySet<string>
}

const none: ReadonlySet<string> = new Set()

/** Entries of both that count; null where all has to be read again, since a rule about names goes for everything. */
export function touchedBetween(before: readonly LedgerEntry[], now: readonly LedgerEntry[]): Touched | null {
  let same = 0
  while (same < before.length && same < now.length && before[same] === now[same]) same += 1
  const others = [...before.slice(same), ...now.slice(same)]
  if (others.some((e) => e.kind === 'naming' || e.kind === 'rebind')) return null
  const byFacet = new Map<Facet, Set<string>>()
  for (const e of others)
    for (const { facet, subject } of editsOf(e)) {
      const own = byFacet.get(facet)
      if (own) own.add(subject)
      else byFacet.set(facet, new Set([subject]))
    }
  return {
    of: (facet) => byFacet.get(facet) ?? none,
    relations: (facets) => new Set(facets.flatMap((f) => [...(byFacet.get(f) ?? none)].flatMap(relationsOf))),
  }
}

/** Nothing was said otherwise. */
export const untouched: Touched = { of: () => none, relations: () => none }

function relationsOf(subject: string): readonly string[] {
  const own = subject.split('>')[0] as string
  const address = parseAddress(own)
  return address ? [relationText(address)] : [own]
}
