// A Catalog as parts that can be made, changed and dropped one by one, each under a key; and the Catalog that a set of parts is.
import {
  type Catalog,
  type CheckConstraint,
  type Column,
  type CompositeType,
  type DefinedObject,
  type Domain,
  type EnumeratedType,
  type Exclusion,
  type Expression,
  type Extension,
  emptyCatalog,
  type ForeignKey,
  type Index,
  type KeyConstraint,
  type Policy,
  type RangeType,
  type Relation,
  type RelationAddress,
  type RewriteRule,
  type Routine,
  type Sequence,
  sortCatalog,
  type Trigger,
} from '../catalog/index.ts'

/** What hangs on a relation: of which one, and the value. */
interface On<K extends string, V> {
  readonly kind: K
  readonly on: RelationAddress
  readonly value: V
}
interface Free<K extends string, V> {
  readonly kind: K
  readonly value: V
}

export type Part =
  | Free<'schema', Catalog['schemas'][number]>
  | Free<'extension', Extension>
  | Free<'enum', EnumeratedType>
  | Free<'domain', Domain>
  | Free<'composite', CompositeType>
  | Free<'range', RangeType>
  | Free<'object', DefinedObject>
  /** Without its owner, which is a part of its own. */
  | Free<'sequence', Sequence>
  | Free<'owner', Pick<Sequence, 'schema' | 'name' | 'ownedBy'>>
  | Free<'routine', Routine>
  /** A table without all that hangs on it. */
  | Free<'table', Relation>
  /** A view or materialized view with its columns, without what hangs on it. */
  | Free<'view', Relation>
  /** Without its default, which is a part of its own. `place`: where it stands among its table's columns. */
  | (On<'column', Column> & { readonly place: number })
  | On<'default', { readonly column: string; readonly expression: Expression }>
  | On<'primary key', KeyConstraint>
  | On<'unique', KeyConstraint>
  | On<'reference', ForeignKey>
  | On<'check', CheckConstraint>
  | On<'index', Index>
  | On<'exclusion', Exclusion>
  | On<'replica identity', { readonly index: string }>
  | On<'policy', Policy>
  | On<'trigger', Trigger>
  | On<'rule', RewriteRule>
  /** What this version does not model: carried along, never made. */
  | Free<'unmodelled', Catalog['unmodelled'][number]>

export type PartKind = Part['kind']
export type PartOf<K extends PartKind> = Extract<Part, { kind: K }>
export type HangingPart = Extract<Part, { on: RelationAddress }>
export type Parts = ReadonlyMap<string, Part>

export const isTable = (r: Pick<Relation, 'kind'>): boolean => r.kind !== 'view' && r.kind !== 'materialized view'
export const hangs = (p: Part): p is HangingPart => 'on' in p

/** Names of any kind within one key: no name holds U+0000 in PostgreSQL. */
const join = (kind: string, first: string, ...more: readonly string[]): string => {
  let key = `${kind}\u0000${first}`
  for (const m of more) key += `\u0000${m}`
  return key
}

export const relationKey = (a: RelationAddress): string => join('relation', a.schema, a.name)
export const typeKey = (a: RelationAddress): string => join('type', a.schema, a.name)
export const sequenceKey = (a: RelationAddress): string => join('sequence', a.schema, a.name)
export const schemaKey = (name: string): string => join('schema', name)
export const routineKey = (schema: string, signature: string): string => join('routine', schema, signature)
export const columnKey = (on: RelationAddress, column: string): string => join('column', on.schema, on.name, column)
/** Constraints of one table share their names, whatever they are. */
export const hangingKey = (kind: HangingPart['kind'], on: RelationAddress, name: string): string => join(kind, on.schema, on.name, name)

