// What do these columns refer to? What foreign keys declare, and what speaks for a reference where none does.
import { type Catalog, columnsText, type ForeignKey, indexOver, keyText, nullableAmong, relationText, uniqueOver } from '../catalog/index.ts'
import { type Alternative, type Edit, type Evidence, type Finding, findingId, noReference, type ReferenceTarget } from '../model/index.ts'
import { type Context, type DeclaredReference, type Reference, takenFrom } from './context.ts'
import { type Names, plainEndNames } from './naming.ts'
import type { Guess } from './undeclared/index.ts'
import type { LineageReference } from './viewReferences.ts'

const list = (names: readonly string[]) => names.join(', ')

const addressText = (r: { readonly schema: string; readonly name: string }) => (r.schema === '' ? r.name : `${r.schema}.${r.name}`)

/** How many there are at both ends, and why. */
function countEvidence(x: Context, r: Pick<Reference, 'child' | 'parent' | 'columns' | 'targetColumns'>): readonly Evidence[] {
  const { columns } = r
  const nullable = nullableAmong(r.child, columns, x.acceptsNull)
  const unique = uniqueOver(r.child, columns)
  const same = (key: readonly string[] | undefined, list: readonly string[]) => key?.length === list.length && key.every((c) => list.includes(c))
  const sharedKey = r.child !== r.parent && same(r.child.primaryKey?.columns, columns) && same(r.parent.primaryKey?.columns, r.targetColumns)
  return [
    nullable.length > 0
      ? { kind: 'nullable column', weight: 0, says: `${list(nullable)} ${nullable.length === 1 ? 'accepts' : 'accept'} null, so there may be none` }
      : { kind: 'required column', weight: 0, says: `${list(columns)} ${columns.length === 1 ? 'is' : 'are'} NOT NULL, so there is always one` },
    ...(unique
      ? [{ kind: 'unique rule', weight: 0, says: `${unique.kind} ${unique.name} (${list(unique.columns)}) allows each value once, so it is one-to-one` }]
      : []),
    ...(sharedKey
      ? [
          {
            kind: 'shared key',
            weight: 0,
            says: `both have the same primary key: a row of ${addressText(r.child)} is also one of ${addressText(r.parent)}, or a part of it kept apart`,
          },
        ]
      : []),
    ...(x.inheritedFrom.has(relationText(r.parent))
      ? [
          {
            kind: 'inherited by others',
            weight: 0,
            says: `tables inherit from ${addressText(r.parent)}, and their rows are none a foreign key to it can refer to`,
          },
        ]
      : []),
  ]
}

/** Evidence that stands in the catalog beside a foreign key, in the order people ask for it. */
function evidenceFor(x: Context, r: DeclaredReference): readonly Evidence[] {
  const [key] = r.declared
  const found: Evidence[] = [{ kind: 'declared constraint', weight: 1, says: constraintText(key) }]
  if (r.declared.length > 1) found.push({ kind: 'declared twice', weight: 0.1, says: `declared ${r.declared.length} times: ${list(r.declared.map(keyText))}` })
  if (!key.validated) found.push({ kind: 'not validated', weight: -0.2, says: `${keyText(key)} is NOT VALID: rows older than it were never checked` })
  if (!key.enforced) found.push({ kind: 'not enforced', weight: -0.4, says: unenforced(x.catalog.dialect, key) })
  found.push(...countEvidence(x, r))
  const index = indexOver(r.child, key.columns)
  found.push(
    index
      ? { kind: 'index', weight: 0.1, says: `index ${index} finds rows by ${list(key.columns)}` }
      : { kind: 'no index', weight: -0.1, says: `no index on ${list(key.columns)}: finding the other end reads the whole table` },
  )
  if (key.comment !== null) found.push({ kind: 'comment', weight: 0.1, says: `its comment: ${key.comment}` })
  return found
}

