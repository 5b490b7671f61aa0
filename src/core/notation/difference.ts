// What a notation says otherwise than a review does. A facet that it does not state is left alone.
import { columnsText, columnText, indexOver, relationText, uniqueRules } from '../catalog/index.ts'
import { makeObjectName } from '../dialect/postgres/madeUpNames.ts'
import type { Edit, Entity } from '../model/index.ts'
import { settingsText } from '../model/index.ts'
import { plainSettings } from '../model/targetSettings.ts'
import type { NotationChange } from './changes.ts'
import { Differ, same } from './differ.ts'
import { endChanges, throughReading } from './endChanges.ts'
import { type Block, type EntityBlock, linesOf, type Place, type PropertyLine } from './syntax.ts'
import { addressOf, type NotationBase, type World } from './world.ts'

/** In order of the blocks. What cannot be a change is told as a problem of the world. */
export function differenceOf(w: World, base: NotationBase, whole: boolean): readonly NotationChange[] {
  const d = new Differ(w, base, whole)
  for (const b of w.notation.blocks) {
    if (b.kind === 'entity') entityChanges(d, b)
    else otherChanges(d, b)
  }
  return d.changes
}

// ---- entities

function entityChanges(d: Differ, b: EntityBlock): void {
  const id = relationText(b.relation.value)
  if (d.w.blocks.get(id) !== b) return
  const of = b.name?.value ?? id
  const r = d.w.relations.get(id)
  if (!r) {
    if (d.base.whole.relations.some((x) => relationText(x) === id)) return d.refuse(b.relation.at, `${id} is left out of the scope`, 'take it in first, under Scope')
    if (b.of !== 'table') return d.refuse(b.relation.at, `there is no ${b.of} ${id}`, 'a new one of that kind is made in the database')
    if (!newTable(d, id, b)) return
  } else {
    if (r.kind !== b.of) d.refuse(b.relation.at, `${id} is a ${r.kind}, not a ${b.of}`, 'say what it is')
    tableChanges(d, id, b)
  }
  reading(d, id, b)
  for (const p of linesOf(b, 'property')) propertyChanges(d, id, b, p)
  for (const e of linesOf(b, 'end')) endChanges(d, id, b, e)
  for (const l of linesOf(b, 'nowhere')) {
    const subject = columnsText(addressOf(id), l.columns.value.toSorted())
    if (d.facet('reference.kinds', subject)) d.edit(l.at, `${of} (${l.columns.value.join(', ')})`, 'rows of several tables', { facet: 'reference.kinds', subject, value: null })
    const target = d.facet('reference.target', subject)
    if (target) d.edit(l.at, `${of} (${l.columns.value.join(', ')})`, relationText({ schema: target.schema, name: target.table }), { facet: 'reference.target', subject, value: null })
  }
  for (const k of linesOf(b, 'kind')) {
    const subject = columnsText(addressOf(id), [k.idColumn.value, k.kindColumn.value].toSorted())
    const targets = k.targets.flatMap((t) => {
      const to = d.w.classOf(t.target.value)
      const a = to === undefined ? null : addressOf(to)
      return a ? [{ value: t.value, schema: a.schema, table: a.name, columns: [...t.columns] }] : []
    })
    const value = { kindColumn: k.kindColumn.value, idColumn: k.idColumn.value, targets }
    const before = d.facet('reference.kinds', subject)
    const known = before && { ...before, targets: before.targets.filter((t) => d.w.className(relationText({ schema: t.schema, name: t.table })) !== relationText({ schema: t.schema, name: t.table })) }
    if (!same(known, value)) d.edit(k.at, `${of} (${k.kindColumn.value}, ${k.idColumn.value})`, before, { facet: 'reference.kinds', subject, value })
  }
}

/** Is it an entity or a join table that hides, and what is its class called? */
function reading(d: Differ, id: string, b: EntityBlock): void {
  const now = d.base.model.entities.find((e) => e.id === id)
  if (b.name !== null) {
    const name = now?.name ?? d.facet('entity.name', id)
    if (name !== b.name.value) d.edit(b.name.at, id, name, { facet: 'entity.name', subject: id, value: b.name.value })
  }
  throughReading(d, id, b, now !== undefined)
}

