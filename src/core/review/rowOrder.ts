// In what order rows come and go, as a list.
import { type Catalog, relationText } from '../catalog/index.ts'
import { cycleSentence, type EntityId, entityNames, fillOrder, rowLinks } from '../model/index.ts'
import { isView } from '../views/index.ts'
import type { Review } from './review.ts'

export interface RowOrder {
  /** From first to last: each refers to earlier ones only, so those of one can be filled together. */
  readonly portions: readonly (readonly { readonly id: EntityId; readonly name: string; readonly table: string }[])[]
  /** Tables that can only be filled together, and what breaks the knot; a sentence each. */
  readonly knots: readonly string[]
}

/** Tables of the review; a table that hides behind a many-to-many has its own name in the place of a class. */
export function rowOrderOf(catalog: Catalog, r: Review): RowOrder {
  const names = entityNames(r.model)
  const tables = catalog.relations.filter((x) => x.kind !== 'partition' && !isView(x)).map((x) => relationText(x) as EntityId)
  const { portions, cycles } = fillOrder(tables, rowLinks(catalog, r.model))
  const named = (id: EntityId) => ({ id, name: names.get(id) ?? '', table: id.replaceAll('%20', ' ') })
  return { portions: portions.map((p) => p.map(named)), knots: cycles.map(cycleSentence) }
}
