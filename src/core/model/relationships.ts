// pelvok.relationships/1: every relationship with its evidence, as `pelvok relate --json` prints it. See docs/formats/relationships.md.
import type { End, EntityModel, JoinHalf, Relationship, RelationshipState } from './entityModel.ts'
import type { Evidence, Finding } from './finding.ts'

interface PrintedEnd {
  readonly schema: string
  readonly table: string
  readonly columns: readonly string[]
  readonly property: string
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
  } | null
  /** The many-to-many that this is one half of. */
  readonly partOf?: string
  readonly evidence: readonly Pick<Evidence, 'kind' | 'weight' | 'says'>[]
}

/** All relationships of the model and the halves of its join tables, in order of id, at or above `minimum` confidence. */
export function printedRelationships(model: EntityModel, findings: readonly Finding[], minimum: number): readonly PrintedRelationship[] {
  const evidence = new Map<string, readonly Evidence[]>(findings.map((f) => [f.id, f.alternatives[0].evidence]))
  const relationOf = new Map<string, { schema: string; name: string }>(model.entities.map((e) => [e.id, e.relation]))
  const end = (e: End): PrintedEnd => ({
    schema: relationOf.get(e.entity)?.schema ?? '',
    table: relationOf.get(e.entity)?.name ?? '',
    columns: e.columns,
    property: e.property,
  })
  const whole = model.relationships.map(
    (r): PrintedRelationship => ({
      id: r.id,
      kind: r.kind,
      state: r.state,
      confidence: r.confidence,
      from: { ...end(r.from), optional: r.from.leadsTo !== 'exactly one' },
      to: end(r.to),
      through:
        r.through === null
          ? null
          : {
              schema: r.through.table.schema,
              table: r.through.table.name,
              fromColumns: r.through.fromColumns,
              toColumns: r.through.toColumns,
              payload: r.through.payload,
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
  return [...whole, ...model.joinHalves.map(half)].filter((r) => r.confidence >= minimum).sort((a, b) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0))
}
