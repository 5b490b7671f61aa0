// Relationships with two ends: what each leads to, what the database writes by it, and what both are called.
import { compareText, nullableAmong, uniqueOver } from '../../catalog/index.ts'
import { camelCase, type Naming, singularEnd, splitWords } from '../../names/index.ts'
import { keyOfView, type ViewLineage } from '../../views/index.ts'
import type { Facet, FindingId } from '../edit.ts'
import type { EntityId, JoinHalf, ModelDiagnostic, Relationship, RelationshipState } from '../entityModel.ts'
import type { Facets } from '../facets.ts'
import { findingId } from '../finding.ts'
import type { Classes } from './classes.ts'
import type { Ground } from './ground.ts'
import type { Halves, Joins, Link, Links } from './links.ts'
import { Scope } from './scope.ts'
import type { Touched } from './touched.ts'

/** What is read of a relationship before it is known how the classes at its ends call it. */
interface Draft {
  /** Names that its two ends ask for. */
  readonly own: string
  readonly inverse: string
  readonly value: (own: string, inverse: string, shared: Relationship['shared']) => Relationship
  readonly problems: readonly ModelDiagnostic[]
}

interface Named {
  readonly got: string
  readonly problems: readonly ModelDiagnostic[]
}

interface EndRead {
  readonly draft: Draft
  readonly own: Named
  readonly inverse: Named
  readonly relationship: Relationship
  readonly problems: readonly ModelDiagnostic[]
}

export interface Ends {
  /** References that both have a class at their end, and what each is read as. */
  readonly seen: readonly Link[]
  readonly plain: readonly EndRead[]
  /** Also of what is not in force now. Taken over and changed by the next reading. */
  readonly reads: WeakMap<Link | Halves, EndRead>
  /** In order of their ids. */
  readonly relationships: readonly Relationship[]
  readonly problems: readonly ModelDiagnostic[]
}

/** All that ends are read from. */
export interface Standing {
  readonly facets: Facets
  readonly naming: Naming
  readonly links: Links
  readonly joins: Joins
  readonly classes: Classes
}

const ownFacets = ['reference.ownName', 'reference.inverseName', 'reference.atMostOne', 'reference.always'] as const satisfies readonly Facet[]
const pairFacets = ['join.firstName', 'join.secondName'] as const satisfies readonly Facet[]
const subjectsOf = (touched: Touched, facets: readonly Facet[]) => new Set(facets.flatMap((f) => [...touched.of(f)]))

