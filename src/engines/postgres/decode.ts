// Fetched rows → Catalog: links what the server keeps by object id into what we keep by name. Pure.
import type {
  Catalog,
  CheckConstraint,
  Column,
  DefinedObject,
  Exclusion,
  Expression,
  ForeignKey,
  Index,
  KeyConstraint,
  Policy,
  RangeType,
  Relation,
  RelationAddress,
  Routine,
  Sequence,
  SequenceOptions,
} from '../../core/catalog/index.ts'
import { quoteIdent, quoteLiteral } from '../../core/dialect/postgres/quote.ts'
import { asReadBack } from '../../core/dialect/postgres/reparse.ts'
import { withSettableOptions } from '../../core/dialect/postgres/settable.ts'
import { aggregateDefinition } from './aggregate.ts'
import {
  actions,
  commands,
  compressions,
  firings,
  generations,
  keepings,
  known,
  matches,
  persistences,
  relationKinds,
  replicaKinds,
  routineKinds,
  storages,
} from './letters.ts'
import { columnKey, linksOf } from './links.ts'
import type {
  ColumnRest,
  ColumnRow,
  ConstraintRow,
  DefinitionRow,
  Fetched,
  IndexRow,
  NumberList,
  ObjectRow,
  PolicyRow,
  RangeRow,
  RelationRow,
  ReportRow,
  RoutineRow,
  SequenceRow,
} from './rows.ts'

const numbers = (list: NumberList | null): readonly number[] => (list === null || list === '' ? [] : list.split(' ').map(Number))

const canonical = (text: string): Expression => ({ written: text, canonical: asReadBack(text) })
const expressionOrNull = (text: string | null): Expression | null => (text === null ? null : canonical(text))

const sequenceOptions = (s: SequenceRow): SequenceOptions => ({
  type: s.type,
  start: s.start,
  increment: s.increment,
  minimum: s.minimum,
  maximum: s.maximum,
  cache: s.cache,
  cycle: s.cycle,
})

const deferrableOf = ({ rest }: ConstraintRow): ForeignKey['deferrable'] =>
  !rest?.deferrable ? 'no' : rest.deferred ? 'initially deferred' : 'initially immediate'

/** What was linked, and the objects that a mark of a newer server keeps from being described. */
export interface Decoded {
  readonly structure: Catalog
  readonly reported: readonly ReportRow[]
}

const list = (options: readonly string[] | null): readonly string[] => options ?? []
const addressOrNull = (schema: string | null, name: string | null): RelationAddress | null => (schema === null || name === null ? null : { schema, name })

/**
 * Link everything but the census. Where a newer server uses a letter we do not know, the part it describes is left out and
 * reported: a property of a relation as not modelled, an object that would mean something else without it as a whole. O(rows).
 */
