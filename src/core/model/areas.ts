// Subject areas as people ruled on them: what they are called, and which relations stand in which.
import { activeEntries } from './active.ts'
import { editsOf, type LedgerEntry } from './ledger.ts'

export interface AreaRulings {
  /** Area by relation, of those that somebody moved and nobody moved back. */
  readonly tables: ReadonlyMap<string, string>
  /** Name by the name that is proposed. */
  readonly names: ReadonlyMap<string, string>
}

export const noAreaRulings: AreaRulings = { tables: new Map(), names: new Map() }

export function foldAreas(entries: readonly LedgerEntry[]): AreaRulings {
  const tables = new Map<string, string>()
  const names = new Map<string, string>()
  for (const e of activeEntries(entries).flatMap(editsOf)) {
    const of = e.facet === 'table.area' ? tables : e.facet === 'area.name' ? names : null
    if (of === null || (e.value !== null && typeof e.value !== 'string')) continue
    if (e.value === null) of.delete(e.subject)
    else of.set(e.subject, e.value)
  }
  return { tables, names }
}
