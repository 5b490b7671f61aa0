// Fetched rows → Catalog: links what the server keeps by object id into what we keep by name. Pure.
import type {
  Catalog,
  CheckConstraint,
  Column,
  Expression,
  ForeignKey,
  Index,
  KeyConstraint,
  ReferentialAction,
  Relation,
  RelationAddress,
  Sequence,
  SequenceOptions,
} from '../../core/catalog/index.ts'
import { aggregateDefinition } from './aggregate.ts'
import { dependencyFinder } from './dependencies.ts'
import type { ColumnRow, ConstraintRow, DefinitionRow, Fetched, IndexRow, NamedRow, NumberList, Oid, RelationRow, SequenceRow } from './rows.ts'

const numbers = (list: NumberList | null): readonly number[] => (list === null || list === '' ? [] : list.split(' ').map(Number))

const canonical = (text: string): Expression => ({ written: text, canonical: text })
const expressionOrNull = (text: string | null): Expression | null => (text === null ? null : canonical(text))

/** Letters of pg_constraint.confupdtype and confdeltype (manual 54.13). A letter that is not here is reported by the caller, never mapped. */
const actions: Readonly<Record<string, ReferentialAction>> = { a: 'no action', r: 'restrict', c: 'cascade', n: 'set null', d: 'set default' }
const matches: Readonly<Record<string, ForeignKey['match']>> = { s: 'simple', f: 'full', p: 'partial' }
const firings: Readonly<Record<string, 'origin' | 'replica' | 'always' | 'disabled'>> = { O: 'origin', R: 'replica', A: 'always', D: 'disabled' }
const storages: Readonly<Record<string, NonNullable<Column['storage']>>> = { p: 'plain', e: 'external', x: 'extended', m: 'main' }
const compressions: Readonly<Record<string, NonNullable<Column['compression']>>> = { p: 'pglz', l: 'lz4' }
const routineKinds = { f: 'function', p: 'procedure', w: 'window function', a: 'aggregate' } as const
const replicaKinds: Readonly<Record<string, 'default' | 'full' | 'nothing'>> = { d: 'default', f: 'full', n: 'nothing' }

/** A letter of the server's catalog that this version of Pelvok does not know. */
export class UnknownLetter extends Error {
  constructor(letter: string, what: string) {
    super(`the server marks ${what} with "${letter}", which this version does not know`)
    this.name = 'UnknownLetter'
  }
}

function known<T>(table: Readonly<Record<string, T>>, letter: string, what: string): T {
  const value = table[letter]
  if (value === undefined) throw new UnknownLetter(letter, what)
  return value
}

function groupBy<T>(rows: readonly T[], key: (row: T) => Oid): ReadonlyMap<Oid, T[]> {
  const map = new Map<Oid, T[]>()
  for (const row of rows) {
    const list = map.get(key(row))
    if (list) list.push(row)
    else map.set(key(row), [row])
  }
  return map
}

const sequenceOptions = (s: SequenceRow): SequenceOptions => ({
  type: s.type,
  start: s.start,
  increment: s.increment,
  minimum: s.minimum,
  maximum: s.maximum,
  cache: s.cache,
  cycle: s.cycle,
})

const deferrableOf = (row: ConstraintRow): ForeignKey['deferrable'] => (!row.deferrable ? 'no' : row.deferred ? 'initially deferred' : 'initially immediate')

