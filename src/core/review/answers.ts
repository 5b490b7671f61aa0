// Of a finding's answers: which one is in force, and what giving another would write and change.
import { type Catalog, parseAddress, relationText } from '../catalog/index.ts'
import {
  type Edit,
  type EntityModel,
  type EntryBody,
  type Finding,
  type FindingStatus,
  findingId,
  isGuess,
  type LedgerEntry,
  noReference,
  rejecting,
  ruling,
} from '../model/index.ts'
import { changesOf } from './alike.ts'
import { structural } from './choices.ts'
import type { Review } from './review.ts'

/** The entry that gives an answer, and what it would change. */
export function choiceOf(
  f: Finding,
  a: Finding['alternatives'][number],
  i: number,
  taken: string,
  catalog: Catalog,
  r: Review,
  entries: readonly LedgerEntry[],
): { readonly entry: EntryBody; readonly changes: readonly string[] } {
  const entry = ruling(f, i === 0 ? 'accept' : 'amend', i === 0 ? structural(a.edits) : withFreeNames(a.edits, r), null)
  // A no has no edits of its own: it takes away what the yes proposes.
  const rejection = f.kind === 'structure' && a.key === 'no' ? rejecting(f) : null
  const body = rejection && rejection.length > 0 ? ruling(f, i === 0 ? 'accept' : 'reject', rejection, null) : entry
  const tells = f.kind === 'structure' && a.key !== taken && editsIn(body) > 0
  return { entry: body, changes: tells ? changesOf({ catalog, findings: r.findings }, r.model, entries, [body]) : [] }
}

/** Names of ends as they are free: that of a column that becomes a reference after all is taken by the column. */
function withFreeNames(edits: readonly Edit[], r: Review): readonly Edit[] {
  const target = edits.find((e) => e.facet === 'reference.target')?.value
  if (!target || !('table' in target)) return edits
  const taken = new Map<string, Set<string>>()
  const takenIn = (entity: string) => {
    const known = taken.get(entity) ?? membersOf(r.model, entity, edits)
    taken.set(entity, known)
    return known
  }
  return edits.map((e) => {
    if (e.facet !== 'reference.ownName' && e.facet !== 'reference.inverseName') return e
    const child = parseAddress(e.subject.split('>')[0] as string)
    const own = e.facet === 'reference.ownName' ? child && relationText(child) : relationText({ schema: target.schema, name: target.table })
    if (!own || e.value === null) return e
    const names = takenIn(own)
    let value = e.value
    for (let n = 2; names.has(value.toLowerCase()); n += 1) value = `${e.value}${n}`
    names.add(value.toLowerCase())
    return { ...e, value }
  })
}

/** Names that the members of a class have, in lower case, but for the ends that these edits name. */
function membersOf(model: EntityModel, entity: string, edits: readonly Edit[]): Set<string> {
  const named = new Set(edits.map((e) => findingId('reference', e.subject) as string))
  const properties = model.entities.find((e) => e.id === entity)?.properties.map((p) => p.name) ?? []
  const ends = model.relationships
    .filter((x) => !named.has(x.id))
    .flatMap((x) => [x.from, x.to].filter((end) => end.entity === entity).map((end) => end.property))
  return new Set([...properties, ...ends].map((name) => name.toLowerCase()))
}

const editsIn = (body: EntryBody) => (body.kind === 'rule' ? body.edits.length : 0)

/** Key of the answer in force. */
export function takenChoice(f: Finding, r: Review, related: boolean): string {
  if (f.kind === 'reference' && isGuess(f)) {
    const target = r.model.relationships.find((x) => x.id === f.id)?.to.entity ?? r.model.joinHalves.find((h) => h.id === f.id)?.target
    return f.alternatives.find((a) => target !== undefined && a.key.startsWith(`${target}(`))?.key ?? noReference
  }
  if (f.kind === 'polymorphic') return r.kinds.get(f.subject) ? 'several tables' : noReference
  if (f.kind === 'structure') return takenStructure(f, r)
  if (f.kind !== 'join-table') return f.alternatives[0].key
  const shortcut = r.model.relationships.find((x) => x.id === f.id)?.through?.shortcut
  if (related) return shortcut ? 'shortcut' : 'many-to-many'
  return r.model.entities.some((e) => e.id === f.subject) ? 'entity' : f.alternatives[0].key
}

/** While nobody has ruled, the likeliest answer is offered, also where it is not likely enough to be taken; then the one in force. */
export function offeredChoice(f: Finding, status: FindingStatus, taken: string): string {
  if (f.kind !== 'reference' || !isGuess(f) || (status !== 'open' && status !== 'folded')) return taken
  const best = f.alternatives.reduce((a, b) => (b.confidence > a.confidence ? b : a))
  return best.confidence > (f.alternatives.find((a) => a.key === taken)?.confidence ?? 0) ? best.key : taken
}

/** What is in force: the type chosen; of all else what was ruled on, or proposed. */
function takenStructure(f: Finding, r: Review): string {
  if (f.topic === 'type') return r.model.typeTargets[f.subject.slice('type:'.length)] ?? f.alternatives[0].key
  if (f.topic === 'prefix' || f.topic === 'names alike') return takenNames(f, r)
  if (f.topic === 'no key') {
    const identity = r.model.entities.find((e) => e.id === f.subject)?.identity
    return identity?.kind === 'primary key' && f.alternatives.length > 1 ? `by ${identity.columns.join(', ')}` : 'yes'
  }
  const status = r.statuses.get(f.id)
  if (status === 'rejected') return 'no'
  const other = f.alternatives[1]?.key ?? f.alternatives[0].key
  return status === 'amended' ? other : f.alternatives[0].key
}

/** The answer whose names the classes have; the proposal where each was named by itself. */
function takenNames(f: Finding, r: Review): string {
  const names = new Map(r.model.entities.map((e) => [e.id as string, e.name]))
  const isTaken = (a: Finding['alternatives'][number]) => a.edits.every((e) => (names.get(e.subject) ?? e.value) === e.value)
  return (f.alternatives.find(isTaken) ?? f.alternatives[0]).key
}
