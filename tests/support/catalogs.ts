// Catalogs as literals: a table in one call, everything else at its default.
import { type Catalog, type Column, decodeCatalog, emptyCatalog, type ForeignKey, type KeyConstraint, type Relation } from '../../src/core/catalog/index.ts'

export { plainIndex as index } from '../../src/core/catalog/index.ts'

import { newColumn, newRelation } from '../../src/core/ddl/draft.ts'

export function column(name: string, more: Partial<Column> = {}): Column {
  return { ...newColumn(name, 'integer'), nullable: false, ...more }
}

export function key(name: string, columns: readonly string[]): KeyConstraint {
  return {
    name,
    columns,
    include: [],
    deferrable: 'no',
    nullsNotDistinct: false,
    options: [],
    attachedTo: null,
    clustered: false,
    comment: null,
    indexComment: null,
  }
}

export function reference(
  name: string,
  columns: readonly string[],
  table: string,
  targetColumns: readonly string[],
  more: Partial<ForeignKey> = {},
): ForeignKey {
  return {
    name,
    columns,
    target: { schema: 's', table, columns: targetColumns },
    onUpdate: 'no action',
    onDelete: 'no action',
    onDeleteColumns: [],
    match: 'simple',
    deferrable: 'no',
    validated: true,
    enforced: true,
    comment: null,
    ...more,
  }
}

/** A table in schema "s": columns by name (a `?` behind one makes it nullable), the primary key's columns, and the rest. */
export function table(name: string, columns: readonly (string | Column)[], primary: readonly string[], more: Partial<Relation> = {}): Relation {
  return {
    ...newRelation('table', { schema: 's', name }),
    columns: columns.map((c) => (typeof c !== 'string' ? c : c.endsWith('?') ? column(c.slice(0, -1), { nullable: true }) : column(c))),
    primaryKey: primary.length > 0 ? key(`${name}_pkey`, primary) : null,
    ...more,
  }
}

export function catalogOf(...relations: readonly Relation[]): Catalog {
  return decodeCatalog({ ...emptyCatalog('postgresql'), schemas: [{ name: 's', comment: null }], relations })
}
