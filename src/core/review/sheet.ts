// The page of one entity: its columns in the catalog, the model and the code, side by side; what refers to it, how its rows are found, its file.
import { dependants } from '../browse/index.ts'
import { type Catalog, type Column, columnsText, type Dialect, type Relation, relationText, uniqueRules } from '../catalog/index.ts'
import { isChangeable, type Thing } from '../change/index.ts'
import { neutralText } from '../dialect/neutral.ts'
import { neutralType } from '../dialect/neutralTypes.ts'
import { emitEntity, type Operation, type ValueTypes, valueTypes } from '../emit/typescript/index.ts'
import { type Way, waysOf } from '../infer/index.ts'
import type { Entity, EntityModel, EntryBody, FindingId, JsonShape, Property, TypeTarget } from '../model/index.ts'
import { splitWords } from '../names/index.ts'
import { type EditableName, leadsToText } from './detail.ts'
import { type WayPast, waysPastOf } from './pasts.ts'
import type { Review } from './review.ts'

/** A column's own way to hold its values, beside the rule of its type. */
export interface Held {
  readonly subject: string
  /** The exception in force; null where the type's rule holds. */
  readonly own: TypeTarget | null
  /** What the rule comes to. */
  readonly rule: string
  readonly ways: readonly Way[]
}

export const heldEntry = (subject: string, value: TypeTarget | null): EntryBody => ({
  kind: 'edit',
  edit: { facet: 'type.target', subject, value },
  note: null,
})

export interface SheetColumn {
  readonly name: string
  /** The engine's own spelling, what its values are, and the type in the code. */
  readonly native: string
  readonly neutral: string
  readonly target: string
  /** How else its values could be held, in this column only; null where there is no choice. */
  readonly held: Held | null
  /** The shape of the JSON it holds, where somebody said it; null for a column of another type. */
  readonly shape: { readonly subject: string; readonly value: JsonShape | null } | null
  /** Must a value be there, and why. */
  readonly required: boolean
  readonly because: string
  /** Default, generation or identity; null where there is none. */
  readonly value: string | null
  readonly marks: readonly string[]
  /** Null where it is left out of the scope. */
  readonly property: EditableName | null
  /** What would have to change with it: keys, rules, indexes, checks, references, relationships. */
  readonly uses: readonly string[]
}

export interface SheetEnd {
  readonly id: FindingId
  readonly property: string
  /** `any number of Bay` */
  readonly says: string
  readonly other: string
  /** The entity at the other end. */
  readonly entity: string
  /** What the other end is called. */
  readonly back: string
  readonly holds: boolean
}

/** How rows can be found quickly: one or none by a unique rule, any number by a reference or an index. */
export interface Finder {
  readonly says: string
  readonly by: string
}

export interface Sheet {
  readonly id: string
  readonly entity: string
  readonly table: string
  readonly kind: string
  readonly comment: string | null
  readonly readOnly: boolean
  /** Where a change of it can be asked for; null where no plan can make one. */
  readonly thing: Thing | null
  /** What tells a row from others, and who gives it. */
  readonly key: string
  readonly columns: readonly SheetColumn[]
  readonly ends: readonly SheetEnd[]
  /** Ways straight to another entity, past a table that links the two, that are not taken. */
  readonly waysPast: readonly WayPast[]
  readonly finders: readonly Finder[]
  /** Objects of the database that need this one. */
  readonly neededBy: readonly string[]
  readonly file: { readonly path: string; readonly text: string } | null
  /** What the store of its rows does, with what that sends, and what it does not. */
  readonly operations: readonly Omit<Operation, 'text'>[]
}

const mentions = (text: string, column: string) =>
  new RegExp(`(^|[^\\p{L}\\p{N}_$])${column.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}($|[^\\p{L}\\p{N}_$])`, 'iu').test(text)

