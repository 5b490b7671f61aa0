// derive(catalog, findings, ledger) → EntityModel: the same inputs give the same model, in the browser and on the server.
import {
  type Catalog,
  type Column,
  columnsText,
  columnText,
  compareAddress,
  compareText,
  type ForeignKey,
  nullableAmong,
  parseAddress,
  type Relation,
  relationText,
  uniqueOver,
} from '../catalog/index.ts'
import { keptWith } from '../memo/memo.ts'
import { camelCase, type Naming, pascalCase, reservedMember, singularEnd, splitWords } from '../names/index.ts'
import { acceptsNullIn, isView, keyOfView, type ViewLineage, viewLineages } from '../views/index.ts'
import { activeEntries } from './active.ts'
import type { FindingId, ReferenceTarget, TypeTarget } from './edit.ts'
import type { Entity, EntityId, EntityModel, JoinHalf, ModelDiagnostic, Property, Relationship, RelationshipState } from './entityModel.ts'
import { type Facets, foldFacets } from './facets.ts'
import { type Finding, findingId } from './finding.ts'
import { groupsOf, groupsSaid } from './groups.ts'
import type { LedgerEntry } from './ledger.ts'
import { foldNaming } from './naming.ts'
import { calledRoutines } from './routines.ts'
import { settingsOf } from './targetSettings.ts'
import { ofTypes, typeNames } from './typeNames.ts'

/** A reference that is in force: both relations exist, with all their columns. */
interface Link {
  readonly id: FindingId
  readonly subject: string
  readonly child: Relation
  readonly parent: Relation
  readonly target: ReferenceTarget
  readonly key: ForeignKey | null
  readonly confidence: number
  readonly state: RelationshipState
}

/**
 * The model that a ledger makes of a catalog and its findings. Deterministic and independent of the order of relations and
 * findings. Rulings on subjects that no longer exist are kept in the ledger and told as diagnostics. O(relations + columns + entries).
 */
export function derive(catalog: Catalog, findings: readonly Finding[], entries: readonly LedgerEntry[]): EntityModel {
  const facets = foldFacets(findings, entries)
  const acceptsNull = acceptsNullIn(catalog)
  const relations = catalog.relations.filter((r) => r.kind !== 'partition').toSorted(compareAddress)
  const byText = new Map(relations.map((r) => [relationText(r), r]))
  const diagnostics: ModelDiagnostic[] = [...outside(relations, byText)]
  const confidence = confidenceOf(findings)
  const links = linksOf(facets, byText, answersOf(findings), diagnostics)
  const linkBySubject = new Map(links.map((l) => [l.subject, l]))
  const hidden = new Map<string, readonly [Link, Link]>()
  const shortcuts = new Map<string, readonly [Link, Link]>()
  for (const subject of [...facets.subjects('join.reading')].sort(compareText)) {
    const reading = facets.get('join.reading', subject)
    const halves = reading?.as === 'many-to-many' ? reading : reading?.shortcut
    if (!halves) continue
    if (!byText.has(subject)) {
      diagnostics.push({ code: 'subject-gone', subject, facet: 'join.reading' })
      continue
    }
    const first = linkBySubject.get(halves.first)
    const second = linkBySubject.get(halves.second)
    if (first && second) (reading?.as === 'entity' ? shortcuts : hidden).set(subject, [first, second])
    else diagnostics.push({ code: 'join-broken', table: subject as EntityId, missing: first ? halves.second : halves.first })
  }
  // A join table that something refers to cannot hide.
  for (const l of links)
    if (!isView(l.child) && hidden.delete(relationText(l.parent)))
      diagnostics.push({ code: 'join-broken', table: relationText(l.parent) as EntityId, missing: l.subject })

  const names = new Scopes(diagnostics)
  const lineages = viewLineages(catalog)
  const reading: Reading = { facets, said: ofColumns(facets), names, acceptsNull }
  const entities = relations.filter((r) => !hidden.has(relationText(r))).map((r) => entityValue(r, reading, lineages.get(relationText(r))))
  // A view may give the key of a join table that hides: there is no class it could lead to.
  const seen = links.filter((l) => !hidden.has(relationText(l.child)) && !hidden.has(relationText(l.parent)))
  const writers = writersOf(seen)
  const naming = foldNaming(entries)
  const active = activeEntries(entries)
  const whole: Whole = { facets, names, acceptsNull, writers, lineages, diagnostics, naming }
  const plain = seen.map((l) => direct(l, whole))
  const many = [...hidden, ...shortcuts].map(([subject, [first, second]]) =>
    manyToMany(subject, first, second, facets, names, confidence, shortcuts.has(subject)),
  )
  const relationships = [...plain, ...many].toSorted((a, b) => compareText(a.id, b.id))
  const ownNames = ofTypes(facets, 'type.name', (wanted) => names.claim('', wanted))
  const groups = groupsOf(groupsSaid(facets), entities, (wanted) => names.claim('', wanted))
  const types = typeNames(catalog, [...entities.map((e) => e.name), ...Object.values(ownNames), ...groups.map((g) => g.typeName)])
  return {
    dialect: catalog.dialect,
    entities,
    ...types,
    groups,
    relationships,
    typeTargets: ofTypes(facets, 'type.target', (t) => t as TypeTarget),
    typeNames: ownNames,
    fileCase: naming.fileCase,
    joinHalves: [...hidden].flatMap(([subject, halves]) => halves.map((l) => half(subject, l, facets))),
    routines: calledRoutines(catalog),
    settings: settingsOf(active),
    kept: active.flatMap((e) => (e.kind === 'pin' ? [{ name: e.name, path: e.path }] : [])),
    diagnostics,
  }
}

