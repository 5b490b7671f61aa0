// The docket as a list of sentences with their standing; what people work through.
import { compareText, parseAddress, relationText } from '../catalog/index.ts'
import { keptWith } from '../memo/memo.ts'
import {
  type EntityModel,
  entityNames,
  type Finding,
  type FindingId,
  type FindingStatus,
  findingId,
  isGuess,
  noReference,
  type Relationship,
  type RelationshipState,
  type Sentence,
  sentencesOf,
} from '../model/index.ts'
import { choiceLabel } from './choices.ts'
import { madeOf } from './entryText.ts'
import type { Review } from './review.ts'

export interface DocketItem {
  readonly id: FindingId
  readonly kind: Finding['kind']
  /** Of structure: what is asked. */
  readonly topic: string | null
  readonly status: FindingStatus
  /** The ruling was given on another answer than there is now. */
  readonly changed: boolean
  readonly confidence: number
  readonly state: RelationshipState | null
  /** One or two sentences; plain text runs where there is no relationship. */
  readonly says: readonly Sentence[]
  /** Address of what it is about, for searching. */
  readonly subject: string
  /** Its table, as the database names it. */
  readonly table: string
  /** Who gave the ruling it stands by; null where nobody has. */
  readonly by: string | null
  /** What it was amended to, or ruled to be where the answer is another now; null where the ruling says no more than its word. */
  readonly ruled: string | null
  /** The many-to-many this reference is half of: then it is not listed by itself. */
  readonly partOf: FindingId | null
  /** Where its table stands on the map; null for a table that stands alone. */
  readonly area: string | null
  readonly rank: number
  /** What a wrong answer would break × how unsure the answer is; from 0 on. */
  readonly risk: number
}

/** What the map knows of a table: by address text. */
export interface PlaceOnMap {
  readonly area: string | null
  readonly rank: number
  readonly rows: number | null
}

/** Without a map nothing stands anywhere. */
const nowhere: ReadonlyMap<string, PlaceOnMap> = new Map()

/**
 * A join table decides whether there is a class at all, a kind and an id about several tables; a reference about one relationship, which
 * weighs more the more rows hang on it.
 */
function stakeOf(f: Finding, rows: number | null): number {
  const base: Readonly<Record<Finding['kind'], number>> = { 'join-table': 3, polymorphic: 2, reference: 1, entity: 0.5, structure: 0.4 }
  return base[f.kind] + Math.log10(1 + (rows ?? 0)) / 4
}

const plain = (text: string): Sentence => [{ kind: 'text', text }]
const shown = (subject: string) => subject.split('>')[0]?.replaceAll('%20', ' ') ?? subject

/** What is asked in this order. */
const kindsInOrder = ['join-table', 'polymorphic', 'reference', 'entity', 'structure'] as const satisfies readonly Finding['kind'][]

/** What never changes of the items of findings. */
const standing = keptWith((findings: readonly Finding[]) => {
  const of = findings.map((f) => {
    const address = parseAddress(f.subject.split('>')[0] as string)
    const relation = address ? relationText(address) : null
    return { relation, table: shown(relation ?? f.subject) }
  })
  const byRelation = new Map<string, number[]>()
  for (const [i, { relation }] of of.entries()) {
    const own = relation === null ? undefined : byRelation.get(relation)
    if (own) own.push(i)
    else if (relation !== null) byRelation.set(relation, [i])
  }
  const inOrder = kindsInOrder.flatMap((kind) => findings.flatMap((f, i) => (f.kind === kind ? [i] : [])))
  return { of, byRelation, inOrder, at: new Map<string, number>(findings.map((f, i) => [f.id, i])) }
})

type Places = ReadonlyMap<string, PlaceOnMap>

/** The items that were made last of these findings, and what of. */
interface Made {
  readonly review: Review
  readonly places: Places
  /** In the order of the findings. */
  readonly items: readonly DocketItem[]
}
const last = new WeakMap<readonly Finding[], Made>()

/** Positions of the findings of which something may be said otherwise than `before`; null for all. */
function changedSince(before: Made, r: Review, places: Places): ReadonlySet<number> | null {
  const { byRelation, at } = standing(r.findings)
  const changed = new Set<number>()
  const add = (id: string) => {
    const i = at.get(id)
    if (i !== undefined) changed.add(i)
  }
  const was = before.review
  if (JSON.stringify(was.model.typeTargets) !== JSON.stringify(r.model.typeTargets)) return null
  for (const id of otherKeys(was.statuses, r.statuses)) add(id)
  for (const id of [...was.changed, ...r.changed]) if (was.changed.has(id) !== r.changed.has(id)) add(id)
  for (const id of otherKeys(was.ruledBy, r.ruledBy, (a, b) => a?.seq === b?.seq)) add(id)
  for (const id of changedRelationships(was.model, r.model)) add(id)
  for (const id of otherKeys(halvesOf(was.model), halvesOf(r.model))) add(id)
  for (const subject of otherKeys(was.kinds, r.kinds)) add(findingId('polymorphic', subject))
  const renamed = was.model.entities === r.model.entities ? [] : otherKeys(entityNames(was.model), entityNames(r.model))
  if (renamed.length > 0) {
    const among = new Set(renamed)
    for (const x of r.model.relationships) if (among.has(x.from.entity) || among.has(x.to.entity)) add(x.id)
  }
  const moved = otherKeys(before.places, places, (a, b) => a?.area === b?.area && a?.rank === b?.rank && a?.rows === b?.rows)
  for (const id of [...renamed, ...moved]) for (const own of byRelation.get(id) ?? []) changed.add(own)
  return changed
}

