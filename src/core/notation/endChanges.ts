// What a notation says otherwise of relationships: which there are, what their ends are called, and how many they lead to.
import { columnsText, type ForeignKey, relationText, uniqueOver } from '../catalog/index.ts'
import { makeObjectName } from '../dialect/postgres/madeUpNames.ts'
import type { JoinHalf, Relationship } from '../model/index.ts'
import type { Differ } from './differ.ts'
import { type EndLine, type EntityBlock, linesOf } from './syntax.ts'
import { addressOf } from './world.ts'

const list = (columns: readonly string[]) => columns.join(', ')
const equal = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((v, i) => v === b[i])

export function endChanges(d: Differ, id: string, b: EntityBlock, e: EndLine): void {
  const target = d.w.classOf(e.target.value)
  if (target === undefined) return
  if (e.over.kind === 'own') ownEnd(d, id, b, e, target, e.over.columns.value, e.over.to?.value ?? d.w.keyOf(target))
  else if (e.over.kind === 'other') otherEnd(d, id, b, e, target, e.over.columns.value)
  else throughEnd(d, b, e, relationText(e.over.table.value), e.over.columns.value)
}

interface Now {
  readonly relationship: Relationship | null
  readonly half: JoinHalf | null
}

function nowOf(d: Differ, subject: string): Now {
  const id = `reference:${subject}`
  return { relationship: d.w.relationships.get(id) ?? null, half: d.w.halves.get(id) ?? null }
}

function ownEnd(d: Differ, id: string, b: EntityBlock, e: EndLine, target: string, columns: readonly string[], to: readonly string[]): void {
  const subject = d.w.subjectOf(id, columns, target)
  const now = nowOf(d, subject)
  const of = `${b.name?.value ?? id}.${e.name.value}`
  const at = now.relationship ? now.relationship.to.entity : now.half?.target
  const nowColumns = now.relationship?.from.columns ?? now.half?.columns ?? []
  const nowTo = now.relationship?.to.columns ?? now.half?.targetColumns ?? []
  const isThere = at === target && equal(nowColumns, columns) && equal(nowTo, to)
  const key = keyThere(d, id, columns, target, to, e.state?.value.constraint ?? null)
  if (!isThere || isOnlyGuessed(now, e)) refer(d, e, { of, id, subject, target, columns, to, before: at, key })
  stateChanges(d, id, e, { of, target, columns, to, key })
  const own = now.relationship?.from.property ?? now.half?.ownName ?? (isThere ? undefined : d.facet('reference.ownName', subject))
  if (own !== e.name.value) d.edit(e.name.at, `${b.name?.value ?? id} (${list(columns)})`, own, { facet: 'reference.ownName', subject, value: e.name.value })
  if (e.there) {
    const there = now.half?.inverseName ?? d.facet('reference.inverseName', subject)
    if (there !== e.there.value) d.edit(e.there.at, `${of}, its other end`, there, { facet: 'reference.inverseName', subject, value: e.there.value })
  }
  ownMany(d, id, e, subject, columns, now.relationship)
}

/** Inference says so and nobody else, and here somebody does: who wants it enforced says so too. */
const isOnlyGuessed = (now: Now, e: EndLine) =>
  (now.relationship?.state ?? now.half?.state) === 'guessed' && (e.state?.value.is === 'model' || e.state?.value.is === 'enforced')

function keyThere(d: Differ, id: string, columns: readonly string[], target: string, to: readonly string[], name: string | null): ForeignKey | null {
  const t = addressOf(target)
  const declares = (k: ForeignKey) => k.target.schema === t.schema && k.target.table === t.name && equal(k.columns, columns) && equal(k.target.columns, to)
  const all = d.w.relations.get(id)?.foreignKeys.filter(declares) ?? []
  return all.find((k) => k.name === name) ?? all[0] ?? null
}

interface Refers {
  readonly of: string
  readonly id: string
  readonly subject: string
  readonly target: string
  readonly columns: readonly string[]
  readonly to: readonly string[]
  readonly before: string | undefined
  readonly key: ForeignKey | null
}

