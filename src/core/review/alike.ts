// Findings alike: one question asked at many places, what one answer to all of them would change, and the entries that give it.
import { parseAddress } from '../catalog/index.ts'
import { changedPaths } from '../emit/typescript/index.ts'
import {
  derive,
  type EntityModel,
  type EntryBody,
  entityNames,
  type Finding,
  type FindingId,
  isGuess,
  type LedgerEntry,
  type LedgerSeq,
  noReference,
  ruling,
} from '../model/index.ts'
import { changedTypes } from './changedTypes.ts'
import { choiceLabel, structural } from './choices.ts'
import { linksUnruled } from './linkTables.ts'
import type { Review, ReviewBase } from './review.ts'

export interface Alike {
  /** What makes them alike, as words that go on from a number: "columns called created_by, perhaps references to …". */
  readonly because: string
  readonly members: readonly Finding[]
}

export interface BulkAction {
  readonly key: string
  readonly label: string
  /** What it would change, in the model, the code and the schema. */
  readonly changes: readonly string[]
  readonly entries: readonly EntryBody[]
}

/** What one ruling on all of them comes to. */
export interface Bulk {
  readonly because: string
  readonly members: readonly { readonly id: FindingId; readonly subject: string; readonly confidence: number; readonly left: boolean }[]
  readonly actions: readonly BulkAction[]
}

const columnsOf = (f: Finding) => (parseAddress(f.subject.split('>')[0] as string)?.columns ?? []).join(', ')
const likeliest = (f: Finding) => f.alternatives.find((a) => a.key !== noReference)

/** The same text for findings alike, and what they have in common; null for those that stand for themselves. */
function likeness(f: Finding): { readonly key: string; readonly because: string } | null {
  const columns = columnsOf(f)
  switch (f.kind) {
    case 'reference': {
      const target = isGuess(f) ? likeliest(f)?.key : undefined
      if (target === undefined) return null
      const because = `${columns.includes(', ') ? 'sets of columns' : 'columns'} called ${columns}, perhaps references to ${target.replaceAll('%20', ' ')}`
      return { key: JSON.stringify(['reference', columns, target]), because }
    }
    case 'polymorphic':
      return { key: JSON.stringify(['polymorphic', columns]), because: `pairs of columns called ${columns}` }
    case 'join-table': {
      const [first] = f.alternatives
      const kinds = first.evidence.map((e) => e.kind)
      return { key: JSON.stringify(['join-table', first.key, kinds]), because: `join tables with the same for and against: ${kinds.join('; ')}` }
    }
    case 'structure':
      return f.topic === 'type' || f.topic === 'names alike'
        ? null
        : { key: JSON.stringify(['structure', f.topic, f.alternatives[0].key]), because: `findings about structure: ${f.topic}` }
    case 'entity':
      return null
    default:
      return unreachable(f.kind)
  }
}

function unreachable(kind: never): never {
  throw new Error(`a finding of no known kind: ${String(kind)}`)
}

/** Guessed references of columns of one name, to whatever tables. */
function nameLikeness(f: Finding): { readonly key: string; readonly because: string } | null {
  if (f.kind !== 'reference' || !isGuess(f)) return null
  const columns = columnsOf(f)
  return {
    key: JSON.stringify(['named', columns]),
    because: `${columns.includes(', ') ? 'sets of columns' : 'columns'} called ${columns}, perhaps references to several tables`,
  }
}

/** Guessed references of whatever columns to whatever tables, or pairs of whatever columns, that the same facts speak for, and that stand equally: likelier than none, or not. */
function widerLikeness(f: Finding): { readonly key: string; readonly because: string } | null {
  const best = (f.kind === 'reference' && isGuess(f)) || f.kind === 'polymorphic' ? likeliest(f) : undefined
  if (!best) return null
  const facts = [
    ...new Set(best.evidence.flatMap((e) => (e.kind === 'starting point' || e.weight === 0 ? [] : [`${e.weight > 0 ? '' : 'not '}${e.kind}`]))),
  ].sort()
  const first = f.alternatives[0] === best
  return {
    key: JSON.stringify(['wider', first, facts]),
    because: `${f.kind === 'polymorphic' ? 'pairs of columns' : 'guessed references'} with the same for and against, ${first ? 'each more likely than none' : 'none of them more likely than none'}`,
  }
}

