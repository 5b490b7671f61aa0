import type { EntryBody } from '../../core/model/index.ts'
import type { AreaBlock } from '../../core/review/index.ts'
import { areaEntries, areaNameEntry } from '../../core/review/index.ts'

/** What calls an area otherwise: one entry, or one for each table where the area came from moving tables. */
export function areaRenaming({ by }: AreaBlock, name: string): readonly EntryBody[] {
  if ('proposed' in by) return [areaNameEntry(by.proposed, name === by.proposed ? null : name)]
  return areaEntries(by.tables, name, crypto.randomUUID())
}
