// Names for everything the findings propose, unique within their class, the same whatever the order of tables.
import { columnsText, columnText, type Relation, relationText, uniqueOver } from '../catalog/index.ts'
import { remembered } from '../memo/memo.ts'
import {
  assignNames,
  type EndNaming,
  inverseEndCandidates,
  manyEndCandidates,
  type NameRequest,
  ownEndCandidates,
  reservedMember,
  roleWords,
  singularWord,
  splitWords,
} from '../names/index.ts'
import { keyOfView, viewLineages } from '../views/index.ts'
import { classNames } from './classNames.ts'
import { type Context, type Reference, spelledIn } from './context.ts'
import type { JoinTable } from './joinShape.ts'
import { keyWords } from './undeclared/words.ts'

/** All keyed by subject. */
export interface Names {
  readonly entity: ReadonlyMap<string, string>
  readonly property: ReadonlyMap<string, string>
  readonly own: ReadonlyMap<string, string>
  readonly inverse: ReadonlyMap<string, string>
  readonly joinFirst: ReadonlyMap<string, string>
  readonly joinSecond: ReadonlyMap<string, string>
  /** Both ends of join tables with columns of their own, should they be hidden all the same. */
  readonly hidden: ReadonlyMap<string, readonly [string, string]>
}

/** What the class is called, in words: with what tells it from another one that would be called alike. */
function wordsOf(x: Context, r: { readonly schema: string; readonly name: string }): readonly string[] {
  const at = relationText(r)
  const words = x.words.get(at) ?? splitWords(r.name)
  const name = classNames(x).names.get(at)
  return name === undefined || name === x.naming.className(words) ? words : splitWords(name)
}

/** An identifier with its words set apart, also where nothing but the schema's own words tells them: crateid → crate_id. */
const apart = (x: Context, identifier: string) => spelledIn(x, identifier).join('_')

/** The same without what most columns of its table begin with, which says nothing about a role: post_author of posts → author. */
const roleText = (x: Context, r: Relation, column: string) => {
  const rest = x.ground.lexicon.tables.get(relationText(r))?.bare.get(column) ?? []
  // What begins with a digit, or with a letter that stands alone, was cut within a word.
  const bare = /^(\p{N}|\p{L}$)/u.test(rest[0] ?? '') ? [] : rest
  return x.naming.read(bare).join('_') || apart(x, column)
}

/** What all columns of the table referred to begin with stands for that table, and is no role: gc_id, where the columns of clients are gc_…. */
function withoutPrefix(x: Context, parent: Relation, text: string): string {
  const prefix = x.ground.lexicon.tables.get(relationText(parent))?.prefix
  if (!prefix || !text.startsWith(prefix)) return text
  const rest = text.slice(prefix.length).replace(/^_/, '')
  return keyWords.has(rest) ? rest : text
}

const pairText = (a: Relation, b: Relation) => `${relationText(a)} ${relationText(b)}`

/** How many relationships lead from one relation to another, join tables counted in both directions. */
function countPairs(x: Context, joins: readonly JoinTable[]): (child: Relation, parent: Relation) => number {
  const counts = new Map<string, number>()
  const add = (a: Relation, b: Relation) => counts.set(pairText(a, b), (counts.get(pairText(a, b)) ?? 0) + 1)
  for (const r of x.references) add(r.child, r.parent)
  for (const j of joins) {
    add(j.first.parent, j.second.parent)
    add(j.second.parent, j.first.parent)
  }
  return (child, parent) => counts.get(pairText(child, parent)) ?? 0
}

type Ends = Pick<Reference, 'child' | 'parent' | 'columns' | 'targetColumns'>

