// pelvok.relationships/1: every relationship with its evidence, as `pelvok relate --json` prints it. See docs/formats/relationships.md.

import { columnsText, parseAddress, relationText } from '../catalog/index.ts'
import type { Edit, ReferenceTarget } from './edit.ts'
import type { End, EntityModel, JoinHalf, Relationship, RelationshipState } from './entityModel.ts'
import { type Alternative, type Evidence, type Finding, isGuess } from './finding.ts'
import type { FindingStatus } from './status.ts'

interface PrintedEnd {
  readonly schema: string
  readonly table: string
  readonly columns: readonly string[]
  readonly property: string
  /** Somebody says how many it leads to, and nothing in the database keeps it so. */
  readonly unguarded?: true
}

export interface PrintedRelationship {
  readonly id: string
  readonly kind: Relationship['kind'] | 'polymorphic'
  readonly state: RelationshipState
  readonly confidence: number
  readonly from: PrintedEnd & { readonly optional: boolean }
  readonly to: PrintedEnd
  readonly through: {
    readonly schema: string
    readonly table: string
    readonly fromColumns: readonly string[]
    readonly toColumns: readonly string[]
    readonly payload: readonly string[]
    /** The join table is an entity as well. */
    readonly shortcut?: true
  } | null
  /** The many-to-many that this is one half of. */
  readonly partOf?: string
  readonly evidence: readonly Pick<Evidence, 'kind' | 'weight' | 'says'>[]
}

/**
 * All relationships of the model and the halves of its join tables, and what else columns may refer to that nobody ruled on; in order of
 * id, at or above `minimum` confidence. Those of views repeat what their tables say and are left out unless `ofViews`.
 */
export function printedRelationships(
  model: EntityModel,
  findings: readonly Finding[],
  statuses: ReadonlyMap<string, FindingStatus>,
  minimum: number,
  ofViews = false,
): readonly PrintedRelationship[] {
  const taken = new Map([
    ...model.relationships.flatMap((r) => (r.through ? [] : [[r.id, r.to.entity] as const])),
    ...model.joinHalves.map((h) => [h.id, h.target] as const),
  ])
  const evidence = new Map<string, readonly Evidence[]>(findings.map((f) => [f.id, takenAnswer(f, taken.get(f.id)).evidence]))
  const relationOf = new Map<string, { schema: string; name: string }>(model.entities.map((e) => [e.id, e.relation]))
  const end = (e: End): PrintedEnd => ({
    schema: relationOf.get(e.entity)?.schema ?? '',
    table: relationOf.get(e.entity)?.name ?? '',
    columns: e.columns,
    property: e.property,
  })
  const views = new Set(model.entities.flatMap((e) => (e.kind === 'view' || e.kind === 'materialized view' ? [e.id] : [])))
  const whole = model.relationships
    .filter((r) => ofViews || !views.has(r.from.entity))
    .map(
      (r): PrintedRelationship => ({
        id: r.id,
        kind: r.kind,
        state: r.state,
        confidence: r.confidence,
        from: { ...end(r.from), optional: r.from.leadsTo !== 'exactly one', ...(r.from.claimed ? { unguarded: true as const } : {}) },
        to: { ...end(r.to), ...(r.to.claimed ? { unguarded: true as const } : {}) },
        through:
          r.through === null
            ? null
            : {
                schema: r.through.table.schema,
                table: r.through.table.name,
                fromColumns: r.through.fromColumns,
                toColumns: r.through.toColumns,
                payload: r.through.payload,
                ...(r.through.shortcut ? { shortcut: true as const } : {}),
              },
        evidence: evidence.get(r.id) ?? [],
      }),
    )
  const half = (h: JoinHalf): PrintedRelationship => ({
    id: h.id,
    kind: 'many-to-one',
    state: h.state,
    confidence: h.confidence,
    from: { schema: h.table.schema, table: h.table.name, columns: h.columns, property: h.ownName, optional: false },
    to: { schema: relationOf.get(h.target)?.schema ?? '', table: relationOf.get(h.target)?.name ?? '', columns: h.targetColumns, property: h.inverseName },
    through: null,
    partOf: h.partOf,
    evidence: evidence.get(h.id) ?? [],
  })
  const kinds = findings.flatMap((f) => (f.kind === 'polymorphic' && statuses.get(f.id) !== 'rejected' ? kindAnswers(f) : []))
  const others = findings.flatMap((f) => (isGuess(f) && isUnruled(statuses.get(f.id)) ? otherAnswers(f, taken.get(f.id)) : []))
  return [...whole, ...model.joinHalves.map(half), ...others, ...kinds]
    .filter((r) => r.confidence >= minimum)
    .sort((a, b) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0))
}

const isUnruled = (s: FindingStatus | undefined) => s === 'open' || s === 'certain' || s === 'folded'

function targetOf(a: Alternative): ReferenceTarget | null {
  for (const e of a.edits) if (e.facet === 'reference.target') return e.value
  return null
}

const isOf = (a: Alternative, entity: string | undefined) => {
  const t = targetOf(a)
  return t !== null && relationText({ schema: t.schema, name: t.table }) === entity
}

const takenAnswer = (f: Finding, entity: string | undefined) => f.alternatives.find((a) => isOf(a, entity)) ?? f.alternatives[0]

/** The answers that the model does not take, each as the relationship it would be. */
function otherAnswers(f: Finding, entity: string | undefined): readonly PrintedRelationship[] {
  const address = parseAddress(f.subject)
  return f.alternatives.flatMap((a): PrintedRelationship[] => {
    const t = targetOf(a)
    if (!address || t === null || isOf(a, entity)) return []
    const name = (facet: Edit['facet']) => a.edits.find((e) => e.facet === facet)?.value as string | undefined
    const unique = a.evidence.some((e) => e.kind === 'unique rule')
    return [
      {
        id: `${f.id}>${columnsText({ schema: t.schema, name: t.table }, t.targetColumns)}`,
        kind: unique ? 'one-to-one' : 'many-to-one',
        state: 'guessed',
        confidence: a.confidence,
        from: {
          schema: address.schema,
          table: address.name,
          columns: t.columns,
          property: name('reference.ownName') ?? '',
          optional: a.evidence.some((e) => e.kind === 'nullable column'),
        },
        to: { schema: t.schema, table: t.table, columns: t.targetColumns, property: name('reference.inverseName') ?? '' },
        through: null,
        evidence: a.evidence,
      },
    ]
  })
}

/** One line per word of a column that says which table. */
function kindAnswers(f: Finding): readonly PrintedRelationship[] {
  const address = parseAddress(f.subject)
  return f.alternatives.flatMap((a) =>
    a.edits.flatMap((e) =>
      e.facet !== 'reference.kinds' || !e.value || !address
        ? []
        : e.value.targets.map(
            (t): PrintedRelationship => ({
              id: `${f.id}>${t.value}`,
              kind: 'polymorphic',
              state: 'guessed',
              confidence: a.confidence,
              from: { schema: address.schema, table: address.name, columns: [e.value?.idColumn ?? ''], property: '', optional: false },
              to: { schema: t.schema, table: t.table, columns: t.columns, property: '' },
              through: null,
              evidence: a.evidence,
            }),
          ),
    ),
  )
}
