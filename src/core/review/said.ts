// References that somebody said and inference never asked about: findings of their own, so that they can be looked at and ruled on like others.
import { type Catalog, columnsText, relationText } from '../catalog/index.ts'
import { activeEntries, type EntityModel, editsOf, type Finding, findingId, type LedgerEntry, noReference, type ReferenceTarget } from '../model/index.ts'

/** One for each set of columns, in order of the first entry about it. None where every reference in the ledger answers a question. O(entries). */
export function saidFindings(catalog: Catalog, model: EntityModel, findings: readonly Finding[], entries: readonly LedgerEntry[]): readonly Finding[] {
  const targets = new Map<string, ReferenceTarget>()
  for (const e of activeEntries(entries)) for (const x of editsOf(e)) if (x.facet === 'reference.target' && x.value !== null) targets.set(x.subject, x.value)
  if (targets.size === 0) return []
  for (const f of findings) targets.delete(f.subject)
  const relations = new Set(catalog.relations.map(relationText))
  return [...targets].flatMap(([subject, value]): readonly Finding[] => {
    if (!relations.has(subject.slice(0, subject.indexOf('('))) || !relations.has(relationText({ schema: value.schema, name: value.table }))) return []
    const id = findingId('reference', subject)
    const now = model.relationships.find((r) => r.id === id)
    return [
      {
        id,
        kind: 'reference',
        subject,
        alternatives: [
          {
            key: columnsText({ schema: value.schema, name: value.table }, value.targetColumns),
            confidence: 1,
            edits: [
              { facet: 'reference.target', subject, value },
              ...(now
                ? ([
                    { facet: 'reference.ownName', subject, value: now.from.property },
                    { facet: 'reference.inverseName', subject, value: now.to.property },
                  ] as const)
                : []),
            ],
            evidence: [{ kind: 'said', weight: 0, says: `somebody said so; nothing in the schema asks what ${value.columns.join(', ')} refers to` }],
          },
          { key: noReference, confidence: 0, edits: [{ facet: 'reference.target', subject, value: null }], evidence: [] },
        ],
      },
    ]
  })
}
