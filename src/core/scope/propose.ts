// What probably should not take part, each with its reason. Told, never done by itself.
import { type Catalog, compareText, type Relation, relationText } from '../catalog/index.ts'
import { splitWords } from '../names/index.ts'

export type LeaveOutReason =
  /** Named like a copy, with the columns of the table it copies. */
  | { readonly code: 'copy'; readonly of: string; readonly word: string | null }
  | { readonly code: 'backup'; readonly word: string }
  | { readonly code: 'temporary'; readonly word: string }
  /** Its name ends in a date, and its columns are those of others that do, or of the table without the date. */
  | { readonly code: 'archive'; readonly date: string; readonly of: string }
  | { readonly code: 'migration journal'; readonly because: string }
  /** A part of its parent, which brings its rows along. */
  | { readonly code: 'child'; readonly parent: string }

export interface LeaveOutProposal {
  /** Address text of the relation. */
  readonly subject: string
  readonly reason: LeaveOutReason
}

const backupWords: ReadonlySet<string> = new Set(['bak', 'bkp', 'bkup', 'backup', 'backups', 'old', 'orig', 'saved', 'deprecated', 'unused', 'obsolete'])
const copyWords: ReadonlySet<string> = new Set([...backupWords, 'copy', 'clone', 'dup', 'new', 'prev', 'previous', 'save'])
const temporaryWords: ReadonlySet<string> = new Set(['tmp', 'temp', 'temporary', 'scratch', 'staging', 'stg'])
/** `_2019`, `_201907`, `_2019_07_31`, `20190731` at the end. */
const dateAtEnd = /^(.*?)[_-]?((?:19|20)\d{2}(?:[_-]?(?:0[1-9]|1[0-2])(?:[_-]?(?:0[1-9]|[12]\d|3[01]))?)?)$/
const journalWords: ReadonlySet<string> = new Set(['migration', 'migrations', 'changelog', 'changelogs', 'changeset', 'changesets'])
const versionWords: ReadonlySet<string> = new Set(['version', 'versions', 'history', 'info', 'patches', 'updates'])
/** Columns that say which step was run, and when or how. */
const journalColumns =
  /^(applied|installed|executed|run|finished|started|completed|date)(_?(at|on|by|rank|time|steps?))?$|^(checksum|hash|md5_?sum|success|batch|script|file_?name|execution_?time|dirty)$/i

interface Known {
  readonly byText: ReadonlyMap<string, Relation>
  /** Relations with the same columns, by a text of their names and types. */
  readonly byShape: ReadonlyMap<string, readonly Relation[]>
  /** Relations by schema and name without a date behind it. */
  readonly byStem: ReadonlyMap<string, readonly Relation[]>
  readonly referredTo: ReadonlySet<string>
}

const shapeOf = (r: Relation): string =>
  r.columns
    .map((c) => `${c.name} ${c.type}`)
    .sort()
    .join(',')
const stemKey = (schema: string, stem: string) => `${schema}\u0000${stem}`
const text = (schema: string, name: string) => relationText({ schema, name })

/** Proposals in the order of addresses, at most one for each relation. Nothing that another table refers to is proposed, but for children. O(columns). */
export function proposeLeavingOut(catalog: Catalog): readonly LeaveOutProposal[] {
  const byShape = new Map<string, Relation[]>()
  const byStem = new Map<string, Relation[]>()
  for (const r of catalog.relations) {
    const stem = stemKey(r.schema, dateAtEnd.exec(r.name)?.[1] ?? r.name)
    byStem.set(stem, [...(byStem.get(stem) ?? []), r])
    const list = byShape.get(shapeOf(r))
    if (list) list.push(r)
    else byShape.set(shapeOf(r), [r])
  }
  const known: Known = {
    byText: new Map(catalog.relations.map((r) => [relationText(r), r])),
    byShape,
    byStem,
    referredTo: new Set(catalog.relations.flatMap((r) => r.foreignKeys.filter((k) => !isSelf(r, k)).map((k) => text(k.target.schema, k.target.table)))),
  }
  return catalog.relations
    .flatMap((r): readonly LeaveOutProposal[] => {
      const reason = reasonFor(r, known)
      return reason ? [{ subject: relationText(r), reason }] : []
    })
    .sort((a, b) => compareText(a.subject, b.subject))
}

const isSelf = (r: Relation, k: Relation['foreignKeys'][number]) => k.target.schema === r.schema && k.target.table === r.name

function reasonFor(r: Relation, known: Known): LeaveOutReason | null {
  const child = childReason(r)
  if (child) return child
  if (r.kind === 'partition' || known.referredTo.has(relationText(r))) return null
  return archiveReason(r, known) ?? copyReason(r, known) ?? wordReason(r) ?? journalReason(r)
}

