// Subject areas that people gave to relations.
import { activeEntries } from './active.ts'
import { editsOf, type LedgerEntry } from './ledger.ts'

/** Area by relation, of those that somebody moved and nobody moved back. */
export function foldAreas(entries: readonly LedgerEntry[]): ReadonlyMap<string, string> {
  const areas = new Map<string, string>()
  for (const e of activeEntries(entries).flatMap(editsOf)) {
    if (e.facet !== 'table.area') continue
    if (e.value === null) areas.delete(e.subject)
    else areas.set(e.subject, e.value)
  }
  return areas
}
