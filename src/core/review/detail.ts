// Everything the evidence pane says about one finding, and the entries its buttons would append.
import { type Catalog, columnsText, parseAddress, type Relation, relationText } from '../catalog/index.ts'
import { type Thing, thingAt } from '../change/index.ts'
import { endPreview } from '../emit/typescript/index.ts'
import {
  accepting,
  activeEntries,
  type End,
  type EntityId,
  type EntityModel,
  type EntryBody,
  type Evidence,
  editKey,
  editsOf,
  type Facet,
  type Finding,
  type FindingId,
  type FindingStatus,
  fillOrder,
  fingerprint,
  foldAreas,
  type LedgerEntry,
  lifecycleSentences,
  noReference,
  openQuestions,
  type Relationship,
  rejecting,
  rowLinks,
  ruling,
  type Sentence,
  sentencesOf,
} from '../model/index.ts'
import { areasNow, groundOf } from '../strata/index.ts'
import { alikeTo } from './alike.ts'
import { choiceOf, offeredChoice, takenChoice } from './answers.ts'
import { choiceLabel, structural } from './choices.ts'
import { countedText } from './claims.ts'
import { sayWithoutRelationship } from './docket.ts'
import { entryText } from './entryText.ts'
import { type Load, type Look, loadsOf, looksOf } from './looks.ts'
import type { Review } from './review.ts'
import { type SchemaProposal, schemaProposals } from './schemaProposals.ts'
import { cascadeOf, type Side, sidesOf } from './sides.ts'

/** A name that can be edited in place, and the facet an edit of it sets. */
export interface EditableName {
  readonly label: string
  readonly value: string
  readonly facet: Facet
  readonly subject: string
}

export interface DetailEnd {
  readonly entity: string
  readonly name: EditableName | null
  readonly columns: readonly string[]
  readonly leadsTo: End['leadsTo']
  readonly because: string
  readonly code: string
}

export interface DetailChoice {
  readonly key: string
  readonly label: string
  readonly confidence: number
  readonly taken: boolean
  readonly evidence: readonly Evidence[]
  readonly entry: EntryBody
  /** Of structure: what it would change, where it is not what holds already. */
  readonly changes: readonly string[]
}

/** Says of a reference what the database does not make so, for a reason that is kept; `takes back` needs none. */
export interface Claim {
  readonly label: string
  readonly facet: 'reference.atMostOne' | 'reference.always'
  readonly value: true | null
}

export const claimEntry = (subject: string, c: Claim, reason: string | null): EntryBody => ({
  kind: 'edit',
  edit: { facet: c.facet, subject, value: c.value },
  note: reason,
})

export interface Detail {
  readonly id: FindingId
  readonly kind: Finding['kind']
  readonly status: FindingStatus
  readonly title: string
  readonly relationship: {
    readonly kind: Relationship['kind']
    readonly state: Relationship['state']
    readonly sentences: readonly [Sentence, Sentence]
    readonly from: DetailEnd
    readonly to: DetailEnd
    readonly owner: string
    readonly actions: string | null
    /** What deleting does, in the database and as proposed for the classes. */
    readonly cascade: readonly string[]
    /** Both tables' columns; null where one is not in the catalog. */
    readonly sides: readonly [Side, Side] | null
    /** What a load would send. */
    readonly loads: readonly Load[]
  } | null
  /** What it is read as, where no relationship says it. */
  readonly says: string
  readonly names: readonly EditableName[]
  readonly choices: readonly DetailChoice[]
  /** The answer that is offered, in words, and the ruling that gives it. */
  readonly offered: string
  readonly accept: EntryBody
  /** The likeliest of the others; null where there is none. */
  readonly other: DetailChoice | null
  readonly reject: EntryBody | null
  /** Can a ruling change the model? What is only remarkable about the structure is kept, and changes nothing. */
  readonly bites: boolean
  /** What the database could be changed to; never done by a ruling. */
  readonly schema: readonly SchemaProposal[]
  /** What it is about, where a change of it can be asked for; null where no plan can make one. */
  readonly thing: Thing | null
  /** What can be said against the database, or taken back: that there is at most one, that there always is one. */
  readonly claims: readonly Claim[]
  /** Others that ask the same: how many with this one, and what makes them alike. */
  readonly alike: { readonly n: number; readonly because: string } | null
  /** Who was asked what, while nobody has ruled since. */
  readonly asked: { readonly whom: string; readonly question: string } | null
  /** What it is about, as notes name it; and what was noted on it, oldest first. */
  readonly subject: string
  readonly notes: readonly { readonly seq: number; readonly by: string; readonly at: string; readonly text: string }[]
  /** A question to begin with. */
  readonly question: string
  /** What was seen, as a ruling keeps it. */
  readonly fingerprint: string
  /** Entries in force that made it what it is, newest first. */
  readonly history: readonly { readonly seq: number; readonly by: string; readonly at: string; readonly what: string }[]
  /** What can be asked of the rows. */
  readonly looks: readonly Look[]
  /** Columns of the table in question, for classes. */
  readonly columns: readonly { readonly name: string; readonly type: string; readonly nullable: boolean; readonly property: EditableName | null }[]
  /** Of a class: in what order its rows come and go. */
  readonly lifecycle: readonly string[]
  /** Of a class: the subject area it stands in, whether somebody put it there, and all there are. */
  readonly area: { readonly name: string | null; readonly ruled: boolean; readonly all: readonly string[] } | null
  readonly related: readonly { readonly id: FindingId; readonly text: string }[]
}