function outside(relations: readonly Relation[], byText: ReadonlyMap<string, Relation>): readonly ModelDiagnostic[] {
  return relations.flatMap((r) =>
    r.foreignKeys.flatMap((k): ModelDiagnostic[] => {
      const target = relationText({ schema: k.target.schema, name: k.target.table })
      return byText.has(target) ? [] : [{ code: 'outside', relation: relationText(r) as EntityId, constraint: k.name, target }]
    }),
  )
}

const hasColumns = (r: Relation, columns: readonly string[]) => columns.every((name) => r.columns.some((c) => c.name === name))

/** Does it say the same, under whatever name? A ruling may be older than the constraint. */
const declares = (k: ForeignKey, t: ReferenceTarget) =>
  k.target.schema === t.schema &&
  k.target.table === t.table &&
  k.columns.join('\n') === t.columns.join('\n') &&
  k.target.columns.join('\n') === t.targetColumns.join('\n')

/** By its name, where it has one: SQLite's constraints mostly have none. */
function declaredBy(child: Relation, t: ReferenceTarget): ForeignKey | null {
  if (child.foreignKeys.length === 0) return null
  const alike = child.foreignKeys.filter((k) => declares(k, t))
  const named = (k: ForeignKey) => k.name === t.constraint
  return alike.find(named) ?? (t.constraint ? child.foreignKeys.find(named) : undefined) ?? alike[0] ?? null
}

function linksOf(facets: Facets, byText: ReadonlyMap<string, Relation>, answers: ReadonlyMap<string, number>, diagnostics: ModelDiagnostic[]): readonly Link[] {
  return [...facets.subjects('reference.target')].sort(compareText).flatMap((subject): Link[] => {
    const target = facets.get('reference.target', subject)
    if (target === null || target === undefined) return []
    const child = byText.get(subject.slice(0, subject.indexOf('('))) ?? relationOf(subject.split('>')[0] as string, byText)
    const targetText = relationText({ schema: target.schema, name: target.table })
    const parent = byText.get(targetText)
    if (!child || !hasColumns(child, target.columns)) {
      diagnostics.push({ code: 'subject-gone', subject, facet: 'reference.target' })
      return []
    }
    if (!parent || !hasColumns(parent, target.targetColumns)) {
      diagnostics.push({ code: 'target-gone', subject, target: targetText })
      return []
    }
    const key = declaredBy(child, target)
    const id = findingId('reference', subject)
    return [
      {
        id,
        subject,
        child,
        parent,
        target,
        key,
        confidence: answers.get(answerKey(subject, target)) ?? 1,
        state: stateOf(key, facets.ruled('reference.target', subject), isView(child)),
      },
    ]
  })
}

