// Whether a column accepts null: by its own declaration, and by that of the domain it is of.
import { neutralType } from '../dialect/postgres/types.ts'
import type { Catalog, Column } from './types.ts'

/** A test for columns of this catalog. A domain's NOT NULL counts as the column's (PostgreSQL manual, CREATE DOMAIN, Notes). */
export function nullTest(catalog: Catalog): (c: Column) => boolean {
  const strict = new Set(catalog.domains.filter((d) => !d.nullable).map((d) => JSON.stringify([d.schema, d.name])))
  if (strict.size === 0) return (c) => c.nullable
  return (c) => {
    if (!c.nullable) return false
    const type = neutralType(c.type, (t) => strict.has(JSON.stringify([t.schema, t.name])))
    return type.kind !== 'named'
  }
}