function refer(d: Differ, e: EndLine, x: Refers): void {
  const t = addressOf(x.target)
  const value = { schema: t.schema, table: t.name, columns: [...x.columns], targetColumns: [...x.to], constraint: x.key?.name ?? null }
  const edit = { facet: 'reference.target' as const, subject: x.subject, value }
  const after = columnsText(t, x.to)
  const before = x.before === undefined ? null : x.before === x.target ? 'guessed' : x.before
  if (e.state?.value.is !== 'guessed') d.add(e.at, x.of, before, after, { kind: 'edit', edit })
  else if (d.whole) d.add(e.at, x.of, x.before ?? null, after, { kind: 'unread', finding: `reference:${x.subject}`, edits: [edit] })
  // A text of before says what was guessed then; that is nobody's word, and takes nothing back.
  else if (d.base.formerly.size === 0) d.refuse(e.state.at, `${x.of} is not guessed by anything`, 'say "model" where it holds')
}

function stateChanges(
  d: Differ,
  id: string,
  e: EndLine,
  x: {
    readonly of: string
    readonly target: string
    readonly columns: readonly string[]
    readonly to: readonly string[]
    readonly key: ForeignKey | null
  },
): void {
  const said = e.state?.value
  const action = (is: 'onDelete' | 'onUpdate') => {
    const wanted = e[is]
    const word = is === 'onDelete' ? 'delete' : 'update'
    if (wanted && x.key && x.key[is] !== wanted.value)
      d.refuse(wanted.at, `the foreign key of ${x.of} does ${x.key[is]} on ${word}`, 'another action is given by dropping and declaring it anew, under Plan')
    else if (wanted && !x.key && said?.is !== 'enforced')
      d.refuse(wanted.at, `nothing in the database keeps ${x.of}`, 'what is done on delete and update is said of what is enforced')
  }
  action('onDelete')
  action('onUpdate')
  if (!said) return
  const holds = x.key === null ? null : x.key.validated && x.key.enforced ? 'enforced' : 'declared'
  if (said.is === 'enforced' && x.key === null) {
    const t = addressOf(x.target)
    d.schema(e.state?.at ?? e.at, x.of, 'not enforced', 'enforced', {
      do: 'declare reference',
      table: addressOf(id),
      columns: [...x.columns],
      target: t,
      targetColumns: [...x.to],
      name: said.constraint ?? makeObjectName(addressOf(id).name, x.columns.join('_'), 'fkey'),
      onDelete: e.onDelete?.value ?? 'no action',
      onUpdate: e.onUpdate?.value ?? 'no action',
    })
  } else if (said.is === 'declared' && x.key === null)
    d.refuse(e.state?.at ?? e.at, `the database declares nothing for ${x.of}`, 'say "enforced" to plan a foreign key, or "model"')
  else if (holds !== null && said.is !== holds)
    d.refuse(e.state?.at ?? e.at, `the database has ${x.of} ${holds === 'enforced' ? 'enforced' : 'declared, and does not enforce it'}`, `say "${holds}"`)
}

/** That there always is one is so by the columns, or claimed. */
function ownMany(d: Differ, id: string, e: EndLine, subject: string, columns: readonly string[], now: Relationship | null): void {
  if (e.leadsTo.value === 'any number' || now?.from.leadsTo === e.leadsTo.value) return
  const b = d.w.blocks.get(id)
  const optional = columns.some((c) => {
    const p = b && linesOf(b, 'property').find((x) => x.column.value === c)
    if (p?.type) return p.optional
    const entity = d.w.entities.get(id)
    return entity?.properties.find((x) => x.column === c)?.nullable ?? d.w.relations.get(id)?.columns.find((x) => x.name === c)?.nullable ?? true
  })
  const claimed = d.facet('reference.always', subject) === true
  const of = `${d.w.className(id)}.${e.name.value}`
  if (e.leadsTo.value === 'exactly one') {
    if (optional && !claimed) d.edit(e.leadsTo.at, of, 'at most one', { facet: 'reference.always', subject, value: true })
  } else if (!optional)
    d.w.complain({
      code: 'contradicts',
      at: e.leadsTo.at,
      what: `${of} leads to at most one`,
      but: `${list(columns)} accepts no null: there always is one, unless its property is optional`,
    })
  else if (claimed) d.edit(e.leadsTo.at, of, 'exactly one', { facet: 'reference.always', subject, value: null })
}