/** Null where there is no such entity. `whole` has the columns that are left out as well. */
export function sheetOf(id: string, catalog: Catalog, whole: Catalog, r: Review): Sheet | null {
  const entity = r.model.entities.find((e) => e.id === id)
  const relation = whole.relations.find((x) => relationText(x) === id)
  if (!entity || !relation) return null
  const nameOf = new Map<string, string>(r.model.entities.map((e) => [e.id, e.name]))
  const types = valueTypes(r.model)
  const emitted = emitEntity(r.model, r.revision, id)
  return {
    id,
    entity: entity.name,
    table: id,
    kind: entity.kind,
    comment: entity.comment,
    readOnly: entity.readOnly,
    thing: isChangeable(whole, relation) ? { table: id, columns: [], part: null } : null,
    key: keyText(relation, entity, catalog.dialect),
    columns: relation.columns.map((c) => columnOf(c, relation, entity, catalog, r.model, types)),
    ends: endsOf(entity, r.model, nameOf),
    waysPast: waysPastOf(id, catalog, r),
    finders: findersOf(relation, entity),
    neededBy: dependants(catalog, id, (d) => d.kind === 'relation' && relationText(d) === id),
    file: emitted?.file ?? null,
    operations: (emitted?.operations ?? []).map(({ name, says, sql, impossible }) => ({ name, says, sql, impossible })),
  }
}

function columnOf(c: Column, r: Relation, e: Entity, catalog: Catalog, model: EntityModel, types: ValueTypes): SheetColumn {
  const property = e.properties.find((p) => p.column === c.name)
  const value = c.generated ? `always ${c.generated.expression.written}` : c.identity ? `identity, ${c.identity.generation}` : (c.default?.written ?? null)
  const nullable = property?.nullable ?? c.nullable
  return {
    name: c.name,
    native: c.type,
    neutral: neutralText(neutralType(catalog.dialect, c.type, isNamedIn(model))),
    target: property ? `${types.ofProperty(property).text}${nullable ? ' | null' : ''}` : '',
    held: property && !property.values && !property.flag ? heldAs(c, columnsText(r, [c.name]), property, catalog, types) : null,
    shape:
      property && neutralType(catalog.dialect, c.type, isNamedIn(model)).kind === 'json' ? { subject: columnsText(r, [c.name]), value: property.shape } : null,
    required: !nullable,
    because: nullable ? 'accepts null' : c.nullable ? 'its type accepts no null' : r.primaryKey?.columns.includes(c.name) ? 'in the primary key' : 'not null',
    value,
    marks: marksOf(c.name, r),
    property: property ? { label: property.name, value: property.name, facet: 'property.name', subject: columnsText(r, [c.name]) } : null,
    uses: usesOf(c.name, r, e, catalog, model),
  }
}

function heldAs(c: Column, subject: string, p: Property, catalog: Catalog, types: ValueTypes): Held | null {
  const ways = waysOf(catalog, c.type)
  return ways.length < 2 ? null : { subject, own: p.target, rule: types.ofProperty({ ...p, target: null }).text, ways }
}

/** `id, counted up by the database (identity)` */
function keyText(r: Relation, e: Entity, dialect: Dialect): string {
  if (e.identity.kind === 'none') return 'no key: a row cannot be named'
  const { columns } = e.identity
  const listed = columns.join(', ')
  if (e.identity.kind === 'view key') return `${listed}, by the tables it reads`
  if (e.identity.rule !== undefined) return `${listed}, by the unique rule ${e.identity.rule}: a key in the model alone`
  const [only] = columns
  const c = r.columns.find((x) => x.name === only)
  const refers = r.foreignKeys.find((k) => columns.every((x) => k.columns.includes(x)))
  if (columns.length > 1 || !c) return `${listed} together${refers ? `, taken from ${refers.target.table}` : ''}`
  if (c.identity) return `${listed}, counted up by the database (identity)`
  if (c.default !== null)
    return /nextval|uuid/i.test(c.default.written)
      ? `${listed}, ${/uuid/i.test(c.default.written) ? 'a UUID made' : 'counted up'} by the database (${c.default.written})`
      : `${listed}, given by the database (${c.default.written}) where the writer gives none`
  if (dialect === 'sqlite' && /^integer$/i.test(c.type)) return `${listed}, the row's own number (rowid)`
  if (refers) return `${listed}, taken from ${refers.target.table}`
  return `${listed}, assigned: whoever inserts a row must give it`
}

