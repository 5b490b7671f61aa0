// The closed list of what may differ between the catalog of a script and the one a server gives after running it.
import { type Catalog, compareCatalogs, type Difference, isWritten, relationText } from '../catalog/index.ts'

/**
 * `expression text`: the server prints its own. `view column type`, `routine result type`: the server derives them from the query.
 * `of the extension`: its version is the newest the server has, and its comment comes with its files. `of newer servers`: a range
 * type brings a multirange from 14 on.
 */
export type AllowedDifference = 'expression text' | 'view column type' | 'routine result type' | 'of the extension' | 'of newer servers'

/** Fields that hold an expression, a query or a definition, or a text with expressions in it. */
const expressionFields =
  /(^|\.)(default|expression|predicate|definition|bound|using|check)$|^definition\[\d+\]$|^partitionKey$|^partitionOf\.bound$|^arguments$/

/** Which of the allowed differences this is; null where it is one that must not be. */
export function allowedDifference(d: Difference, isView: (object: string) => boolean): AllowedDifference | null {
  if (d.was === null || d.is === null) return null
  if (expressionFields.test(d.field)) return 'expression text'
  if (/^columns\[.*\]\.(type|collation)$/.test(d.field) && isView(d.object)) return 'view column type'
  if (d.object.startsWith('extension ') && ((d.field === 'version' && d.was === '""') || (d.field === 'comment' && d.was === 'null'))) return 'of the extension'
  if (d.field === 'multirange' && d.is === 'null') return 'of newer servers'
  if (d.field === 'returns') return 'routine result type'
  return null
}

/**
 * What differs between a catalog and the one a server gives after running its plan. Where the first was read from a script, the
 * differences it may have are only counted. Columns that a parent got after its child was made stand behind the child's own ones;
 * INHERITS puts them first, and no statement moves a column: the plan tells it, and here it is counted too.
 */
export function compareWithServer(expected: Catalog, server: Catalog): { readonly differences: readonly Difference[]; readonly allowed: number } {
  const all = compareCatalogs(expected, server)
  const named = (list: Catalog['relations']) => new Set(list.map((r) => `relation ${relationText(r)}`))
  const children = named(expected.relations.filter((r) => r.inherits.length > 0))
  const views = named(server.relations.filter((r) => r.kind === 'view' || r.kind === 'materialized view'))
  const fromScript = isWritten(expected)
  // A plan takes the version that the server installs.
  const installed = (d: Difference) => d.object.startsWith('extension ') && d.field === 'version'
  const differences = all.filter(
    (d) =>
      !installed(d) &&
      !(d.field === 'columns order' && children.has(d.object)) &&
      !(fromScript && allowedDifference(d, (object) => views.has(object)) !== null),
  )
  return { differences, allowed: all.length - differences.length }
}
