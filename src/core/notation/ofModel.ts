// The notation of a reviewed model: what it says, and what of the database it rests on.
import { type Catalog, type Column, compareText, type ForeignKey, type Relation, relationText, uniqueRules } from '../catalog/index.ts'
import type { EntityId, EntityModel, JoinHalf, KindReading, Property, Relationship } from '../model/index.ts'
import { plainSettings, type TrialPath, type TrialStep } from '../model/index.ts'
import {
  type Block,
  type EndLine,
  type EntityBlock,
  type EntityLine,
  type KindLine,
  type Notation,
  nowhere,
  type PropertyLine,
  type QueryBlock,
  type Said,
  said,
  type TypeText,
} from './syntax.ts'
import { baseOf, isFromElsewhere, type KnownTypes, namedTypeText, neutralised } from './types.ts'

export interface NotationOptions {
  /** Types as kinds of values wherever the engine has one type for the kind, so that the text is of no engine. */
  readonly neutral: boolean
}

interface Context {
  readonly model: EntityModel
  readonly catalog: Catalog
  readonly className: ReadonlyMap<string, string>
  readonly relation: ReadonlyMap<string, Relation>
  readonly type: (type: string) => Said<TypeText>
}

/** `kinds`: pairs of columns that say which table and which row, by subject. Blocks in order of their addresses. */
export function notationOf(model: EntityModel, catalog: Catalog, kinds: ReadonlyMap<string, KindReading>, o: NotationOptions = { neutral: false }): Notation {
  const x: Context = {
    model,
    catalog,
    className: new Map(model.entities.map((e) => [e.id as string, e.name])),
    relation: new Map(catalog.relations.map((r) => [relationText(r), r])),
    type: (type) => said(o.neutral ? neutralised(model.dialect, type) : { kind: 'native', text: type }),
  }
  const byEntity = new Map<string, EndLine[]>()
  const shortcuts = new Map(model.relationships.flatMap((r) => (r.through?.shortcut ? [[relationText(r.through.table), r.through] as const] : [])))
  const add = (id: EntityId, e: EndLine) => {
    const own = byEntity.get(id)
    if (own) own.push(e)
    else byEntity.set(id, [e])
  }
  for (const r of model.relationships) {
    const [from, to] = r.through ? throughEnds(r, r.through, x) : directEnds(r, x)
    add(r.from.entity, from)
    add(r.to.entity, to)
  }
  const entities = model.entities.map((e): EntityBlock => {
    const r = x.relation.get(e.id) as Relation
    const properties = e.properties.map((p) => propertyLine(p, r.columns.find((c) => c.name === p.column) as Column, x))
    return block(r, e.name, [
      ...rules(r, e.identity.kind === 'view key' ? e.identity.columns : null),
      ...(e.identity.kind === 'primary key' && e.identity.rule !== undefined
        ? [{ kind: 'known' as const, at: nowhere, columns: said(e.identity.columns) }]
        : []),
      ...properties,
      ...ordered(byEntity.get(e.id) ?? [], shortcuts.get(e.id)),
      ...kindLines(r, kinds, x),
    ])
  })
  const hidden = [...new Set(model.joinHalves.map((h) => relationText(h.table)))].map((id): EntityBlock => {
    const r = x.relation.get(id) as Relation
    const halves = model.joinHalves.filter((h) => relationText(h.table) === id)
    return block(r, null, [
      ...rules(r, null),
      ...r.columns.map((c) => propertyLine(null, c, x)),
      ...halves.map((h) => halfEnd(h, r, x)),
      ...kindLines(r, kinds, x),
    ])
  })
  return {
    dialect: model.dialect,
    blocks: [
      ...typeBlocks(x),
      ...[...entities, ...hidden].toSorted((a, b) => compareText(relationText(a.relation.value), relationText(b.relation.value))),
      ...model.kept.map((k) => queryBlock(k, x)).filter((q) => q !== null),
      ...routineBlocks(catalog),
      ...layoutBlock(model),
    ],
  }
}

const block = (r: Relation, name: string | null, lines: readonly EntityLine[]): EntityBlock => ({
  kind: 'entity',
  at: nowhere,
  name: name === null ? null : said(name),
  of: r.kind === 'partition' ? 'table' : r.kind,
  relation: said({ schema: r.schema, name: r.name }),
  lines: [...(r.comment === null ? [] : [{ kind: 'note' as const, at: nowhere, text: r.comment }]), ...lines, ...definition(r)],
})

