// What do these columns refer to? Here: what foreign keys declare.
import { type Catalog, type ForeignKey, indexOver, keyText, nullableAmong, uniqueOver } from '../catalog/index.ts'
import { type Edit, type Evidence, type Finding, findingId } from '../model/index.ts'
import type { Context, Reference } from './context.ts'
import type { Names } from './naming.ts'

const list = (names: readonly string[]) => names.join(', ')

/** Evidence that stands in the catalog beside a foreign key, in the order people ask for it. */
function evidenceFor(x: Context, r: Reference): readonly Evidence[] {
  const [key] = r.declared
  const found: Evidence[] = [{ kind: 'declared constraint', weight: 1, says: constraintText(key) }]
  if (r.declared.length > 1) found.push({ kind: 'declared twice', weight: 0.1, says: `declared ${r.declared.length} times: ${list(r.declared.map(keyText))}` })
  if (!key.validated) found.push({ kind: 'not validated', weight: -0.2, says: `${keyText(key)} is NOT VALID: rows older than it were never checked` })
  if (!key.enforced) found.push({ kind: 'not enforced', weight: -0.4, says: unenforced(x.catalog.dialect, key) })
  const nullable = nullableAmong(r.child, key.columns, x.acceptsNull)
  if (nullable.length > 0)
    found.push({ kind: 'nullable column', weight: 0, says: `${list(nullable)} ${nullable.length === 1 ? 'accepts' : 'accept'} null, so there may be none` })
  else
    found.push({ kind: 'required column', weight: 0, says: `${list(key.columns)} ${key.columns.length === 1 ? 'is' : 'are'} NOT NULL, so there is always one` })
  const unique = uniqueOver(r.child, key.columns)
  if (unique)
    found.push({ kind: 'unique rule', weight: 0, says: `${unique.kind} ${unique.name} (${list(unique.columns)}) allows each value once, so it is one-to-one` })
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

export function referenceFindings(x: Context, names: Names): readonly Finding[] {
  return x.references.map((r) => {
    const [key] = r.declared
    const edits: readonly Edit[] = [
      {
        facet: 'reference.target',
        subject: r.subject,
        value: { schema: r.parent.schema, table: r.parent.name, columns: key.columns, targetColumns: key.target.columns, constraint: key.name },
      },
      { facet: 'reference.ownName', subject: r.subject, value: names.own.get(r.subject) ?? '_' },
      { facet: 'reference.inverseName', subject: r.subject, value: names.inverse.get(r.subject) ?? '_' },
    ]
    return {
      id: findingId('reference', r.subject),
      kind: 'reference',
      subject: r.subject,
      alternatives: [{ key: 'declared', confidence: 1, edits, evidence: evidenceFor(x, r) }],
    }
  })
}
