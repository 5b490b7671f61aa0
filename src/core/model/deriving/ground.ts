// What a model is made of before anybody ruled: it stays the same while the catalog and its findings do.
import { type Catalog, type Column, columnsText, compareAddress, compareText, type Relation, relationText } from '../../catalog/index.ts'
import { acceptsNullIn, type ViewLineage, viewLineages } from '../../views/index.ts'
import type { Facet, ReferenceTarget } from '../edit.ts'
import type { EntityId, ModelDiagnostic } from '../entityModel.ts'
import type { Finding } from '../finding.ts'
import { type CalledRoutine, calledRoutines } from '../routines.ts'

export interface Ground {
  readonly catalog: Catalog
  /** Without partitions, in order of their addresses. */
  readonly relations: readonly Relation[]
  readonly byText: ReadonlyMap<string, Relation>
  readonly outside: readonly ModelDiagnostic[]
  /** Of each finding's first answer, by its id. */
  readonly confidence: ReadonlyMap<string, number>
  /** How sure each answer to each question about columns is, by `answerKey`. */
  readonly answers: ReadonlyMap<string, number>
  readonly acceptsNull: (c: Column) => boolean
  readonly lineages: ReadonlyMap<string, ViewLineage>
  /** Subjects that something is proposed for, in order. */
  readonly references: readonly string[]
  readonly joins: readonly string[]
  readonly routines: readonly CalledRoutine[]
}

export function groundOf(catalog: Catalog, findings: readonly Finding[]): Ground {
  const relations = catalog.relations.filter((r) => r.kind !== 'partition').toSorted(compareAddress)
  const byText = new Map(relations.map((r) => [relationText(r), r]))
  return {
    catalog,
    relations,
    byText,
    outside: outside(relations, byText),
    confidence: new Map<string, number>(findings.map((f) => [f.id, f.alternatives[0].confidence])),
    answers: answersOf(findings),
    acceptsNull: acceptsNullIn(catalog),
    lineages: viewLineages(catalog),
    references: proposedFor(findings, 'reference.target'),
    joins: proposedFor(findings, 'join.reading'),
    routines: calledRoutines(catalog),
  }
}

function proposedFor(findings: readonly Finding[], facet: Facet): readonly string[] {
  const subjects = new Set<string>()
  for (const f of findings) for (const e of f.alternatives[0].edits) if (e.facet === facet) subjects.add(e.subject)
  return [...subjects].sort(compareText)
}

/** Subjects in order: those proposed, and those that only people said something of. */
export function subjectsWith(proposed: readonly string[], said: Iterable<string>): readonly string[] {
  const known = new Set(proposed)
  const more = [...said].filter((s) => !known.has(s))
  return more.length === 0 ? proposed : [...proposed, ...more].sort(compareText)
}

function outside(relations: readonly Relation[], byText: ReadonlyMap<string, Relation>): readonly ModelDiagnostic[] {
  return relations.flatMap((r) =>
    r.foreignKeys.flatMap((k): ModelDiagnostic[] => {
      const target = relationText({ schema: k.target.schema, name: k.target.table })
      return byText.has(target) ? [] : [{ code: 'outside', relation: relationText(r) as EntityId, constraint: k.name, target }]
    }),
  )
}

export const answerKey = (subject: string, t: ReferenceTarget) => `${subject} ${columnsText({ schema: t.schema, name: t.table }, t.targetColumns)}`

function answersOf(findings: readonly Finding[]): ReadonlyMap<string, number> {
  const found = new Map<string, number>()
  for (const f of findings)
    if (f.kind === 'reference')
      for (const a of f.alternatives)
        for (const e of a.edits) if (e.facet === 'reference.target' && e.value) found.set(answerKey(e.subject, e.value), a.confidence)
  return found
}
