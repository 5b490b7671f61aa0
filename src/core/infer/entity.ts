// What class does this relation become, and what are its properties called?
import { columnText, type Relation, relationText } from '../catalog/index.ts'
import { type Edit, type Evidence, type Finding, findingId } from '../model/index.ts'
import { singularWord, splitWords } from '../names/index.ts'
import { isView, type ViewLineage, viewLineages } from '../views/index.ts'
import type { Context } from './context.ts'
import type { Names } from './naming.ts'
import { saysWhoOrWhen } from './whoOrWhen.ts'

/** A dropped prefix is an inference; a name taken over as it stands is not. */
const sureness = { plain: 1, prefixDropped: 0.95 } as const

/** By what its rows are told apart, or why by nothing. */
function keyEvidence(r: Relation, lineage: ViewLineage | undefined): readonly Evidence[] {
  if (lineage) {
    const { columns, because } = lineage.key
    if (!columns) return [{ kind: 'no key', weight: -0.3, says: `nothing tells its rows apart: ${because}` }]
    return [{ kind: 'view key', weight: 0.5, says: `${columns.join(', ')} ${columns.length === 1 ? 'tells' : 'tell'} its rows apart: ${because}` }]
  }
  if (r.primaryKey) return [{ kind: 'primary key', weight: 0.5, says: `${r.primaryKey.name} (${r.primaryKey.columns.join(', ')}) identifies a row` }]
  if (r.kind !== 'table' && r.kind !== 'partitioned table') return []
  return [{ kind: 'no primary key', weight: -0.3, says: 'no primary key: rows can be read, and not told apart' }]
}

export function entityFindings(x: Context, names: Names): readonly Finding[] {
  const lineages = viewLineages(x.catalog)
  return x.relations.map((r) => {
    const subject = relationText(r)
    const first = splitWords(r.name)[0] as string
    const dropped = x.unprefixed.has(r)
    const evidence: Evidence[] = [{ kind: 'table', weight: 1, says: `${r.kind} ${r.schema === '' ? r.name : `${r.schema}.${r.name}`}` }]
    if (dropped)
      evidence.push({
        kind: 'prefix',
        weight: 0.6,
        says: isView(r)
          ? `"${first}" only says that it is a view, and is left out`
          : `"${first}" begins the names of several tables of this schema and is left out`,
      })
    if (x.kept.has(subject)) {
      const last = x.words.get(subject)?.at(-1) ?? ''
      evidence.push({
        kind: 'number',
        weight: 0.1,
        says: `tables are named in the singular here, and nothing else speaks of a “${singularWord(last)}”: “${last}” stays as it is`,
      })
    }
    evidence.push(...keyEvidence(r, lineages.get(subject)))
    for (const p of r.inherits)
      evidence.push({
        kind: 'inherits',
        weight: 0,
        says: `inherits from ${p.schema}.${p.name}: its rows are read with those of ${p.name}, and its keys hold for its own rows only`,
      })
    if (r.comment !== null) evidence.push({ kind: 'comment', weight: 0.1, says: `its comment: ${r.comment}` })
    const edits: Edit[] = [{ facet: 'entity.name', subject, value: names.entity.get(subject) ?? r.name }]
    for (const c of r.columns) {
      const column = columnText(subject, c.name)
      edits.push({ facet: 'property.name', subject: column, value: names.property.get(column) ?? c.name })
      if (saysWhoOrWhen(c)) edits.push({ facet: 'column.role', subject: column, value: 'audit' })
    }
    return {
      id: findingId('entity', subject),
      kind: 'entity',
      subject,
      alternatives: [{ key: 'class', confidence: dropped ? sureness.prefixDropped : sureness.plain, edits, evidence }],
    }
  })
}