/** The slow way: of a name that has a bracket itself. */
function relationOf(subject: string, byText: ReadonlyMap<string, Relation>): Relation | undefined {
  const address = parseAddress(subject)
  return address ? byText.get(relationText(address)) : undefined
}

const answerKey = (subject: string, t: ReferenceTarget) => `${subject} ${columnsText({ schema: t.schema, name: t.table }, t.targetColumns)}`

const confidenceOf = keptWith((findings: readonly Finding[]) => new Map<string, number>(findings.map((f) => [f.id, f.alternatives[0].confidence])))

/** How sure each answer to each question about columns is. */
const answersOf = keptWith((findings: readonly Finding[]): ReadonlyMap<string, number> => {
  const found = new Map<string, number>()
  for (const f of findings)
    if (f.kind === 'reference')
      for (const a of f.alternatives)
        for (const e of a.edits) if (e.facet === 'reference.target' && e.value) found.set(answerKey(e.subject, e.value), a.confidence)
  return found
})

function stateOf(key: ForeignKey | null, ruled: boolean, ofView: boolean): RelationshipState {
  if (key) return key.validated && key.enforced ? 'enforced' : 'declared'
  // Nothing enforces what a view refers to; it follows from the tables it reads.
  return ruled || ofView ? 'model' : 'guessed'
}

/** Names within one class, and class names: a clash that rulings made is resolved by the next free number and told. */
class Scopes {
  private readonly used = new Map<string, Set<string>>()
  constructor(private readonly diagnostics: ModelDiagnostic[]) {}

  claim(scope: string, wanted: string): string {
    const taken = this.used.get(scope) ?? new Set<string>()
    this.used.set(scope, taken)
    let got = wanted
    // A table may be called what no member can be: an answer that was not the proposal takes its name from there.
    for (let n = 2; taken.has(got.toLowerCase()) || (scope !== '' && reservedMember(got)); n += 1) got = `${wanted}${n}`
    taken.add(got.toLowerCase())
    if (got !== wanted) this.diagnostics.push({ code: 'name-taken', entity: scope as EntityId, wanted, got })
    return got
  }
}

const written = (c: Column): Property['written'] =>
  c.generated !== null || c.identity?.generation === 'always' ? 'never' : c.default !== null || c.identity !== null ? 'has default' : 'always'

const setText = (columns: readonly string[]) => (columns.length === 1 ? (columns[0] as string) : columns.toSorted().join('\n'))

/** Indexes that find rows by equal values of their columns. */
const ordinary: ReadonlySet<string> = new Set(['btree', 'hash'])

/** Unique rules over plain columns, whatever says them, each once; and what other indexes of all rows begin with. */
function rulesOf(r: Relation): Pick<Entity, 'uniques' | 'indexed'> {
  const seen = new Set(r.primaryKey ? [setText(r.primaryKey.columns)] : [])
  const uniques: { readonly name: string; readonly columns: readonly string[] }[] = []
  const firsts = new Set<string>()
  const add = (name: string, columns: readonly string[]) => {
    const set = setText(columns)
    if (!seen.has(set)) uniques.push({ name, columns })
    seen.add(set)
  }
  for (const u of r.uniques) add(u.name, u.columns)
  for (const x of r.indexes) {
    const first = x.columns[0]?.column
    if (!x.valid || x.predicate !== null || first === null || first === undefined || !ordinary.has(x.method)) continue
    if (!x.unique) firsts.add(first)
    else if (x.columns.every((c) => c.column !== null))
      add(
        x.name,
        x.columns.map((c) => c.column as string),
      )
  }
  return { uniques, indexed: [...firsts].filter((c) => !seen.has(c)) }
}

/** What is said of a column; facets that nothing is said by are not looked for at each. */
function ofColumns(facets: Facets) {
  const used = new Set((['column.values', 'column.flag', 'column.role', 'json.schema', 'type.target'] as const).filter((f) => facets.subjects(f).size > 0))
  type ColumnFacet = typeof used extends Set<infer F> ? F : never
  return <F extends ColumnFacet>(facet: F, subject: string) => (used.has(facet) ? (facets.get(facet, subject) ?? null) : null)
}