// ---- lines about the table

/** A name that is the engine's own for every key (MySQL's PRIMARY, SQLite's none) says nothing. */
const keyName = (name: string) => (name === '' || name === 'PRIMARY' ? null : name)

function rules(r: Relation, viewKey: readonly string[] | null): readonly EntityLine[] {
  const out: EntityLine[] = []
  const key = r.primaryKey?.columns ?? viewKey
  if (key) out.push({ kind: 'key', at: nowhere, key: { name: r.primaryKey ? keyName(r.primaryKey.name) : null, columns: said(key) } })
  for (const u of r.uniques) out.push({ kind: 'unique', at: nowhere, index: false, name: u.name === '' ? null : u.name, columns: said(u.columns) })
  const whole = new Set(uniqueRules(r).flatMap((u) => (u.kind === 'unique index' ? [u.name] : [])))
  for (const i of r.indexes) {
    const columns = i.columns.flatMap((c) => c.column ?? [])
    if (whole.has(i.name)) out.push({ kind: 'unique', at: nowhere, index: true, name: i.name, columns: said(columns) })
    // What finds rows by equal values of its first columns; rules for some rows and other methods say nothing to the model.
    else if (!i.unique && i.predicate === null && i.valid && (i.method === 'btree' || i.method === 'hash')) {
      const plain = i.columns.findIndex((c) => c.column === null)
      const first = plain === -1 ? columns : i.columns.slice(0, plain).map((c) => c.column as string)
      if (first.length > 0) out.push({ kind: 'index', at: nowhere, name: i.name, columns: said(first), more: plain !== -1 })
    }
  }
  return out
}

const definition = (r: Relation): readonly EntityLine[] =>
  r.definition === null ? [] : [{ kind: 'definition', at: nowhere, text: r.definition.written.trim().replace(/\r\n?/g, '\n') }]

/** Null: a column of a join table that hides, which has no property. */
function propertyLine(p: Property | null, c: Column, x: Context): PropertyLine {
  const some = <T>(value: T | null) => (value === null ? null : said(value))
  return {
    kind: 'property',
    at: nowhere,
    name: said(p?.name ?? c.name),
    column: said(c.name),
    type: x.type(c.type),
    optional: p?.nullable ?? c.nullable,
    counted: c.identity ? said(c.identity.generation) : null,
    default: c.default ? said(c.default.canonical ?? c.default.written) : null,
    computed: c.generated ? said({ expression: c.generated.expression.canonical ?? c.generated.expression.written, kept: c.generated.kept }) : null,
    values: some(p?.values ?? null),
    flag: some(p?.flag ?? null),
    role: some(p?.role ?? null),
    held: some(p?.target ?? null),
    shape: some(p?.shape ?? null),
    note: some(c.comment),
  }
}

function kindLines(r: Relation, kinds: ReadonlyMap<string, KindReading>, x: Context): readonly KindLine[] {
  const own = relationText(r)
  return [...kinds]
    .filter(([subject]) => subject.startsWith(`${own}(`))
    .toSorted(([a], [b]) => compareText(a, b))
    .map(([, k]) => ({
      kind: 'kind',
      at: nowhere,
      kindColumn: said(k.kindColumn),
      idColumn: said(k.idColumn),
      targets: k.targets.flatMap((t) => {
        const target = x.className.get(relationText({ schema: t.schema, name: t.table }))
        return target === undefined ? [] : [{ value: t.value, target: said(target), columns: t.columns }]
      }),
    }))
}

// ---- ends

/** Those that a many-to-many goes over come first, in its order. */
function ordered(ends: readonly EndLine[], over: Relationship['through'] | undefined): readonly EndLine[] {
  if (!over) return ends
  const first = over.fromColumns.join('\n')
  const rank = (e: EndLine) => (e.over.kind !== 'own' ? 2 : e.over.columns.value.join('\n') === first ? 0 : 1)
  return ends.toSorted((a, b) => rank(a) - rank(b))
}

const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((v, i) => v === b[i])

const keyColumns = (r: Relation | undefined) => r?.primaryKey?.columns ?? []