/** Partitions are part of their parent without being left out; a child by INHERITS is a table like others, but has no columns of its own. */
function childReason(r: Relation): LeaveOutReason | null {
  const [parent] = r.inherits
  return parent && r.columns.every((c) => c.inherited) ? { code: 'child', parent: relationText(parent) } : null
}

const sisters = (r: Relation, known: Known) => (known.byShape.get(shapeOf(r)) ?? []).filter((o) => o !== r && o.schema === r.schema)

/** An archive keeps the columns that its table had then: at least two thirds of them. */
const sharesColumns = (r: Relation, o: Relation) => r.columns.filter((c) => o.columns.some((x) => x.name === c.name)).length * 3 >= r.columns.length * 2

function archiveReason(r: Relation, known: Known): LeaveOutReason | null {
  const m = dateAtEnd.exec(r.name)
  if (!m || r.columns.length === 0) return null
  const [, stem = '', date = ''] = m
  if (stem === '') return null
  const alike = (known.byStem.get(stemKey(r.schema, stem)) ?? []).filter((o) => o !== r && sharesColumns(r, o))
  const of = alike.find((o) => o.name === stem) ?? alike[0]
  return of ? { code: 'archive', date, of: relationText(of) } : null
}

/** `crate_copy` beside `crate` with the same columns: names differ by words for copies, or by a number. */
function copyReason(r: Relation, known: Known): LeaveOutReason | null {
  if (r.columns.length < 2) return null
  const words = splitWords(r.name)
  for (const o of sisters(r, known)) {
    const base = splitWords(o.name)
    if (base.length >= words.length) continue
    const rest = withoutRun(words, base)
    if (rest?.every((w) => copyWords.has(w) || temporaryWords.has(w) || /^\d+$/.test(w)))
      return { code: 'copy', of: relationText(o), word: rest.find((w) => !/^\d+$/.test(w)) ?? null }
  }
  return null
}

/** What is left of `words` when `run` is taken out where it stands whole, at the beginning or the end; null where it does not. */
function withoutRun(words: readonly string[], run: readonly string[]): readonly string[] | null {
  if (run.every((w, i) => words[i] === w)) return words.slice(run.length)
  const from = words.length - run.length
  return run.every((w, i) => words[from + i] === w) ? words.slice(0, from) : null
}

/** A word for backups or for what is temporary at either end of the name of a table. */
function wordReason(r: Relation): LeaveOutReason | null {
  if (r.kind !== 'table' && r.kind !== 'partitioned table') return null
  const words = splitWords(r.name).filter((w) => !/^\d+$/.test(w))
  if (words.length < 2 && !temporaryWords.has(words[0] ?? '')) return null
  const ends = [words[0] ?? '', words.at(-1) ?? '']
  // "old" and the like in front are often part of a name: old_price_list; behind, they are not.
  const backup = backupWords.has(ends[1] as string) ? ends[1] : /^(bak|bkp|bkup|backup)$/.test(ends[0] as string) ? ends[0] : undefined
  if (backup !== undefined) return { code: 'backup', word: backup }
  const temporary = ends.find((w) => temporaryWords.has(w))
  return temporary === undefined ? null : { code: 'temporary', word: temporary }
}

/** By its name and what it keeps: a step, and when or how it was run. It refers to nothing. */
function journalReason(r: Relation): LeaveOutReason | null {
  if (r.kind !== 'table' || r.foreignKeys.length > 0 || r.columns.length > 14) return null
  const words = splitWords(r.name)
  const named = words.some((w) => journalWords.has(w)) || (words.includes('schema') && words.some((w) => versionWords.has(w)))
  if (!named) return null
  const kept = r.columns.filter((c) => journalColumns.test(c.name)).map((c) => c.name)
  const few = r.columns.length <= 3 && r.columns.some((c) => /^(version|id|name)$/i.test(c.name))
  if (kept.length === 0 && !few) return null
  return { code: 'migration journal', because: kept.length > 0 ? `it keeps ${kept.slice(0, 3).join(', ')}` : 'it keeps a version and little else' }
}

export function describeLeaveOut(r: LeaveOutReason): string {
  switch (r.code) {
    case 'copy':
      return `a copy of ${r.of}: the same columns${r.word === null ? ', a number behind its name' : `, and “${r.word}” in its name`}`
    case 'backup':
      return `a backup by its name (“${r.word}”), and nothing refers to it`
    case 'temporary':
      return `temporary by its name (“${r.word}”), and nothing refers to it`
    case 'archive':
      return `an archive of ${r.date}: its columns are those of ${r.of}`
    case 'migration journal':
      return `a journal of schema changes: ${r.because}`
    case 'child':
      return `a part of ${r.parent}, without columns of its own`
    default:
      return unreachable(r)
  }
}

function unreachable(r: never): never {
  throw new Error(`a reason of no known code: ${JSON.stringify(r)}`)
}
