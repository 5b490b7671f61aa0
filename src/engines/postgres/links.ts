// Lookups over fetched rows, by object id and by name, that the decoder shares; and what it could not describe.
import type { RelationAddress } from '../../core/catalog/index.ts'
import { dependencyFinder } from './dependencies.ts'
import { UnknownLetter } from './letters.ts'
import type { ColumnRow, Fetched, IndexRow, Oid, ReportRow, TypeRow } from './rows.ts'

function groupBy<T>(rows: readonly T[], key: (row: T) => Oid): ReadonlyMap<Oid, T[]> {
  const map = new Map<Oid, T[]>()
  for (const row of rows) {
    const list = map.get(key(row))
    if (list) list.push(row)
    else map.set(key(row), [row])
  }
  return map
}

/** A column as a key: a relation has 1,600 columns at most (manual, appendix K). */
export const columnKey = (relation: Oid, number: number): number => relation * 4096 + number

/** O(rows). `reported` and `properties` fill while the decoder works. */
export function linksOf(f: Fetched) {
  const reported: ReportRow[] = []
  const properties: { kind: string; identity: string }[] = []
  /** The object, or nothing and a report. */
  function whole<T>(catalog: string, kind: string, identity: string, make: () => T): readonly T[] {
    try {
      return [make()]
    } catch (error) {
      if (!(error instanceof UnknownLetter)) throw error
      reported.push({ class: catalog, kind: `${kind} (${error.message})`, identity })
      return []
    }
  }
  /** The property, or null and a report. */
  function part<T>(letters: Readonly<Record<string, T>>, letter: string, what: string, identity: string): T | null {
    const value = letters[letter]
    if (value !== undefined) return value
    properties.push({ kind: `${what} marked "${letter}"`, identity })
    return null
  }

  const comments = new Map<string, Map<number, string>>()
  for (const c of f.comments) comments.set(c.catalog, (comments.get(c.catalog) ?? new Map<number, string>()).set(columnKey(c.oid, c.part), c.comment))
  const commentOn = (catalog: string, oid: Oid, part = 0): string | null => comments.get(catalog)?.get(columnKey(oid, part)) ?? null
  /** Of relations, and of indexes those that have something of their own. */
  const columnsOf = groupBy(f.columns, (c) => c.relation)
  for (const list of columnsOf.values()) list.sort((a, b) => a.number - b.number)
  const types = groupBy(f.types, (t) => t.type)
  const typeOf = (c: ColumnRow): TypeRow | undefined => types.get(c.type)?.find((t) => t.modifier === c.modifier)
  const expressions = new Map(f.defaults.map((d) => [columnKey(d.relation, d.number), d.expression]))
  const columnNames = new Map<Oid, ReadonlyMap<number, string>>([...columnsOf].map(([oid, cols]) => [oid, new Map(cols.map((c) => [c.number, c.name]))]))
  const named = (relation: Oid, of: readonly number[]): readonly string[] => of.map((n) => columnNames.get(relation)?.get(n) ?? '')
  const constraintsOf = groupBy(f.constraints, (c) => c.relation)
  const domainChecks = groupBy(
    f.constraints.filter((c) => c.rest?.domain),
    (c) => c.rest?.domain ?? 0,
  )
  const indexesOf = groupBy(f.indexes, (i) => i.relation)
  const indexByOid = new Map(f.indexes.map((i) => [i.oid, i]))
  const triggersOf = groupBy(f.triggers, (t) => t.relation)
  const rulesOf = groupBy(
    f.rules.filter((r) => r.definition !== null),
    (r) => r.relation,
  )
  const names = new Map(f.names.map((r): [string, RelationAddress] => [`${r.catalog} ${r.oid}`, { schema: r.schema, name: r.name }]))
  const namedIn =
    (catalog: string) =>
    (oid: Oid | null | undefined): RelationAddress | null =>
      names.get(`${catalog} ${oid}`) ?? null
  const collationNamed = namedIn('pg_collation')
  const operatorClassNamed = namedIn('pg_opclass')
  const typeNamed = namedIn('pg_type')
  const parentsOf = groupBy(f.parents, (p) => p.relation)
  const policiesOf = groupBy(f.policies, (p) => p.relation)
  /** Only where it is not the type's own. */
  const collationOf = (c: { readonly collation: Oid; readonly typeCollation: Oid }) => (c.collation === c.typeCollation ? null : collationNamed(c.collation))
  const columnCollation = (c: ColumnRow) => (c.rest === null || c.rest.collation === typeOf(c)?.collation ? null : collationNamed(c.rest.collation))
  const collationId = (relation: Oid, number: number) => {
    const c = columnsOf.get(relation)?.find((x) => x.number === number)
    return c && (c.rest?.collation ?? typeOf(c)?.collation)
  }
  /** Only where it is not the column's own; for an expression, not the database's. 100 is the collation "default" (pg_collation.dat). */
  const indexCollation = (x: IndexRow, column: number, collation: Oid | undefined) => {
    const own = column === 0 ? 100 : collationId(x.relation, column)
    // Nothing is said of it where all are the default, or none of the types has one.
    const is = collation ?? (own === 0 ? 0 : 100)
    return is === own ? null : collationNamed(is)
  }
  const relationOf = new Map(f.relations.map((r) => [r.oid, r]))
  const identity = new Map(f.sequences.filter((s) => s.ownerKind === 'i').map((s) => [columnKey(s.ownerRelation ?? 0, s.ownerColumn ?? 0), s]))
  const needs = dependencyFinder(f)
  const aggregateOf = new Map(f.aggregates.map((a) => [a.oid, a]))

  /** In the words of a report: `field.crate.note`. */
  const textOf = (relation: Oid, ...parts: readonly string[]) => [relationOf.get(relation)?.schema, relationOf.get(relation)?.name, ...parts].join('.')

  return {
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
  }
}
