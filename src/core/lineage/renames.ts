// Rulings whose subject is gone, and what it may be called now. Never guessed: asked, with the reasons.
import { type Catalog, type Column, columnsText, compareText, parseAddress, type Relation, relationText } from '../catalog/index.ts'
import { activeEntries, editsOf, isUnread, type LedgerEntry, subjectsOf } from '../model/index.ts'
import { splitWords } from '../names/index.ts'

/** A relation or a column that rulings are about and the snapshot no longer has. */
export interface LostSubject {
  /** Address text: `field.crate` or `field.crate(bay_id)`. */
  readonly subject: string
  /** Positions in the ledger of what is said of it. */
  readonly entries: readonly number[]
}

export interface RenameCandidate {
  readonly subject: string
  /** 0 to 1. */
  readonly confidence: number
  readonly because: readonly string[]
}

export interface RenameQuestion extends LostSubject {
  /** Best first; at most five, none where nothing new is like it. */
  readonly candidates: readonly RenameCandidate[]
}

/** In order of address; a column of a relation that is gone counts as the relation. O(entries + columns). */
export function lostSubjects(catalog: Catalog, entries: readonly LedgerEntry[]): readonly LostSubject[] {
  const columns = new Map(catalog.relations.map((r) => [relationText(r), new Set(r.columns.map((c) => c.name))]))
  const lost = new Map<string, Set<number>>()
  for (const e of activeEntries(entries)) {
    // What was only settled is proposed anew under the new name.
    if (isUnread(e)) continue
    for (const subject of subjectsOf(e, editsOf(e))) {
      const a = parseAddress(subject)
      if (!a) continue
      const known = columns.get(relationText(a))
      const missing = known ? a.columns.filter((c) => !known.has(c)).map((c) => columnsText(a, [c])) : [relationText(a)]
      for (const m of missing) lost.set(m, (lost.get(m) ?? new Set()).add(e.seq))
    }
  }
  return [...lost].map(([subject, seqs]) => ({ subject, entries: [...seqs] })).sort((a, b) => compareText(a.subject, b.subject))
}

const share = (a: ReadonlySet<string>, b: ReadonlySet<string>): number => {
  const both = [...a].filter((x) => b.has(x)).length
  return a.size + b.size === 0 ? 0 : both / (a.size + b.size - both)
}
const wordsOf = (name: string): ReadonlySet<string> => new Set(splitWords(name))

function relationCandidate(was: Relation, is: Relation): RenameCandidate | null {
  const names = share(new Set(was.columns.map((c) => c.name)), new Set(is.columns.map((c) => c.name)))
  const types = share(new Set(was.columns.map((c) => `${c.name} ${c.type}`)), new Set(is.columns.map((c) => `${c.name} ${c.type}`)))
  const words = is.name === was.name ? 1 : share(wordsOf(was.name), wordsOf(is.name))
  const same = (a: Relation, b: Relation) => JSON.stringify(a.primaryKey?.columns ?? []) === JSON.stringify(b.primaryKey?.columns ?? [])
  const confidence = 0.5 * types + 0.2 * names + 0.2 * words + (same(was, is) ? 0.1 : 0)
  if (confidence < 0.35) return null
  const shared = is.columns.filter((c) => was.columns.some((o) => o.name === c.name)).length
  return {
    subject: relationText(is),
    confidence: Math.round(confidence * 100) / 100,
    because: [
      `${shared} of its ${is.columns.length} columns have the names of the former ${was.columns.length}`,
      ...(is.name === was.name ? [`it has the same name in the schema ${is.schema}`] : words > 0 ? ['their names share a word'] : []),
      ...(same(was, is) && was.primaryKey ? [`the same primary key: ${was.primaryKey.columns.join(', ')}`] : []),
    ],
  }
}

function columnCandidate(was: Relation, is: Relation, old: Column, fresh: Column): RenameCandidate | null {
  const type = old.type === fresh.type
  const place = was.columns.indexOf(old) === is.columns.indexOf(fresh)
  const words = share(wordsOf(old.name), wordsOf(fresh.name))
  const refersAlike = was.foreignKeys.some(
    (k) => k.columns.includes(old.name) && is.foreignKeys.some((n) => n.columns.includes(fresh.name) && n.target.table === k.target.table),
  )
  const confidence = (type ? 0.35 : 0) + (place ? 0.25 : 0) + 0.2 * words + (refersAlike ? 0.2 : 0)
  if (confidence < 0.3) return null
  return {
    subject: columnsText(is, [fresh.name]),
    confidence: Math.round(confidence * 100) / 100,
    because: [
      ...(type ? [`the same type: ${fresh.type}`] : [`the type was ${old.type}, and is ${fresh.type}`]),
      ...(place ? ['at the same place in the table'] : []),
      ...(refersAlike ? ['it refers to the same table'] : []),
      ...(words > 0 ? ['their names share a word'] : []),
    ],
  }
}

const best = (list: readonly (RenameCandidate | null)[]): readonly RenameCandidate[] =>
  list
    .flatMap((c) => c ?? [])
    .sort((a, b) => b.confidence - a.confidence || compareText(a.subject, b.subject))
    .slice(0, 5)