/** Types that the model has names for. */
function isNamedIn(model: EntityModel): (t: { readonly schema: string; readonly name: string }) => boolean {
  const named = new Set([...model.enumerations, ...model.namedTypes, ...model.composites].map((t) => `${t.schema} ${t.name}`))
  return (t) => named.has(`${t.schema} ${t.name}`)
}

const marksOf = (column: string, r: Relation): readonly string[] => [
  ...(r.primaryKey?.columns.includes(column) ? ['key'] : []),
  ...(uniqueRules(r).some((u) => u.kind !== 'primary key' && u.columns.includes(column)) ? ['unique'] : []),
  ...(r.foreignKeys.some((k) => k.columns.includes(column)) ? ['refers'] : []),
  ...(r.indexes.some((x) => x.columns[0]?.column === column) ? ['indexed'] : []),
]

function usesOf(column: string, r: Relation, e: Entity, catalog: Catalog, model: EntityModel): readonly string[] {
  const own = relationText(r)
  const has = (columns: readonly (string | null)[]) => columns.includes(column)
  const incoming = catalog.relations.flatMap((x) =>
    x.foreignKeys.flatMap((k) =>
      relationText({ schema: k.target.schema, name: k.target.table }) === own && has(k.target.columns) ? [`foreign key ${k.name} of ${relationText(x)}`] : [],
    ),
  )
  const ends = model.relationships.flatMap((x) =>
    [x.from, x.to].flatMap((end) => (end.entity === e.id && end.columns.includes(column) ? [`relationship ${e.name}.${end.property}`] : [])),
  )
  return [
    ...uniqueRules(r).flatMap((u) => (has(u.columns) ? [`${u.kind} ${u.name}`] : [])),
    ...r.foreignKeys.flatMap((k) => (has(k.columns) ? [`foreign key ${k.name}`] : [])),
    ...r.indexes.flatMap((x) => (!x.unique && has(x.columns.map((i) => i.column)) ? [`index ${x.name}`] : [])),
    ...r.checks.flatMap((k) => (mentions(k.expression.written, column) ? [`check ${k.name}`] : [])),
    ...r.columns.flatMap((o) => (o.generated && mentions(o.generated.expression.written, column) ? [`generated column ${o.name}`] : [])),
    ...incoming,
    ...new Set(ends),
  ]
}

function endsOf(e: Entity, model: EntityModel, nameOf: ReadonlyMap<string, string>): readonly SheetEnd[] {
  return model.relationships.flatMap((x) =>
    (
      [
        [x.from, x.to, x.through === null],
        [x.to, x.from, false],
      ] as const
    ).flatMap(([own, other, holds]) =>
      own.entity === e.id
        ? [
            {
              id: x.id,
              property: own.property,
              says: leadsToText(own.leadsTo, nameOf.get(other.entity) ?? other.entity),
              other: nameOf.get(other.entity) ?? other.entity,
              entity: other.entity,
              back: other.property,
              holds,
            },
          ]
        : [],
    ),
  )
}

function findersOf(r: Relation, e: Entity): readonly Finder[] {
  const name = splitWords(e.name).join(' ')
  const propertyOf = (c: string) => e.properties.find((p) => p.column === c)?.name ?? c
  const listed = (columns: readonly string[]) => columns.map(propertyOf).join(' and ')
  const finders: Finder[] = []
  const seen = new Set<string>()
  const add = (columns: readonly string[], one: boolean, by: string) => {
    const key = columns.toSorted().join('\n')
    if (columns.length === 0 || seen.has(key)) return
    seen.add(key)
    finders.push({ says: `${one ? 'one' : 'any number of'} ${name}${one ? '' : ' rows'} by ${listed(columns)}`, by })
  }
  for (const u of uniqueRules(r)) add(u.columns, true, `${u.kind} ${u.name}`)
  for (const k of r.foreignKeys) add(k.columns, false, `foreign key ${k.name}`)
  for (const x of r.indexes) {
    const columns = x.columns.map((c) => c.column)
    if (x.predicate === null && columns.every((c) => c !== null)) add(columns as readonly string[], false, `index ${x.name}`)
  }
  return finders
}
