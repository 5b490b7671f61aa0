// Where each table stands on the map, join tables that are drawn as beads with the tables they join.

import { relationText } from '../catalog/index.ts'
import type { EntityModel } from '../model/index.ts'
import type { Scene } from '../strata/index.ts'
import type { PlaceOnMap } from './docket.ts'

/** By address text. Entities drawn as beads, and hidden join tables, stand where the first of what they join stands, a rank behind the later. */
export function placesOnMap(scene: Scene, model: EntityModel): ReadonlyMap<string, PlaceOnMap> {
  const places = new Map<string, PlaceOnMap>(scene.plates.map((p) => [p.id, { area: p.area, rank: p.rank, rows: p.rows }]))
  const tables = new Map<string, string>()
  for (const r of model.relationships) if (r.through) tables.set(r.id, relationText(r.through.table))
  for (const b of scene.beads) {
    const [first, second] = [places.get(b.first), places.get(b.second)]
    const place = { area: first?.area ?? null, rank: Math.max(first?.rank ?? 0, second?.rank ?? 0) + 1, rows: null }
    const id = tables.get(b.id) ?? b.id.slice(b.id.indexOf(':') + 1)
    if (!places.has(id)) places.set(id, place)
  }
  return places
}