/** What a part is known by; two catalogs have the same part where they have the same key. */
export function keyOf(p: Part): string {
  switch (p.kind) {
    case 'schema':
      return schemaKey(p.value.name)
    case 'extension':
      return join('extension', p.value.name)
    case 'enum':
    case 'domain':
    case 'composite':
    case 'range':
      return typeKey(p.value)
    case 'object':
      return join('object', p.value.kind, p.value.schema, p.value.name)
    case 'sequence':
      return sequenceKey(p.value)
    case 'owner':
      return join('owner', p.value.schema, p.value.name)
    case 'routine':
      return routineKey(p.value.schema, `${p.value.name}(${p.value.argumentTypes})`)
    case 'table':
    case 'view':
      return relationKey(p.value)
    case 'column':
      return columnKey(p.on, p.value.name)
    case 'default':
      return hangingKey('default', p.on, p.value.column)
    case 'primary key':
      return hangingKey('primary key', p.on, '')
    case 'replica identity':
      return hangingKey('replica identity', p.on, '')
    case 'unique':
    case 'reference':
    case 'check':
    case 'index':
    case 'exclusion':
    case 'policy':
    case 'trigger':
    case 'rule':
      return hangingKey(p.kind, p.on, p.value.name)
    case 'unmodelled':
      return join('unmodelled', p.value.kind, p.value.identity)
    default:
      return unreachable(p)
  }
}

function unreachable(p: never): never {
  throw new Error(`a part of no known kind: ${JSON.stringify(p)}`)
}

const bare = { primaryKey: null, uniques: [], foreignKeys: [], checks: [], indexes: [], triggers: [], rules: [], exclusions: [], policies: [] } as const

function partsOfRelation(r: Relation): readonly Part[] {
  const on = { schema: r.schema, name: r.name }
  const some = <K extends HangingPart['kind']>(kind: K, values: readonly PartOf<K>['value'][]) =>
    values.map((value) => ({ kind, on, value }) as unknown as Part)
  const { replicaIdentity: replica } = r
  const shell: Relation = { ...r, ...bare, replicaIdentity: replica.kind === 'index' ? { kind: 'default' } : replica }
  return [
    ...(isTable(r)
      ? [{ kind: 'table', value: { ...shell, columns: [] } } as const, ...r.columns.flatMap((c, place) => partsOfColumn(on, c, place))]
      : [{ kind: 'view', value: shell } as const]),
    ...(r.primaryKey ? some('primary key', [r.primaryKey]) : []),
    ...some('unique', r.uniques),
    ...some('check', r.checks),
    ...some('index', r.indexes),
    ...some('exclusion', r.exclusions),
    ...some('reference', r.foreignKeys),
    ...(replica.kind === 'index' ? some('replica identity', [{ index: replica.index }]) : []),
    ...some('policy', r.policies),
    ...some('rule', r.rules),
    ...some('trigger', r.triggers),
  ]
}

const partsOfColumn = (on: RelationAddress, c: Column, place: number): readonly Part[] => [
  { kind: 'column', on, value: { ...c, default: null }, place },
  ...(c.default ? [{ kind: 'default', on, value: { column: c.name, expression: c.default } } as const] : []),
]

/** Every part, in the order of the catalog's lists. O(objects). */
export function partsOf(c: Catalog): Map<string, Part> {
  const free = <K extends PartKind>(kind: K, values: readonly PartOf<K>['value'][]) => values.map((value) => ({ kind, value }) as unknown as Part)
  const all: readonly Part[] = [
    ...free('schema', c.schemas),
    ...free('extension', c.extensions),
    ...free('enum', c.enums),
    ...free('domain', c.domains),
    ...free('composite', c.composites),
    ...free('range', c.ranges),
    ...free('object', c.objects),
    ...free(
      'sequence',
      c.sequences.map((s) => ({ ...s, ownedBy: null })),
    ),
    ...free(
      'owner',
      c.sequences.filter((s) => s.ownedBy !== null).map(({ schema, name, ownedBy }) => ({ schema, name, ownedBy })),
    ),
    ...free('routine', c.routines),
    ...c.relations.flatMap(partsOfRelation),
    ...free('unmodelled', c.unmodelled),
  ]
  return new Map(all.map((p) => [keyOf(p), p]))
}