function newTable(d: Differ, id: string, b: EntityBlock): boolean {
  const key = linesOf(b, 'key')[0]?.key
  const properties = linesOf(b, 'property')
  if (!key) {
    d.refuse(b.at, `${id} is not in the database, and a new table needs a key`, 'say "key" and its columns, or mend its name')
    return false
  }
  d.schema(b.at, id, null, 'a new table', {
    do: 'add table',
    table: addressOf(id),
    key: [...key.columns.value],
    columns: properties.map((p) => newColumnOf(d, p)),
  })
  for (const p of properties) commentOn(d, id, p.note?.value, p.note?.at ?? p.at, p.column.value)
  tableRules(d, id, b)
  return true
}

const newColumnOf = (d: Differ, p: PropertyLine) => ({
  name: p.column.value,
  type: p.type ? d.w.typeOf(p.type) : 'text',
  nullable: p.optional,
  default: p.default?.value ?? null,
  counted: p.counted !== null,
})

function commentOn(d: Differ, id: string, text: string | null | undefined, at: Place, column: string | null): void {
  if (text === undefined) return
  const r = d.w.relations.get(id)
  const now = (column === null ? r?.comment : r?.columns.find((c) => c.name === column)?.comment) ?? null
  if (now !== text)
    d.schema(at, column === null ? id : columnText(id, column), now, text, { do: 'set comment', table: addressOf(id), column, text: text === '' ? null : text })
}

function tableChanges(d: Differ, id: string, b: EntityBlock): void {
  const r = d.w.relations.get(id)
  if (!r) return
  const view = r.kind === 'view' || r.kind === 'materialized view'
  const key = linesOf(b, 'key')[0]
  const identity = d.base.model.entities.find((e) => e.id === id)?.identity
  const now = r.primaryKey?.columns ?? (identity && identity.kind !== 'none' ? identity.columns : null)
  const wanted = key?.key?.columns.value ?? null
  if (key && !same(now, wanted)) {
    if (now === null && wanted !== null && !view)
      d.schema(key.at, id, null, `key ${wanted.join(', ')}`, { do: 'set key', table: addressOf(id), columns: [...wanted], name: key.key?.name ?? makeObjectName(r.name, null, 'pkey') })
    else
      d.refuse(
        key.at,
        `the rows of ${id} are told apart by ${now === null ? 'nothing' : now.join(', ')}, not by ${wanted?.join(', ') ?? 'nothing'}`,
        view ? 'that follows from its query' : 'another key is given in the database',
      )
  }
  const definition = linesOf(b, 'definition')[0]
  const plainly = (text: string | undefined) => text?.replace(/\s+/g, ' ').trim()
  if (definition && plainly(definition.text) !== plainly(r.definition?.written)) d.refuse(definition.at, `the query of ${id} is another one`, 'it is changed in the database')
  tableRules(d, id, b)
}

function tableRules(d: Differ, id: string, b: EntityBlock): void {
  const r = d.w.relations.get(id)
  const table = addressOf(id)
  const note = linesOf(b, 'note')[0]
  if (note && note.text !== (r?.comment ?? null)) commentOn(d, id, note.text ?? '', note.at, null)
  for (const u of linesOf(b, 'unique')) {
    const wanted = u.columns.value.toSorted()
    if (r && uniqueRules(r).some((rule) => same(rule.columns.toSorted(), wanted))) continue
    d.schema(u.at, `${id} (${u.columns.value.join(', ')})`, null, 'unique', {
      do: 'make unique',
      table,
      columns: [...u.columns.value],
      name: u.name ?? makeObjectName(table.name, u.columns.value.join('_'), 'key'),
    })
  }
  for (const i of linesOf(b, 'index')) {
    if (r && (r.indexes.some((x) => x.name === i.name) || indexOver(r, i.columns.value) !== null)) continue
    if (i.more) {
      d.refuse(i.at, `there is no index over ${i.columns.value.join(', ')} and more`, 'one over expressions is made in the database')
      continue
    }
    d.schema(i.at, `${id} (${i.columns.value.join(', ')})`, null, 'an index', {
      do: 'add index',
      table,
      columns: [...i.columns.value],
      name: i.name ?? makeObjectName(table.name, i.columns.value.join('_'), 'idx'),
    })
  }
}

// ---- properties

