// The closed list of what may differ between the catalog of a script and the one a server gives after running it.
import { type Catalog, compareCatalogs, type Difference, isWritten, relationText } from '../catalog/index.ts'

/**
 * `expression text`: the server prints its own. `view column type`, `routine result type`: the server derives them from the query.
 * `extension version`: the server takes the newest it has.
 */
export type AllowedDifference = 'expression text' | 'view column type' | 'routine result type' | 'extension version'

/** Fields that hold an expression, a query or a definition, or a text with expressions in it. */
const expressionFields = /(^|\.)(default|expression|predicate|definition|bound)$|^partitionKey$|^partitionOf\.bound$|^arguments$/

/** Which of the allowed differences this is; null where it is one that must not be. */
export function allowedDifference(d: Difference, isView: (object: string) => boolean): AllowedDifference | null {
  if (d.was === null || d.is === null) return null
  if (expressionFields.test(d.field)) return 'expression text'
  if (/^columns\[.*\]\.(type|collation)$/.test(d.field) && isView(d.object)) return 'view column type'
  if (d.field === 'version' && d.was === '""') return 'extension version'
  if (d.field === 'returns') return 'routine result type'
  return null
}

/**
 * What differs between a catalog and the one a server gives after running its plan. Where the first was read from a script, the
 * differences it may have are only counted.
 */
export function compareWithServer(expected: Catalog, server: Catalog): { readonly differences: readonly Difference[]; readonly allowed: number } {
  const all = compareCatalogs(expected, server)
  if (!isWritten(expected)) return { differences: all, allowed: 0 }
  const views = new Set(server.relations.filter((r) => r.kind === 'view' || r.kind === 'materialized view').map((r) => `relation ${relationText(r)}`))
  const differences = all.filter((d) => allowedDifference(d, (object) => views.has(object)) === null)
  return { differences, allowed: all.length - differences.length }
}
