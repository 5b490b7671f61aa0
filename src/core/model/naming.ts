// Naming rules in force, from the ledger.
import { type Naming, namingOf } from '../names/index.ts'
import { activeEntries } from './active.ts'
import type { LedgerEntry } from './ledger.ts'

/** What names are proposed by. O(entries). */
export const foldNaming = (entries: readonly LedgerEntry[]): Naming => namingOf(activeEntries(entries).flatMap((e) => (e.kind === 'naming' ? [e.rule] : [])))
