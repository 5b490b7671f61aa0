// References that are in force, and the join tables that two of them make.
import { compareText, type ForeignKey, parseAddress, type Relation, relationText } from '../../catalog/index.ts'
import { isView } from '../../views/index.ts'
import type { FindingId, ReferenceTarget } from '../edit.ts'
import type { EntityId, ModelDiagnostic, RelationshipState } from '../entityModel.ts'
import type { Facets } from '../facets.ts'
import { findingId } from '../finding.ts'
import { answerKey, type Ground, subjectsWith } from './ground.ts'
import type { Touched } from './touched.ts'

/** A reference that is in force: both relations exist, with all their columns. */
export interface Link {
  readonly id: FindingId
  readonly subject: string
  readonly child: Relation
  readonly parent: Relation
  /** Their addresses, which are the ids of their classes. */
  readonly from: EntityId
  readonly to: EntityId
  readonly target: ReferenceTarget
  readonly key: ForeignKey | null
  readonly confidence: number
  readonly state: RelationshipState
}

/** What became of a subject; neither where it refers to nothing. */
interface LinkRead {
  readonly link: Link | null
  readonly problem: ModelDiagnostic | null
}

export interface Links {
  /** By subject, in their order. Taken over and changed by the next reading. */
  readonly reads: Map<string, LinkRead>
  readonly list: readonly Link[]
  readonly problems: readonly ModelDiagnostic[]
  /** What was in force before, and is now, of each subject that was read anew. */
  readonly changes: readonly { readonly was: Link | null; readonly is: Link | null }[]
}

/** `before`: what was read when all but `touched` was said already. */
export function readLinks(ground: Ground, facets: Facets, before: Links | null, touched: Touched): Links {
  const anew = touched.of('reference.target')
  if (before && anew.size === 0) return before
  const reads = before?.reads ?? new Map<string, LinkRead>()
  const known = before !== null && [...anew].every((subject) => reads.has(subject))
  const subjects = known ? [...anew] : subjectsWith(ground.references, facets.said('reference.target'))
  const changes: Links['changes'][number][] = []
  let toldAnew = before === null
  for (const subject of subjects) {
    const was = reads.get(subject)
    if (was && !anew.has(subject)) continue
    const is = readLink(subject, ground, facets)
    reads.set(subject, is)
    toldAnew ||= was?.problem !== is.problem
    changes.push({ was: was?.link ?? null, is: is.link })
  }
  const list = before ? amended(before.list, changes) : subjects.flatMap((s) => reads.get(s)?.link ?? [])
  const problems = toldAnew ? [...reads].sort(([a], [b]) => compareText(a, b)).flatMap(([, r]) => r.problem ?? []) : (before?.problems ?? [])
  return { reads, list, problems, changes }
}

/** In the order of their subjects, as before. */
function amended(list: readonly Link[], changes: Links['changes']): readonly Link[] {
  const instead = new Map(changes.flatMap(({ was, is }) => (was ? [[was, is] as const] : [])))
  const kept = instead.size === 0 ? list : list.flatMap((l) => (instead.has(l) ? (instead.get(l) ?? []) : l))
  const more = changes.flatMap(({ was, is }) => (was === null && is ? [is] : []))
  return more.length === 0 ? kept : [...kept, ...more].sort((a, b) => compareText(a.subject, b.subject))
}

const nothing: LinkRead = { link: null, problem: null }

function readLink(subject: string, { byText, answers }: Ground, facets: Facets): LinkRead {
  const target = facets.get('reference.target', subject)
  if (target === null || target === undefined) return nothing
  const child = byText.get(subject.slice(0, subject.indexOf('('))) ?? relationOf(subject.split('>')[0] as string, byText)
  const to = relationText({ schema: target.schema, name: target.table })
  const parent = byText.get(to)
  if (!child || !hasColumns(child, target.columns)) return { link: null, problem: { code: 'subject-gone', subject, facet: 'reference.target' } }
  if (!parent || !hasColumns(parent, target.targetColumns)) return { link: null, problem: { code: 'target-gone', subject, target: to } }
  const key = declaredBy(child, target)
  const link: Link = {
    id: findingId('reference', subject),
    subject,
    child,
    parent,
    from: relationText(child) as EntityId,
    to: to as EntityId,
    target,
    key,
    confidence: answers.get(answerKey(subject, target)) ?? 1,
    state: stateOf(key, facets.ruled('reference.target', subject), isView(child)),
  }
  return { link, problem: null }
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

/** The slow way: of a name that has a bracket itself. */
function relationOf(subject: string, byText: ReadonlyMap<string, Relation>): Relation | undefined {
  const address = parseAddress(subject)
  return address ? byText.get(relationText(address)) : undefined
}

function stateOf(key: ForeignKey | null, ruled: boolean, ofView: boolean): RelationshipState {
  if (key) return key.validated && key.enforced ? 'enforced' : 'declared'
  // Nothing enforces what a view refers to; it follows from the tables it reads.
  return ruled || ofView ? 'model' : 'guessed'
}

/** The two references that a join table is read as joining. */
export type Halves = readonly [Link, Link]

export interface Joins {
  /** Join tables without a class of their own. */
  readonly hidden: ReadonlyMap<string, Halves>
  /** Those that have one as well. */
  readonly shortcuts: ReadonlyMap<string, Halves>
  readonly problems: readonly ModelDiagnostic[]
}

/** The maps are those of `before` where they say the same. */
export function readJoins(
  ground: Ground,
  facets: Facets,
  links: Links,
  before: { readonly joins: Joins; readonly links: Links } | null,
  touched: Touched,
): Joins {
  if (before && before.links === links && touched.of('join.reading').size === 0) return before.joins
  const hidden = new Map<string, Halves>()
  const shortcuts = new Map<string, Halves>()
  const problems: ModelDiagnostic[] = []
  for (const subject of subjectsWith(ground.joins, facets.said('join.reading'))) {
    const reading = facets.get('join.reading', subject)
    const halves = reading?.as === 'many-to-many' ? reading : reading?.shortcut
    if (!halves) continue
    if (!ground.byText.has(subject)) {
      problems.push({ code: 'subject-gone', subject, facet: 'join.reading' })
      continue
    }
    const first = links.reads.get(halves.first)?.link
    const second = links.reads.get(halves.second)?.link
    const kind = reading?.as === 'entity' ? 'shortcuts' : 'hidden'
    const was = before?.joins[kind].get(subject)
    if (first && second) (kind === 'hidden' ? hidden : shortcuts).set(subject, was?.[0] === first && was[1] === second ? was : [first, second])
    else problems.push({ code: 'join-broken', table: subject as EntityId, missing: first ? halves.second : halves.first })
  }
  problems.push(...broken(hidden, links.list))
  return { hidden: sameAs(before?.joins.hidden, hidden), shortcuts: sameAs(before?.joins.shortcuts, shortcuts), problems }
}

/** A join table that something refers to cannot hide. */
function broken(hidden: Map<string, Halves>, links: readonly Link[]): readonly ModelDiagnostic[] {
  if (hidden.size === 0) return []
  return links.flatMap((l) => (!isView(l.child) && hidden.delete(l.to) ? [{ code: 'join-broken', table: l.to, missing: l.subject }] : []))
}

function sameAs(before: ReadonlyMap<string, Halves> | undefined, now: ReadonlyMap<string, Halves>): ReadonlyMap<string, Halves> {
  if (before?.size !== now.size) return now
  for (const [subject, halves] of now) if (before.get(subject) !== halves) return now
  return before
}
