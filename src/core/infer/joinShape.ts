// Tables that could be read as joining two others.
import { type Column, nullableAmong, type Relation, relationText, type UniqueRule, uniqueOver, uniqueRules } from '../catalog/index.ts'
import { isView } from '../views/index.ts'
import type { Context, Reference } from './context.ts'
import { saysWhoOrWhen } from './whoOrWhen.ts'

/** A table with exactly two references whose columns identify its rows, or could. */
export interface JoinTable {
  readonly relation: Relation
  readonly first: Reference
  readonly second: Reference
  /** The rule that lets a pair occur once; null where partners may come twice. */
  readonly unique: UniqueRule | null
  /** Columns beyond the references and a generated key of the table's own. */
  readonly payload: readonly Column[]
  /** Columns that say who wrote a row and when, or that all tables inherit: they make it no entity. */
  readonly books: readonly Column[]
  /** References that lead to this table. */
  readonly referredBy: readonly Reference[]
  /** References beside the two that identify a row: who made it, for one. */
  readonly others: readonly Reference[]
}

/** A table whose key is made of three references or more: it relates all of them at once, and no two of them alone. */
export interface ManyWay {
  readonly relation: Relation
  readonly references: readonly Reference[]
}

export interface JoinShapes {
  readonly joins: readonly JoinTable[]
  readonly manyWay: readonly ManyWay[]
}

/** Tables that could be read as a many-to-many, and those that look like it and join more than two. */
export function findJoinTables(x: Context): JoinShapes {
  const outgoing = new Map<string, Reference[]>()
  const incoming = new Map<string, Reference[]>()
  const put = (map: Map<string, Reference[]>, key: string, r: Reference) => map.set(key, [...(map.get(key) ?? []), r])
  for (const r of x.references) {
    put(outgoing, relationText(r.child), r)
    // That a view gives its key does not make a join table more than that.
    if (!isView(r.child)) put(incoming, relationText(r.parent), r)
  }
  const joins: JoinTable[] = []
  const manyWay: ManyWay[] = []
  for (const relation of x.relations) {
    if (isView(relation)) continue
    const books = booksOf(x, relation)
    const keepsBooks = (r: Reference) => r.declared.length === 0 && r.columns.every((c) => books.has(c))
    const all = (outgoing.get(relationText(relation)) ?? []).filter((r) => !keepsBooks(r))
    const pair = pairOf(relation, all)
    const joined = pair && asJoinTable(x, relation, pair[0], pair[1], incoming.get(relationText(relation)) ?? [], all, books)
    if (joined) joins.push(joined)
    const inKey = identifying(relation, all)
    if (inKey.length > 2 && coversKey(relation, inKey)) manyWay.push({ relation, references: inKey })
  }
  return { joins, manyWay }
}

/** Columns that a table inherits, or that say who wrote a row and when. */
function booksOf(x: Context, relation: Relation): ReadonlySet<string> {
  const inherited = relation.inherits.flatMap((p) => x.byText.get(relationText(p))?.columns.map((c) => c.name) ?? [])
  return new Set([...inherited, ...relation.columns.filter(saysWhoOrWhen).map((c) => c.name)])
}

/** References within the primary key, without a guess that only repeats columns of declared ones. */
function identifying(relation: Relation, all: readonly Reference[]): readonly Reference[] {
  const key = relation.primaryKey?.columns ?? []
  const declared = new Set(all.flatMap((r) => (r.declared.length > 0 ? r.columns : [])))
  return all.filter((r) => r.columns.every((c) => key.includes(c)) && (r.declared.length > 0 || !r.columns.every((c) => declared.has(c))))
}

const coversKey = (relation: Relation, list: readonly Reference[]) =>
  relation.primaryKey?.columns.every((c) => list.some((r) => r.columns.includes(c))) ?? false

/** The two references that identify a row, where there are two; else the only two there are. */
function pairOf(relation: Relation, all: readonly Reference[]): readonly [Reference, Reference] | null {
  const inKey = identifying(relation, all)
  const [first, second] = inKey.length === 2 && coversKey(relation, inKey) ? inKey : all.length === 2 ? all : []
  return first && second ? [first, second] : null
}

/** A number or a universally unique identifier says nothing of its own, whoever gives it. */
const isNumber = (c: Column) => /int|serial|numeric|decimal|uuid/i.test(c.type)

function asJoinTable(
  x: Context,
  relation: Relation,
  first: Reference,
  second: Reference,
  referredBy: readonly Reference[],
  all: readonly Reference[],
  booked: ReadonlySet<string>,
): JoinTable | null {
  const pair = new Set([...first.columns, ...second.columns])
  const overlap = first.columns.some((c) => second.columns.includes(c))
  const own = first.child === first.parent || second.child === second.parent
  // Where one of the two is unique by itself, each of its partners has one row at most: one-to-one, and many-to-one to the other.
  const oneEach = [first, second].some((r) => uniqueOver(relation, r.columns) !== null)
  if (overlap || own || oneEach || nullableAmong(relation, [...pair], x.acceptsNull).length > 0) return null
  const unique = uniqueRules(relation).find((u) => u.columns.length === pair.size && u.columns.every((c) => pair.has(c))) ?? null
  const rest = relation.columns.filter((c) => !pair.has(c.name))
  const surrogate =
    relation.primaryKey?.columns.length === 1
      ? rest.find((c) => c.name === relation.primaryKey?.columns[0] && (c.identity !== null || c.default !== null || (unique !== null && isNumber(c))))
      : undefined
  const books = rest.filter((c) => c !== surrogate && booked.has(c.name))
  const payload = rest.filter((c) => c !== surrogate && !books.includes(c))
  // A key that needs a column of its own says that the pair alone is not what the table is about.
  const keyGoesBeyond = relation.primaryKey !== null && surrogate === undefined && relation.primaryKey.columns.some((c) => !pair.has(c))
  if (keyGoesBeyond || (unique === null && payload.length > 0)) return null
  return { relation, first, second, unique, payload, books, referredBy, others: all.filter((r) => r !== first && r !== second) }
}