/** `before`: what was read when all but `touched` was said already. A relationship that says the same is the same value. */
export function readEnds(ground: Ground, now: Standing, before: (Ends & Standing) | null, touched: Touched): Ends {
  const { links, joins, classes, facets } = now
  const anew = subjectsOf(touched, ownFacets)
  const pairsAnew = subjectsOf(touched, pairFacets)
  const sameSeen = before !== null && before.links === links && before.joins.hidden === joins.hidden
  if (sameSeen && before.joins.shortcuts === joins.shortcuts && before.classes === classes && anew.size === 0 && pairsAnew.size === 0) return before
  // A view may give the key of a join table that hides: there is no class it could lead to.
  const seen = sameSeen ? before.seen : links.list.filter((l) => !joins.hidden.has(l.from) && !joins.hidden.has(l.to))
  const again = before === null ? null : changedScopes(now, before, anew, pairsAnew)
  const isAgain = (id: EntityId) => again === null || again.has(id)
  const scopes = new Map<EntityId, Scope>()
  const named = (id: EntityId, wanted: string, kept: Named | undefined): Named => {
    if (kept && !isAgain(id)) return kept
    const scope = scopes.get(id) ?? new Scope(id, classes.reads.get(id)?.scope)
    scopes.set(id, scope)
    return { got: scope.claim(wanted), problems: scope.told() }
  }
  const reads = before?.reads ?? new WeakMap<Link | Halves, EndRead>()
  const read = (of: Link | Halves, from: EntityId, to: EntityId, draftOf: () => Draft, sharedOf: () => Relationship['shared']): EndRead => {
    const was = reads.get(of)
    const draft = was?.draft ?? draftOf()
    const own = named(from, draft.own, was?.own)
    const inverse = named(to, draft.inverse, was?.inverse)
    const shared = was && !isAgain(from) ? was.relationship.shared : sharedOf()
    const alike = was && was.own.got === own.got && was.inverse.got === inverse.got && sameShared(was.relationship.shared, shared)
    const relationship = alike ? was.relationship : draft.value(own.got, inverse.got, shared)
    const is: EndRead = { draft, own, inverse, relationship, problems: [draft, own, inverse].flatMap((x) => x.problems) }
    reads.set(of, is)
    return is
  }
  // Also of what has no class at its end now: it may get one again.
  for (const subject of anew) forget(reads, links.reads.get(subject)?.link)
  const pairs = [...joins.hidden, ...joins.shortcuts].sort(([a], [b]) => compareText(a, b))
  for (const [subject, halves] of pairs) if (pairsAnew.has(subject)) forget(reads, halves)
  const dirty = again === null ? seen : seen.filter((l) => again.has(l.from) || again.has(l.to))
  const writers = writersOf(dirty)
  const anewOf = new Map<Link, EndRead>()
  const readOf = (l: Link) =>
    read(
      l,
      l.from,
      l.to,
      () => draftOfLink(l, ground, now),
      () => sharedColumns(l, writers),
    )
  for (const l of dirty) anewOf.set(l, readOf(l))
  const [had, were] = [before?.seen ?? [], before?.plain ?? []]
  let at = 0
  const plain = seen.map((l): EndRead => {
    const is = anewOf.get(l)
    if (is) return is
    // Those that stay keep their order.
    while (at < had.length && had[at] !== l) at += 1
    return were[at] ?? readOf(l)
  })
  // Names of classes that several claim go to references first, whichever way the join tables came about.
  const many = pairs.map(([subject, halves]) => {
    const [{ to: a }, { to: b }] = halves
    const known = reads.get(halves)
    if (known && !isAgain(a) && !isAgain(b)) return known
    const id = findingId('join-table', subject)
    const shortcut = joins.shortcuts.has(subject)
    return read(
      halves,
      a,
      b,
      () => draftOfPair(id, subject, halves, facets, ground.confidence, shortcut),
      () => [],
    )
  })
  // Ids begin with what they are of: those of join tables come first, and each kind is in order already.
  const all = [...many, ...plain]
  return { seen, plain, reads, relationships: all.map((r) => r.relationship), problems: all.flatMap((r) => r.problems) }
}

function forget(reads: WeakMap<Link | Halves, EndRead>, of: Link | Halves | null | undefined): void {
  if (of) reads.delete(of)
}

const sameShared = (a: Relationship['shared'], b: Relationship['shared']) =>
  a === b || (a.length === b.length && a.every((x, i) => x.column === b[i]?.column && x.writtenBy === b[i]?.writtenBy))

/** Classes whose names have to be given out again: what claims one there is other than it was. */
function changedScopes(now: Standing, before: Standing, anew: ReadonlySet<string>, pairsAnew: ReadonlySet<string>): ReadonlySet<EntityId> {
  const changed = new Set<EntityId>()
  const add = (l: Link | null | undefined) => {
    if (l) changed.add(l.from).add(l.to)
  }
  if (now.links !== before.links)
    for (const { was, is } of now.links.changes) {
      add(was)
      add(is)
    }
  for (const subject of anew) add(now.links.reads.get(subject)?.link)
  const pairOf = (j: Joins, subject: string) => j.hidden.get(subject) ?? j.shortcuts.get(subject)
  const joined = new Set([now.joins, before.joins].flatMap((j) => [...j.hidden.keys(), ...j.shortcuts.keys()]))
  const hides = new Set<string>()
  for (const subject of joined) {
    if (now.joins.hidden.has(subject) !== before.joins.hidden.has(subject)) hides.add(subject)
    const [was, is] = [pairOf(before.joins, subject), pairOf(now.joins, subject)]
    if (was !== is || pairsAnew.has(subject) || hides.has(subject)) for (const l of [...(was ?? []), ...(is ?? [])]) changed.add(l.to)
  }
  if (hides.size > 0) for (const l of now.links.list) if (hides.has(l.from) || hides.has(l.to)) add(l)
  if (now.classes !== before.classes)
    for (const [id, read] of now.classes.reads) if (before.classes.reads.get(id)?.scope !== read.scope) changed.add(id as EntityId)
  return changed
}

const quoted = (names: readonly string[]) => names.join(', ')

const columnKey = (l: Link, column: string) => `${l.from}\n${column}`

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

