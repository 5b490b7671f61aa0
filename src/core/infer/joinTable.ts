// Does this table only join two others, or is it an entity of its own?
import { type Column, type Relation, relationText } from '../catalog/index.ts'
import { type Alternative, type Evidence, type Finding, findingId } from '../model/index.ts'
import { splitWords } from '../names/index.ts'
import type { PartnerCount, RowEvidence } from '../rows/index.ts'
import type { JoinShapes, JoinTable, ManyWay } from './joinShape.ts'
import type { Names } from './naming.ts'

/** First words and last words of columns that keep the books of a row or its place in a list. */
const bookkeeping =
  /^(created|updated|modified|changed|inserted|added|deleted|last_modified|last_updated)(_(at|on|by|date|time|user))?$|^(position|sort_order|sort|ordinal|seq|rank|row_version|version)$/

const isBookkeeping = (c: Column) => bookkeeping.test(splitWords(c.name).join('_')) && (c.nullable || c.default !== null || c.generated !== null)

const tableName = (r: Relation) => (r.schema === '' ? r.name : `${r.schema}.${r.name}`)

function alternatives(j: JoinTable, names: Names, counted: PartnerCount | null): readonly [Alternative, Alternative] {
  const subject = relationText(j.relation)
  const asEntity: Omit<Alternative, 'confidence' | 'evidence'> = { key: 'entity', edits: [{ facet: 'join.reading', subject, value: { as: 'entity' } }] }
  const asMany: Omit<Alternative, 'confidence' | 'evidence'> = {
    key: 'many-to-many',
    edits: [
      { facet: 'join.reading', subject, value: { as: 'many-to-many', first: j.first.subject, second: j.second.subject } },
      { facet: 'join.firstName', subject, value: names.hidden.get(subject)?.[0] ?? names.joinFirst.get(subject) ?? '_' },
      { facet: 'join.secondName', subject, value: names.hidden.get(subject)?.[1] ?? names.joinSecond.get(subject) ?? '_' },
    ],
  }
  const pair: Evidence = {
    kind: 'key of two references',
    weight: 0.6,
    says: `exactly two references: to ${tableName(j.first.parent)} by ${j.first.columns.join(', ')}, to ${tableName(j.second.parent)} by ${j.second.columns.join(', ')}`,
  }
  const unique: Evidence = j.unique
    ? { kind: 'unique rule', weight: 0.4, says: `${j.unique.kind} ${j.unique.name} lets each pair occur once` }
    : partnerEvidence(counted)
  const columns = j.payload.map((c) => c.name).join(', ')
  const others = j.others.map(
    (r): Evidence => ({ kind: 'third reference', weight: -0.2, says: `refers to ${tableName(r.parent)} by ${r.columns.join(', ')} as well` }),
  )
  const books = booksEvidence(j)
  if (j.referredBy.length > 0) {
    const referred: Evidence = { kind: 'referred to', weight: -1, says: `other tables refer to it: ${j.referredBy.map((r) => tableName(r.child)).join(', ')}` }
    return [
      { ...asEntity, confidence: 1, evidence: [referred, pair] },
      { ...asMany, confidence: 0, evidence: [pair, unique, referred] },
    ]
  }
  if (j.payload.length === 0) {
    const sure = j.unique ? (books.length > 0 ? booksSure : 1) : !counted || counted.rows === 0 ? 0.6 : counted.repeated === 0 ? 0.8 : 0.3
    return [
      { ...asMany, confidence: sure, evidence: [pair, unique, ...books] },
      { ...asEntity, confidence: 1 - sure, evidence: [...(j.unique ? [] : [unique]), ...books, ...others] },
    ]
  }
  if (j.payload.every(isBookkeeping)) {
    const books: Evidence = { kind: 'bookkeeping columns only', weight: -0.3, says: `its own columns only keep the books: ${columns}` }
    return [
      { ...asEntity, confidence: 0.6, evidence: [books, pair, ...others] },
      { ...asMany, confidence: 0.4, evidence: [pair, unique, books] },
    ]
  }
  const payload: Evidence = { kind: 'own columns', weight: -0.8, says: `has columns of its own: ${columns}` }
  return [
    { ...asEntity, confidence: 0.97, evidence: [payload, pair, ...others] },
    { ...asMany, confidence: 0.03, evidence: [pair, unique, payload] },
  ]
}