function keyOf(
  child: Relation,
  r: { readonly columns: readonly string[]; readonly targetColumns: readonly string[]; readonly target: Relation | undefined },
  name: string | null,
): ForeignKey | null {
  const declares = (k: ForeignKey) =>
    same(k.columns, r.columns) &&
    same(k.target.columns, r.targetColumns) &&
    r.target !== undefined &&
    k.target.schema === r.target.schema &&
    k.target.table === r.target.name
  const all = child.foreignKeys.filter(declares)
  return all.find((k) => k.name === name) ?? all[0] ?? null
}

interface OwnEnd {
  readonly name: string
  readonly leadsTo: EndLine['leadsTo']['value']
  readonly columns: readonly string[]
  readonly targetColumns: readonly string[]
  readonly target: string
  readonly state: Relationship['state']
  readonly constraint: string | null
  readonly there: string | null
  readonly unguarded: boolean
}

function ownEnd(e: OwnEnd, child: Relation, x: Context): EndLine {
  const target = x.relation.get(e.target)
  const key = keyOf(child, { columns: e.columns, targetColumns: e.targetColumns, target }, e.constraint)
  const followed = e.state === 'model' && (child.kind === 'view' || child.kind === 'materialized view')
  return {
    kind: 'end',
    at: nowhere,
    name: said(e.name),
    leadsTo: said(e.leadsTo),
    target: said(x.className.get(e.target) ?? e.target),
    over: { kind: 'own', columns: said(e.columns), to: same(e.targetColumns, keyColumns(target)) ? null : said(e.targetColumns) },
    state: followed ? null : said({ is: e.state, constraint: key === null || key.name === '' ? null : key.name }),
    onDelete: key && key.onDelete !== 'no action' ? said(key.onDelete) : null,
    onUpdate: key && key.onUpdate !== 'no action' ? said(key.onUpdate) : null,
    there: e.there === null ? null : said(e.there),
    unguarded: e.unguarded,
  }
}

function directEnds(r: Relationship, x: Context): readonly [EndLine, EndLine] {
  const child = x.relation.get(r.from.entity) as Relation
  const own = ownEnd(
    {
      name: r.from.property,
      leadsTo: r.from.leadsTo,
      columns: r.from.columns,
      targetColumns: r.to.columns,
      target: r.to.entity,
      state: r.state,
      constraint: r.constraint,
      there: null,
      unguarded: r.from.claimed,
    },
    child,
    x,
  )
  const back = plainEnd(r.to.property, r.to.leadsTo, x.className.get(r.from.entity) ?? '', { kind: 'other', columns: said(r.from.columns) })
  return [own, { ...back, unguarded: r.to.claimed }]
}

const plainEnd = (name: string, leadsTo: EndLine['leadsTo']['value'], target: string, over: EndLine['over']): EndLine => ({
  kind: 'end',
  at: nowhere,
  name: said(name),
  leadsTo: said(leadsTo),
  target: said(target),
  over,
  state: null,
  onDelete: null,
  onUpdate: null,
  there: null,
  unguarded: false,
})

function throughEnds(r: Relationship, t: NonNullable<Relationship['through']>, x: Context): readonly [EndLine, EndLine] {
  const end = (own: Relationship['from'], other: Relationship['from'], columns: readonly string[]) =>
    plainEnd(own.property, own.leadsTo, x.className.get(other.entity) ?? '', { kind: 'through', table: said(t.table), columns: said(columns) })
  return [end(r.from, r.to, t.fromColumns), end(r.to, r.from, t.toColumns)]
}

function halfEnd(h: JoinHalf, r: Relation, x: Context): EndLine {
  const nullable = r.columns.some((c) => h.columns.includes(c.name) && c.nullable)
  return ownEnd(
    {
      name: h.ownName,
      leadsTo: nullable ? 'at most one' : 'exactly one',
      columns: h.columns,
      targetColumns: h.targetColumns,
      target: h.target,
      state: h.state,
      constraint: null,
      there: h.inverseName,
      unguarded: false,
    },
    r,
    x,
  )
}

// ---- types, queries, routines

/** Types that the schema makes and that columns are spelled by. */
export function knownTypes(catalog: Catalog, elsewhere: readonly string[] = []): KnownTypes {
  const own = [...catalog.enums, ...catalog.domains, ...catalog.composites, ...catalog.ranges, ...catalog.relations]
  return { dialect: catalog.dialect, named: new Set([...own.map(namedTypeText), ...elsewhere]) }
}

