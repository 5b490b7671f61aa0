// Findings about structure: types, keys, groups of columns, roles, shapes of tables, and health. One file for each group; pure and deterministic.
import type { Finding } from '../../model/index.ts'
import type { Context } from '../context.ts'
import { duplicateConstraints, duplicateIndexes, nullableUniques, typeMismatches, unindexedReferences } from './health.ts'
import { assignedKeys, noKeys } from './keys.ts'
import { leftOutPrefixes, namesAlike } from './names.ts'
import { changeTimes, orderings, softDeletes, tenants, trees, versions } from './roles.ts'
import { histories, keyValues, lookups, repeatedColumns } from './shapes.ts'
import { typeFindings } from './types.ts'
import { flags, valueLists, zeroDates } from './values.ts'

export { type StructureTopic, topics } from './common.ts'
export { listedValues } from './listedValues.ts'

const all = [
  typeFindings,
  noKeys,
  assignedKeys,
  repeatedColumns,
  changeTimes,
  softDeletes,
  versions,
  tenants,
  trees,
  orderings,
  valueLists,
  flags,
  lookups,
  keyValues,
  histories,
  unindexedReferences,
  typeMismatches,
  duplicateIndexes,
  duplicateConstraints,
  nullableUniques,
  zeroDates,
  leftOutPrefixes,
  namesAlike,
]

/** In order of topic, then of id; one per id. */
export function structureFindings(x: Context): readonly Finding[] {
  const byId = new Map<string, Finding>()
  for (const of of all) for (const f of of(x).toSorted((a, b) => (a.id < b.id ? -1 : 1))) if (!byId.has(f.id)) byId.set(f.id, f)
  return [...byId.values()]
}
