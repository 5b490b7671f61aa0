// Drift: what a database has otherwise than it should, in both directions, each with what can be done about it.
import { type Catalog, compareText } from '../catalog/index.ts'
import { compareWithServer } from '../ddl/index.ts'

export interface DriftItem {
  readonly object: string
  /** Empty for the whole object. */
  readonly field: string
  /** Expected, and found; null for nothing. */
  readonly was: string | null
  readonly is: string | null
  readonly where: 'only in the database' | 'missing in the database' | 'different in the database'
  readonly remedy: string
}

const whereOf = (was: string | null, is: string | null): DriftItem['where'] =>
  was === null ? 'only in the database' : is === null ? 'missing in the database' : 'different in the database'

const remedies = {
  'only in the database': 'take it into the model by surveying this database, or plan it away',
  'missing in the database': 'plan it, or take it out of the model by surveying this database',
  'different in the database': 'plan it back, or take it into the model by surveying this database',
} as const satisfies Record<DriftItem['where'], string>

/** Differences that a plan would carry; the order of columns and what follows from the rest are none. In order of object and field. */
export function driftItems(expected: Catalog, found: Catalog): readonly DriftItem[] {
  const bare = (c: Catalog): Catalog => ({ ...c, unmodelled: [] })
  return compareWithServer(bare(expected), bare(found))
    .differences.filter((d) => !d.field.endsWith('columns order') && !/(^|\.)dependsOn/.test(d.field))
    .map((d): DriftItem => {
      const where = whereOf(d.was, d.is)
      return { object: d.object, field: d.field, was: d.was, is: d.is, where, remedy: remedies[where] }
    })
    .toSorted((a, b) => compareText(a.object, b.object) || compareText(a.field, b.field))
}
