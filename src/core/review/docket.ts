// The docket as a list of sentences with their standing; what people work through.
import { parseAddress, relationText } from '../catalog/index.ts'
import {
  type EntityModel,
  entityNames,
  type Finding,
  type FindingId,
  type FindingStatus,
  isGuess,
  noReference,
  type Relationship,
  type RelationshipState,
  type Sentence,
  sentencesOf,
} from '../model/index.ts'
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

/** Every finding as an item; those whose answer changed since the ruling first, then those that wait, the riskiest of them first, then in order of subject within their kind. */
export function docketItems(r: Review, places: ReadonlyMap<string, PlaceOnMap> = nowhere): readonly DocketItem[] {
  const relationships = new Map<string, Relationship>(r.model.relationships.map((x) => [x.id, x]))
  const halves = new Map<string, FindingId>(r.model.joinHalves.map((h) => [h.id, h.partOf]))
  const items = r.findings.map((f): DocketItem => {
    const relationship = relationships.get(f.id) ?? null
    const status = r.statuses.get(f.id) ?? 'open'
    const address = parseAddress(f.subject.split('>')[0] as string)
    const place = address ? places.get(relationText(address)) : undefined
    return {
      id: f.id,
      kind: f.kind,
      topic: f.topic ?? null,
      status,
      changed: r.changed.has(f.id),
      confidence: f.alternatives[0].confidence,
      state: relationship?.state ?? null,
      says: relationship ? sentencesOf(relationship, r.model) : [plain(sayWithoutRelationship(f, r))],
      subject: f.subject,
      table: shown(address ? relationText(address) : f.subject),
      by: r.ruledBy.get(f.id)?.who ?? null,
      partOf: halves.get(f.id) ?? null,
      area: place?.area ?? null,
      rank: place?.rank ?? 0,
      risk: stakeOf(f, place?.rows ?? null) * (1 - f.alternatives[0].confidence),
    }
  })
  const kinds: Readonly<Record<Finding['kind'], number>> = { 'join-table': 0, polymorphic: 1, reference: 2, entity: 3, structure: 4 }
  const waiting = (i: DocketItem) => (i.changed ? 0 : i.status === 'open' ? 1 : 2)
  return items
    .map((item, at) => ({ item, at }))
    .sort(
      (a, b) =>
        waiting(a.item) - waiting(b.item) ||
        (a.item.status === 'open' ? b.item.risk - a.item.risk : 0) ||
        kinds[a.item.kind] - kinds[b.item.kind] ||
        a.at - b.at,
    )
    .map((x) => x.item)
}

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
  const other = isGuess(f) ? f.alternatives.find((a) => a.key !== noReference) : undefined
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