/** How sure a many-to-many is beside columns that say who wrote a row and when. */
const booksSure = 0.85

/** Columns that make it no entity, and which of them nothing fills where a link is written past it. */
function booksEvidence(j: JoinTable): readonly Evidence[] {
  if (j.books.length === 0) return []
  const names = (list: readonly Column[]) => list.map((c) => c.name).join(', ')
  const unfilled = j.books.filter((c) => !c.nullable && c.default === null && c.generated === null && c.identity === null)
  return [
    { kind: 'who and when only', weight: -0.1, says: `its other columns say who wrote a row and when, or are inherited: ${names(j.books)}` },
    ...(unfilled.length > 0
      ? [
          {
            kind: 'not filled',
            weight: -0.1,
            says: `nothing fills ${names(unfilled)} where a link is written past it: such links can be read, and are written as the entity`,
          },
        ]
      : []),
  ]
}

/** The entity, and a many-to-many beside it that only reads: a choice of taste, which nothing in the schema speaks for. */
function shortcutOf(j: JoinTable, names: Names): readonly Alternative[] {
  if (j.payload.length === 0 && j.books.length === 0) return []
  const subject = relationText(j.relation)
  return [
    {
      key: 'shortcut',
      confidence: 0,
      edits: [
        { facet: 'join.reading', subject, value: { as: 'entity', shortcut: { first: j.first.subject, second: j.second.subject } } },
        { facet: 'join.firstName', subject, value: names.joinFirst.get(subject) ?? '_' },
        { facet: 'join.secondName', subject, value: names.joinSecond.get(subject) ?? '_' },
      ],
      evidence: [{ kind: 'by choice', weight: 0, says: 'nothing in the schema speaks for it or against it: rows are written as the entity, and read past it' }],
    },
  ]
}

/** Without a rule only the rows tell whether partners come twice, and only of today. */
function partnerEvidence(counted: PartnerCount | null): Evidence {
  const free = 'no unique rule on the pair: the same partners may come twice'
  if (!counted || counted.rows === 0) return { kind: 'no unique rule', weight: -0.4, says: free }
  const { rows, pairs, repeated, most, query } = counted
  return repeated === 0
    ? { kind: 'no unique rule', weight: 0.1, says: `${free}, and in its ${rows} rows none do`, query }
    : {
        kind: 'no unique rule',
        weight: -0.8,
        says: `${free}: of ${pairs} pairs in ${rows} rows ${repeated} ${repeated === 1 ? 'comes' : 'come'} more than once, up to ${most} times`,
        query,
      }
}

/** A reference that is only guessed makes the reading no surer than itself. */
const guessed = (j: JoinTable) => j.first.confidence * j.second.confidence

function manyWayFinding(m: ManyWay): Finding {
  const subject = relationText(m.relation)
  const partners = m.references.map((r) => `${tableName(r.parent)} by ${r.columns.join(', ')}`).join('; ')
  return {
    id: findingId('join-table', subject),
    kind: 'join-table',
    subject,
    alternatives: [
      {
        key: 'entity',
        confidence: 1,
        edits: [{ facet: 'join.reading', subject, value: { as: 'entity' } }],
        evidence: [{ kind: 'third reference', weight: -1, says: `its key relates ${m.references.length} tables at once: ${partners}` }],
      },
    ],
  }
}

export function joinTableFindings(shapes: JoinShapes, names: Names, rows: RowEvidence | null): readonly Finding[] {
  const joins = shapes.joins.map((j): Finding => {
    const shortcut = shortcutOf(j, names)
    const subject = relationText(j.relation)
    const sure = guessed(j)
    const [first, second] = alternatives(
      j,
      names,
      rows?.partners.find((p) => p.table.schema === j.relation.schema && p.table.table === j.relation.name) ?? null,
    )
    const many = first.key === 'many-to-many' ? first : second
    const entity = first.key === 'many-to-many' ? second : first
    const weaker = { ...many, confidence: Math.round(many.confidence * sure * 1000) / 1000 }
    const rest = { ...entity, confidence: Math.round((1 - many.confidence * sure) * 1000) / 1000 }
    return {
      id: findingId('join-table', subject),
      kind: 'join-table',
      subject,
      alternatives: weaker.confidence >= rest.confidence ? [weaker, rest, ...shortcut] : [rest, weaker, ...shortcut],
    }
  })
  return [...joins, ...shapes.manyWay.map(manyWayFinding)]
}