function otherEnd(d: Differ, id: string, b: EntityBlock, e: EndLine, child: string, columns: readonly string[]): void {
  const subject = d.w.subjectOf(child, columns, id)
  const now = nowOf(d, subject).relationship
  const there = d.w.blocks.get(child)
  const saidThere =
    there && linesOf(there, 'end').some((x) => x.over.kind === 'own' && equal(x.over.columns.value, columns) && d.w.classOf(x.target.value) === id)
  const of = `${b.name?.value ?? id}.${e.name.value}`
  if (!saidThere && now?.to.entity !== id)
    return void d.w.complain({
      code: 'contradicts',
      at: e.at,
      what: `${of} is by ${list(columns)} of ${e.target.value}`,
      but: `nothing says that they refer to ${b.name?.value ?? id}`,
    })
  const name = now?.to.property ?? d.facet('reference.inverseName', subject)
  if (name !== e.name.value)
    d.edit(e.name.at, `${b.name?.value ?? id}, ${e.target.value} by its (${list(columns)})`, name, {
      facet: 'reference.inverseName',
      subject,
      value: e.name.value,
    })
  if (now?.to.leadsTo === e.leadsTo.value) return
  const r = d.w.relations.get(child)
  const rules = there
    ? [...linesOf(there, 'unique').map((u) => u.columns.value), ...linesOf(there, 'key').flatMap((k) => (k.key ? [k.key.columns.value] : []))]
    : []
  const rule = (r && uniqueOver(r, columns)?.columns) ?? rules.find((u) => u.every((c) => columns.includes(c)))
  const claimed = d.facet('reference.atMostOne', subject) === true
  if (e.leadsTo.value === 'at most one') {
    if (!rule && !claimed) d.edit(e.leadsTo.at, of, 'any number', { facet: 'reference.atMostOne', subject, value: true })
  } else if (rule)
    d.w.complain({ code: 'contradicts', at: e.leadsTo.at, what: `${of} leads to any number`, but: `no two rows of ${child} have the same ${list(rule)}` })
  else if (claimed) d.edit(e.leadsTo.at, of, 'at most one', { facet: 'reference.atMostOne', subject, value: null })
}

// ---- many-to-many

function throughEnd(d: Differ, b: EntityBlock, e: EndLine, table: string, columns: readonly string[]): void {
  const facet = d.w.isFirst(table, columns) ? 'join.firstName' : 'join.secondName'
  const now = d.w.joined.get(table)
  const block = d.w.blocks.get(table)
  if (!now?.through && !block)
    return void d.w.complain({
      code: 'contradicts',
      at: e.at,
      what: `${b.name?.value ?? ''}.${e.name.value} goes through ${table}`,
      but: 'that is read as no join table: say so in a block of its own',
    })
  const end = now?.through && (equal(now.through.fromColumns, columns) ? now.from : equal(now.through.toColumns, columns) ? now.to : undefined)
  if (now && !end)
    return void d.w.complain({
      code: 'contradicts',
      at: e.over.columns.at,
      what: `${table} is joined by ${list(columns)}`,
      but: `it joins by ${list(now.through?.fromColumns ?? [])} and ${list(now.through?.toColumns ?? [])}`,
    })
  const name = end?.property ?? d.facet(facet, table)
  if (name !== e.name.value) d.edit(e.name.at, `${b.name?.value ?? ''} through ${table}`, name, { facet, subject: table, value: e.name.value })
}

/** Whether a table hides, is an entity, or is one with a way past it. `isEntity`: it is one now. */
export function throughReading(d: Differ, id: string, b: EntityBlock, isEntity: boolean): void {
  const subjects = d.w.halvesOf(id).map((h) => d.w.subjectOf(id, h.columns, h.target))
  const [first, second] = subjects
  const now = d.facet('join.reading', id)
  const put = (value: NonNullable<typeof now>, after: string) =>
    d.add(b.at, id, isEntity ? 'an entity' : now ? 'a join table' : null, after, { kind: 'edit', edit: { facet: 'join.reading', subject: id, value } })
  if (b.name === null) {
    // Only its columns are said.
    if (subjects.length === 0 && !d.whole && !isEntity) return
    if (first === undefined || second === undefined || subjects.length > 2)
      return void d.w.complain({
        code: 'contradicts',
        at: b.at,
        what: `${id} is a join table`,
        but: `${subjects.length === 0 ? 'no end goes' : subjects.length === 1 ? 'one end goes' : `${subjects.length} ends go`} through two references of its own`,
      })
    if (now?.as !== 'many-to-many' || now.first !== first || now.second !== second) put({ as: 'many-to-many', first, second }, 'a join table')
    return
  }
  if (first !== undefined && second !== undefined) {
    const has = now?.as === 'entity' ? now.shortcut : undefined
    if (has?.first !== first || has.second !== second) put({ as: 'entity', shortcut: { first, second } }, 'an entity with a way past it')
  } else if (!isEntity && now?.as === 'many-to-many') put({ as: 'entity' }, 'an entity')
}
