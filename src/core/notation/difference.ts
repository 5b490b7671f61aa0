// What a notation says otherwise than a review does. A facet that it does not state is left alone.
import { columnsText, columnText, identityRules, indexOver, type Relation, relationText, uniqueRules } from '../catalog/index.ts'
import { makeObjectName } from '../dialect/postgres/madeUpNames.ts'
import type { Edit } from '../model/index.ts'
import type { NotationChange } from './changes.ts'
import { columnChanges, commentOn, newColumnOf } from './columnChanges.ts'
import { Differ, same } from './differ.ts'
import { endChanges, throughReading } from './endChanges.ts'
import { otherChanges } from './otherChanges.ts'
import { type EntityBlock, type KnownLine, linesOf, type Place, type PropertyLine } from './syntax.ts'
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
    if (d.unscoped(id)) return d.refuse(b.relation.at, `${id} is left out of the scope`, 'take it in first, under Scope')
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
    if (d.facet('reference.kinds', subject))
      d.edit(l.at, `${of} (${l.columns.value.join(', ')})`, 'rows of several tables', { facet: 'reference.kinds', subject, value: null })
    const target = d.facet('reference.target', subject)
    if (target)
      d.edit(l.at, `${of} (${l.columns.value.join(', ')})`, relationText({ schema: target.schema, name: target.table }), {
        facet: 'reference.target',
        subject,
        value: null,
      })
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
    const known = before && {
      ...before,
      targets: before.targets.filter(
        (t) => d.w.className(relationText({ schema: t.schema, name: t.table })) !== relationText({ schema: t.schema, name: t.table }),
      ),
    }
    if (!same(known, value)) d.edit(k.at, `${of} (${k.kindColumn.value}, ${k.idColumn.value})`, before, { facet: 'reference.kinds', subject, value })
  }
}

/** Is it an entity or a join table that hides, and what is its class called? */
function reading(d: Differ, id: string, b: EntityBlock): void {
  const now = d.w.entities.get(id)
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

function knownBy(d: Differ, id: string, r: Relation, line: KnownLine): void {
  const columns = [...line.columns.value]
  const isRule = identityRules(r).some((u) => same(u.columns.toSorted(), columns.toSorted()))
  if (r.primaryKey) d.refuse(line.at, `${id} has a primary key`, 'leave "known by" away')
  else if (!isRule)
    d.refuse(
      line.at,
      `nothing makes ${columns.join(', ')} different and never null in each row of ${id}`,
      'name the columns of a unique rule that accept no null',
    )
  else d.edit(line.at, id, 'known by nothing', { facet: 'entity.identity', subject: id, value: columns })
}

function tableChanges(d: Differ, id: string, b: EntityBlock): void {
  const r = d.w.relations.get(id)
  if (!r) return
  const view = r.kind === 'view' || r.kind === 'materialized view'
  const key = linesOf(b, 'key')[0]
  const identity = d.w.entities.get(id)?.identity
  const now = r.primaryKey?.columns ?? (identity?.kind === 'view key' ? identity.columns : null)
  const wanted = key?.key?.columns.value ?? null
  if (key && !same(now, wanted)) {
    if (now === null && wanted !== null && !view)
      d.schema(key.at, id, null, `key ${wanted.join(', ')}`, {
        do: 'set key',
        table: addressOf(id),
        columns: [...wanted],
        name: key.key?.name ?? makeObjectName(r.name, null, 'pkey'),
      })
    else
      d.refuse(
        key.at,
        `the rows of ${id} are told apart by ${now === null ? 'nothing' : now.join(', ')}, not by ${wanted?.join(', ') ?? 'nothing'}`,
        view ? 'that follows from its query' : 'another key is given in the database',
      )
  }
  const known = linesOf(b, 'known')[0]
  const byRule = identity?.kind === 'primary key' && identity.rule !== undefined ? identity.columns : null
  if (known && !same(byRule, known.columns.value)) knownBy(d, id, r, known)
  const definition = linesOf(b, 'definition')[0]
  const plainly = (text: string | undefined) => text?.replace(/\s+/g, ' ').trim()
  if (definition && plainly(definition.text) !== plainly(r.definition?.written))
    d.refuse(definition.at, `the query of ${id} is another one`, 'it is changed in the database')
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
  const entity = d.w.entities.get(id)
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