function endNaming(x: Context, pairs: ReturnType<typeof countPairs>, r: Ends): EndNaming {
  return {
    child: wordsOf(x, r.child),
    parent: wordsOf(x, r.parent),
    pairs: r.columns.map((column, i) => ({
      column: withoutPrefix(x, r.parent, roleText(x, r.child, column)),
      target: roleText(x, r.parent, r.targetColumns[i] ?? ''),
    })),
    oneToOne: uniqueOver(r.child, r.columns) !== null || keyOfView(viewLineages(x.catalog).get(relationText(r.child)), r.columns) !== null,
    self: r.child === r.parent,
    several: pairs(r.child, r.parent) > 1,
  }
}

/** Names for both ends of a reference that does not take part, `[own, inverse]`: the first candidates, clashes aside. */
export function plainEndNames(x: Context, r: Ends): readonly [string, string] {
  const n = endNaming(x, () => 1, r)
  return [ownEndCandidates(n, x.naming)[0] ?? '_', inverseEndCandidates(n, x.naming)[0] ?? '_']
}

interface Pending extends NameRequest {
  readonly into: Map<string, string>
  readonly subject: string
}

/**
 * Columns are named first, then the ends that hold columns, then the inverse ends, then the ends of many-to-many: who comes
 * first keeps the plain name. A column that is called what it refers to (`strain` refers to strain) makes room: `strainCode`.
 */
export function nameEverything(x: Context, joins: readonly JoinTable[]): Names {
  const names = {
    property: new Map<string, string>(),
    own: new Map<string, string>(),
    inverse: new Map<string, string>(),
    joinFirst: new Map<string, string>(),
    joinSecond: new Map<string, string>(),
  }
  const { naming } = x
  const pairs = countPairs(x, joins)
  const ends = x.references.map((r) => ({ r, n: endNaming(x, pairs, r) }))
  const ownFirst = new Map<string, { name: string; target: string }>()
  for (const { r, n } of ends) {
    const [pair] = n.pairs
    if (n.pairs.length === 1 && pair) ownFirst.set(columnsText(r.child, r.columns), { name: ownEndCandidates(n, naming)[0] as string, target: pair.target })
  }
  const plainly = remembered((column) => {
    const words = spelledIn(x, column)
    return { words, candidates: [naming.propertyName(words), naming.propertyName([...words, 'value'])] as const }
  })
  const columns = x.relations.flatMap((r) => {
    const scope = relationText(r)
    return r.columns.map((c): Pending => {
      const subject = columnText(scope, c.name)
      const { words, candidates } = plainly(c.name)
      const [plain, valued] = candidates
      const end = ownFirst.get(subject)
      const says = splitWords(end?.target ?? '').at(-1) ?? 'key'
      const room = end?.name === plain ? naming.propertyName([...words, says === words.at(-1) ? 'key' : says]) : plain
      return { scope, candidates: room === plain ? candidates : [room, valued], into: names.property, subject }
    })
  })
  const own = ends.map(({ r, n }): Pending => ({ scope: relationText(r.child), candidates: ownEndCandidates(n, naming), into: names.own, subject: r.subject }))
  const inverse = ends.map(
    ({ r, n }): Pending => ({ scope: relationText(r.parent), candidates: inverseEndCandidates(n, naming), into: names.inverse, subject: r.subject }),
  )
  // The inverse ends of a join table's own references exist only where it is read as an entity; they are named after the many-to-many.
  const joinSubjects = new Set(joins.filter((j) => j.payload.length === 0 && j.referredBy.length === 0).flatMap((j) => [j.first.subject, j.second.subject]))
  const directly = new Set(inverse.filter((p) => !joinSubjects.has(p.subject)).map((p) => `${p.scope} ${p.candidates[0]}`))
  const manyOf = (r: Reference) => naming.propertyName(naming.plural(wordsOf(x, r.parent)))
  // Rows that refer directly have the plain name at one of the two.
  const isTaken = (j: JoinTable) =>
    directly.has(`${relationText(j.first.parent)} ${manyOf(j.second)}`) || directly.has(`${relationText(j.second.parent)} ${manyOf(j.first)}`)
  const apartOf = wordsApart(x, joins, isTaken)
  const many = joins.flatMap((j): Pending[] => {
    const subject = relationText(j.relation)
    const self = j.first.parent === j.second.parent
    const candidates = (r: Reference) => {
      const role =
        r.columns.length === 1
          ? roleWords(
              withoutPrefix(x, r.parent, roleText(x, r.child, r.columns[0] ?? '')),
              roleText(x, r.parent, r.targetColumns[0] ?? ''),
              wordsOf(x, r.parent),
            )
          : []
      return manyEndCandidates(wordsOf(x, r.parent), wordsOf(x, j.relation), role, self, apartOf.get(j) ?? [], naming)
    }
    return [
      { scope: relationText(j.first.parent), candidates: candidates(j.second), into: names.joinFirst, subject },
      { scope: relationText(j.second.parent), candidates: candidates(j.first), into: names.joinSecond, subject },
    ]
  })
  const late = inverse.filter((p) => joinSubjects.has(p.subject))
  const all = [...columns, ...own, ...inverse.filter((p) => !joinSubjects.has(p.subject)), ...many, ...late]
  const given = assignNames(all, reservedMember)
  for (const [i, p] of all.entries()) p.into.set(p.subject, given[i] as string)
  return { entity: classNames(x).names, ...names, hidden: hiddenNames(joins, many, all, given) }
}

