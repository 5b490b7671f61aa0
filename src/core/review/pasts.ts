// The ways past a link table: what has columns of its own stays an entity, and its two partners may lead straight to each other as well, to read by.
import type { Catalog } from '../catalog/index.ts'
import { type EntryBody, type FindingId, findingId } from '../model/index.ts'
import { choiceOf } from './answers.ts'
import { linksAlone, shortcutOf } from './linkTables.ts'
import type { Review } from './review.ts'

/** One that is not taken yet, as one of the partners sees it. */
export interface WayPast {
  /** The finding about the link table. */
  readonly id: FindingId
  /** Classes at the other side, and between. */
  readonly other: string
  readonly past: string
  readonly entry: EntryBody
}

/** Those that an entity has, in the order of the findings. */
export function waysPastOf(entity: string, catalog: Catalog, r: Review): readonly WayPast[] {
  const nameOf = (id: string) => r.model.entities.find((e) => e.id === id)?.name ?? id
  return linksAlone(r.findings, r.model).flatMap((f): readonly WayPast[] => {
    const way = shortcutOf(f)
    if (!way) return []
    const ends = [way.halves.first, way.halves.second].map((s) => r.model.relationships.find((x) => x.id === findingId('reference', s))?.to.entity)
    if (!ends.some((e) => e === entity)) return []
    const other = ends[0] === entity ? ends[1] : ends[0]
    return [{ id: f.id, other: nameOf(other ?? ''), past: nameOf(f.subject), entry: choiceOf(f, way.answer, way.at, 'entity', catalog, r, []).entry }]
  })
}