/** The entry that gives a name another value. */
export const editOfName = (n: EditableName, value: string): EntryBody => ({
  kind: 'edit',
  edit: { facet: n.facet, subject: n.subject, value } as never,
  note: null,
})

/** `exactly one Bay`, `any number of Bay` */
export const leadsToText = (leadsTo: End['leadsTo'], name: string): string => `${leadsTo}${leadsTo === 'any number' ? ' of' : ''} ${name}`

export function detailOf(id: string, catalog: Catalog, r: Review, entries: readonly LedgerEntry[]): Detail | null {
  const finding = r.findings.find((f) => f.id === id)
  if (!finding) return null
  const relationship = r.model.relationships.find((x) => x.id === id)
  const entity = finding.kind === 'reference' ? undefined : r.model.entities.find((e) => e.id === finding.subject)
  const relation = catalog.relations.find((x) => relationText(x) === finding.subject)
  const rejection = rejecting(finding)
  const taken = takenChoice(finding, r, relationship !== undefined)
  const status = r.statuses.get(finding.id) ?? 'open'
  const offered = offeredChoice(finding, status, taken)
  // A table that hardly anything speaks for is no answer to choose from.
  const isTold = (a: Finding['alternatives'][number]) => finding.kind !== 'reference' || a.key === noReference || a.confidence >= 0.005
  const choices = finding.alternatives.flatMap((a, i): readonly DetailChoice[] => {
    if (a.key !== taken && a.key !== offered && !isTold(a)) return []
    const named = { key: a.key, label: choiceLabel(finding, a.key), confidence: a.confidence, taken: a.key === taken, evidence: a.evidence }
    return [{ ...named, ...choiceOf(finding, a, i, taken, catalog, r, entries) }]
  })
  return {
    id: finding.id,
    kind: finding.kind,
    status,
    title: finding.subject.split('>')[0] as string,
    relationship: relationship ? relationshipDetail(relationship, finding, catalog, r) : null,
    says: relationship ? '' : sayWithoutRelationship(finding, r),
    names: entity ? [{ label: 'class', value: entity.name, facet: 'entity.name', subject: finding.subject }] : typeName(finding, r),
    choices,
    offered: choiceLabel(finding, offered),
    accept:
      (offered === taken ? undefined : choices.find((c) => c.key === offered)?.entry) ?? ruling(finding, 'accept', structural(accepting(finding, taken)), null),
    other: choices.find((c) => !c.taken && c.key !== offered) ?? null,
    reject:
      rejection &&
      taken !== 'entity' &&
      offered !== noReference &&
      (finding.kind === 'polymorphic' ||
        offered !== taken ||
        (finding.kind === 'structure' && taken !== 'no') ||
        relationship !== undefined ||
        r.model.joinHalves.some((h) => h.id === id))
        ? ruling(finding, 'reject', rejection, null)
        : null,
    bites: finding.kind !== 'structure' || finding.alternatives.some((a) => a.edits.length > 0),
    schema: schemaProposals(finding, relationship ?? null, catalog, entries),
    thing: thingOfSubject(finding.subject, catalog),
    alike: alikeCount(finding, r),
    claims: claimsOf(finding, relationship ?? null, r),
    asked: openQuestions(entries).get(finding.id) ?? null,
    subject: finding.subject,
    notes: activeEntries(entries).flatMap((e) =>
      e.kind === 'note' && e.subject === finding.subject ? [{ seq: e.seq, by: e.by, at: e.at, text: e.text }] : [],
    ),
    question: questionOf(finding),
    fingerprint: fingerprint(finding),
    history: historyOf(finding, entries),
    columns: relation && finding.kind !== 'reference' && finding.kind !== 'structure' ? columnsOf(relation, entity) : [],
    looks: looksOf(finding.id, catalog, r.model),
    lifecycle: finding.kind === 'entity' ? lifecycleOf(finding.subject as EntityId, catalog, r.model) : [],
    area: finding.kind === 'entity' ? areaOf(finding.subject, catalog, r, entries) : null,
    related: relatedTo(finding, r),
  }
}