/** Of several join tables between the same two entities the one that is called after them and little more keeps the plain names; the words that the others have more tell them apart, at both ends. It keeps them not where they are taken by rows that refer directly. */
function wordsApart(x: Context, joins: readonly JoinTable[], isTaken: (j: JoinTable) => boolean): ReadonlyMap<JoinTable, readonly string[]> {
  const groups = new Map<string, { readonly j: JoinTable; readonly more: readonly string[] }[]>()
  for (const j of joins) {
    if (j.first.parent === j.second.parent) continue
    const partners = new Set([...wordsOf(x, j.first.parent), ...wordsOf(x, j.second.parent)].map(singularWord))
    const at = [relationText(j.first.parent), relationText(j.second.parent)].toSorted().join(' ')
    const group = groups.get(at) ?? []
    groups.set(at, group)
    group.push({ j, more: wordsOf(x, j.relation).filter((w) => !partners.has(singularWord(w))) })
  }
  return new Map(
    [...groups.values()].flatMap((group) => {
      const plain = group.reduce((a, b) => (b.more.length < a.more.length ? b : a))
      return group.flatMap((m) => ((m === plain && !isTaken(m.j)) || m.more.length === 0 ? [] : [[m.j, m.more] as const]))
    }),
  )
}

/** Ends of a many-to-many whose table is hidden although it has columns of its own: what its class would have been called by is free then. */
function hiddenNames(joins: readonly JoinTable[], many: readonly Pending[], all: readonly Pending[], given: readonly string[]): Names['hidden'] {
  const named = new Map<string, NameRequest[]>()
  const subjects = new Map<NameRequest, string>()
  for (const [i, p] of all.entries()) {
    const request = { scope: p.scope, candidates: [given[i] as string] }
    subjects.set(request, p.subject)
    const others = named.get(p.scope)
    if (others) others.push(request)
    else named.set(p.scope, [request])
  }
  return new Map(
    joins.flatMap((j, i) => {
      if (j.payload.length === 0) return []
      const own = new Set([relationText(j.relation), j.first.subject, j.second.subject])
      const ends = many.slice(2 * i, 2 * i + 2)
      const kept = [...new Set(ends.map((e) => e.scope))].flatMap((scope) => (named.get(scope) ?? []).filter((n) => !own.has(subjects.get(n) ?? '')))
      const [first = '_', second = '_'] = assignNames([...kept, ...ends], reservedMember).slice(-2)
      return [[relationText(j.relation), [first, second]] as const]
    }),
  )
}
