// The text that makes an object: what the server or the script wrote where there is one, else written from the catalog.
import { type Catalog, type Relation, relationText } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import type { ObjectRow } from './objects.ts'

const text = (statements: readonly string[]): string => statements.join('\n')

/** A table with all that hangs on it, in the order in which a plan makes it. */
function tableText(r: Relation): string {
  return text([
    pg.createTable(r, { defaultsAndChecks: false }),
    ...pg.attachPartition(r),
    ...pg.tableSettings(r),
    ...r.indexes.flatMap((x) => [...pg.createIndex(r, x), ...pg.attachIndex(r, x)]),
    ...r.exclusions.flatMap((x) => pg.addExclusion(r, x)),
    ...pg.replicaIndex(r),
    ...r.foreignKeys.map((k) => pg.addForeignKey(r, k)),
    ...r.policies.flatMap((p) => pg.createPolicy(r, p)),
    ...r.rules.flatMap((d) => pg.createDefined(r, d, 'RULE')),
    ...r.triggers.flatMap((d) => pg.createDefined(r, d, 'TRIGGER')),
    ...pg.relationComments(r),
  ])
}

function relationDefinition(c: Catalog, r: Relation): string | null {
  const isView = r.kind === 'view' || r.kind === 'materialized view'
  if (c.dialect === 'postgresql') return isView ? text([pg.createView(r), ...pg.relationComments(r)]) : tableText(r)
  return r.definition?.written ?? null
}

/** Null where there is none: tables of engines whose DDL is not written here, and what is kept by name only. */
export function definitionOf(c: Catalog, row: ObjectRow): string | null {
  const is = (o: { readonly schema: string; readonly name: string }) => o.schema === row.schema && o.name === row.name
  const relation = c.relations.find((r) => relationText(r) === row.id)
  if (relation) return relationDefinition(c, relation)
  const routine = c.routines.find((r) => `routine ${relationText(r)}(${r.argumentTypes})` === row.id)
  if (routine) return routine.definition.written
  const object = c.objects.find((o) => o.kind === row.kind && is(o))
  if (object) return text(pg.definedDdl(object).up)
  if (c.dialect !== 'postgresql') return null
  switch (row.kind) {
    case 'enumerated type':
      return text(c.enums.filter(is).flatMap((t) => pg.enumDdl(t).up))
    case 'domain':
      return text(c.domains.filter(is).flatMap((t) => pg.domainDdl(t).up))
    case 'composite type':
      return text(c.composites.filter(is).flatMap((t) => pg.compositeDdl(t).up))
    case 'range type':
      return text(c.ranges.filter(is).flatMap((t) => pg.rangeDdl(t).up))
    case 'sequence':
      return text(c.sequences.filter(is).flatMap((s) => [...pg.sequenceDdl(s).up, ...pg.sequenceOwnerDdl(s).up]))
    case 'extension':
      return text(c.extensions.filter((e) => e.name === row.name).flatMap((e) => pg.extensionDdl(e).up))
    default:
      return null
  }
}