interface Reading {
  readonly facets: Facets
  readonly said: ReturnType<typeof ofColumns>
  readonly names: Scopes
  readonly acceptsNull: (c: Column) => boolean
}

function entityValue(r: Relation, { facets, said, names, acceptsNull }: Reading, lineage: ViewLineage | undefined): Entity {
  const subject = relationText(r)
  const id = subject as EntityId
  const properties = r.columns.map((c): Property => {
    const own = columnText(subject, c.name)
    const wanted = facets.get('property.name', own) ?? camelCase(splitWords(c.name))
    return {
      name: names.claim(id, wanted),
      column: c.name,
      type: c.type,
      nullable: acceptsNull(c),
      written: written(c),
      values: said('column.values', own),
      flag: said('column.flag', own),
      role: said('column.role', own),
      shape: said('json.schema', own),
      target: said('type.target', own),
      comment: c.comment,
    }
  })
  const key = r.primaryKey
  const keyColumns = key ? r.columns.filter((c) => key.columns.includes(c.name)) : []
  return {
    id,
    name: names.claim('', facets.get('entity.name', subject) ?? pascalCase(splitWords(r.name))),
    relation: { schema: r.schema, name: r.name },
    kind: r.kind,
    properties,
    identity: key
      ? { kind: 'primary key', columns: key.columns, generated: keyColumns.some((c) => c.identity !== null || c.default !== null) }
      : lineage?.key.columns
        ? { kind: 'view key', columns: lineage.key.columns }
        : { kind: 'none' },
    ...rulesOf(r),
    readOnly: isView(r) || key === null,
    comment: r.comment,
  }
}

const quoted = (names: readonly string[]) => names.join(', ')

const columnKey = (l: Link, column: string) => `${relationText(l.child)}\n${column}`

/**
 * Which relationship writes each column. Where several hold one, as composite keys of one tenant do, it is the one with the fewest
 * columns, and of those the first by id: the others could not set it without moving to another tenant.
 */
function writersOf(links: readonly Link[]): ReadonlyMap<string, FindingId> {
  const writers = new Map<string, Link>()
  for (const l of links) {
    for (const c of l.target.columns) {
      const before = writers.get(columnKey(l, c))
      const fewer = before ? l.target.columns.length - before.target.columns.length || compareText(l.id, before.id) : -1
      if (fewer < 0) writers.set(columnKey(l, c), l)
    }
  }
  return new Map([...writers].map(([k, l]) => [k, l.id]))
}

function sharedColumns(l: Link, writers: ReadonlyMap<string, FindingId>): Relationship['shared'] {
  return l.target.columns.flatMap((column) => {
    const writtenBy = writers.get(columnKey(l, column))
    return writtenBy === undefined || writtenBy === l.id ? [] : [{ column, writtenBy }]
  })
}

/** What one relationship is read against. */
interface Whole {
  readonly facets: Facets
  readonly names: Scopes
  readonly acceptsNull: (c: Column) => boolean
  readonly writers: ReadonlyMap<string, FindingId>
  readonly lineages: ReadonlyMap<string, ViewLineage>
  readonly diagnostics: ModelDiagnostic[]
  readonly naming: Naming
}