function propertyChanges(d: Differ, id: string, b: EntityBlock, p: PropertyLine): void {
  const subject = columnText(id, p.column.value)
  const entity = d.base.model.entities.find((e) => e.id === id)
  const property = entity?.properties.find((x) => x.column === p.column.value)
  const of = `${b.name?.value ?? id}.${p.name.value}`
  columnChanges(d, id, p, entity)
  if (b.name !== null) {
    const name = property?.name ?? d.facet('property.name', subject)
    if (name !== p.name.value) d.edit(p.name.at, `${b.name.value} ${p.column.value}`, name, { facet: 'property.name', subject, value: p.name.value })
  }
  const facet = <T>(said: { readonly value: T; readonly at: Place } | null, now: unknown, what: string, edit: (value: T | null) => Edit): void => {
    const value = said ? said.value : null
    if ((said || d.whole) && !same(value, now)) d.edit(said?.at ?? p.at, `${of}, ${what}`, now, edit(value))
  }
  facet(p.values, d.facet('column.values', subject), 'its words', (value) => ({ facet: 'column.values', subject, value }))
  facet(p.flag, d.facet('column.flag', subject), 'yes and no', (value) => ({ facet: 'column.flag', subject, value }))
  facet(p.role, d.facet('column.role', subject), 'its role', (value) => ({ facet: 'column.role', subject, value }))
  facet(p.held, d.facet('type.target', subject), 'how it is held', (value) => ({ facet: 'type.target', subject, value }))
  facet(p.shape, d.facet('json.schema', subject), 'the shape of its JSON', (value) => ({ facet: 'json.schema', subject, value }))
}

function columnChanges(d: Differ, id: string, p: PropertyLine, entity: Entity | undefined): void {
  const r = d.w.relations.get(id)
  const c = d.w.columnNow(id, p)
  const table = addressOf(id)
  const of = columnText(id, p.column.value)
  if (!r) return
  if (!c) {
    const left = d.base.whole.relations.find((x) => relationText(x) === id)?.columns.some((x) => x.name === p.column.value)
    if (left) d.refuse(p.column.at, `${of} is left out of the scope`, 'take it in first, under Scope')
    else if (p.type) {
      d.schema(p.at, of, null, `a new column of type ${d.w.typeOf(p.type)}`, { do: 'add column', table, column: newColumnOf(d, p) })
      commentOn(d, id, p.note?.value, p.note?.at ?? p.at, p.column.value)
    }
    return
  }
  const view = r.kind === 'view' || r.kind === 'materialized view'
  if (p.type) {
    const type = p.type.value.text === c.type ? c.type : d.w.typeOf(p.type)
    const nullable = entity?.properties.find((x) => x.column === c.name)?.nullable ?? c.nullable
    if (view && (type !== c.type || nullable !== p.optional)) d.refuse(p.type.at, `${of} is ${c.type}${nullable ? ', optional' : ''}`, 'that follows from the query of its view')
    else if (type !== c.type) d.schema(p.type.at, of, c.type, type, { do: 'set type', table, column: c.name, type })
    if (!view && nullable !== p.optional)
      d.schema(p.type.at, of, nullable ? 'may be null' : 'not null', p.optional ? 'may be null' : 'not null', { do: p.optional ? 'allow null' : 'require', table, column: c.name })
  }
  const expression = c.default ? (c.default.canonical ?? c.default.written) : null
  if (p.default && p.default.value !== expression)
    d.schema(p.default.at, `${of}, its default`, expression, p.default.value, { do: 'set default', table, column: c.name, expression: p.default.value })
  if (p.counted && c.identity?.generation !== p.counted.value)
    d.refuse(p.counted.at, `${of} is ${c.identity ? `counted ${c.identity.generation}` : 'not counted'} in the database`, 'it is changed there')
  const generated = c.generated && (c.generated.expression.canonical ?? c.generated.expression.written)
  if (p.computed && p.computed.value.expression !== generated)
    d.refuse(p.computed.at, `${of} is ${generated === null ? 'not computed' : `computed as ${generated}`} in the database`, 'it is changed there')
  commentOn(d, id, p.note?.value, p.note?.at ?? p.at, c.name)
}

// ---- what is no entity