/** `depot.bay(lid_id)` as a thing that a plan can change. */
function thingOfSubject(subject: string, catalog: Catalog): Thing | null {
  const a = parseAddress(subject.split('>')[0] as string)
  return a && thingAt(catalog, a)
}

/** A type may have a name of the project's own. */
function typeName(f: Finding, r: Review): readonly EditableName[] {
  if (f.topic !== 'type') return []
  const type = f.subject.slice('type:'.length)
  return [{ label: `the type ${type}`, value: r.model.typeNames[type] ?? '', facet: 'type.name', subject: f.subject }]
}

function areaOf(id: string, catalog: Catalog, r: Review, entries: readonly LedgerEntry[]): Detail['area'] {
  const rulings = foldAreas(entries)
  const { areas } = areasNow(groundOf(catalog, r.inferred), rulings)
  return { name: areas.get(id) ?? null, ruled: rulings.tables.has(id), all: [...new Set(areas.values())].sort() }
}

/** The entry that calls an area otherwise, or as proposed again. Two of one name are one. */
export const areaNameEntry = (proposed: string, name: string | null): EntryBody => ({
  kind: 'edit',
  edit: { facet: 'area.name', subject: proposed, value: name },
  note: null,
})

/** Entries that put relations into an area at once. */
export const areaEntries = (tables: readonly string[], area: string, batch: string): readonly EntryBody[] =>
  tables.map((subject) => ({ kind: 'edit', edit: { facet: 'table.area', subject, value: area }, batch, note: null }))

/** The entry that puts a relation into a subject area, or back where it was proposed. */
export const areaEntry = (subject: string, area: string | null): EntryBody => ({
  kind: 'edit',
  edit: { facet: 'table.area', subject, value: area },
  note: null,
})

function alikeCount(f: Finding, r: Review): Detail['alike'] {
  const alike = alikeTo(f, r)
  return alike && { n: alike.members.length, because: alike.because }
}

function claimsOf(f: Finding, x: Relationship | null, r: Review): readonly Claim[] {
  if (f.kind !== 'reference' || !x || x.through) return []
  const claimed = (code: 'claimed-one' | 'claimed-always') =>
    r.model.diagnostics.some(
      (d) => d.code === code && columnsText(parseAddress(d.relation) ?? { schema: '', name: '' }, d.columns.toSorted()) === (f.subject.split('>')[0] as string),
    )
  const claim = (facet: Claim['facet'], said: boolean, open: boolean, say: string, take: string): readonly Claim[] =>
    said ? [{ label: take, facet, value: null }] : open ? [{ label: say, facet, value: true }] : []
  return [
    ...claim('reference.atMostOne', claimed('claimed-one'), x.kind === 'many-to-one', 'Say that there is at most one', 'As the database allows: any number'),
    ...claim(
      'reference.always',
      claimed('claimed-always'),
      x.from.leadsTo === 'at most one',
      'Say that there always is one',
      'As the database allows: at most one',
    ),
  ]
}

/** The question of a finding as one would put it to a colleague. */
function questionOf(f: Finding): string {
  const subject = (f.subject.split('>')[0] as string).replaceAll('%20', ' ')
  switch (f.kind) {
    case 'reference':
      return `What does ${subject} refer to?`
    case 'join-table':
      return `Does ${subject} only join two others, or is it something of its own?`
    case 'polymorphic':
      return `Which tables does ${subject} refer to, and by which words?`
    case 'structure':
      if (f.topic === 'prefix') return `Does "${f.id.slice(f.id.lastIndexOf('/') + 1)}" say anything in front of ${subject} and the tables beside it?`
      if (f.topic === 'names alike') return `Which of the tables should be called ${f.id.slice(f.id.lastIndexOf('/') + 1)}?`
      return `${subject.replace(/^(type|columns):/, '')}: ${f.topic ?? ''}?`
    case 'entity':
      return `What is a row of ${subject} called?`
    default:
      return noKind(f.kind)
  }
}

function noKind(kind: never): never {
  throw new Error(`a finding of no known kind: ${String(kind)}`)
}

/** What asking somebody would append. */
export const askingFor = (d: Pick<Detail, 'id' | 'fingerprint'>, whom: string, question: string): EntryBody => ({
  kind: 'rule',
  finding: d.id,
  verdict: 'ask',
  edits: [],
  fingerprint: d.fingerprint,
  asks: { whom, question },
  note: null,
})