/** Keys under which two maps have other values. */
function otherKeys<V>(was: ReadonlyMap<string, V>, is: ReadonlyMap<string, V>, same = (a: V | undefined, b: V | undefined) => a === b): readonly string[] {
  const others: string[] = []
  // Mostly they have the same keys in the same order.
  const old = was.entries()
  for (const [key, value] of is) {
    const next = old.next()
    if (!same(next.value?.[0] === key ? next.value[1] : was.get(key), value)) others.push(key)
  }
  for (const key of was.keys()) if (!is.has(key)) others.push(key)
  return others
}

/** Ids of relationships that one model has and the other has not, or otherwise; both are in order of their ids. */
function changedRelationships(was: EntityModel, is: EntityModel): ReadonlySet<string> {
  const [a, b] = [was.relationships, is.relationships]
  const changed = new Set<string>()
  let [i, j] = [0, 0]
  while (i < a.length || j < b.length) {
    const [x, y] = [a[i], b[j]]
    if (x === y) {
      i += 1
      j += 1
      continue
    }
    const order = !x ? 1 : !y ? -1 : compareText(x.id, y.id)
    changed.add((order <= 0 ? x : y)?.id ?? '')
    if (order <= 0) i += 1
    if (order >= 0) j += 1
  }
  return changed
}

function itemsOf(r: Review, places: Places): readonly DocketItem[] {
  const before = last.get(r.findings)
  const changed = before ? changedSince(before, r, places) : null
  const make = itemMaker(r, places, changed && new Set([...changed].map((i) => (r.findings[i] as Finding).id)))
  const items = before && changed ? before.items.slice() : r.findings.map((f, i) => make(f, i))
  for (const i of changed ?? []) items[i] = make(r.findings[i] as Finding, i)
  last.set(r.findings, { review: r, places, items })
  return items
}

/** `among`: the findings that are made of, null for any; to look up all relationships costs more than to make a few items. */
function itemMaker(r: Review, places: Places, among: ReadonlySet<string> | null): (f: Finding, at: number) => DocketItem {
  const relationships = new Map<string, Relationship>()
  for (const x of r.model.relationships) if (among === null || among.has(x.id)) relationships.set(x.id, x)
  const halves = halvesOf(r.model)
  const { of } = standing(r.findings)
  return (f, at) => {
    const relationship = relationships.get(f.id) ?? null
    const own = of[at]
    const place = own?.relation ? places.get(own.relation) : undefined
    return {
      id: f.id,
      kind: f.kind,
      topic: f.topic ?? null,
      status: r.statuses.get(f.id) ?? 'open',
      changed: r.changed.has(f.id),
      confidence: f.alternatives[0].confidence,
      state: relationship?.state ?? null,
      says: relationship ? sentencesOf(relationship, r.model) : [plain(sayWithoutRelationship(f, r))],
      subject: f.subject,
      table: own?.table ?? f.subject,
      by: r.ruledBy.get(f.id)?.who ?? null,
      ruled: ruledText(f, r),
      partOf: halves.get(f.id) ?? null,
      area: place?.area ?? null,
      rank: place?.rank ?? 0,
      risk: stakeOf(f, place?.rows ?? null) * (1 - f.alternatives[0].confidence),
    }
  }
}

/**
 * Every finding as an item; those whose answer changed since the ruling first, then those that wait, the riskiest of them first, then in order
 * of subject within their kind. An item of which nothing is said otherwise is the same value as before.
 */
export function docketItems(r: Review, places: Places = nowhere): readonly DocketItem[] {
  const items = itemsOf(r, places)
  const changed: DocketItem[] = []
  const open: DocketItem[] = []
  const rest: DocketItem[] = []
  for (const at of standing(r.findings).inOrder) {
    const i = items[at] as DocketItem
    if (i.changed) changed.push(i)
    else if (i.status === 'open') open.push(i)
    else rest.push(i)
  }
  const byRisk = (list: DocketItem[]) => list.sort((a, b) => (a.status === 'open' && b.status === 'open' ? b.risk - a.risk : 0))
  return [...byRisk(changed), ...byRisk(open), ...rest]
}