/** Who fails to enforce it. SQLite: "Foreign Key Support", 2. */
function unenforced(dialect: Catalog['dialect'], key: ForeignKey): string {
  return dialect === 'sqlite'
    ? 'SQLite enforces it only on connections that say PRAGMA foreign_keys = ON'
    : `the triggers that enforce ${keyText(key)} are disabled`
}

function constraintText(key: ForeignKey): string {
  const target = key.target.schema === '' ? key.target.table : `${key.target.schema}.${key.target.table}`
  const remove = key.onDelete === 'no action' ? '' : `, on delete ${key.onDelete}`
  const update = key.onUpdate === 'no action' ? '' : `, on update ${key.onUpdate}`
  return `foreign key${key.name === '' ? '' : ` ${key.name}`}: (${list(key.columns)}) references ${target} (${list(key.target.columns)})${remove}${update}`
}

const targetOf = (r: Omit<Reference, 'subject' | 'declared' | 'confidence'>, constraint: string | null): ReferenceTarget => ({
  schema: r.parent.schema,
  table: r.parent.name,
  columns: r.columns,
  targetColumns: r.targetColumns,
  constraint,
})

function edits(subject: string, value: ReferenceTarget, own: string, inverse: string): readonly Edit[] {
  return [
    { facet: 'reference.target', subject, value },
    { facet: 'reference.ownName', subject, value: own },
    { facet: 'reference.inverseName', subject, value: inverse },
  ]
}

export function referenceFindings(x: Context, names: Names): readonly Finding[] {
  const declared = x.declared.map(
    (r): Finding => ({
      id: findingId('reference', r.subject),
      kind: 'reference',
      subject: r.subject,
      alternatives: [
        {
          key: 'declared',
          confidence: 1,
          edits: edits(r.subject, targetOf(r, r.declared[0].name), names.own.get(r.subject) ?? '_', names.inverse.get(r.subject) ?? '_'),
          evidence: evidenceFor(x, r),
        },
      ],
    }),
  )
  return [...declared, ...x.guesses.map((g) => guessFinding(x, g, names)), ...x.lineage.map((r) => lineageFinding(x, r, names))]
}

/** A reference of a view: nothing declares it, and nothing is guessed. */
const lineageFinding = (x: Context, r: LineageReference, names: Names): Finding => ({
  id: findingId('reference', r.subject),
  kind: 'reference',
  subject: r.subject,
  alternatives: [
    {
      key: 'lineage',
      confidence: r.confidence,
      edits: edits(r.subject, targetOf(r, null), names.own.get(r.subject) ?? '_', names.inverse.get(r.subject) ?? '_'),
      evidence: [{ kind: 'column lineage', weight: 1, says: r.says }, ...countEvidence(x, r)],
    },
  ],
})

/** Whether the columns refer at all is one of the answers, and the proposal where no table is more likely than not. */
function guessFinding(x: Context, g: Guess, names: Names): Finding {
  const answers = g.answers.map((a, i): Alternative => {
    const r = { child: g.child, ...a }
    const [own, inverse] = i === 0 ? [names.own.get(g.subject), names.inverse.get(g.subject)] : []
    const [plainOwn, plainInverse] = own === undefined || inverse === undefined ? plainEndNames(x, r) : [own, inverse]
    return {
      key: columnsText(a.parent, a.targetColumns),
      confidence: a.confidence,
      edits: edits(g.subject, targetOf(r, null), own ?? plainOwn, inverse ?? plainInverse),
      evidence: [...a.evidence, ...countEvidence(x, r)],
    }
  })
  const none: Alternative = {
    key: noReference,
    confidence: Math.round(g.none * 1000) / 1000,
    edits: [{ facet: 'reference.target', subject: g.subject, value: null }],
    evidence: [],
  }
  const [best, ...rest] = answers as [Alternative, ...Alternative[]]
  const alternatives: Finding['alternatives'] =
    best.confidence >= takenFrom ? [best, ...[...rest, none].toSorted((a, b) => b.confidence - a.confidence)] : [none, best, ...rest]
  return { id: findingId('reference', g.subject), kind: 'reference', subject: g.subject, alternatives }
}