function direct(l: Link, { facets, names, acceptsNull, writers, lineages, diagnostics, naming }: Whole): Relationship {
  const nullable = nullableAmong(l.child, l.target.columns, acceptsNull)
  const rule = uniqueOver(l.child, l.target.columns) ?? viewRule(lineages.get(relationText(l.child)), l.target.columns)
  const claimed = rule === null && facets.get('reference.atMostOne', l.subject) === true
  if (claimed) diagnostics.push({ code: 'claimed-one', relation: relationText(l.child) as EntityId, columns: l.target.columns })
  const one = rule !== null || claimed
  const always = nullable.length > 0 && facets.get('reference.always', l.subject) === true
  if (always) diagnostics.push({ code: 'claimed-always', relation: relationText(l.child) as EntityId, columns: l.target.columns })
  const child = relationText(l.child) as EntityId
  const parent = relationText(l.parent) as EntityId
  const ownName = facets.get('reference.ownName', l.subject) ?? camelCase(splitWords(l.parent.name))
  const proposed = facets.get('reference.inverseName', l.subject) ?? camelCase(splitWords(l.child.name))
  const inverseName = claimed && !facets.ruled('reference.inverseName', l.subject) ? singularEnd(proposed, naming) : proposed
  return {
    id: l.id,
    kind: one ? 'one-to-one' : 'many-to-one',
    state: l.state,
    confidence: l.confidence,
    from: {
      entity: child,
      property: names.claim(child, ownName),
      columns: l.target.columns,
      leadsTo: nullable.length > 0 && !always ? 'at most one' : 'exactly one',
      because: nullable.length > 0 ? `${always ? 'somebody says so; ' : ''}${quoted(nullable)} accepts null` : `${quoted(l.target.columns)} not null`,
    },
    to: {
      entity: parent,
      property: names.claim(parent, inverseName),
      columns: l.target.targetColumns,
      leadsTo: one ? 'at most one' : 'any number',
      because: rule ? `${rule.kind} ${rule.name}` : `${claimed ? 'somebody says so; ' : ''}no unique rule on ${quoted(l.target.columns)}`,
    },
    through: null,
    shared: sharedColumns(l, writers),
    constraint: l.key?.name ?? null,
    onDelete: l.key?.onDelete ?? null,
    onUpdate: l.key?.onUpdate ?? null,
  }
}

function viewRule(lineage: ViewLineage | undefined, columns: readonly string[]): { readonly kind: string; readonly name: string } | null {
  const key = keyOfView(lineage, columns)
  return key && { kind: 'the key of the view,', name: key.join(', ') }
}

const weakest = (a: RelationshipState, b: RelationshipState): RelationshipState => {
  const order: readonly RelationshipState[] = ['guessed', 'model', 'declared', 'enforced']
  return order.indexOf(a) < order.indexOf(b) ? a : b
}

function manyToMany(
  subject: string,
  first: Link,
  second: Link,
  facets: Facets,
  names: Scopes,
  confidence: ReadonlyMap<string, number>,
  shortcut: boolean,
): Relationship {
  const a = relationText(first.parent) as EntityId
  const b = relationText(second.parent) as EntityId
  const because = `rows of ${subject} join them`
  const id = findingId('join-table', subject)
  return {
    id,
    kind: 'many-to-many',
    state: weakest(first.state, second.state),
    confidence: confidence.get(id) ?? 1,
    from: {
      entity: a,
      property: names.claim(a, facets.get('join.firstName', subject) ?? camelCase(splitWords(second.parent.name))),
      columns: first.target.targetColumns,
      leadsTo: 'any number',
      because,
    },
    to: {
      entity: b,
      property: names.claim(b, facets.get('join.secondName', subject) ?? camelCase(splitWords(first.parent.name))),
      columns: second.target.targetColumns,
      leadsTo: 'any number',
      because,
    },
    through: {
      table: { schema: first.child.schema, name: first.child.name },
      fromColumns: first.target.columns,
      toColumns: second.target.columns,
      payload: payloadOf(first, second),
      parts: [first.id, second.id],
      shortcut,
    },
    shared: [],
    constraint: null,
    onDelete: null,
    onUpdate: null,
  }
}

/** Columns of a join table beyond the pair and a generated key of its own: what a many-to-many leaves unmapped. */
function payloadOf(first: Link, second: Link): readonly string[] {
  const pair = new Set([...first.target.columns, ...second.target.columns])
  const key = first.child.primaryKey?.columns ?? []
  return first.child.columns
    .filter((c) => !pair.has(c.name) && !(key.length === 1 && key[0] === c.name && (c.identity !== null || c.default !== null)))
    .map((c) => c.name)
}

function half(subject: string, l: Link, facets: Facets): JoinHalf {
  return {
    id: l.id,
    partOf: findingId('join-table', subject),
    table: { schema: l.child.schema, name: l.child.name },
    columns: l.target.columns,
    target: relationText(l.parent) as EntityId,
    targetColumns: l.target.targetColumns,
    ownName: facets.get('reference.ownName', l.subject) ?? '',
    inverseName: facets.get('reference.inverseName', l.subject) ?? '',
    state: l.state,
    confidence: l.confidence,
  }
}