/** Parts that are others after a change of the whole catalog. */
export function partsApart(a: Parts, b: Parts): readonly (readonly [string, Part | null])[] {
  const text = (p: Part | undefined) => JSON.stringify(p ?? null)
  return [...new Set([...a.keys(), ...b.keys()])].flatMap((key) => (text(a.get(key)) === text(b.get(key)) ? [] : [[key, b.get(key) ?? null] as const]))
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] }

/** The catalog that the parts are, sorted. Columns stand by `place`. Parts of a relation that is not there are left out. */
export function assemble(dialect: Catalog['dialect'], parts: Parts): Catalog {
  const lists = new Map<PartKind, unknown[]>()
  const put = (p: Part) => {
    const list = lists.get(p.kind)
    if (list) list.push(p.value)
    else lists.set(p.kind, [p.value])
  }
  const relations = new Map<string, Mutable<Relation>>()
  const columns = new Map<string, PartOf<'column'>[]>()
  const owners = new Map<string, Sequence['ownedBy']>()
  const defaults = new Map<string, Expression>()
  for (const p of parts.values())
    if (p.kind === 'table' || p.kind === 'view') relations.set(relationKey(p.value), { ...p.value })
    else if (p.kind === 'owner') owners.set(sequenceKey(p.value), p.value.ownedBy)
    else if (p.kind === 'default') defaults.set(columnKey(p.on, p.value.column), p.value.expression)
    else if (!hangs(p)) put(p)
  for (const p of parts.values()) {
    if (!hangs(p) || p.kind === 'default') continue
    const r = relations.get(relationKey(p.on))
    if (!r) continue
    if (p.kind === 'column') columns.set(relationKey(p.on), [...(columns.get(relationKey(p.on)) ?? []), p])
    else hang(r, p)
  }
  for (const [key, list] of columns)
    (relations.get(key) as Mutable<Relation>).columns = list
      .sort((a, b) => a.place - b.place)
      .map((p) => ({ ...p.value, default: defaults.get(columnKey(p.on, p.value.name)) ?? null }))
  const of = <K extends PartKind>(kind: K) => (lists.get(kind) ?? []) as PartOf<K>['value'][]
  return sortCatalog({
    ...emptyCatalog(dialect),
    schemas: of('schema'),
    extensions: of('extension'),
    enums: of('enum'),
    domains: of('domain'),
    composites: of('composite'),
    ranges: of('range'),
    objects: of('object'),
    sequences: of('sequence').map((s) => ({ ...s, ownedBy: owners.get(sequenceKey(s)) ?? null })),
    relations: [...relations.values()],
    routines: of('routine'),
    unmodelled: of('unmodelled'),
  })
}

function hang(r: Mutable<Relation>, p: Exclude<HangingPart, { kind: 'column' | 'default' }>): void {
  switch (p.kind) {
    case 'primary key':
      r.primaryKey = p.value
      return
    case 'unique':
      r.uniques = [...r.uniques, p.value]
      return
    case 'reference':
      r.foreignKeys = [...r.foreignKeys, p.value]
      return
    case 'check':
      r.checks = [...r.checks, p.value]
      return
    case 'index':
      r.indexes = [...r.indexes, p.value]
      return
    case 'exclusion':
      r.exclusions = [...r.exclusions, p.value]
      return
    case 'replica identity':
      r.replicaIdentity = { kind: 'index', index: p.value.index }
      return
    case 'policy':
      r.policies = [...r.policies, p.value]
      return
    case 'trigger':
      r.triggers = [...r.triggers, p.value]
      return
    case 'rule':
      r.rules = [...r.rules, p.value]
      return
    default:
      unreachable(p)
  }
}