function otherChanges(d: Differ, b: Exclude<Block, EntityBlock>): void {
  const { model, catalog } = d.base
  const at = <T extends { readonly schema: string; readonly name: string }>(list: readonly T[], a: { readonly schema: string; readonly name: string }) =>
    list.find((t) => t.schema === a.schema && t.name === a.name)
  switch (b.kind) {
    case 'enumeration': {
      const now = at(catalog.enums, b.type.value)
      if (!same(now?.labels, b.labels))
        d.refuse(b.type.at, `${relationText(b.type.value)} is ${now ? now.labels.join(', ') : 'no enumerated type'} in the database`, 'its words are changed there, or made of a column under Plan')
      return
    }
    case 'domain': {
      const now = at(catalog.domains, b.type.value)
      if (!now || (now.type !== b.over.value.text && now.type !== d.w.typeOf(b.over)) || now.nullable !== b.optional)
        d.refuse(b.type.at, `${relationText(b.type.value)} is ${now ? `over ${now.type}${now.nullable ? ', optional' : ''}` : 'no domain'} in the database`, 'it is changed there')
      return
    }
    case 'composite': {
      const now = at(catalog.composites, b.type.value)
      const said = b.attributes.map((a) => [a.name, d.w.typeOf(a.type)])
      if (!same(now?.attributes.map((a) => [a.name, a.type]), said)) d.refuse(b.type.at, `${relationText(b.type.value)} has other attributes in the database`, 'they are changed there')
      return
    }
    case 'type': {
      const type = b.type.value.kind === 'neutral' ? d.w.typeOf(b.type) : b.type.value.text
      const subject = `type:${type}`
      if (b.called && !same(model.typeNames[type], b.called.value))
        d.edit(b.called.at, `the type ${type}`, model.typeNames[type], { facet: 'type.name', subject, value: b.called.value })
      if (b.held && !same(model.typeTargets[type], b.held.value))
        d.edit(b.held.at, `the type ${type}, how it is held`, model.typeTargets[type], { facet: 'type.target', subject, value: b.held.value })
      return
    }
    case 'group': {
      const subject = `columns:${b.columns.value.join(',')}`
      const now = model.groups.find((g) => same(g.columns, b.columns.value))?.typeName ?? d.facet('columns.group', subject)?.name
      if (!same(now, b.name?.value)) d.edit(b.at, `the group ${b.columns.value.join(', ')}`, now, { facet: 'columns.group', subject, value: b.name ? { name: b.name.value } : null })
      return
    }
    case 'query': {
      const from = d.w.classOf(b.from.value)
      if (from === undefined) return
      const then = d.w.walk(from, b.then)
      const conditions = b.where.flatMap((c) => {
        const reached = d.w.walk(from, c.path.slice(0, -1))
        const last = c.path.at(-1)
        const column = reached && last ? d.w.propertyAt(reached.at, last) : null
        return reached && column !== null ? [{ via: [...reached.steps], column, is: c.is, value: c.value }] : []
      })
      if (!then || conditions.length < b.where.length) return
      const path = { entity: from, conditions, steps: [...then.steps] }
      const now = model.kept.findLast((k) => k.name === b.name.value)
      if (!now || !same([now.path.entity, now.path.conditions, now.path.steps], [path.entity, path.conditions, path.steps]))
        d.add(b.at, `the query “${b.name.value}”`, now ? 'another path' : null, [b.from.value, ...b.then.map((t) => t.value)].join(', '), {
          kind: 'entry',
          entry: { kind: 'pin', name: b.name.value, path },
        })
      return
    }
    case 'routine': {
      const now = catalog.routines.find((r) => r.schema === b.routine.value.schema && r.name === b.routine.value.name && r.argumentTypes === b.types)
      if (!now || now.arguments !== b.takes || now.returns !== b.gives || now.kind !== b.of)
        d.refuse(b.routine.at, `${relationText(b.routine.value)} (${b.types}) is ${now ? 'declared otherwise' : 'not there'} in the database`, 'routines are changed there')
      return
    }
    case 'layout': {
      if (b.files && b.files !== model.fileCase)
        d.add(b.at, 'letter case of files', model.fileCase, b.files, {
          kind: 'entry',
          entry: { kind: 'naming', rule: { rule: 'case', target: 'typescript', of: 'file', as: b.files }, note: null },
        })
      if (b.settings && !same(b.settings, model.settings))
        d.add(b.at, 'how TypeScript is laid out', settingsText(model.settings ?? plainSettings), settingsText(b.settings), {
          kind: 'entry',
          entry: { kind: 'settings', target: 'typescript', settings: b.settings, note: null },
        })
      return
    }
    case 'elsewhere':
      return
    default:
      return unreachable(b)
  }
}

function unreachable(b: never): never {
  throw new Error(`a block of no known kind: ${JSON.stringify(b)}`)
}