function typeBlocks(x: Context): readonly Block[] {
  const { model, catalog, type } = x
  const own = new Set([...model.enumerations, ...model.namedTypes, ...model.composites].map(namedTypeText))
  const known: KnownTypes = { dialect: model.dialect, named: new Set([...own, ...model.entities.map((e) => namedTypeText(e.relation))]) }
  const used = new Set([
    ...catalog.relations.flatMap((r) => (r.kind === 'partition' ? [] : r.columns.map((c) => c.type))),
    ...model.namedTypes.map((t) => t.type),
    ...model.composites.flatMap((t) => t.attributes.map((a) => a.type)),
  ])
  const elsewhere = new Set([...used].filter((t) => isFromElsewhere(t, known)).map(baseOf))
  const spoken = [...new Set([...Object.keys(model.typeNames), ...Object.keys(model.typeTargets)])].toSorted(compareText)
  const some = <T>(value: T | undefined) => (value === undefined ? null : said(value))
  return [
    ...[...elsewhere].toSorted(compareText).map((t): Block => ({ kind: 'elsewhere', at: nowhere, type: t })),
    ...model.enumerations.map((t): Block => ({ kind: 'enumeration', at: nowhere, type: said({ schema: t.schema, name: t.name }), labels: t.labels })),
    ...model.namedTypes.map(
      (t): Block => ({ kind: 'domain', at: nowhere, type: said({ schema: t.schema, name: t.name }), over: type(t.type), optional: t.nullable }),
    ),
    ...model.composites.map(
      (t): Block => ({
        kind: 'composite',
        at: nowhere,
        type: said({ schema: t.schema, name: t.name }),
        attributes: t.attributes.map((a) => ({ name: a.name, type: type(a.type) })),
      }),
    ),
    ...spoken.map(
      (t): Block => ({
        kind: 'type',
        at: nowhere,
        type: said({ kind: 'native', text: t }),
        called: some(model.typeNames[t]),
        held: some(model.typeTargets[t]),
      }),
    ),
    ...model.groups.map((g): Block => ({ kind: 'group', at: nowhere, name: said(g.typeName), columns: said(g.columns) })),
  ]
}

/** Null where a path leads over what is not there any more. */
function queryBlock(k: { readonly name: string; readonly path: TrialPath }, x: Context): QueryBlock | null {
  const walk = (steps: readonly TrialStep[]) => {
    const names: string[] = []
    let at = k.path.entity
    for (const s of steps) {
      const r = x.model.relationships.find((y) => y.id === s.relationship)
      if (!r) return null
      names.push(r[s.end].property)
      at = r[s.end === 'from' ? 'to' : 'from'].entity
    }
    return { names, at }
  }
  const from = x.className.get(k.path.entity)
  const then = walk(k.path.steps)
  if (from === undefined || !then) return null
  const where = k.path.conditions.map((c) => {
    const via = walk(c.via)
    const p = via && x.model.entities.find((e) => e.id === via.at)?.properties.find((y) => y.column === c.column)
    return p ? { at: nowhere, path: [...via.names, p.name].map((n) => said(n)), is: c.is, value: c.value } : null
  })
  if (where.some((w) => w === null)) return null
  return { kind: 'query', at: nowhere, name: said(k.name), from: said(from), where: where.filter((w) => w !== null), steps: then.names.map((n) => said(n)) }
}

function routineBlocks(catalog: Catalog): readonly Block[] {
  return catalog.routines.map(
    (r): Block => ({
      kind: 'routine',
      at: nowhere,
      of: r.kind,
      routine: said({ schema: r.schema, name: r.name }),
      takes: r.arguments,
      types: r.argumentTypes,
      gives: r.returns,
      note: r.comment,
    }),
  )
}

function layoutBlock(m: EntityModel): readonly Block[] {
  const files = m.fileCase === 'PascalCase' ? null : m.fileCase
  const settings = JSON.stringify(m.settings) === JSON.stringify(plainSettings) ? null : m.settings
  return files === null && settings === null ? [] : [{ kind: 'layout', at: nowhere, files, settings }]
}
