// Which tables can be copied into new ones, and what becomes of their partitions then.
import type { Relation } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { descendantsOf } from './alteration.ts'
import type { Ground } from './needs.ts'
import { relationKey } from './parts.ts'
import type { Status } from './status.ts'

/**
 * Tables whose status is "anew" and that can be copied: no foreign tables, none that is a partition or has children by INHERITS, and whose
 * partitions are partitions of it again, or none at all any more.
 */
export function canCopy(a: Relation, b: Relation | undefined, ga: Ground, gb: Ground): boolean {
  if (!b || a.foreign || b.foreign || a.partitionOf || b.partitionOf) return false
  return descendantsOf(a, ga).every((r) => {
    const now = gb.relation(r)
    return r.partitionOf !== null && !r.foreign && (!now || (now.partitionOf !== null && descendantsOf(b, gb).some((x) => relationKey(x) === relationKey(r))))
  })
}

/** The partitions of a table that is copied: those that stay are made anew as well, the others go with the old table. */
export function withPartitions(of: Map<string, Status>, key: string, a: Relation, ga: Ground, gb: Ground): readonly string[] {
  const again: string[] = []
  for (const r of descendantsOf(a, ga)) {
    const own = relationKey(r)
    if (gb.parts.has(own)) {
      of.set(own, { what: 'anew', because: `${pg.quoteAddress(a)} is made anew` })
      again.push(own)
    } else of.set(own, { what: 'carried', by: key })
  }
  return again
}
