// One object of a snapshot in full: its parts as tables, its definition as text, and a relation beside the model of it.
import { type Catalog, type Dependency, keyText, type Relation, relationText } from '../catalog/index.ts'
import { isChangeable, type Thing } from '../change/index.ts'
import { type EntityModel, sentencesOf } from '../model/index.ts'
import { definitionOf } from './definition.ts'
import { objectRows } from './objects.ts'

export interface ColumnLine {
  readonly name: string
  readonly type: string
  readonly nullable: boolean
  /** Default, generation or identity, as a text. */
  readonly value: string | null
  readonly comment: string | null
  /** The property of the class; null where the model has none. */
  readonly property: string | null
}

/** A key, index, check or the like: what it is, its name, and what it says. */
export interface PartLine {
  readonly what: string
  readonly name: string
  readonly says: string
  readonly comment: string | null
}

export interface ObjectDetail {
  readonly id: string
  readonly kind: string
  readonly schema: string
  readonly name: string
  readonly comment: string | null
  readonly columns: readonly ColumnLine[]
  readonly parts: readonly PartLine[]
  readonly facts: readonly (readonly [string, string])[]
  readonly definition: string | null
  /** Objects this one needs, and objects that need it. */
  readonly needs: readonly string[]
  readonly neededBy: readonly string[]
  /** The class it becomes; null where it is none, or left out. */
  readonly entity: { readonly name: string; readonly ends: readonly string[] } | null
  /** Where a change of it can be asked for; null where no plan can make one. */
  readonly thing: Thing | null
}

function columnsOf(r: Relation, model: EntityModel): readonly ColumnLine[] {
  const entity = model.entities.find((e) => e.id === relationText(r))
  const properties = new Map(entity?.properties.map((p) => [p.column, p.name]))
  return r.columns.map((c) => ({
    name: c.name,
    type: `${c.type}${c.collation ? ` collate ${c.collation.name}` : ''}`,
    nullable: c.nullable,
    value: c.generated
      ? `generated: ${c.generated.expression.written}`
      : c.identity
        ? `identity, ${c.identity.generation}`
        : c.default
          ? c.default.written
          : null,
    comment: c.comment,
    property: properties.get(c.name) ?? null,
  }))
}

const actions = (k: Relation['foreignKeys'][number]) =>
  [
    ...(k.onDelete === 'no action' ? [] : [`on delete ${k.onDelete}`]),
    ...(k.onUpdate === 'no action' ? [] : [`on update ${k.onUpdate}`]),
    ...(k.validated ? [] : ['not validated']),
    ...(k.enforced ? [] : ['not enforced']),
  ]
    .map((x) => `, ${x}`)
    .join('')

function partsOf(r: Relation): readonly PartLine[] {
  const listed = (columns: readonly string[]) => `(${columns.join(', ')})`
  return [
    ...(r.primaryKey ? [{ what: 'primary key', name: keyText(r.primaryKey), says: listed(r.primaryKey.columns), comment: r.primaryKey.comment }] : []),
    ...r.uniques.map((u) => ({ what: 'unique', name: keyText(u), says: listed(u.columns), comment: u.comment })),
    ...r.foreignKeys.map((k) => ({
      what: 'foreign key',
      name: keyText(k),
      says: `${listed(k.columns)} → ${relationText({ schema: k.target.schema, name: k.target.table })} ${listed(k.target.columns)}${actions(k)}`,
      comment: k.comment,
    })),
    ...r.checks.map((k) => ({ what: 'check', name: k.name, says: k.expression.written, comment: k.comment })),
    ...r.exclusions.map((x) => ({
      what: 'exclusion',
      name: x.name,
      says: x.elements.map((e) => `${e.column ?? e.expression?.written ?? ''} with ${e.operator.name}`).join(', '),
      comment: x.comment,
    })),
    ...r.indexes.map((x) => ({
      what: x.unique ? 'unique index' : 'index',
      name: x.name,
      says: `${x.method} ${listed(x.columns.map((c) => c.column ?? c.expression?.written ?? ''))}${x.predicate ? ` where ${x.predicate.written}` : ''}${x.valid ? '' : ', not valid'}`,
      comment: x.comment,
    })),
    ...r.triggers.map((t) => ({
      what: 'trigger',
      name: t.name,
      says: t.fires === 'origin' ? t.definition.written : `${t.fires}: ${t.definition.written}`,
      comment: t.comment,
    })),
    ...r.rules.map((t) => ({ what: 'rule', name: t.name, says: t.definition.written, comment: t.comment })),
    ...r.policies.map((p) => ({
      what: 'policy',
      name: p.name,
      says: [
        `${p.permissive ? '' : 'restrictive, '}for ${p.command}`,
        ...(p.using ? [`using ${p.using.written}`] : []),
        ...(p.check ? [`check ${p.check.written}`] : []),
      ].join(', '),
      comment: p.comment,
    })),
  ]
}