/** `as a reference to field.bay(id)`; of what changed since, also what is proposed now. */
function ruledText(f: Finding, r: Review): string | null {
  const changed = r.changed.has(f.id)
  if (!changed && r.statuses.get(f.id) !== 'amended') return null
  const made = (r.ruledBy.get(f.id)?.edits ?? []).flatMap(madeOf).join(', ')
  const now = changed ? `proposed now: ${choiceLabel(f, f.alternatives[0].key)}` : ''
  return [...(made === '' ? [] : [`as ${made}`]), ...(now === '' ? [] : [now])].join('; ') || null
}

/** The many-to-many that each reference of a hidden join table is half of. */
const halvesOf = (model: EntityModel): ReadonlyMap<string, FindingId> => new Map(model.joinHalves.map((h) => [h.id, h.partOf]))

/** What a finding is read as where no relationship of the model says it. */
export function sayWithoutRelationship(f: Finding, r: Review): string {
  const name = entityNames(r.model).get(f.subject)
  switch (f.kind) {
    case 'entity':
      return name ? `${shown(f.subject)} becomes the class ${name}.` : `${shown(f.subject)} joins two others and has no class of its own.`
    case 'join-table':
      return `${shown(f.subject)} joins ${f.alternatives.length > 1 ? 'two others' : 'more than two others'}, and is read as an entity: ${name ?? ''}.`
    case 'polymorphic':
      return kindsText(f, r)
    case 'structure':
      return structureText(f, r)
    case 'reference':
      return r.model.joinHalves.some((h) => h.id === f.id) ? `${shown(f.subject)} is one half of a many-to-many.` : notReferring(f)
    default:
      return unreachable(f.kind)
  }
}

/** `field.crate(bay_id): reference without index; no index begins with bay_id …` */
function structureText(f: Finding, r: Review): string {
  const about = shown(f.subject).replace(/^(type|columns):/, '')
  const strongest = (f.alternatives.find((a) => a.key !== 'no') ?? f.alternatives[0]).evidence[f.topic === 'type' ? 1 : 0]
  if (strongest && (f.topic === 'prefix' || f.topic === 'names alike')) return `${strongest.says}.`
  return `${about}: ${f.topic === 'type' ? `held as ${r.model.typeTargets[about] ?? f.alternatives[0].key}` : f.topic}${strongest ? `; ${strongest.says}` : ''}.`
}

/** `field.tag: owner_kind says which table owner_id refers to: bay is field.bay.` */
function kindsText(f: Finding, r: Review): string {
  const kinds = r.kinds.get(f.subject)
  const columns = parseAddress(f.subject)
  const table = shown(f.subject).replace(/\(.*/, '')
  if (!kinds) return `${table}(${columns?.columns.join(', ') ?? ''}) is not read as a row of one of several tables.`
  const words = kinds.targets.map((t) => `${t.value} is ${shown(relationText({ schema: t.schema, name: t.table }))}`)
  const says = `${table}: ${kinds.kindColumn} says which table ${kinds.idColumn} refers to`
  return words.length > 0 ? `${says}: ${words.join(', ')}.` : `${says}. Read rows to see which values ${kinds.kindColumn} has.`
}

/** With the likeliest table, where none is likely enough. */
function notReferring(f: Finding): string {
  const others = isGuess(f) ? f.alternatives.filter((a) => a.key !== noReference) : []
  const other = others.toSorted((a, b) => b.confidence - a.confidence)[0]
  const none = f.alternatives.find((a) => a.key === noReference)
  if (other && none && other.confidence > none.confidence) return `${shown(f.subject)} may refer to ${shown(other.key)}, which is not sure enough to be taken.`
  return other ? `${shown(f.subject)} is probably no reference. It could refer to ${shown(other.key)}.` : `${shown(f.subject)} is not read as a reference.`
}

function unreachable(kind: never): never {
  throw new Error(`a finding of no known kind: ${String(kind)}`)
}

/** Ids of the plates at both ends of a finding, to light them up. `drawn`: the plates there are; an entity drawn as a bead gives what it joins. */
export function platesOf(id: string, model: EntityModel, drawn: ReadonlySet<string>): readonly string[] {
  const relationship = model.relationships.find((r) => r.id === id)
  if (relationship) return [relationship.from.entity, relationship.to.entity]
  const half = model.joinHalves.find((h) => h.id === id)
  if (half) return [half.target]
  const address = parseAddress(id.slice(id.indexOf(':') + 1).split('>')[0] as string)
  if (!address) return []
  const own = relationText(address)
  if (drawn.has(own)) return [own]
  return model.relationships.filter((r) => r.from.entity === own).map((r) => r.to.entity)
}