/**
 * Findings like this one that wait for a ruling too, itself among them, in order; null where there is no other. Of references first those of
 * the same columns to the same table, then those of the same columns, and where there are none, those that the same facts speak for. O(findings).
 */
export function alikeTo(f: Finding, r: Pick<Review, 'findings' | 'statuses' | 'model'>): Alike | null {
  if (r.statuses.get(f.id) !== 'open') return waysPast(f, r)
  for (const like of [likeness, nameLikeness, widerLikeness]) {
    const own = like(f)
    const members = own ? r.findings.filter((x) => x.kind === f.kind && r.statuses.get(x.id) === 'open' && like(x)?.key === own.key) : []
    if (own && members.length > 1) return { because: own.because, members }
  }
  return null
}

/** Tables that link two others and have columns of their own, read as entities and no more by nobody's ruling: another way to read all of them. */
function waysPast(f: Finding, r: Pick<Review, 'findings' | 'statuses' | 'model'>): Alike | null {
  if (f.kind !== 'join-table') return null
  const members = linksUnruled(r)
  return members.length > 1 && members.some((x) => x.id === f.id)
    ? { because: 'tables that link two others and have columns of their own, read as entities', members }
    : null
}

type Answer = Finding['alternatives'][number]

/** The answers that can be given to all of them: those that all have, and where each has its own, the one that is likeliest for each. */
function answersOf(
  finding: Finding,
  members: readonly Finding[],
): readonly { readonly key: string; readonly label: string; readonly of: (f: Finding) => Answer | undefined }[] {
  const shared = finding.alternatives
    .filter((a) => members.every((f) => f.alternatives.some((x) => x.key === a.key)))
    .map((a) => ({ key: a.key, label: choiceLabel(finding, a.key), of: (f: Finding) => f.alternatives.find((x) => x.key === a.key) }))
  if (finding.kind !== 'reference' || shared.some((a) => a.key !== noReference)) return shared
  const own = { key: 'likeliest', label: 'each a reference to the table it most likely is one to', of: likeliest }
  return finding.alternatives[0].key === noReference ? [...shared, own] : [own, ...shared]
}

/** The answers that all of them have, each with what it would change; `left` are ids that the ruling leaves alone. */
export function bulkOf(id: string, base: ReviewBase, r: Review, entries: readonly LedgerEntry[], left: ReadonlySet<string>, batch: string): Bulk | null {
  const finding = r.findings.find((f) => f.id === id)
  const alike = finding ? alikeTo(finding, r) : null
  if (!finding || !alike) return null
  const taken = alike.members.filter((f) => !left.has(f.id))
  const actions = answersOf(finding, alike.members).map((a): BulkAction => {
    const bodies = taken.flatMap((f): EntryBody[] => {
      const own = a.of(f)
      if (!own) return []
      const verdict = own.key === f.alternatives[0].key ? 'accept' : own.key === noReference ? 'reject' : 'amend'
      // Ends of a many-to-many that was not proposed have no names yet.
      const edits = f.kind === 'join-table' && verdict === 'amend' ? own.edits : structural(own.edits)
      return [{ ...ruling(f, verdict, edits, null), batch } as EntryBody]
    })
    return { key: a.key, label: a.label, changes: changesOf(base, r.model, entries, bodies), entries: bodies }
  })
  const never = neverReferences(finding, r, left, batch)
  if (never && never.length > taken.length)
    actions.push({
      key: 'never',
      label: `no column called ${columnsOf(finding)} is a reference, in ${never.length} tables`,
      changes: changesOf(base, r.model, entries, never),
      entries: never,
    })
  const different = new Set(alike.members.map((f) => likeliest(f)?.key)).size > 1
  const members = alike.members.map((f) => ({
    id: f.id,
    subject: `${f.subject.split('>')[0]}${f.kind === 'reference' && different ? ` to ${likeliest(f)?.key ?? ''}` : ''}`.replaceAll('%20', ' '),
    confidence: likeliest(f)?.confidence ?? f.alternatives[0].confidence,
    left: left.has(f.id),
  }))
  return { because: alike.because, members, actions }
}