/** Link everything but the census. Throws UnknownLetter where a newer server uses a letter we do not know. O(rows). */
export function decode(f: Fetched): Catalog {
  const comments = new Map(f.comments.map((c) => [`${c.catalog} ${c.oid} ${c.part}`, c.comment]))
  const commentOn = (catalog: string, oid: Oid, part = 0): string | null => comments.get(`${catalog} ${oid} ${part}`) ?? null
  const columnsOf = groupBy(f.columns, (c) => c.relation)
  for (const list of columnsOf.values()) list.sort((a, b) => a.number - b.number)
  const typeOf = new Map(f.types.map((t) => [`${t.type} ${t.modifier}`, t]))
  const expressions = new Map(f.defaults.map((d) => [`${d.relation} ${d.number}`, d.expression]))
  const columnNames = new Map<Oid, ReadonlyMap<number, string>>([...columnsOf].map(([oid, cols]) => [oid, new Map(cols.map((c) => [c.number, c.name]))]))
  const named = (relation: Oid, of: readonly number[]): readonly string[] => of.map((n) => columnNames.get(relation)?.get(n) ?? '')
  const constraintsOf = groupBy(f.constraints, (c) => c.relation)
  const domainChecks = groupBy(
    f.constraints.filter((c) => c.domain !== 0),
    (c) => c.domain,
  )
  const indexesOf = groupBy(f.indexes, (i) => i.relation)
  const indexByOid = new Map(f.indexes.map((i) => [i.oid, i]))
  const triggersOf = groupBy(f.triggers, (t) => t.relation)
  const rulesOf = groupBy(f.rules, (r) => r.relation)
  const tunedOf = groupBy(f.tuned, (t) => t.index)
  const namedBy = (rows: readonly NamedRow[]) => {
    const byOid = new Map(rows.map((r): [Oid, RelationAddress] => [r.oid, { schema: r.schema, name: r.name }]))
    return (oid: Oid | undefined): RelationAddress | null => (oid === undefined ? null : (byOid.get(oid) ?? null))
  }
  const collationNamed = namedBy(f.collations)
  const operatorClassNamed = namedBy(f.operatorClasses)
  /** Only where it is not the type's own. */
  const collationOf = (c: { readonly collation: Oid; readonly typeCollation: Oid }) => (c.collation === c.typeCollation ? null : collationNamed(c.collation))
  const columnCollation = (c: ColumnRow) => (c.collation === typeOf.get(`${c.type} ${c.modifier}`)?.collation ? null : collationNamed(c.collation))
  const collationIds = new Map([...columnsOf].map(([oid, cols]) => [oid, new Map(cols.map((c) => [c.number, c.collation]))]))
  /** Only where it is not the column's own; for an expression, not the database's. 100 is the collation "default" (pg_collation.dat). */
  const indexCollation = (x: IndexRow, column: number, collation: Oid | undefined) => {
    const own = column === 0 ? 100 : collationIds.get(x.relation)?.get(column)
    return collation === own ? null : collationNamed(collation)
  }
  const relationOf = new Map(f.relations.map((r) => [r.oid, r]))
  const identity = new Map(f.sequences.filter((s) => s.ownerKind === 'i').map((s) => [`${s.ownerRelation} ${s.ownerColumn}`, s]))
  const needs = dependencyFinder(f)
  const aggregateOf = new Map(f.aggregates.map((a) => [a.oid, a]))

  function columnValue(c: ColumnRow): Column {
    const own = identity.get(`${c.relation} ${c.number}`)
    const type = typeOf.get(`${c.type} ${c.modifier}`)
    const expression = expressions.get(`${c.relation} ${c.number}`) ?? null
    return {
      name: c.name,
      type: type?.text ?? '',
      nullable: c.nullable,
      default: c.generated === '' ? expressionOrNull(expression) : null,
      generated:
        c.generated === ''
          ? null
          : { expression: canonical(expression ?? ''), kept: known({ s: 'stored', v: 'virtual' } as const, c.generated, `generated column ${c.name}`) },
      identity:
        own && c.identity !== ''
          ? { generation: c.identity === 'a' ? 'always' : 'by default', sequence: { schema: own.schema, name: own.name }, options: sequenceOptions(own) }
          : null,
      onUpdate: null,
      collation: columnCollation(c),
      storage: c.storage === type?.storage ? null : known(storages, c.storage, `the storage of column ${c.name}`),
      compression: c.compression === '' ? null : known(compressions, c.compression, `the compression of column ${c.name}`),
      statisticsTarget: c.statistics < 0 ? null : c.statistics,
      comment: commentOn('pg_class', c.relation, c.number),
    }
  }

  function key(row: ConstraintRow): KeyConstraint {
    const x = indexByOid.get(row.index)
    return {
      name: row.name,
      columns: named(row.relation, numbers(row.columns)),
      include: x ? named(row.relation, numbers(x.columns).slice(x.keyColumns)) : [],
      deferrable: deferrableOf(row),
      nullsNotDistinct: x?.nullsNotDistinct ?? false,
      options: x?.options ?? [],
      attachedTo: x?.attachedTo ?? null,
      clustered: x?.clustered ?? false,
      comment: commentOn('pg_constraint', row.oid),
    }
  }

  function reference(row: ConstraintRow): ForeignKey {
    return {
      name: row.name,
      columns: named(row.relation, numbers(row.columns)),
      target: { schema: row.targetSchema ?? '', table: row.targetName ?? '', columns: named(row.target, numbers(row.targetColumns)) },
      onUpdate: known(actions, row.onUpdate, `the update action of ${row.name}`),
      onDelete: known(actions, row.onDelete, `the delete action of ${row.name}`),
      onDeleteColumns: named(row.relation, numbers(row.onDeleteColumns)),
      match: known(matches, row.match, `the match type of ${row.name}`),
      deferrable: deferrableOf(row),
      validated: row.validated,
      enforced: !row.disabled,
      comment: commentOn('pg_constraint', row.oid),
    }
  }

  function check(row: ConstraintRow): CheckConstraint {
    return {
      name: row.name,
      expression: canonical(row.expression ?? ''),
      validated: row.validated,
      inheritable: !row.noInherit,
      inherited: !row.local,
      comment: commentOn('pg_constraint', row.oid),
    }
  }

  /** pg_index.indoption: bit 0 descending, bit 1 nulls first (manual 54.26). */
  function indexValue(x: IndexRow): Index {
    const tuned = tunedOf.get(x.oid) ?? []
    const columns = numbers(x.columns)
    const flags = numbers(x.flags)
    const classes = numbers(x.classes)
    const collations = numbers(x.collations)
    return {
      name: x.name,
      unique: x.unique,
      method: x.method,
      columns: columns.slice(0, x.keyColumns).map((number, i) => ({
        column: number === 0 ? null : (columnNames.get(x.relation)?.get(number) ?? ''),
        expression: number === 0 ? expressionOrNull(x.expressions?.[i] ?? null) : null,
        collation: indexCollation(x, number, collations[i]),
        operatorClass: operatorClassNamed(classes[i]),
        operatorClassOptions: tuned.find((t) => t.position === i + 1)?.options ?? [],
        descending: ((flags[i] ?? 0) & 1) !== 0,
        nullsFirst: ((flags[i] ?? 0) & 2) !== 0,
      })),
      include: named(x.relation, columns.slice(x.keyColumns)),
      predicate: expressionOrNull(x.predicate),
      nullsNotDistinct: x.nullsNotDistinct,
      options: x.options,
      attachedTo: x.attachedTo,
      clustered: x.clustered,
      valid: x.valid,
      statistics: tuned.filter((t) => t.target >= 0).map((t) => ({ position: t.position, target: t.target })),
      comment: commentOn('pg_class', x.oid),
    }
  }

  const defined = (catalog: string) => (d: DefinitionRow) => ({
    name: d.name,
    definition: canonical(d.definition),
    fires: known(firings, d.fires, `when ${d.name} fires`),
    comment: commentOn(catalog, d.oid),
  })

  function relationValue(r: RelationRow): Relation {
    const own = constraintsOf.get(r.oid) ?? []
    const primary = own.find((c) => c.kind === 'p')
    return {
      kind:
        r.isPartition && r.kind !== 'p'
          ? 'partition'
          : known({ r: 'table', p: r.isPartition ? 'partition' : 'partitioned table', v: 'view', m: 'materialized view' } as const, r.kind, r.name),
      schema: r.schema,
      name: r.name,
      comment: commentOn('pg_class', r.oid),
      unlogged: r.persistence === 'u',
      options: r.options,
      columns: (columnsOf.get(r.oid) ?? []).map(columnValue),
      primaryKey: primary ? key(primary) : null,
      uniques: own.filter((c) => c.kind === 'u').map(key),
      foreignKeys: own.filter((c) => c.kind === 'f' && c.parent === 0).map(reference),
      checks: own.filter((c) => c.kind === 'c').map(check),
      indexes: (indexesOf.get(r.oid) ?? []).filter((x) => x.constraint === null).map(indexValue),
      triggers: (triggersOf.get(r.oid) ?? []).map(defined('pg_trigger')),
      rules: (rulesOf.get(r.oid) ?? []).map(defined('pg_rewrite')),
      partitionKey: r.partitionKey,
      partitionOf: r.parentName === null || r.bound === null ? null : { parent: { schema: r.parentSchema ?? '', name: r.parentName }, bound: r.bound },
      definition: expressionOrNull(r.definition),
      replicaIdentity: r.replica === 'i' && r.replicaIndex !== null ? { kind: 'index', index: r.replicaIndex } : { kind: replicaKinds[r.replica] ?? 'default' },
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

  /** Comments on objects that the format describes only as part of another one. */
  function unplacedComments(): Catalog['unmodelled'] {
    const sequences = f.sequences
      .filter((s) => s.ownerKind === 'i' && commentOn('pg_class', s.oid) !== null)
      .map((s) => ({ kind: 'comment on an identity sequence', identity: `${s.schema}.${s.name}` }))
    const indexes = f.indexes
      .filter((x) => x.constraint !== null && commentOn('pg_class', x.oid) !== null)
      .map((x) => ({ kind: 'comment on the index of a key', identity: `${relationOf.get(x.relation)?.schema ?? ''}.${x.name}` }))
    return [...sequences, ...indexes]
  }

  return {
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
        validated: c.validated,
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
          type: typeOf.get(`${c.type} ${c.modifier}`)?.text ?? '',
          collation: columnCollation(c),
          comment: commentOn('pg_class', c.relation, c.number),
        })),
        comment: commentOn('pg_type', f.rowTypes.find((t) => t.relation === r.oid)?.type ?? 0),
        dependsOn: needs('pg_class', r.oid),
      })),
    sequences: f.sequences.filter((s) => s.ownerKind !== 'i').map(sequenceValue),
    relations: f.relations.filter((r) => r.kind !== 'c').map(relationValue),
    routines: f.routines.flatMap((r) => {
      const aggregate = r.kind === 'a' ? aggregateOf.get(r.oid) : undefined
      if (r.kind === 'a' && aggregate?.kind !== 'n') return []
      const definition = aggregate ? aggregateDefinition(r, aggregate) : (r.definition ?? '')
      return [
        {
          kind: known(routineKinds, r.kind, `routine ${r.name}`),
          schema: r.schema,
          name: r.name,
          argumentTypes: r.argumentTypes,
          arguments: r.arguments,
          returns: r.kind === 'p' ? null : r.returns,
          language: r.language,
          definition: canonical(definition),
          comment: commentOn('pg_proc', r.oid),
          dependsOn: needs('pg_proc', r.oid),
        },
      ]
    }),
    unmodelled: unplacedComments(),
  }
}