function draftOfLink(l: Link, { acceptsNull, lineages }: Ground, { facets, naming }: Standing): Draft {
  const problems: ModelDiagnostic[] = []
  const nullable = nullableAmong(l.child, l.target.columns, acceptsNull)
  const rule = uniqueOver(l.child, l.target.columns) ?? viewRule(lineages.get(l.from), l.target.columns)
  const claimed = rule === null && facets.get('reference.atMostOne', l.subject) === true
  if (claimed) problems.push({ code: 'claimed-one', relation: l.from, columns: l.target.columns })
  const one = rule !== null || claimed
  const always = nullable.length > 0 && facets.get('reference.always', l.subject) === true
  if (always) problems.push({ code: 'claimed-always', relation: l.from, columns: l.target.columns })
  const own = facets.get('reference.ownName', l.subject) ?? camelCase(splitWords(l.parent.name))
  const proposed = facets.get('reference.inverseName', l.subject) ?? camelCase(splitWords(l.child.name))
  const inverse = claimed && !facets.ruled('reference.inverseName', l.subject) ? singularEnd(proposed, naming) : proposed
  const value: Draft['value'] = (ownName, inverseName, shared) => ({
    id: l.id,
    kind: one ? 'one-to-one' : 'many-to-one',
    state: l.state,
    confidence: l.confidence,
    from: {
      entity: l.from,
      property: ownName,
      columns: l.target.columns,
      leadsTo: nullable.length > 0 && !always ? 'at most one' : 'exactly one',
      because: nullable.length > 0 ? `${always ? 'somebody says so; ' : ''}${quoted(nullable)} accepts null` : `${quoted(l.target.columns)} not null`,
      claimed: always,
    },
    to: {
      entity: l.to,
      property: inverseName,
      columns: l.target.targetColumns,
      leadsTo: one ? 'at most one' : 'any number',
      because: rule ? `${rule.kind} ${rule.name}` : `${claimed ? 'somebody says so; ' : ''}no unique rule on ${quoted(l.target.columns)}`,
      claimed,
    },
    through: null,
    shared,
    constraint: l.key?.name ?? null,
    onDelete: l.key?.onDelete ?? null,
    onUpdate: l.key?.onUpdate ?? null,
  })
  return { own, inverse, value, problems }
}

function viewRule(lineage: ViewLineage | undefined, columns: readonly string[]): { readonly kind: string; readonly name: string } | null {
  const key = keyOfView(lineage, columns)
  return key && { kind: 'the key of the view,', name: key.join(', ') }
}

const weakest = (a: RelationshipState, b: RelationshipState): RelationshipState => {
  const order: readonly RelationshipState[] = ['guessed', 'model', 'declared', 'enforced']
  return order.indexOf(a) < order.indexOf(b) ? a : b
}

function draftOfPair(
  id: FindingId,
  subject: string,
  [first, second]: Halves,
  facets: Facets,
  confidence: ReadonlyMap<string, number>,
  shortcut: boolean,
): Draft {
  const because = `rows of ${subject} join them`
  const value: Draft['value'] = (ownName, inverseName) => ({
    id,
    kind: 'many-to-many',
    state: weakest(first.state, second.state),
    confidence: confidence.get(id) ?? 1,
    from: {
      entity: first.to,
      property: ownName,
      columns: first.target.targetColumns,
      leadsTo: 'any number',
      because,
      claimed: false,
    },
    to: {
      entity: second.to,
      property: inverseName,
      columns: second.target.targetColumns,
      leadsTo: 'any number',
      because,
      claimed: false,
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
  })
  return {
    own: facets.get('join.firstName', subject) ?? camelCase(splitWords(second.parent.name)),
    inverse: facets.get('join.secondName', subject) ?? camelCase(splitWords(first.parent.name)),
    value,
    problems: [],
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

/** A reference that a hidden join table is half of. */
export function halfOf(subject: string, l: Link, facets: Facets): JoinHalf {
  return {
    id: l.id,
    partOf: findingId('join-table', subject),
    table: { schema: l.child.schema, name: l.child.name },
    columns: l.target.columns,
    target: l.to,
    targetColumns: l.target.targetColumns,
    ownName: facets.get('reference.ownName', l.subject) ?? '',
    inverseName: facets.get('reference.inverseName', l.subject) ?? '',
    state: l.state,
    confidence: l.confidence,
  }
}