function factsOf(r: Relation): readonly (readonly [string, string])[] {
  const said: readonly (readonly [string, string | null])[] = [
    ['partitioned by', r.partitionKey],
    ['partition of', r.partitionOf ? `${relationText(r.partitionOf.parent)} ${r.partitionOf.bound}` : null],
    ['inherits', r.inherits.length > 0 ? r.inherits.map(relationText).join(', ') : null],
    ['of type', r.ofType ? relationText(r.ofType) : null],
    ['on server', r.foreign?.server ?? null],
    ['access method', r.accessMethod],
    ['kept', r.unlogged ? 'unlogged' : null],
    ['row security', r.rowSecurity === 'off' ? null : r.rowSecurity],
    ['options', r.options.length > 0 ? r.options.join(', ') : null],
  ]
  return said.flatMap(([k, v]) => (v === null ? [] : [[k, v] as const]))
}

/** Each relationship of the class in both directions, as sentences. */
const endsOf = (id: string, model: EntityModel): readonly string[] =>
  model.relationships
    .filter((x) => x.from.entity === id || x.to.entity === id)
    .map((x) =>
      sentencesOf(x, model)
        .map((s) => s.map((run) => run.text).join(''))
        .join(' '),
    )

const dependencyText = (d: Dependency) => (d.kind === 'relation' ? relationText(d) : `${d.kind} ${d.schema === '' ? '' : `${d.schema}.`}${d.name}`)

/** What needs an object: tables whose keys lead there, and everything that says it depends on it. */
export function dependants(c: Catalog, id: string, mine: (d: Dependency) => boolean): readonly string[] {
  const holders = [
    ...c.relations.map((o) => ({ id: relationText(o), dependsOn: o.dependsOn })),
    ...c.routines.map((o) => ({ id: `routine ${relationText(o)}(${o.argumentTypes})`, dependsOn: o.dependsOn })),
    ...c.domains.map((o) => ({ id: `domain ${relationText(o)}`, dependsOn: o.dependsOn })),
    ...c.composites.map((o) => ({ id: `composite type ${relationText(o)}`, dependsOn: o.dependsOn })),
    ...c.objects.map((o) => ({ id: `${o.kind} ${relationText(o)}`, dependsOn: o.dependsOn })),
  ]
  const keys = c.relations.filter(
    (r) => relationText(r) !== id && r.foreignKeys.some((k) => relationText({ schema: k.target.schema, name: k.target.table }) === id),
  )
  return [...new Set([...keys.map(relationText), ...holders.filter((h) => h.id !== id && h.dependsOn.some(mine)).map((h) => h.id)])]
}

/** Null where the snapshot has no such object. O(objects). */
export function objectDetail(c: Catalog, model: EntityModel, id: string): ObjectDetail | null {
  const row = objectRows(c).find((o) => o.id === id)
  if (!row) return null
  const base = { id, kind: row.kind, schema: row.schema, name: row.name, comment: row.comment, definition: definitionOf(c, row) }
  const r = c.relations.find((x) => relationText(x) === id)
  if (!r) {
    const own = c.routines.find((x) => `routine ${relationText(x)}(${x.argumentTypes})` === id)
    const name = own ? `${own.name}(${own.argumentTypes})` : row.name
    const mine = (d: Dependency) => d.schema === row.schema && d.name === name
    return {
      ...base,
      columns: [],
      parts: [],
      facts: [],
      needs: (own?.dependsOn ?? []).map(dependencyText),
      neededBy: dependants(c, id, mine),
      entity: null,
      thing: null,
    }
  }
  const entity = model.entities.find((e) => e.id === id)
  return {
    ...base,
    columns: columnsOf(r, model),
    parts: partsOf(r),
    facts: factsOf(r),
    needs: r.dependsOn.map(dependencyText),
    neededBy: dependants(c, id, (d) => d.kind === 'relation' && relationText(d) === id),
    entity: entity ? { name: entity.name, ends: endsOf(id, model) } : null,
    thing: isChangeable(c, r) ? { table: id, columns: [], part: null } : null,
  }
}