function relationshipDetail(x: Relationship, f: Finding, catalog: Catalog, r: Review): NonNullable<Detail['relationship']> {
  const names = new Map<string, string>(r.model.entities.map((e) => [e.id, e.name]))
  const facets: readonly [Facet, Facet] = x.kind === 'many-to-many' ? ['join.firstName', 'join.secondName'] : ['reference.ownName', 'reference.inverseName']
  const [fromCode, toCode] = endPreview(x, r.model)
  const end = (e: End, facet: Facet, code: string): DetailEnd => {
    const entity = names.get(e.entity) ?? e.entity
    return {
      entity,
      name: { label: `${entity}.${e.property}`, value: e.property, facet, subject: f.subject },
      columns: e.columns,
      leadsTo: e.leadsTo,
      because: e === x.to && e.claimed ? `${e.because}${countedText(x, r.model)}` : e.because,
      code,
    }
  }
  const fromName = names.get(x.from.entity) ?? ''
  const owner =
    x.through === null
      ? `${fromName} holds the ${x.from.columns.length === 1 ? 'column' : 'columns'} ${x.from.columns.join(', ')}${sharedText(x, r)}`
      : `the join table ${x.through.table.schema}.${x.through.table.name} holds ${[...x.through.fromColumns, ...x.through.toColumns].join(', ')}${x.through.payload.length > 0 ? `; unmapped: ${x.through.payload.join(', ')}` : ''}`
  const actions = x.onDelete === null || x.onUpdate === null ? null : `on delete ${x.onDelete}, on update ${x.onUpdate}`
  return {
    kind: x.kind,
    state: x.state,
    sentences: sentencesOf(x, r.model),
    from: end(x.from, facets[0], fromCode),
    to: end(x.to, facets[1], toCode),
    owner,
    actions,
    cascade: cascadeOf(x, catalog, r.model),
    sides: sidesOf(x, catalog, r.model),
    loads: loadsOf(x.id, catalog, r.model),
  }
}

/** `; tenant is written by bay, and only read here` */
function sharedText(x: Relationship, r: Review): string {
  const writer = (id: string) => r.model.relationships.find((o) => o.id === id)?.from.property ?? id
  return x.shared.map((s) => `; ${s.column} is written by ${writer(s.writtenBy)}, and only read here`).join('')
}

function columnsOf(relation: Relation, entity: Review['model']['entities'][number] | undefined): Detail['columns'] {
  return relation.columns.map((c) => {
    const property = entity?.properties.find((p) => p.column === c.name)
    return {
      name: c.name,
      type: c.type,
      nullable: c.nullable,
      property: property ? { label: property.name, value: property.name, facet: 'property.name', subject: columnsText(relation, [c.name]) } : null,
    }
  })
}

function historyOf(f: Finding, entries: readonly LedgerEntry[]): Detail['history'] {
  const keys = new Set([
    ...f.alternatives.flatMap((a) => a.edits.map(editKey)),
    editKey({ facet: 'reference.atMostOne', subject: f.subject }),
    editKey({ facet: 'table.area', subject: f.subject }),
  ])
  return activeEntries(entries)
    .filter(
      (e) =>
        (e.kind === 'rule' && e.finding === f.id) ||
        (e.kind === 'edit' && editsOf(e).some((d) => keys.has(editKey(d)))) ||
        (e.kind === 'settle' && e.findings.includes(f.id)) ||
        (e.kind === 'take' && e.findings.some((t) => t.id === f.id)),
    )
    .map((e) => ({ seq: e.seq, by: e.by, at: e.at, what: entryText(e) }))
    .reverse()
}

function lifecycleOf(id: EntityId, catalog: Catalog, model: EntityModel): readonly string[] {
  const links = rowLinks(catalog, model)
  const all = catalog.relations.filter((x) => x.kind !== 'partition').map((x) => relationText(x) as EntityId)
  return lifecycleSentences(id, links, fillOrder(all, links).cycles)
}

/** Both halves of a join table, the join table of a half, the relationships of a class. */
function relatedTo(f: Finding, r: Review): Detail['related'] {
  if (f.kind === 'entity') {
    const names = new Map<string, string>(r.model.entities.map((e) => [e.id, e.name]))
    return r.model.relationships
      .filter((x) => x.from.entity === f.subject || x.to.entity === f.subject)
      .map((x) => {
        const [own, other] = x.from.entity === f.subject ? [x.from, x.to] : [x.to, x.from]
        return { id: x.id, text: `${own.property}: ${leadsToText(own.leadsTo, names.get(other.entity) ?? other.entity)}` }
      })
  }
  if (f.kind === 'join-table') {
    const reading = f.alternatives.flatMap((a) => a.edits).find((e) => e.facet === 'join.reading' && e.value.as === 'many-to-many')
    return reading?.facet === 'join.reading' && reading.value.as === 'many-to-many'
      ? [reading.value.first, reading.value.second].map((s) => ({ id: `reference:${s}` as FindingId, text: s }))
      : []
  }
  const half = r.model.joinHalves.find((h) => h.id === f.id)
  return half ? [{ id: half.partOf, text: `the many-to-many of ${half.table.schema}.${half.table.name}` }] : []
}
