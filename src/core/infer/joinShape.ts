// Tables that could be read as joining two others.
import { type Column, nullableAmong, type Relation, relationText, type UniqueRule, uniqueRules } from '../catalog/index.ts'
import type { Context, Reference } from './context.ts'

/** A table with exactly two references whose columns identify its rows, or could. */
export interface JoinTable {
  readonly relation: Relation
  readonly first: Reference
  readonly second: Reference
  /** The rule that lets a pair occur once; null where partners may come twice. */
  readonly unique: UniqueRule | null
  /** Columns beyond the references and a generated key of the table's own. */
  readonly payload: readonly Column[]
  /** References that lead to this table. */
  readonly referredBy: readonly Reference[]
}

/** Tables with two references over different columns that could be read as a many-to-many; three or more references never are. */
export function findJoinTables(x: Context): readonly JoinTable[] {
  const outgoing = new Map<string, Reference[]>()
  const incoming = new Map<string, Reference[]>()
  const put = (map: Map<string, Reference[]>, key: string, r: Reference) => map.set(key, [...(map.get(key) ?? []), r])
  for (const r of x.references) {
    put(outgoing, relationText(r.child), r)
    put(incoming, relationText(r.parent), r)
  }
  return x.relations.flatMap((relation) => {
    const [first, second, ...more] = outgoing.get(relationText(relation)) ?? []
    if (!first || !second || more.length > 0) return []
    const joined = asJoinTable(x, relation, first, second, incoming.get(relationText(relation)) ?? [])
    return joined ? [joined] : []
  })
}

function asJoinTable(x: Context, relation: Relation, first: Reference, second: Reference, referredBy: readonly Reference[]): JoinTable | null {
  const pair = new Set([...first.columns, ...second.columns])
  const overlap = first.columns.some((c) => second.columns.includes(c))
  const own = first.child === first.parent || second.child === second.parent
  if (overlap || own || nullableAmong(relation, [...pair], x.acceptsNull).length > 0) return null
  const unique = uniqueRules(relation).find((u) => u.columns.length === pair.size && u.columns.every((c) => pair.has(c))) ?? null
  const rest = relation.columns.filter((c) => !pair.has(c.name))
  const surrogate =
    relation.primaryKey?.columns.length === 1
      ? rest.find((c) => c.name === relation.primaryKey?.columns[0] && (c.identity !== null || c.default !== null))
      : undefined
  const payload = rest.filter((c) => c !== surrogate)
  // A key that needs a column of its own says that the pair alone is not what the table is about.
  const keyGoesBeyond = relation.primaryKey !== null && surrogate === undefined && relation.primaryKey.columns.some((c) => !pair.has(c))
  if (keyGoesBeyond || (unique === null && payload.length > 0)) return null
  return { relation, first, second, unique, payload, referredBy }
}
