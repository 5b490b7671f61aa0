import type { Index } from './types.ts'

/** A btree over columns as `CREATE INDEX` makes it without further clauses. */
export const plainIndex = (name: string, columns: readonly string[], more: Partial<Index> = {}): Index => ({
  name,
  unique: false,
  method: 'btree',
  columns: columns.map((column) => ({
    column,
    expression: null,
    collation: null,
    operatorClass: null,
    operatorClassOptions: [],
    descending: false,
    nullsFirst: false,
  })),
  include: [],
  predicate: null,
  nullsNotDistinct: false,
  options: [],
  attachedTo: null,
  clustered: false,
  valid: true,
  statistics: [],
  comment: null,
  ...more,
})