/** What a lost subject may be called now: only what `was`, the last snapshot that had it, did not have yet. Null where `was` had no such subject. */
export function renameQuestion(lost: LostSubject, was: Catalog, is: Catalog): RenameQuestion | null {
  const a = parseAddress(lost.subject)
  if (!a) return null
  const find = (c: Catalog) => c.relations.find((r) => r.schema === a.schema && r.name === a.name)
  const old = find(was)
  if (!old) return null
  if (a.columns.length === 0) {
    const known = new Set(was.relations.map(relationText))
    return {
      ...lost,
      candidates: best(is.relations.filter((r) => !known.has(relationText(r)) && r.kind !== 'partition').map((r) => relationCandidate(old, r))),
    }
  }
  const now = find(is)
  const column = old.columns.find((c) => c.name === a.columns[0])
  if (!now || !column) return null
  const fresh = now.columns.filter((c) => !old.columns.some((o) => o.name === c.name))
  return { ...lost, candidates: best(fresh.map((c) => columnCandidate(old, now, column, c))) }
}

/** A drop and a make that look like one thing under another name: nobody is to lose rows by a guess, so it is asked. */
export interface RenameDoubt {
  readonly from: string
  readonly to: string
  readonly because: string
}

/** Below this, two names are two things. */
const doubtful = 0.5

/** What is the same but for its name, one gone and one come. */
function onlyTheName<T>(was: readonly T[], is: readonly T[], name: (x: T) => string, but: (x: T) => string): readonly (readonly [T, T])[] {
  const names = (list: readonly T[]) => new Set(list.map(name))
  const [before, after] = [names(was), names(is)]
  const come = new Map<string, T[]>()
  for (const x of is) {
    if (before.has(name(x))) continue
    const like = come.get(but(x))
    if (like) like.push(x)
    else come.set(but(x), [x])
  }
  return was
    .filter((x) => !after.has(name(x)))
    .flatMap((x) => {
      const like = come.get(but(x)) ?? []
      return like.length === 1 ? [[x, like[0] as T] as const] : []
    })
}

/** Sequences, indexes and values of enumerated types: told by all but their names, and by where they stand. */
function nameDoubts(was: Catalog, is: Catalog): readonly RenameDoubt[] {
  // What a column owns follows its column, and nobody is asked.
  const loose = (c: Catalog) => c.sequences.filter((s) => s.ownedBy === null)
  const sequences = onlyTheName(loose(was), loose(is), relationText, (s) => JSON.stringify({ ...s, name: '', comment: null }))
  const after = new Map(is.relations.map((r) => [relationText(r), r]))
  const indexes = was.relations.flatMap((r) => {
    const now = after.get(relationText(r))
    const pairs = now
      ? onlyTheName(
          r.indexes,
          now.indexes,
          (x) => x.name,
          (x) => JSON.stringify({ ...x, name: '', comment: null, statistics: [] }),
        )
      : []
    return pairs.map(([a, b]) => ({ from: relationText({ schema: r.schema, name: a.name }), to: relationText({ schema: r.schema, name: b.name }) }))
  })
  const values = was.enums.flatMap((e) => {
    const now = is.enums.find((x) => relationText(x) === relationText(e))
    if (!now || now.labels.length !== e.labels.length) return []
    // Where one value stands now, at the same place and alone among those that stay.
    const moved = e.labels.flatMap((l, i) => (l === now.labels[i] ? [] : [[l, now.labels[i] as string] as const]))
    const fresh = moved.every(([a, b]) => !now.labels.includes(a) && !e.labels.includes(b))
    return fresh ? moved.map(([a, b]) => ({ from: columnsText(e, [a]), to: columnsText(e, [b]) })) : []
  })
  return [
    ...sequences.map(([a, b]) => ({ from: relationText(a), to: relationText(b), because: 'it counts alike' })),
    ...indexes.map((x) => ({ ...x, because: 'it is over the same' })),
    ...values.map((x) => ({ ...x, because: 'it stands at the same place' })),
  ]
}

/** Relations, columns, sequences, indexes and values of `was` that are gone in `is`, where something new is like them; the likeliest of each. */
export function renameDoubts(was: Catalog, is: Catalog): readonly RenameDoubt[] {
  const now = new Map(is.relations.map((r) => [relationText(r), r]))
  const gone = was.relations.flatMap((r): readonly string[] => {
    if (r.kind === 'partition' || r.kind === 'view' || r.kind === 'materialized view') return []
    const kept = now.get(relationText(r))
    if (!kept) return [relationText(r)]
    return r.columns.filter((c) => !kept.columns.some((x) => x.name === c.name)).map((c) => columnsText(r, [c.name]))
  })
  const doubts = gone.flatMap((subject) => {
    const first = renameQuestion({ subject, entries: [] }, was, is)?.candidates[0]
    return first && first.confidence >= doubtful ? [{ from: subject, to: first.subject, because: first.because.join(', ') }] : []
  })
  return [...doubts, ...nameDoubts(was, is)]
}