export function decode(f: Fetched): Decoded {
  const {
    reported,
    properties,
    whole,
    part,
    commentOn,
    columnsOf,
    typeOf,
    expressions,
    columnNames,
    named,
    constraintsOf,
    domainChecks,
    indexesOf,
    indexByOid,
    triggersOf,
    rulesOf,
    collationNamed,
    operatorClassNamed,
    typeNamed,
    parentsOf,
    policiesOf,
    collationOf,
    columnCollation,
    indexCollation,
    relationOf,
    identity,
    needs,
    aggregateOf,
    textOf,
  } = linksOf(f)

  function columnValue(c: ColumnRow): Column {
    const expression = expressions.get(columnKey(c.relation, c.number)) ?? null
    const plain: Column = {
      name: c.name,
      type: typeOf(c)?.text ?? '',
      nullable: c.nullable,
      default: expressionOrNull(expression),
      generated: null,
      identity: null,
      onUpdate: null,
      collation: null,
      storage: null,
      compression: null,
      statisticsTarget: null,
      options: [],
      inherited: false,
      comment: commentOn('pg_class', c.relation, c.number),
    }
    return c.rest === null ? plain : { ...plain, ...uncommon(c, c.rest, expression) }
  }

  /** What few columns have. */
  function uncommon(row: ColumnRow, c: ColumnRest, expression: string | null): Partial<Column> {
    const own = identity.get(columnKey(row.relation, row.number))
    const where = () => textOf(row.relation, row.name)
    const kept = c.generated === '' ? null : (keepings[c.generated] ?? null)
    // Its expression is an object of its own (pg_attrdef).
    if (c.generated !== '' && kept === null) reported.push({ class: 'pg_attrdef', kind: `generated column marked "${c.generated}"`, identity: where() })
    const generation = own && c.identity !== '' ? part(generations, c.identity, 'identity', where()) : null
    return {
      default: c.generated === '' ? expressionOrNull(expression) : null,
      generated: kept === null ? null : { expression: canonical(expression ?? ''), kept },
      identity:
        own && generation !== null
          ? { generation, sequence: { schema: own.schema, name: own.name }, options: sequenceOptions(own), comment: commentOn('pg_class', own.oid) }
          : null,
      collation: columnCollation(row),
      storage: c.storage === typeOf(row)?.storage ? null : part(storages, c.storage, 'storage of a column', where()),
      compression: c.compression === '' ? null : part(compressions, c.compression, 'compression of a column', where()),
      statisticsTarget: c.statistics < 0 ? null : c.statistics,
      options: list(c.options),
      inherited: !c.local && relationOf.get(row.relation)?.isPartition === false,
    }
  }

  function key(row: ConstraintRow): KeyConstraint {
    const x = indexByOid.get(row.index)
    return {
      name: row.name,
      columns: named(row.relation, numbers(row.columns)),
      include: x ? named(row.relation, numbers(x.columns).slice(x.keyColumns)) : [],
      deferrable: deferrableOf(row),
      nullsNotDistinct: x?.rest?.nullsNotDistinct ?? false,
      options: list(x?.rest?.options ?? null),
      attachedTo: x?.rest?.attachedTo ?? null,
      clustered: x?.rest?.clustered ?? false,
      comment: commentOn('pg_constraint', row.oid),
      indexComment: x ? commentOn('pg_class', x.oid) : null,
    }
  }

  function exclusion(row: ConstraintRow): Exclusion {
    const x = indexValue(indexByOid.get(row.index) as IndexRow)
    return {
      name: row.name,
      method: x.method,
      elements: x.columns.map((c, i) => ({ ...c, operator: operatorAddress(row.rest?.operators?.[i] ?? '') })),
      include: x.include,
      predicate: x.predicate,
      options: x.options,
      deferrable: deferrableOf(row),
      attachedTo: x.attachedTo,
      clustered: x.clustered,
      comment: commentOn('pg_constraint', row.oid),
      indexComment: x.comment,
    }
  }

  function policy(p: PolicyRow): Policy {
    return {
      name: p.name,
      permissive: p.permissive,
      command: known(commands, p.command, `its command`),
      roles: p.roles,
      using: expressionOrNull(p.using),
      check: expressionOrNull(p.check),
      comment: commentOn('pg_policy', p.oid),
    }
  }

  function reference(row: ConstraintRow): ForeignKey {
    return {
      name: row.name,
      columns: named(row.relation, numbers(row.columns)),
      target: { schema: row.targetSchema ?? '', table: row.targetName ?? '', columns: named(row.target ?? 0, numbers(row.targetColumns)) },
      onUpdate: known(actions, row.actions?.[0] ?? '', 'its update action'),
      onDelete: known(actions, row.actions?.[1] ?? '', 'its delete action'),
      onDeleteColumns: named(row.relation, numbers(row.rest?.onDeleteColumns ?? null)),
      match: known(matches, row.rest?.match ?? 's', 'its match type'),
      deferrable: deferrableOf(row),
      validated: row.rest?.validated ?? true,
      enforced: !row.rest?.disabled,
      comment: commentOn('pg_constraint', row.oid),
    }
  }

  function check(row: ConstraintRow): CheckConstraint {
    return {
      name: row.name,
      expression: canonical(row.expression ?? ''),
      validated: row.rest?.validated ?? true,
      inheritable: !row.rest?.noInherit,
      inherited: row.rest !== null && !row.rest.local,
      comment: commentOn('pg_constraint', row.oid),
    }
  }

  /** pg_index.indoption: bit 0 descending, bit 1 nulls first (manual 54.26). */
  function indexValue(x: IndexRow): Index {
    const { rest } = x
    const tuned = columnsOf.get(x.oid) ?? []
    const columns = numbers(x.columns)
    const flags = numbers(rest?.flags ?? null)
    const classes = numbers(rest?.classes ?? null)
    const collations = numbers(rest?.collations ?? null)
    return {
      name: x.name,
      unique: x.unique,
      method: x.method,
      columns: columns.slice(0, x.keyColumns).map((number, i) => ({
        column: number === 0 ? null : (columnNames.get(x.relation)?.get(number) ?? ''),
        expression: number === 0 ? expressionOrNull(rest?.expressions?.[i] ?? null) : null,
        collation: indexCollation(x, number, collations[i]),
        operatorClass: operatorClassNamed(classes[i] ?? null),
        operatorClassOptions: tuned.find((t) => t.number === i + 1)?.rest?.options ?? [],
        descending: ((flags[i] ?? 0) & 1) !== 0,
        nullsFirst: ((flags[i] ?? 0) & 2) !== 0,
      })),
      include: named(x.relation, columns.slice(x.keyColumns)),
      predicate: expressionOrNull(rest?.predicate ?? null),
      nullsNotDistinct: rest?.nullsNotDistinct ?? false,
      options: list(rest?.options ?? null),
      attachedTo: rest?.attachedTo ?? null,
      clustered: rest?.clustered ?? false,
      valid: rest?.valid ?? true,
      statistics: tuned.flatMap((t) => (t.rest === null || t.rest.statistics < 0 ? [] : [{ position: t.number, target: t.rest.statistics }])),
      comment: commentOn('pg_class', x.oid),
    }
  }

  const defined = (catalog: string, kind: string) => (d: DefinitionRow) =>
    whole(catalog, kind, `${d.name} on ${textOf(d.relation)}`, () => ({
      name: d.name,
      definition: canonical(d.definition ?? ''),
      fires: known(firings, d.fires, 'when it fires'),
      comment: commentOn(catalog, d.oid),
    }))

  function replicaIdentity(r: RelationRow): Relation['replicaIdentity'] {
    if (r.replica === 'i' && r.replicaIndex !== null) return { kind: 'index', index: r.replicaIndex }
    // The index that was chosen is gone: no row can be told (manual, ALTER TABLE, REPLICA IDENTITY).
    if (r.replica === 'i') return { kind: 'nothing' }
    return { kind: part(replicaKinds, r.replica, 'replica identity', textOf(r.oid)) ?? 'unknown' }
  }

  function foreign(r: RelationRow): Relation['foreign'] {
    if (r.server === null) return null
    const tuned = (columnsOf.get(r.oid) ?? []).filter((c) => (c.rest?.foreignOptions ?? null) !== null)
    return { server: r.server, options: list(r.foreignOptions), columns: tuned.map((c) => ({ column: c.name, options: list(c.rest?.foreignOptions ?? null) })) }
  }

  /** Constraints that mean something else than the format says of their kind: left out and told (from PostgreSQL 18 on). */
  function told(r: RelationRow, c: ConstraintRow): boolean {
    const what = c.rest?.period ? 'temporal' : c.rest?.notEnforced ? 'not enforced' : null
    if (what === null) return false
    // A partition's own copy comes and goes with its parent's.
    if (c.kind === 'f' && c.rest?.parent) return true
    const identity = `${c.name} on ${textOf(r.oid)}`
    reported.push({ class: `pg_constraint ${c.kind}`, kind: `constraint (${what})`, identity })
    if (c.kind !== 'f' && c.kind !== 'c')
      reported.push({ class: r.kind === 'p' ? 'pg_class I' : 'pg_class i', kind: 'index of a constraint (temporal)', identity })
    return true
  }

  function relationValue(r: RelationRow): Relation {
    const own = (constraintsOf.get(r.oid) ?? []).filter((c) => !told(r, c))
    const primary = own.find((c) => c.kind === 'p')
    const parents = (parentsOf.get(r.oid) ?? []).map((p) => ({ schema: p.schema, name: p.name }))
    const [parent] = parents
    return {
      kind: r.isPartition ? 'partition' : known(relationKinds, r.kind, 'its kind'),
      schema: r.schema,
      name: r.name,
      comment: commentOn('pg_class', r.oid),
      unlogged: part(persistences, r.persistence, 'persistence', textOf(r.oid)) ?? false,
      options: list(r.options),
      columns: (columnsOf.get(r.oid) ?? []).map(columnValue),
      primaryKey: primary ? key(primary) : null,
      uniques: own.filter((c) => c.kind === 'u').map(key),
      foreignKeys: own
        .filter((c) => c.kind === 'f' && !c.rest?.parent)
        .flatMap((c) => whole('pg_constraint f', 'foreign key', `${c.name} on ${textOf(r.oid)}`, () => reference(c))),
      checks: own.filter((c) => c.kind === 'c').map(check),
      indexes: (indexesOf.get(r.oid) ?? []).filter((x) => x.constraint === null).map(indexValue),
      triggers: (triggersOf.get(r.oid) ?? []).flatMap(defined('pg_trigger', 'trigger')),
      rules: (rulesOf.get(r.oid) ?? []).flatMap(defined('pg_rewrite', 'rule')),
      exclusions: own.filter((c) => c.kind === 'x').map(exclusion),
      policies: (policiesOf.get(r.oid) ?? []).flatMap((p) => whole('pg_policy', 'policy', `${p.name} on ${textOf(r.oid)}`, () => policy(p))),
      inherits: r.isPartition ? [] : parents,
      ofType: typeNamed(r.ofType),
      accessMethod: r.kind === 'r' || r.kind === 'm' ? r.accessMethod : null,
      foreign: foreign(r),
      partitionKey: r.partitionKey,
      partitionOf: !r.isPartition || parent === undefined || r.bound === null ? null : { parent, bound: r.bound },
      definition: expressionOrNull(r.definition),
      replicaIdentity: replicaIdentity(r),
      rowSecurity: !r.rowSecurity ? 'off' : r.forceRowSecurity ? 'forced' : 'on',
      dependsOn: needs('pg_class', r.oid),
    }
  }

  function sequenceValue(s: SequenceRow): Sequence {
    const owner = s.ownerRelation === null ? undefined : relationOf.get(s.ownerRelation)
    const column = s.ownerRelation === null || s.ownerColumn === null ? undefined : columnNames.get(s.ownerRelation)?.get(s.ownerColumn)
    return {
      schema: s.schema,
      name: s.name,
      options: sequenceOptions(s),
      unlogged: s.persistence === 'u',
      ownedBy: owner && column !== undefined ? { schema: owner.schema, table: owner.name, column } : null,
      comment: commentOn('pg_class', s.oid),
    }
  }

  function rangeValue(r: RangeRow): RangeType {
    return {
      schema: r.schema,
      name: r.name,
      subtype: r.subtype,
      multirange: addressOrNull(r.multirangeSchema, r.multirangeName),
      operatorClass: operatorClassNamed(r.operatorClass),
      collation: collationNamed(r.collation),
      canonical: addressOrNull(r.canonicalSchema, r.canonicalName),
      difference: addressOrNull(r.differenceSchema, r.differenceName),
      comment: commentOn('pg_type', r.oid),
      dependsOn: needs('pg_type', r.oid),
    }
  }

  function routineValue(r: RoutineRow): Routine {
    const aggregate = r.kind === 'a' ? aggregateOf.get(r.oid) : undefined
    return {
      kind: known(routineKinds, r.kind, 'its kind'),
      schema: r.schema,
      name: r.name,
      argumentTypes: r.argumentTypes,
      arguments: r.arguments,
      returns: r.kind === 'p' ? null : r.returns,
      language: r.language,
      definition: canonical(aggregate ? aggregateDefinition(r, aggregate) : withoutSettings(r.definition ?? '', r.ownSettings ?? [])),
      comment: commentOn('pg_proc', r.oid),
      dependsOn: needs('pg_proc', r.oid),
    }
  }

  const objectValue = (o: ObjectRow): DefinedObject => ({
    kind: o.kind,
    schema: o.schema,
    name: o.name,
    definition: o.definition.map(canonical),
    comment: commentOn(o.catalog, o.oid),
    dependsOn: needs(o.catalog, o.oid),
  })

  const structure: Catalog = {
    format: 'pelvok.catalog/1',
    dialect: 'postgresql',
    schemas: f.schemas.map((s) => ({ name: s.name, comment: commentOn('pg_namespace', s.oid) })),
    extensions: f.extensions.map((e) => ({ name: e.name, schema: e.schema, version: e.version, comment: commentOn('pg_extension', e.oid) })),
    enums: f.enums.map((t) => ({ schema: t.schema, name: t.name, labels: t.labels, comment: commentOn('pg_type', t.oid) })),
    domains: f.domains.map((d) => ({
      schema: d.schema,
      name: d.name,
      type: d.type,
      nullable: d.nullable,
      default: expressionOrNull(d.expression),
      collation: collationOf(d),
      checks: (domainChecks.get(d.oid) ?? []).map((c) => ({
        name: c.name,
        expression: canonical(c.expression ?? ''),
        validated: c.rest?.validated ?? true,
        comment: commentOn('pg_constraint', c.oid),
      })),
      comment: commentOn('pg_type', d.oid),
      dependsOn: needs('pg_type', d.oid),
    })),
    composites: f.relations
      .filter((r) => r.kind === 'c')
      .map((r) => ({
        schema: r.schema,
        name: r.name,
        attributes: (columnsOf.get(r.oid) ?? []).map((c) => ({
          name: c.name,
          type: typeOf(c)?.text ?? '',
          collation: columnCollation(c),
          comment: commentOn('pg_class', c.relation, c.number),
        })),
        comment: commentOn('pg_type', r.rowType ?? 0),
        dependsOn: needs('pg_class', r.oid),
      })),
    ranges: f.ranges.map(rangeValue),
    sequences: f.sequences.filter((s) => s.ownerKind !== 'i').map(sequenceValue),
    relations: f.relations.filter((r) => r.kind !== 'c').map(relationValue),
    routines: f.routines.flatMap((r) => whole(`pg_proc ${r.kind}`, 'routine', `${r.schema}.${r.name}(${r.argumentTypes})`, () => routineValue(r))),
    objects: f.objects.map(objectValue),
    unmodelled: properties,
  }
  return { structure: withSettableOptions(structure, f.server.number), reported }
}

/** The text of pg_get_functiondef without some of its settings, each a line ` SET name TO value` (ruleutils.c, print_function_sqlbody and before). */
function withoutSettings(definition: string, settings: readonly string[]): string {
  return settings.reduce((text, setting) => {
    const at = setting.indexOf('=')
    return text.replace(` SET ${quoteIdent(setting.slice(0, at))} TO ${quoteLiteral(setting.slice(at + 1))}\n`, () => '')
  }, definition)
}

/** `pg_catalog.&&`: the name of an operator has no dot, that of a schema may. */
function operatorAddress(text: string): RelationAddress {
  const at = text.lastIndexOf('.')
  return { schema: text.slice(0, at), name: text.slice(at + 1) }
}
