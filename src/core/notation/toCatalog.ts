// What of a database a notation states, as a catalog: tables with columns, keys, references and plain indexes, views, types, routines.
import {
  type Catalog,
  type Column,
  emptyCatalog,
  type ForeignKey,
  type Index,
  plainIndex,
  type Relation,
  type RelationAddress,
  type Routine,
  sortCatalog,
} from '../catalog/index.ts'
import { newKey, written } from '../change/editState.ts'
import { columnFrom } from '../change/withSchemaEdits.ts'
import { newColumn, newRelation } from '../ddl/draft.ts'
import { makeObjectName } from '../dialect/postgres/madeUpNames.ts'
import { type EndLine, type EntityBlock, linesOf, type PropertyLine } from './syntax.ts'
import { addressOf, type World } from './world.ts'

/** Names that are not said are those the engine would make up. */
export function catalogOf(w: World): Catalog {
  const relations = [...w.blocks.values()].map((b) => relationOf(b, w))
  const named = w.notation.blocks
  const base: Catalog = {
    ...emptyCatalog(w.dialect),
    relations,
    enums: named.flatMap((b) => (b.kind === 'enumeration' ? [{ ...b.type.value, labels: b.labels, comment: null }] : [])),
    domains: named.flatMap((b) =>
      b.kind === 'domain'
        ? [{ ...b.type.value, type: w.typeOf(b.over), nullable: b.optional, default: null, collation: null, checks: [], comment: null, dependsOn: [] }]
        : [],
    ),
    composites: named.flatMap((b) =>
      b.kind === 'composite'
        ? [
            {
              ...b.type.value,
              attributes: b.attributes.map((a) => ({ name: a.name, type: w.typeOf(a.type), collation: null, comment: null })),
              comment: null,
              dependsOn: [],
            },
          ]
        : [],
    ),
    routines: named.flatMap((b): readonly Routine[] =>
      b.kind === 'routine'
        ? [
            {
              kind: b.of,
              schema: b.routine.value.schema,
              name: b.routine.value.name,
              argumentTypes: b.types,
              arguments: b.takes,
              returns: b.gives,
              language: '',
              definition: written(''),
              comment: b.note,
              dependsOn: [],
            },
          ]
        : [],
    ),
  }
  const schemas = new Set([...base.relations, ...base.enums, ...base.domains, ...base.composites, ...base.routines].map((o) => o.schema))
  return sortCatalog({ ...base, schemas: [...schemas].map((name) => ({ name, comment: null })) })
}

function relationOf(b: EntityBlock, w: World): Relation {
  const a = b.relation.value
  const key = linesOf(b, 'key')[0]?.key ?? null
  const isView = b.of === 'view' || b.of === 'materialized view'
  const keyColumns = isView ? [] : (key?.columns.value ?? [])
  const indexes: Index[] = [
    ...linesOf(b, 'unique').flatMap((u) => (u.index ? [plainIndex(u.name ?? madeUp(a, u.columns.value, 'idx', w), u.columns.value, { unique: true })] : [])),
    ...linesOf(b, 'index').map((i) => plainIndex(i.name ?? madeUp(a, i.columns.value, 'idx', w), i.columns.value)),
  ]
  return {
    ...newRelation(b.of, a),
    comment: linesOf(b, 'note')[0]?.text ?? null,
    columns: linesOf(b, 'property').map((p) => columnOf(a, p, keyColumns, w)),
    primaryKey: key && !isView ? newKey(key.name ?? primaryName(a, w), [...key.columns.value]) : null,
    uniques: linesOf(b, 'unique').flatMap((u) => (u.index ? [] : [newKey(u.name ?? madeUp(a, u.columns.value, 'key', w), [...u.columns.value])])),
    foreignKeys: linesOf(b, 'end').flatMap((e) => foreignKeyOf(e, a, w) ?? []),
    indexes,
    definition: linesOf(b, 'definition')[0] ? written(linesOf(b, 'definition')[0]?.text ?? '') : null,
  }
}

const primaryName = (a: RelationAddress, w: World) =>
  w.dialect === 'postgresql' ? makeObjectName(a.name, null, 'pkey') : w.dialect === 'mysql' ? 'PRIMARY' : ''

/** PostgreSQL: indexcmds.c, ChooseIndexName; MySQL takes the first column; SQLite gives constraints no name. */
function madeUp(a: RelationAddress, columns: readonly string[], label: string, w: World): string {
  if (w.dialect === 'postgresql') return makeObjectName(a.name, columns.join('_'), label)
  return w.dialect === 'mysql' || label === 'idx' ? columns.join('_') : ''
}

function columnOf(a: RelationAddress, p: PropertyLine, key: readonly string[], w: World): Column {
  const type = p.type ? w.typeOf(p.type) : ''
  const counted = p.counted !== null
  const base =
    w.dialect === 'postgresql'
      ? columnFrom(a, { name: p.column.value, type, nullable: p.optional, default: p.default?.value ?? null, counted })
      : { ...newColumn(p.column.value, type), nullable: p.optional, default: p.default?.value ? written(p.default.value) : null }
  const generation = p.counted?.value ?? 'by default'
  return {
    ...base,
    // As it is said: SQLite lets a key accept null.
    nullable: p.optional && !(counted && w.dialect === 'postgresql') && !(key.includes(p.column.value) && w.dialect !== 'sqlite'),
    identity: !counted ? null : base.identity ? { ...base.identity, generation } : { generation, sequence: null, options: null, comment: null },
    generated: p.computed ? { expression: written(p.computed.value.expression), kept: p.computed.value.kept } : null,
    comment: p.note?.value ?? null,
  }
}

function foreignKeyOf(e: EndLine, a: RelationAddress, w: World): ForeignKey | null {
  const { over } = e
  const target = w.classOf(e.target.value)
  const state = e.state?.value.is
  if (over.kind !== 'own' || target === undefined || (state !== 'enforced' && state !== 'declared')) return null
  const t = addressOf(target)
  return {
    name: e.state?.value.constraint ?? madeUp(a, over.columns.value, 'fkey', w),
    columns: over.columns.value,
    target: { schema: t.schema, table: t.name, columns: over.to?.value ?? w.keyOf(target) },
    onUpdate: e.onUpdate?.value ?? 'no action',
    onDelete: e.onDelete?.value ?? 'no action',
    onDeleteColumns: [],
    match: 'simple',
    deferrable: 'no',
    validated: state === 'enforced',
    enforced: true,
    comment: null,
  }
}
