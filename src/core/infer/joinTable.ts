// Does this table only join two others, or is it an entity of its own?
import { type Column, nullableAmong, type Relation, relationText, type UniqueRule, uniqueRules } from '../catalog/index.ts'
import { type Alternative, type Evidence, type Finding, findingId } from '../model/index.ts'
import { splitWords } from '../names/index.ts'
import type { Context, Reference } from './context.ts'
import type { Names } from './naming.ts'

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

/** First words and last words of columns that keep the books of a row or its place in a list. */
const bookkeeping =
  /^(created|updated|modified|changed|inserted|added|deleted|last_modified|last_updated)(_(at|on|by|date|time|user))?$|^(position|sort_order|sort|ordinal|seq|rank|row_version|version)$/

const isBookkeeping = (c: Column) => bookkeeping.test(splitWords(c.name).join('_')) && (c.nullable || c.default !== null || c.generated !== null)

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
    const joined = asJoinTable(relation, first, second, incoming.get(relationText(relation)) ?? [])
    return joined ? [joined] : []
  })
}

function asJoinTable(relation: Relation, first: Reference, second: Reference, referredBy: readonly Reference[]): JoinTable | null {
  const pair = new Set([...first.declared[0].columns, ...second.declared[0].columns])
  const overlap = first.declared[0].columns.some((c) => second.declared[0].columns.includes(c))
  const own = first.child === first.parent || second.child === second.parent
  if (overlap || own || nullableAmong(relation, [...pair]).length > 0) return null
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

const tableName = (r: Relation) => (r.schema === '' ? r.name : `${r.schema}.${r.name}`)

function alternatives(j: JoinTable, names: Names): readonly [Alternative, Alternative] {
  const subject = relationText(j.relation)
  const asEntity: Omit<Alternative, 'confidence' | 'evidence'> = { key: 'entity', edits: [{ facet: 'join.reading', subject, value: { as: 'entity' } }] }
  const asMany: Omit<Alternative, 'confidence' | 'evidence'> = {
    key: 'many-to-many',
    edits: [
      { facet: 'join.reading', subject, value: { as: 'many-to-many', first: j.first.subject, second: j.second.subject } },
      { facet: 'join.firstName', subject, value: names.joinFirst.get(subject) ?? '_' },
      { facet: 'join.secondName', subject, value: names.joinSecond.get(subject) ?? '_' },
    ],
  }
  const pair: Evidence = {
    kind: 'key of two references',
    weight: 0.6,
    says: `exactly two references: to ${tableName(j.first.parent)} by ${j.first.declared[0].columns.join(', ')}, to ${tableName(j.second.parent)} by ${j.second.declared[0].columns.join(', ')}`,
  }
  const unique: Evidence = j.unique
    ? { kind: 'unique rule', weight: 0.4, says: `${j.unique.kind} ${j.unique.name} lets each pair occur once` }
    : { kind: 'no unique rule', weight: -0.4, says: 'no unique rule on the pair: the same partners may come twice' }
  const columns = j.payload.map((c) => c.name).join(', ')
  if (j.referredBy.length > 0) {
    const referred: Evidence = { kind: 'referred to', weight: -1, says: `other tables refer to it: ${j.referredBy.map((r) => tableName(r.child)).join(', ')}` }
    return [
      { ...asEntity, confidence: 1, evidence: [referred, pair] },
      { ...asMany, confidence: 0, evidence: [pair, unique, referred] },
    ]
  }
  if (j.payload.length === 0) {
    const sure = j.unique ? 1 : 0.6
    return [
      { ...asMany, confidence: sure, evidence: [pair, unique] },
      { ...asEntity, confidence: 1 - sure, evidence: j.unique ? [] : [unique] },
    ]
  }
  if (j.payload.every(isBookkeeping)) {
    const books: Evidence = { kind: 'bookkeeping columns only', weight: -0.3, says: `its own columns only keep the books: ${columns}` }
    return [
      { ...asEntity, confidence: 0.6, evidence: [books, pair] },
      { ...asMany, confidence: 0.4, evidence: [pair, unique, books] },
    ]
  }
  const payload: Evidence = { kind: 'own columns', weight: -0.8, says: `has columns of its own: ${columns}` }
  return [
    { ...asEntity, confidence: 0.97, evidence: [payload, pair] },
    { ...asMany, confidence: 0.03, evidence: [pair, unique, payload] },
  ]
}

export function joinTableFindings(tables: readonly JoinTable[], names: Names): readonly Finding[] {
  return tables.map((j) => {
    const subject = relationText(j.relation)
    return { id: findingId('join-table', subject), kind: 'join-table', subject, alternatives: alternatives(j, names) }
  })
}