/** That columns called so are references nowhere: of all that nobody ruled on, also of those that are sure enough, or too unlikely to be asked. */
function neverReferences(finding: Finding, r: Review, left: ReadonlySet<string>, batch: string): readonly EntryBody[] | null {
  const own = nameLikeness(finding)
  if (!own) return null
  return r.findings.flatMap((f): EntryBody[] => {
    const status = r.statuses.get(f.id)
    if (left.has(f.id) || !(status === 'open' || status === 'certain' || status === 'folded') || nameLikeness(f)?.key !== own.key) return []
    const none = f.alternatives.find((a) => a.key === noReference)
    if (!none) return []
    return [{ ...ruling(f, f.alternatives[0] === none ? 'accept' : 'reject', structural(none.edits), null), batch } as EntryBody]
  })
}

const counted = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`

/** What entries would change, said in numbers: the model, the files, the schema. */
export function changesOf(
  base: Pick<ReviewBase, 'catalog' | 'findings'>,
  before: EntityModel,
  entries: readonly LedgerEntry[],
  bodies: readonly EntryBody[],
): readonly string[] {
  const next = Math.max(0, ...entries.map((e) => e.seq)) + 1
  const added = bodies.map((b, i) => ({ ...b, seq: (next + i) as LedgerSeq, at: '', by: '' }) as LedgerEntry)
  const after = derive(base.catalog, base.findings, [...entries, ...added])
  const ids = (m: EntityModel) => new Map(m.relationships.map((x) => [x.id as string, `${x.kind} ${x.from.entity} ${x.to.entity}`]))
  const [was, is] = [ids(before), ids(after)]
  const more = [...is.keys()].filter((x) => !was.has(x)).length
  const fewer = [...was.keys()].filter((x) => !is.has(x)).length
  const other = [...is].filter(([x, text]) => was.has(x) && was.get(x) !== text).length
  const names = entityNames(before)
  const renamed = after.entities.filter((e) => names.has(e.id) && names.get(e.id) !== e.name).length
  const readOnly = new Set(before.entities.filter((e) => e.readOnly).map((e) => e.id))
  const written = after.entities.filter((e) => !e.readOnly && readOnly.has(e.id)).length
  const model = [
    ...(written > 0 ? [counted(written, 'class can be written that was only read', 'classes can be written that were only read')] : []),
    ...(renamed > 0 ? [counted(renamed, 'class is called otherwise', 'classes are called otherwise')] : []),
    ...(more > 0 ? [counted(more, 'relationship more', 'relationships more')] : []),
    ...(fewer > 0 ? [counted(fewer, 'relationship fewer', 'relationships fewer')] : []),
    ...(other > 0 ? [counted(other, 'relationship read otherwise', 'relationships read otherwise')] : []),
  ]
  const files = changedPaths(before, after).length
  const properties = changedTypes(before, after)
  return [
    model.length === 0 && properties.length > 0
      ? `In the model: ${counted(properties.length, 'property is held', 'properties are held')} otherwise.`
      : model.length === 0
        ? 'The model stays as it is; the findings wait no longer.'
        : `In the model: ${model.join(', ')}.`,
    ...(properties.length === 0 ? [] : [`${properties.slice(0, 6).join('; ')}${properties.length > 6 ? `; and ${properties.length - 6} more` : ''}.`]),
    files === 0 ? 'No file of the code changes.' : `In the code: ${counted(files, 'file changes', 'files change')}.`,
    'No schema change.',
  ]
}
